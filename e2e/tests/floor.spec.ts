import { DEMO, blank, box, expect, test } from "./app";

const slab = { build_up_id: "slab", covering_id: "tile", tube_id: "pex-16x2", spacing_core_m: 0.2, spacing_edge_m: 0.2, pattern: "auto" };
const timber = { ...slab, covering_id: "solid-timber", spacing_core_m: 0.1, spacing_edge_m: 0.1 };
const one = (name: string, more: object = {}) => ({ ...blank(name), rooms: [box("a", "Workshop", 0, 0, 5, 4, { floor: slab, ...more })] });

test("three spacings are compared and one is taken, and undone", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Compare spacings" });
  await app.open(id, "floor");
  await app.choose("Room whose floor is shown", "Studio A");
  await app.segment("Compare").click();
  for (const out of ["250 mm", "300 mm"]) await app.tick(out, false);
  await expect(page.getByText("3 of 3 variants")).toBeVisible();
  const rows = page.getByRole("region", { name: "Table of variants" }).locator("tbody tr");
  await expect(rows).toHaveCount(3);
  // the firm prefers cool water: the tightest spacing comes first, with the coolest water
  const water = async (i: number) => Number(/([\d.]+) °C/.exec(await rows.nth(i).innerText())![1]);
  expect(await water(0)).toBeLessThan(await water(1));
  expect(await water(1)).toBeLessThan(await water(2));
  await expect(rows.filter({ hasText: "current" })).toContainText("200 mm");
  await app.accessible();
  await page.getByRole("button", { name: /^Take 100 mm/ }).click();
  await expect(rows.filter({ hasText: "current" })).toContainText("100 mm");
  await app.saved();
  const room = (await app.read(id)).job.rooms.find((r: { name: string }) => r.name === "Studio A");
  expect(room.floor).toMatchObject({ spacing_core_m: 0.1, spacing_edge_m: 0.1 });
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(rows.filter({ hasText: "current" })).toContainText("200 mm");
});

test("a sweep of hundreds shows its progress and ends, bad figures are named", async ({ app, page }) => {
  await app.open(await app.makeJob(one("Sweep")), "floor");
  await app.segment("Compare").click();
  await expect(page.getByText("5 of 5 variants")).toBeVisible();
  await page.getByLabel("Insulations to compare").fill("1; 2; ninety");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "“ninety” is not between" })).toBeVisible();
  await page.getByLabel("Insulations to compare").fill("1; 2; 4");
  await page.keyboard.press("Enter");
  const varied = page.getByRole("region", { name: "What is varied" });
  await varied.getByText("Covering", { exact: true }).click();
  for (const name of ["Tile, 10 mm in thin bed", "Carpet on thin pad", "Solid timber, 19 mm"]) await app.tick(name);
  await varied.getByText("Tube", { exact: true }).click();
  for (const name of ["14 × 2 mm", "16 × 2 mm", "17 × 2 mm", "20 × 2 mm"]) await app.tick(name);
  await expect(page.getByText("180 of 180 variants")).toBeVisible({ timeout: 30_000 });
  await app.choose("What comes first", "the least tube");
  await expect(page.getByRole("region", { name: "Table of variants" }).locator("tbody tr").first()).toContainText("300 mm");
  // a tube that does not fit is told, not left out
  await page.getByLabel("Covers over the tube to compare").fill("500");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Table of variants" })).toContainText("outside its layer");
});

