/** What every test of the app needs: its errors noticed, its plan addressed in metres, its jobs made. */
import { test as base, expect, type Locator, type Page } from "@playwright/test";
import AxeBuilder from "@axe-core/playwright";
import { readFileSync } from "node:fs";
import { crc32, deflateSync } from "node:zlib";

export const DEMO = JSON.parse(readFileSync(new URL("../../demo/tamarack-dance-school.json", import.meta.url), "utf8"));

/** The same with all floors on one circuit, and no plant. */
export const PLAIN = { ...DEMO, circuits: [], plant: undefined };

export class App {
  /** Console errors that a test provokes on purpose. */
  expectedErrors: RegExp[] = [];
  readonly errors: string[] = [];

  constructor(readonly page: Page) {
    page.on("console", (m) => {
      // a job in the list that another test deletes before its row is looked at is no fault
      const elsewhere = /\/api\/jobs\/\w+\/(summary|thumbnail\.svg)/.test(m.location().url) && m.text().includes("404");
      if (m.type() === "error" && !elsewhere) this.errors.push(m.text());
    });
    page.on("pageerror", (e) => this.errors.push(e.message));
  }

  async makeJob(job: object): Promise<string> {
    const made = await this.page.request.post("/api/jobs/from-file", { data: job });
    expect(made.ok(), await made.text()).toBe(true);
    return ((await made.json()) as { id: string }).id;
  }

  async read(id: string) {
    return (await (await this.page.request.get(`/api/jobs/${id}`)).json()) as { revision: number; job: typeof DEMO };
  }

  async open(id: string, station: string) {
    await this.page.goto(`/jobs/${id}/${station}`);
    await expect(this.page.getByRole("navigation", { name: "Stations" })).toBeVisible();
    await this.saved();
  }

  /** Of a job in the list: rename it, copy it, and so on. */
  async more(job: string, what: string) {
    await this.page.getByRole("button", { name: `More of ${job}`, exact: true }).click();
    await this.page.getByRole("menuitem", { name: what }).click();
  }

  async saved() {
    await expect(this.page.locator(".top .save")).toHaveText("Saved");
  }

  get plan(): Locator {
    return this.page.getByRole("application");
  }

  /** Where a point of the plan lies on the screen now. */
  at(x: number, y: number): Promise<[number, number]> {
    return this.plan.locator("> g").first().evaluate((g, [x, y]) => {
      const at = new DOMPoint(x, y).matrixTransform((g as SVGGElement).getScreenCTM()!);
      return [at.x, at.y] as [number, number];
    }, [x, y] as const);
  }

  async click(x: number, y: number) {
    const [px, py] = await this.at(x, y);
    await this.page.mouse.move(px - 3, py - 2);
    await this.page.mouse.move(px, py);
    await this.page.mouse.down();
    await this.page.mouse.up();
  }

