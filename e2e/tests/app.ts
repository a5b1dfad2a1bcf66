/** What every test of the app needs: its errors noticed, its plan addressed in metres, its jobs made. */
import { test as base, expect, type Locator, type Page } from "@playwright/test";
import AxeBuilder from "@axe-core/playwright";
import { readFileSync } from "node:fs";

export const DEMO = JSON.parse(readFileSync(new URL("../../demo/tamarack-dance-school.json", import.meta.url), "utf8"));

export class App {
  /** Console errors that a test provokes on purpose. */
  expectedErrors: RegExp[] = [];
  readonly errors: string[] = [];

  constructor(readonly page: Page) {
    page.on("console", (m) => {
      if (m.type() === "error") this.errors.push(m.text());
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

  async saved() {
    await expect(this.page.locator(".top .save")).toHaveText("Saved");
  }

  get plan(): Locator {
    return this.page.getByRole("application");
  }

  /** Screen position of a point of an empty sheet, which shows 60 px to the metre about (4, 3). */
  async at(x: number, y: number): Promise<[number, number]> {
    const box = (await this.plan.boundingBox())!;
    return [box.x + box.width / 2 + (x - 4) * 60, box.y + box.height / 2 - (y - 3) * 60];
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

  async accessible() {
    const found = await new AxeBuilder({ page: this.page }).withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]).analyze();
    expect(found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(" ")).join("; ")}`)).toEqual([]);
  }
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

/** An empty job as the server makes it. */
export const blank = (name: string) => ({ ...DEMO, name, rooms: [], manifolds: [], site: { ...DEMO.site, place: "Alderfell" } });
