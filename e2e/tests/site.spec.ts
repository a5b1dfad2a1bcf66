/** The site: a phone in a cellar, with and without a network. */
import type { Page } from "@playwright/test";
import { App, DEMO, expect, inTheSun, readable, test } from "./app";

const PHONE = { width: 390, height: 844 };
/** What a browser tells its console of requests that nobody answers. */
const UNREACHED = [/ERR_INTERNET_DISCONNECTED/, /ERR_FAILED/];

/** The name of the loop that is laid first. */
const firstLoop = async (page: Page) => (await page.locator(".loop .tag").first().textContent())!;
const log = async (app: App, id: string) => (await (await app.page.request.get(`/api/jobs/${id}/laying`)).json()) as { loops: { tag: string; step: string; drawn_m: number }[]; harms: { photos: string[] }[] };

/** A photo as a camera makes it: larger than needed, drawn in the page. */
async function photo(page: Page): Promise<Buffer> {
  const url = await page.evaluate(() => {
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [3000, 2000];
    const c = canvas.getContext("2d")!;
    for (let k = 0; k < 60; k++) {
      c.fillStyle = `hsl(${k * 6} 60% 50%)`;
      c.fillRect(k * 50, (k * 97) % 1500, 400, 300);
    }
    return canvas.toDataURL("image/jpeg", 0.9);
  });
  return Buffer.from(url.split(",")[1]!, "base64");
}

test.describe("with the app kept in the browser", () => {
  test.use({ serviceWorkers: "allow", viewport: PHONE, hasTouch: true });

  test("a loop is laid in a cellar without a network: written down there, and with the office later, once", async ({ app, page, context }) => {
    app.expectedErrors.push(...UNREACHED);
    const id = await app.makeJob({ ...DEMO, name: "Cellar" });
    await app.open(id, "laying");
    await expect(page.getByText(/0 of \d+ loops lie/)).toBeVisible();
    await readable(page, id);
    await app.saved();
    const tag = await firstLoop(page);

    // down the stairs: a cold start
    await context.setOffline(true);
    await page.reload();
    await expect(page.locator(".top .save")).toContainText("No connection: the job as it was here");
    await page.getByRole("button", { name: new RegExp(`^${tag}`) }).click();
    await expect(page.getByRole("heading", { name: `Loop ${tag}` })).toBeVisible();
    const run = page.locator(".turn .count");
    await expect(run).toContainText("Run 1 of");
    await page.getByRole("button", { name: "Next" }).tap();
    await page.getByRole("button", { name: "Next" }).tap();
    await page.getByRole("button", { name: "Back" }).tap();
    await expect(run).toContainText("Run 2 of");
    // every target of the turns is one for a glove
    for (const name of ["Next", "Back", "It lies", "Kink or cut", "All loops"]) {
      const box = (await page.getByRole("button", { name, exact: true }).boundingBox())!;
      expect(Math.min(box.width, box.height), name).toBeGreaterThanOrEqual(48);
    }

    await inTheSun(page, ".laying");
    await page.getByRole("button", { name: "It lies" }).tap();
    await inTheSun(page, ".site-form");
    const dialog = page.getByRole("dialog");
    // what is planned is no reading
    await expect(dialog.getByLabel("Mark at the supply port")).toHaveValue("");
    await dialog.getByLabel("Mark at the supply port").fill("1.0 m");
    await dialog.getByLabel("Mark at the return port").fill("190 m");
    await dialog.getByLabel("Mark at the return port").press("Tab");
    await dialog.getByRole("button", { name: "Write it down" }).tap();
    await expect(dialog.getByRole("alert")).toContainText("Say why");
    await dialog.getByLabel("Reason").fill("round the hearth");
    await dialog.getByRole("button", { name: "Write it down" }).tap();
    await expect(page.locator(".state")).toContainText("on the floor");
    await expect(page.locator(".outbox")).toHaveText(/1 record waits for a connection/);

    await page.getByRole("button", { name: "Kink or cut" }).tap();
    await dialog.getByLabel("Mark", { exact: true }).fill("42");
    await app.choose("How it was mended", "coupling");
    await expect(dialog.getByText("Local code may forbid one")).toBeVisible();
    await dialog.locator("input[type=file]").setInputFiles({ name: "kink.jpg", mimeType: "image/jpeg", buffer: await photo(page) });
    await expect(dialog.getByRole("img", { name: "Photo to be kept" })).toBeVisible();
    await dialog.locator("input[type=file]").setInputFiles({ name: "notes.txt", mimeType: "text/plain", buffer: Buffer.from("no picture") });
    await expect(dialog.getByText("no picture that this browser can read")).toBeVisible();
    await dialog.getByRole("button", { name: "Write it down" }).tap();
    await expect(dialog).toHaveCount(0);
    await expect(page.getByRole("list", { name: "What happened to it" })).toContainText("Kink at mark 42.0 m: coupling");
    await app.accessible();

    // the page is killed; another one, still without a network, has all of it, and the turn at which the crew was
    await page.close();
    const later = await context.newPage();
    const phone = new App(later);
    phone.expectedErrors.push(...UNREACHED);
    await later.goto(`/jobs/${id}/laying?loop=${tag}`);
    await expect(later.locator(".turn .count")).toContainText("Run 2 of");
    await expect(later.locator(".state")).toContainText("on the floor");
    await expect(later.locator(".outbox")).toHaveText(/2 records wait for a connection/);

    await context.setOffline(false);
    await expect(later.locator(".outbox")).toHaveCount(0);
    await expect(later.locator(".top .save")).toHaveText("Saved");
    const kept = await log(phone, id);
    expect(kept.loops.find((l) => l.tag === tag)!.step).toBe("on_floor");
    expect(kept.harms.map((h) => h.photos.length)).toEqual([1]);
    const records = (await (await later.request.get(`/api/jobs/${id}/records`)).json()) as { record: { fact: { kind: string } } }[];
    expect(records.map((r) => r.record.fact.kind)).toEqual(["laid", "harm"]);
    // the photo is small enough for a slow network
    const bytes = (await (await later.request.get(`/api/files/${kept.harms[0]!.photos[0]}`)).body()).length;
    expect(bytes).toBeLessThan(1_000_000);
  });

  test("without a network the jobs opened last are listed, and can be read but not changed", async ({ app, page, context }) => {
    app.expectedErrors.push(...UNREACHED);
    const id = await app.makeJob({ ...DEMO, name: "Read in a tunnel" });
    await app.open(id, "rooms");
    await readable(page, id);
    await app.saved();
    await context.setOffline(true);
    await page.goto("/");
    await expect(page.getByText("No connection. These jobs can be read")).toBeVisible();
    await page.getByRole("link", { name: "Read in a tunnel" }).click();
    await expect(page.locator(".top .save")).toContainText("No connection");
    await expect(page.getByRole("navigation", { name: "Stations" })).toBeVisible();
    await context.setOffline(false);
    await expect(page.locator(".top .save")).toHaveText("Saved");
  });
});