test("layers are thickened, moved and put in on the drawn section, by mouse and by keyboard", async ({ app, page }) => {
  const id = await app.makeJob(one("Layers"));
  await app.open(id, "floor");
  const height = page.getByRole("region", { name: "What the floor does" });
  await expect(height).toContainText("Height added");
  await expect(height).toContainText("149 mm");
  const handle = page.getByRole("slider", { name: "Thickness of Cement screed" });
  await handle.focus();
  for (let i = 0; i < 4; i++) await page.keyboard.press("ArrowDown");
  await expect(height).toContainText("153 mm");
  await expect(page.getByLabel("Name of the build-up")).toHaveValue("Screed on foam, tube at the bottom, own");
  await expect(handle).toHaveAttribute("aria-valuenow", "70");
  const at = (await handle.boundingBox())!;
  await page.mouse.move(at.x + 40, at.y + 3);
  await page.mouse.down();
  await page.mouse.move(at.x + 40, at.y + 23, { steps: 4 });
  await page.mouse.up();
  await expect(handle).not.toHaveAttribute("aria-valuenow", "70");
  // far up: no thinner than the tube
  const low = (await handle.boundingBox())!;
  await page.mouse.move(low.x + 40, low.y + 3);
  await page.mouse.down();
  await page.mouse.move(low.x + 40, low.y - 300, { steps: 6 });
  await page.mouse.up();
  await expect(height).toContainText("99 mm");
  // each drag is one step
  for (let i = 0; i < 2; i++) await page.getByRole("button", { name: "Undo" }).click();
  await expect(height).toContainText("153 mm");
  await page.getByLabel("Thickness of the layer").fill("80 mm");
  await page.keyboard.press("Enter");
  await expect(height).toContainText("163 mm");
  await page.getByRole("button", { name: "Put a layer below it" }).click();
  await app.choose("Material of the layer", "Cork board");
  await page.getByRole("button", { name: "Move the layer down" }).click();
  await app.saved();
  const own = (await app.read(id)).job.build_ups[0];
  expect(own.layers.map((l: { material_id: string }) => l.material_id)).toEqual(["screed-cement", "eps-035", "cork"]);
  expect(own.layers[0].thickness_m).toBeCloseTo(0.08, 6);
  await app.accessible();
});

test("a floor that cannot carry its room offers a field, which is taken and carries it", async ({ app, page }) => {
  const glass = { id: "w1", kind: "window", edge: 0, offset_m: 0.2, width_m: 4.4, height_m: 2.4, sill_m: 0 };
  const other = { ...glass, id: "w2", edge: 2 };
  const id = await app.makeJob(one("Glass", { floor: timber, openings: [glass, other], air_changes_per_h: 1.5 }));
  await app.open(id, "floor");
  const answers = page.getByRole("region", { name: "What the floor does" });
  await expect(answers).toContainText("Short by");
  await expect(answers).toContainText("Backup heat");
  const before = Number(/Short by ([\d]+) W/.exec(await answers.innerText())![1]);
  await answers.getByRole("listitem").filter({ hasText: "Wall field" }).getByRole("button", { name: /^Take it/ }).click();
  await expect(app.segment("Wall field 1")).toBeVisible();
  await expect(answers).not.toContainText(`Short by ${before} W`);
  await app.segment("Patches and fields").click();
  await page.getByRole("button", { name: "Add a patch" }).click();
  await page.getByLabel("Area of patch 1").fill("3");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Area of patch 1")).toHaveValue("3.0 m²");
  await app.accessible();
  await app.saved();
  const room = (await app.read(id)).job.rooms[0];
  expect(room.fields).toHaveLength(1);
  expect(room.floor.patches).toEqual([{ area_m2: 3, rug_m2k_w: 0.1 }]);
});

test("a room without tube gets a ceiling field, and the section of it hangs upside down", async ({ app, page }) => {
  const job = one("Ceiling", { floor: null });
  const id = await app.makeJob({ ...job, rooms: [...job.rooms, box("b", "Office", 5.1, 0, 9, 4, { floor: slab })] });
  await app.open(id, "floor");
  await expect(app.choice("Room whose floor is shown")).toHaveText("Office");
  await app.choose("Room whose floor is shown", "Workshop");
  await expect(page.getByText("Workshop has no tube.")).toBeVisible();
  await app.segment("Patches and fields").click();
  await page.getByRole("button", { name: "Add a ceiling field" }).click();
  await page.getByLabel("Width of field 1").fill("9");
  await page.keyboard.press("Enter");
  // wider than the room: said, with what would help
  await expect(page.getByRole("region", { name: "Verdict column" })).toContainText("ceiling field of Workshop");
  await page.getByLabel("Width of field 1").fill("ninety");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "does not read" })).toBeVisible();
  await page.keyboard.press("Escape");
  await app.segment("Section").click();
  await expect(page.getByRole("group", { name: /^Section/ })).toContainText("above");
  await app.accessible();
  await app.segment("Plan").click();
  await expect(page.locator('polygon.floor[data-id="a"]')).toBeVisible();
  await page.getByRole("button", { name: "Back to the section" }).click();
  await expect(page.getByRole("group", { name: /^Section/ })).toBeVisible();
});

