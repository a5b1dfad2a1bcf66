import type { Locator, Page } from "@playwright/test";
import { DEMO, expect, PLAIN, test } from "./app";

const ledger = (page: Page, name: string): Locator => page.getByRole("region", { name: "Table of circuits of the plant" }).getByRole("row").filter({ hasText: name });
/** The first figure of a text. */
const figure = (text: string) => Number(/-?\d+(\.\d+)?/.exec(text)![0]);
/** Cells of the ledger: place, name, on, needs, supply, return, flow, heat. */
const cell = async (page: Page, name: string, k: number) => figure(await ledger(page, name).getByRole("cell").nth(k).innerText());
const [NEEDS, SUPPLY, FLOW] = [3, 4, 6];

test("a plant is begun from nothing, arranged on tees, reordered, and compared with headers", async ({ app, page }) => {
  const id = await app.makeJob({ ...PLAIN, name: "From nothing" });
  await app.open(id, "plant");
  await page.getByRole("button", { name: "Begin a plant" }).click();
  // the survey's radiator is taken along
  await expect(ledger(page, "Radiators")).toBeVisible();
  await expect(ledger(page, "Floors")).toBeVisible();
  await app.choose("Arrangement", "Tees in series");
  await app.saved();
  await app.segment("Source and users").click();
  await page.getByRole("button", { name: "Hot-water tank" }).click();
  await expect(page.getByRole("article", { name: "Hot-water tank" })).toBeVisible();
  await app.accessible();
  await app.segment("Piping").click();
  await expect(ledger(page, "Hot-water tank")).toBeVisible();
  // every circuit has what it needs
  await expect.poll(async () => (await cell(page, "Radiators", SUPPLY)) - (await cell(page, "Radiators", NEEDS))).toBeGreaterThan(-0.4);
  const rows = page.getByRole("region", { name: "Table of circuits of the plant" }).locator("tbody tr");
  const order = async () => (await rows.allInnerTexts()).map((t) => ["Radiators", "Floors", "Hot-water tank"].find((n) => t.includes(n)));
  await expect.poll(order).toEqual(["Hot-water tank", "Radiators", "Floors"]);
  // the floors are dragged before the radiators
  const floors = page.getByRole("button", { name: /^Floors: on/ });
  const from = (await floors.locator("rect").first().boundingBox())!;
  const to = (await page.getByRole("button", { name: /^Hot-water tank:/ }).locator("rect").first().boundingBox())!;
  await page.mouse.move(from.x + from.width / 2, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(to.x - 10, from.y + from.height / 2, { steps: 6 });
  await page.mouse.up();
  await expect.poll(order).toEqual(["Floors", "Hot-water tank", "Radiators"]);
  await expect(page.getByRole("region", { name: "Verdict column" }).getByText("Floors comes before Radiators, which needs hotter water.")).toBeVisible();
  // the verdict's own button puts it right
  await page.getByRole("button", { name: "Hottest first" }).click();
  await expect.poll(order).toEqual(["Hot-water tank", "Radiators", "Floors"]);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect.poll(order).toEqual(["Hot-water tank", "Radiators", "Floors"]);
  // the same by the keyboard
  await floors.focus();
  await page.keyboard.press("ArrowLeft");
  await expect.poll(order).toEqual(["Hot-water tank", "Floors", "Radiators"]);
  await app.segment("Compare").click();
  const table = page.getByRole("region", { name: "Table of arrangements" });
  const source = async (name: string) => figure(await table.getByRole("row").filter({ hasText: name }).getByRole("cell").nth(1).innerText());
  await expect(table.getByRole("row").filter({ hasText: "Tees with headers" })).toBeVisible({ timeout: 30_000 });
  expect(await source("Tees in series")).toBeGreaterThanOrEqual((await source("Tees with headers")) - 0.1);
  await expect(table.getByText(/need a second source/)).toBeVisible();
  // two are drawn side by side, and another is chosen to stand beside this plant's
  await expect(page.getByRole("group", { name: "Tees in series, this plant" })).toBeVisible();
  await table.getByRole("button", { name: "Tees with headers", exact: true }).click();
  await expect(page.getByRole("group", { name: "Tees with headers, beside it" })).toBeVisible();
  await app.accessible();
  await table.getByRole("button", { name: "Take Tees with headers" }).click();
  await app.segment("Piping").click();
  await expect(app.choice("Arrangement")).toContainText("Tees with headers");
});

test("the slider of the weather and the switches are followed by the figures of the piping", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Weather" });
  await app.open(id, "plant");
  await expect(ledger(page, "Music room")).toBeVisible();
  const cold = await cell(page, "Foyer side", SUPPLY);
  const slider = page.getByRole("slider", { name: "Outdoor temperature" });
  await slider.focus();
  for (let i = 0; i < 30; i++) await page.keyboard.press("ArrowRight");
  await expect.poll(() => cell(page, "Foyer side", SUPPLY)).toBeLessThan(cold - 5);
  await expect.poll(async () => Math.abs((await cell(page, "Foyer side", SUPPLY)) - (await cell(page, "Foyer side", NEEDS)))).toBeLessThan(0.3);
  await page.getByRole("button", { name: "Back to the design day" }).click();
  await expect.poll(() => cell(page, "Foyer side", SUPPLY)).toBe(cold);
  await page.locator(".el-switch").filter({ has: page.getByRole("switch", { name: "Studio B on" }) }).click();
  await expect.poll(() => cell(page, "Studio B", FLOW)).toBe(0);
  await app.accessible();
  // hot water comes first
  await app.tick("Tank being heated");
  await expect.poll(() => cell(page, "Hot water", FLOW)).toBeGreaterThan(10);
  await expect.poll(() => cell(page, "Foyer side", FLOW)).toBe(0);
  // nothing of a trial is written into the job
  expect((await app.read(id)).revision).toBe(1);
  // another job begins on its own design day
  const other = await app.makeJob({ ...DEMO, name: "Other weather" });
  await page.getByRole("link", { name: "All jobs" }).click();
  await page.getByRole("link", { name: "Other weather", exact: true }).click();
  await page.waitForURL(`**/jobs/${other}/**`);
  await page.getByRole("navigation", { name: "Stations" }).getByRole("link", { name: /Plant/ }).click();
  await expect.poll(() => cell(page, "Foyer side", SUPPLY)).toBe(cold);
  await expect(page.getByRole("button", { name: "Back to the design day" })).toHaveCount(0);
});