test("at the desk: what the crew wrote stands in the log, on the plan, and is open until it is done", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Log at the desk" });
  await app.open(id, "laying");
  const tag = await firstLoop(page);
  await page.getByRole("button", { name: new RegExp(`^${tag}`) }).click();
  // by the keys alone
  await page.keyboard.press("ArrowRight");
  await expect(page.locator(".turn .count")).toContainText("Run 2 of");
  await page.keyboard.press("ArrowLeft");
  await page.getByRole("button", { name: "It lies" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".state")).toContainText("on the floor");
  await page.getByRole("button", { name: "It is fixed" }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Write it down" }).click();
  await expect(page.locator(".state")).toContainText("fixed");
  await page.getByRole("button", { name: "Kink or cut" }).click();
  await page.getByRole("dialog").getByLabel("Mark", { exact: true }).fill("30");
  await page.getByRole("dialog").getByRole("button", { name: "Write it down" }).click();
  await page.keyboard.press("Escape");
  await expect(page.getByText(/1 of \d+ loops lie/)).toBeVisible();

  await app.segment("Before the pour.*").click();
  await expect(page.getByText(`A kink on loop ${tag} is not mended`)).toBeVisible();
  await expect(page.getByText(`Nobody else has looked at loop ${tag}`)).toBeVisible();
  await app.tick("Both ends of every loop carry their label");
  await app.accessible();

  await app.segment("Notes").click();
  const notes = page.getByRole("region", { name: "Notes of the site" });
  await expect(notes.getByText("Ticked: Both ends of every loop carry their label")).toBeVisible();
  await notes.getByLabel("Note", { exact: true }).fill("Screed comes at seven");
  await notes.getByRole("button", { name: "Write it down" }).click();
  const written = notes.getByRole("listitem").filter({ hasText: "Screed comes at seven" });
  await expect(written).toBeVisible();
  await written.getByRole("button", { name: "Take back" }).click();
  await expect(written).toContainText("taken back or corrected since");
  // one with a place: by the room's name and a direction, then by a drag on the small plan
  await notes.getByLabel("Note", { exact: true }).fill("Old pipe under the screed");
  await app.choose("Where it is", "Studio B");
  await app.choose("Where the photo looks", "north-east");
  const map = notes.getByRole("img", { name: /Plan of the level/ });
  const on = (await map.boundingBox())!;
  await app.accessible();
  await page.mouse.move(on.x + on.width * 0.5, on.y + on.height * 0.5);
  await page.mouse.down();
  await page.mouse.move(on.x + on.width * 0.75, on.y + on.height * 0.5, { steps: 4 });
  await page.mouse.up();
  // the room follows the place: the middle of the house is no longer Studio B
  await expect(app.choice("Where it is")).toContainText("Foyer and reception");
  await notes.getByRole("button", { name: "Write it down" }).click();
  await expect(notes.getByRole("listitem").filter({ hasText: "Old pipe under the screed" })).toBeVisible();
  await expect(map).toHaveCount(0);
  await app.accessible();

  await app.segment("Loops").click();
  await page.getByRole("button", { name: "Tube labels" }).click();
  await expect(page).toHaveURL(/papers\?sheet=labels/);
  await page.goBack();
  await page.getByRole("button", { name: "Show on the plan" }).click();
  await expect(page.locator(".laid .pin.open")).toHaveCount(1);
  await expect(page.locator(".laid polyline.fixed")).toHaveCount(1);
  const view = page.locator(".laid .view");
  await expect(view.locator("title")).toHaveText("Old pipe under the screed");
  await expect(view.locator("path")).toHaveAttribute("transform", "rotate(0)");
  // the rail says that something is open here
  await expect(page.getByRole("link", { name: /^Laying ?, needs attention/ })).toBeVisible();
  // and the design is as it was: records are no part of it
  expect((await app.read(id)).revision).toBe(1);
});