test("lists for a comparison are typed in either unit system", async ({ app, page }) => {
  const job = one("Typed lists");
  await app.open(await app.makeJob({ ...job, site: { ...job.site, units: "us" } }), "floor");
  await app.segment("Compare").click();
  for (const out of ["3.9 in", "5.9 in", "9.8 in", "11.8 in"]) await app.tick(out, false);
  const given = page.getByLabel("Supply temperatures to compare");
  await given.fill("85; 95; 110 °F");
  await page.keyboard.press("Enter");
  await expect(page.getByText("3 of 3 variants")).toBeVisible();
  const rows = page.getByRole("region", { name: "Table of variants" }).locator("tbody tr");
  await expect(rows.filter({ hasText: "110 °F" })).toHaveCount(1);
  await expect(rows.filter({ hasText: "85 °F" })).toContainText("BTU/h");
  await given.fill("30; 45 °C");
  await page.keyboard.press("Enter");
  await expect(page.getByText("2 of 2 variants")).toBeVisible();
  await expect(rows.filter({ hasText: "113 °F" })).toHaveCount(1);
  await given.fill("3000");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "“3000” is not between" })).toBeVisible();
});

test("the floor can be read on a phone and in US units", async ({ app, page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const job = one("Phone");
  await app.open(await app.makeJob({ ...job, site: { ...job.site, units: "us" } }), "floor");
  await expect(page.getByRole("region", { name: "What the floor does" })).toContainText("BTU/h·ft²");
  await expect(page.getByRole("group", { name: /^Section, 7.9 in spacing/ })).toBeVisible();
});

test("a remedy of the verdict is taken by its button and does what it says", async ({ app, page }) => {
  const glass = { id: "w", kind: "window", edge: 0, offset_m: 0.2, width_m: 4.4, height_m: 2.4 };
  const id = await app.makeJob(one("Cold hall", { floor: timber, openings: [glass], air_changes_per_h: 2.5 }));
  await app.open(id, "floor");
  const verdict = page.getByRole("region", { name: "Verdict", exact: true });
  await expect(verdict.locator(".sum")).toContainText("1 error");
  const rail = page.getByRole("navigation", { name: "Stations" });
  await expect(rail.getByRole("link", { name: /Floor\s*, needs attention: 1 error/ })).toBeVisible();
  await expect(verdict.getByRole("listitem").filter({ hasText: /^Backup heat: .*W; then OK/ })).toBeVisible();
  await verdict.getByRole("button", { name: /^Take it: Backup heat/ }).click();
  await expect(verdict.locator(".sum")).toContainText("OK");
  await app.saved();
  expect((await app.read(id)).job.rooms[0].emitters[0].kind).toBe("electric_heater");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(verdict.locator(".sum")).toContainText("1 error");
});

test("a window goes into the roof, and what only says OK is folded", async ({ app, page }) => {
  const id = await app.makeJob(one("Loft", { slopes: [{ edge: 0, knee_m: 1, pitch_deg: 45 }] }));
  await app.open(id, "rooms");
  await page.keyboard.press("w");
  await app.tick("in the roof");
  await expect(page.getByLabel("Sill height")).toHaveCount(0);
  await app.click(2, 0);
  await expect(page.getByRole("heading", { name: /^Roof window/ })).toBeVisible();
  await app.saved();
  const [window] = (await app.read(id)).job.rooms[0].openings;
  expect(window).toMatchObject({ kind: "roof_window", edge: 0 });
  const verdict = page.getByRole("region", { name: "Verdict", exact: true });
  const folded = verdict.getByRole("button", { name: /note(s)? at other stations|OK/ });
  await expect(verdict.locator(".rest .finding").first()).toBeHidden();
  await folded.click();
  await expect(verdict.locator(".rest .finding").first()).toBeVisible();
  await app.accessible();
});