test("a source is sized from measured radiators, and one that starves is found out", async ({ app, page }) => {
  const job = structuredClone(PLAIN) as unknown as { name: string; rooms: { id: string; emitters?: object[] }[] };
  job.name = "Measured";
  // nothing known but what a tape tells: 38 in, four columns, ten sections
  job.rooms.find((r) => r.id === "music")!.emitters = [{ id: "m-rad", kind: "radiator", height_m: 0.9652, sections: 10 }];
  const id = await app.makeJob(job);
  await app.open(id, "rooms");
  await page.getByRole("tab", { name: "Emitters" }).click();
  await app.choose("What its sections are like", "columns");
  await page.getByLabel("Columns or tubes of a section").fill("4");
  await page.keyboard.press("Enter");
  await app.saved();
  await page.goto(`/jobs/${id}/plant`);
  await page.getByRole("button", { name: "Begin a plant" }).click();
  await app.segment("Does it fit\\?").click();
  const output = page.getByRole("region", { name: "Output" });
  // 80 ft² of radiation: 19 200 BTU/h at 80.6 K, exponent 1.3; at 75 °C mean in a room of 20 °C
  const watts = (19_200 / 3.412141633) * ((75 - 20) / (145 / 1.8)) ** 1.3;
  await expect(output.getByText("All emitters at its hottest")).toBeVisible();
  const told = await output.locator("dd", { hasText: "W" }).allInnerTexts();
  expect(told.some((t) => Math.abs(figure(t) - watts) < 2)).toBe(true);
  await app.accessible();
  // narrow waterways and a pump too small for them
  await app.segment("Source and users").click();
  await page.getByLabel("Flow factor of the source").fill("0.3");
  await page.keyboard.press("Enter");
  const verdict = page.getByRole("region", { name: "Verdict column" });
  await expect(verdict.getByText(/The source gets .* to give its heat it needs/)).toBeVisible();
  await page.getByLabel("Flow factor of the source").fill("4");
  await page.keyboard.press("Enter");
  await expect(verdict.getByText(/The source gets .* to give its heat it needs/)).toHaveCount(0);
  // bad input is refused where it stands
  app.expectedErrors.push(/422/);
  await page.getByLabel("Lowest output of the source").fill("900000");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "Lowest output of the source: must not be above" })).toBeVisible();

});

test("a user that makes no sense is refused where it stands, and one without emitters is told", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "No sense" });
  await app.open(id, "plant");
  await app.segment("Source and users").click();
  app.expectedErrors.push(/422/);
  await page.getByLabel("Return of Towel rail").fill("60");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "Return of Towel rail: must be below" })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await app.saved();
  await page.getByLabel("Rated output of the source").fill("a lot");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "does not read as" })).toBeVisible();
  await page.keyboard.press("Escape");
  // all emitters are taken: another user of emitters has none, and says so
  await page.getByRole("button", { name: "Radiators", exact: true }).click();
  await expect(page.getByRole("region", { name: "Verdict column" }).getByText("Radiators has no emitters: nothing flows there.")).toBeVisible();
  await app.saved();
});

