import { DEMO, expect, test } from "./app";

const STATIONS = ["site", "rooms", "heat-loss", "floor", "loops", "water", "plant", "materials", "papers"];

for (const units of ["metric", "us"] as const) {
  test(`every station is accessible and alive in ${units} units`, async ({ app, page }) => {
    const id = await app.makeJob({ ...DEMO, name: `Stations ${units}`, site: { ...DEMO.site, units } });
    for (const station of STATIONS) {
      await app.open(id, station);
      await expect(page.getByText("Calculating…")).toHaveCount(0);
      await app.accessible();
    }
    await app.open(id, "water");
    await expect(page.getByRole("region", { name: "Table of loops" })).toContainText(units === "us" ? "gpm" : "L/min");
  });
}

test("figures follow an edit in the ledger, in either unit system", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Figures" });
  await app.open(id, "heat-loss");
  const building = page.getByRole("row", { name: /^Building/ });
  const before = await building.innerText();
  await page.getByRole("link", { name: /Site/ }).click();
  await page.getByLabel("Design outdoor temperature").fill("-4 °F");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Design outdoor temperature")).toHaveValue("-20.0 °C");
  await page.getByLabel("Surcharge for thermal bridges").fill("99");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "Surcharge for thermal bridges must be" })).toBeVisible();
  await page.getByRole("link", { name: /Heat loss/ }).click();
  await expect(building).not.toHaveText(before);
  await app.choose("Units", "US");
  await expect(building).toContainText("BTU/h");
  await app.saved();
  expect((await app.read(id)).job.site).toMatchObject({ outdoor_c: -20, units: "metric" });
  expect((await app.read(id)).job.envelope.bridges).toEqual(DEMO.envelope.bridges);
});

test("a thicker covering asks for hotter water", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Covering" });
  await app.open(id, "floor");
  const water = page.getByRole("row", { name: /Studio A/ }).getByRole("cell").nth(4);
  const kelvin = async () => Number.parseFloat(await water.innerText());
  await expect(water).toContainText("°C");
  const before = await kelvin();
  await app.choose("Covering of Studio A", "Carpet on thin pad");
  await expect.poll(kelvin).toBeGreaterThan(before + 1);
});

test("loops are chosen on the sheet and in the table, and keep their way", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Loops" });
  await app.open(id, "loops");
  const table = page.getByRole("region", { name: "Table of loops" });
  await table.getByRole("button", { name: "A5" }).click();
  await expect(page.getByRole("heading", { name: /Loop A5, Foyer/ })).toBeVisible();
  await page.locator("svg .tag", { hasText: "B1" }).click();
  await expect(page.getByRole("heading", { name: /Loop B1, Studio B/ })).toBeVisible();
  await expect(page.locator(".verdict .finding.error")).toHaveCount(0);
});

test("the loop sheet is true to its scale on both papers, and prints", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Paper" });
  await app.open(id, "papers");
  const plan = page.getByRole("img", { name: /Plan with loops/ });
  for (const paper of [/^A4/, /letter/]) {
    // on the screen a wide page is shown smaller
    await page.emulateMedia({ media: "screen" });
    await app.choose("Paper", paper);
    await page.emulateMedia({ media: "print" });
    const scale = Number(await plan.getAttribute("data-scale"));
    const [viewWidth] = (await plan.getAttribute("viewBox"))!.split(" ").slice(2).map(Number);
    const box = (await plan.boundingBox())!;
    // CSS millimetres: 96 px to 25.4 mm; a pixel of rounding
    expect(Math.abs(box.width - ((viewWidth! * 1000) / scale) * (96 / 25.4))).toBeLessThan(1);
  }
  await page.emulateMedia({ media: "screen" });
  await app.choose("Paper", /^A4/);
  const pdf = await page.pdf({ preferCSSPageSize: true });
  const text = pdf.toString("latin1");
  // A4 landscape is 841.9 × 595.3 pt
  expect(text).toMatch(/MediaBox \[0 0 841\.\d+ 59[45]\.\d+\]/);
  expect(text.match(/\/Type\s*\/Page\b/g)!.length).toBeLessThanOrEqual(3);
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("navigation", { name: "Stations" })).toBeHidden();
  await expect(plan).toBeVisible();
});

test("tables and drawing can be downloaded", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Exports" });
  await app.open(id, "papers");
  for (const [name, file] of [["Loops as CSV", "exports-loops.csv"], ["Rooms as CSV", "exports-rooms.csv"], ["Plan as SVG", "exports-plan.svg"], ["Job file", "exports.json"]] as const) {
    const waiting = page.waitForEvent("download");
    await page.getByRole("link", { name }).click();
    expect((await waiting).suggestedFilename()).toBe(file);
  }
});

test("a phone shows the loops and the verdict", async ({ app, page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const id = await app.makeJob({ ...DEMO, name: "Phone" });
  await app.open(id, "loops");
  await expect(app.plan).toBeVisible();
  await page.getByRole("heading", { name: "Verdict" }).scrollIntoViewIfNeeded();
  await expect(page.getByRole("heading", { name: "Verdict" })).toBeVisible();
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(wide).toBeLessThanOrEqual(390);
  await app.accessible();
});