  async drag(from: [number, number], to: [number, number]) {
    const [a, b] = [await this.at(...from), await this.at(...to)];
    await this.page.mouse.move(...a);
    await this.page.mouse.down();
    await this.page.mouse.move((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, { steps: 4 });
    await this.page.mouse.move(...b, { steps: 4 });
    await this.page.mouse.up();
  }

  /** What a choice shows, to click or to read. */
  choice(label: string | RegExp): Locator {
    return this.page.locator(".el-select__wrapper").filter({ has: this.page.getByRole("combobox", { name: label, exact: true }) });
  }

  /** Chooses by the words in the list. */
  async choose(label: string | RegExp, option: string | RegExp) {
    await this.choice(label).click();
    await this.page.getByRole("option", { name: option, exact: typeof option === "string" }).click();
    await expect(this.page.getByRole("listbox")).toHaveCount(0);
  }

  /** Ticks a box, or takes the tick out: the box itself is drawn by its label. */
  async tick(name: string, on = true) {
    const box = this.page.getByRole("checkbox", { name });
    await this.page.locator("label.el-checkbox").filter({ has: box }).click();
    await expect(box).toBeChecked({ checked: on });
  }

  /** One of several views or tables, by its name. */
  segment(name: string): Locator {
    return this.page.locator(".el-segmented__item").filter({ hasText: new RegExp(`^${name}$`) });
  }

  async accessible() {
    // figures that answer an older question are faded until theirs comes
    await expect(this.page.locator(".old")).toHaveCount(0);
    const found = await new AxeBuilder({ page: this.page }).withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]).analyze();
    expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(" ")).join("; ")}`)).toEqual([]);
  }
}

/** The app is kept in this browser, and the job with its figures and its log can be read without a network from now on. */
export async function readable(page: Page, id: string) {
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => {}));
  await page.reload();
  await expect.poll(() => page.evaluate(() => navigator.serviceWorker.controller !== null)).toBe(true);
  const shelved = () =>
    page.evaluate(async (id) => {
      const db = await new Promise<IDBDatabase>((resolve) => (indexedDB.open("fuoco-shelf").onsuccess = (e) => resolve((e.target as IDBOpenDBRequest).result)));
      const job = await new Promise<{ job?: unknown; design?: unknown; laying?: unknown } | undefined>((resolve) => (db.transaction("jobs").objectStore("jobs").get(id).onsuccess = (e) => resolve((e.target as IDBRequest).result)));
      db.close();
      return Boolean(job?.job && job.design && job.laying);
    }, id);
  await expect.poll(shelved).toBe(true);
}

/** Of a part that is read in the sun: enhanced contrast, and no letter smaller than 16 px. */
export async function inTheSun(page: Page, part: string) {
  const found = await new AxeBuilder({ page }).include(part).withRules(["color-contrast-enhanced"]).analyze();
  expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => `${n.target.join(" ")} ${n.any[0]?.message ?? ""}`).join("; ")}`)).toEqual([]);
  const small = await page.locator(part).evaluate((root) => {
    const out: string[] = [];
    const walk = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
    while (walk.nextNode()) {
      const text = walk.currentNode.textContent?.trim();
      const of = walk.currentNode.parentElement!;
      if (text && of.checkVisibility() && !of.closest("svg") && parseFloat(getComputedStyle(of).fontSize) < 16) out.push(text);
    }
    return out;
  });
  expect(small, "letters too small for the sun").toEqual([]);
}

export const test = base.extend<{ app: App }>({
  app: async ({ page }, use) => {
    const app = new App(page);
    await use(app);
    const unexpected = app.errors.filter((e) => !app.expectedErrors.some((x) => x.test(e)));
    expect(unexpected, "errors in the browser's console").toEqual([]);
  },
});

export { expect };

/** The first page of a paper's preview: its text, once it is drawn, is what a screen reader is told. */
export const firstPage = (page: Page, title: string) => page.getByRole("img", { name: new RegExp(`^${title}, page 1 of \\d+$`) });

/** An empty job as the server makes it. */
export const blank = (name: string) => ({ ...PLAIN, name, rooms: [], manifolds: [], marks: [], levels: [DEMO.levels[0]], site: { ...DEMO.site, place: "Alderfell" } });

/** A room of a job file: a rectangle with ordinary figures. */
export const box = (id: string, name: string, x0: number, y0: number, x1: number, y1: number, more: object = {}) => ({
  id, name, level_id: "ground", use: "living", outline: [[x0, y0], [x1, y0], [x1, y1], [x0, y1]], height_m: 2.5, room_c: 20,
  above: { kind: "outside" }, below: { kind: "ground" }, floor: null, ...more,
});

/** A PNG of a plan: white, with a black frame `inset` pixels inside its edges. */
export function framePng(width: number, height: number, inset: number, noise = false): Buffer {
  const rows = Buffer.alloc((width + 1) * height, 255);
  for (let y = 0; y < height; y++) {
    const at = y * (width + 1);
    rows[at] = 0;
    for (let x = 0; x < width; x++) {
      const edge = (x === inset || x === width - 1 - inset || y === inset || y === height - 1 - inset) && x >= inset && x < width - inset && y >= inset && y < height - inset;
      // noise that no packing shrinks, from a small generator so that the file is always the same
      rows[at + 1 + x] = edge ? 0 : noise ? 128 + (Math.imul(x * 7919 + y * 104729 + 1, 2654435761) >>> 25) : 255;
    }
  }
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, "latin1"), data]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), body.length + 4);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(width, 0);
  head.writeUInt32BE(height, 4);
  head.set([8, 0, 0, 0, 0], 8);
  return Buffer.concat([Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]), chunk("IHDR", head), chunk("IDAT", deflateSync(rows, { level: noise ? 0 : 6 })), chunk("IEND", Buffer.alloc(0))]);
}