test("zones are shut and the pump is watched", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Zones" });
  await app.open(id, "water");
  await app.segment("Pump and balance").click();
  await expect(page.getByRole("heading", { name: "What each port takes" })).toBeVisible();
  const controls = page.getByRole("table", { name: "Ways to run the pump" });
  const across = async (name: string) => figure(await controls.getByRole("row").filter({ hasText: name }).getByRole("cell").last().innerText());
  const fixed = await across("one speed");
  const held = await across("constant pressure");
  const zone = (name: string) => page.locator(".el-switch").filter({ has: page.getByRole("switch", { name }) });
  // a stronger pump is chosen here, where its curve stands
  await app.choose("Pump of the circuit", "Circulator, 6 m, flat");
  await expect(page.getByText("Circulator, 6 m, flat, full speed")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect.poll(() => across("one speed")).toBe(fixed);
  for (const name of ["Zone of Studio A open", "Zone of Foyer and reception open"]) await zone(name).click();
  await expect.poll(() => across("one speed")).toBeGreaterThan(fixed + 1);
  await expect.poll(async () => Math.abs((await across("constant pressure")) - held)).toBeLessThan(4);
  const rooms = page.getByRole("region", { name: "Rooms" });
  const settles = async (name: string) => figure(await rooms.getByRole("row").filter({ hasText: name }).getByRole("cell").nth(2).innerText());
  expect(await settles("Studio A")).toBeLessThan(10);
  await app.accessible();
  await page.getByRole("button", { name: "As designed" }).click();
  await expect.poll(() => settles("Studio A")).toBeGreaterThan(18);
  await app.tick("Without balancing valves");
  await expect(page.locator(".figures.off").first()).toBeVisible();
  await page.getByRole("button", { name: "As designed" }).click();
  await app.choose("Loop that is half blocked", "A5");
  await app.choose("Share of the bore that is open", "5% open");
  const a5 = page.getByRole("region", { name: "Ports" }).getByRole("listitem").filter({ hasText: /^A5/ });
  await expect.poll(async () => figure(await a5.locator(".figures").nth(1).innerText())).toBeLessThan(75);
});

test("a pump's curve is typed, and one that is too weak is told", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Typed pump" });
  await app.open(id, "plant");
  await app.segment("Pumps and mixing").click();
  await page.getByRole("button", { name: "Type a curve, pump of Foyer side" }).click();
  await expect(page.getByRole("table", { name: "Curve of the pump of Foyer side" })).toBeVisible();
  await page.getByLabel("Head of point 1, pump of Foyer side").fill("2");
  await page.keyboard.press("Enter");
  // its head must fall from point to point
  app.expectedErrors.push(/422/);
  await expect(page.getByRole("alert").filter({ hasText: "must be below the point before" }).first()).toBeVisible();
  await page.getByLabel("Head of point 2, pump of Foyer side").fill("1.5");
  await page.keyboard.press("Enter");
  await app.saved();
  await expect(page.getByRole("region", { name: "Verdict column" }).getByText(/The pump of Foyer side .*does not lift/)).toBeVisible();
  for (const k of [3, 2]) await page.getByRole("button", { name: `Delete point ${k}, pump of Foyer side` }).click();
  await expect(page.getByRole("button", { name: "Type a curve, pump of Foyer side" })).toBeVisible();
  await expect(page.getByRole("region", { name: "Verdict column" }).getByText(/does not lift/)).toHaveCount(0);
});

test("the plant sheet prints what has to be set; the year is read off the weather", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Plant papers" });
  await app.open(id, "plant");
  await app.segment("Over the year").click();
  await expect(page.getByRole("region", { name: "The year" }).getByText("Hours of heating")).toBeVisible({ timeout: 20_000 });
  await expect(page.getByText(/^two points:/).first()).toBeVisible();
  await app.choose("Units", "US");
  await expect(page.getByRole("region", { name: "The year" }).getByText(/million BTU/)).toBeVisible();
  await expect(page.getByText(/two points: \d+\s°F at/).first()).toBeVisible();
  await app.accessible();
  await page.goto(`/jobs/${id}/papers?sheet=plant`);
  await expect(page.getByRole("heading", { name: "Set at the controller" })).toBeVisible();
  await expect(page.getByRole("button", { name: "Print the plant sheet" })).toBeEnabled();
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("group", { name: /^Piping:/ })).toBeVisible();
  await page.emulateMedia({ media: null });
  await app.accessible();
});

test("the piping on a phone is read without scrolling sideways", async ({ app, page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const id = await app.makeJob({ ...DEMO, name: "On the phone" });
  await app.open(id, "plant");
  await expect(page.getByRole("group", { name: /^Piping:/ })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.goto(`/jobs/${id}/water`);
  await app.segment("Pump and balance").click();
  await expect(page.getByRole("heading", { name: "What each port takes" })).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});