test("a pressure test through a cold night is tight, a nail in the pour is told at once, and names stand under it", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Under pressure" });
  await app.open(id, "laying");
  await app.segment("Pressure test").click();
  await expect(page.getByText("No pressure test has begun yet.")).toBeVisible();
  const hours = (before: number) => page.clock.setFixedTime(Date.now() - before * 3_600_000);
  const dialog = page.getByRole("dialog");
  const type = async (label: string, text: string) => {
    await dialog.getByLabel(label, { exact: true }).fill(text);
    await dialog.getByLabel(label, { exact: true }).press("Tab");
  };
  const read = async (before: number, gauge: string, slab: string, during?: string) => {
    await hours(before);
    await page.getByRole("button", { name: "Read the gauge" }).click();
    await type("Gauge", gauge);
    await type("Slab", slab);
    if (during) await app.choose("When", during);
    await dialog.getByRole("button", { name: "Write it down" }).click();
    await expect(dialog).toHaveCount(0);
  };

  await hours(24);
  await page.getByRole("button", { name: "Begin a test" }).click();
  await expect(dialog.getByLabel("Contents", { exact: true })).not.toHaveValue("");
  await expect(dialog.getByText("Air under pressure stores energy")).toBeVisible();
  await type("End of the scale", "3 bar");
  await dialog.getByRole("button", { name: "Begin" }).click();
  await expect(dialog.getByRole("alert")).toContainText("The gauge ends below");
  await type("End of the scale", "145 psi");
  await type("Required pressure", "3.8 bar");
  await type("Required time", "12 h");
  await type("Barometer", "1 bar");
  await dialog.getByRole("button", { name: "Begin" }).click();
  const test = page.getByRole("article", { name: "Manifold A" });
  await expect(test).toBeVisible();

  await read(23, "4.1", "20");
  await expect(test.locator(".verdict")).toHaveText("Not proven yet");
  // 5.1 bar absolute at 20 °C are 4.961 at 12 °C
  await read(10, "3.961", "12");
  await expect(test.locator(".verdict")).toHaveText("Tight");
  await expect(test.getByRole("img", { name: /2 readings, as read and corrected/ })).toBeVisible();
  await app.accessible();

  await test.getByRole("button", { name: "Sign" }).click();
  await dialog.getByLabel("Name of who signs").fill("C. Ember");
  await dialog.getByRole("button", { name: "Sign", exact: true }).click();
  await expect(dialog.getByRole("alert")).toContainText("Sign in the field.");
  const pad = (await dialog.getByRole("img", { name: "Sign here" }).boundingBox())!;
  await page.mouse.move(pad.x + 40, pad.y + 60);
  await page.mouse.down();
  for (const [x, y] of [[80, 30], [120, 80], [170, 40], [230, 70]] as const) await page.mouse.move(pad.x + x, pad.y + y);
  await page.mouse.up();
  await dialog.getByRole("button", { name: "Sign", exact: true }).click();
  await expect(test.getByRole("img", { name: "Signature of C. Ember" })).toBeVisible();

  await read(9.9, "3.3", "12", "during the pour");
  await expect(test.getByRole("alert")).toContainText("The pressure fell at once: look now.");
  await expect(test.locator(".verdict")).toHaveText("Leaking");
  await expect(test.getByText("readings have been added since")).toBeVisible();
  await app.accessible();
});
