/** The survey as it is done: a picture traced, windows typed, levels, shapes, files, the weather, the report. */
import { readFileSync } from "node:fs";
import { blank, box, DEMO, expect, framePng, test } from "./app";

const EPW = new URL("../../demo/alderfell.epw", import.meta.url);
const named = (name: string, mimeType: string, buffer: Buffer) => ({ name, mimeType, buffer });

/** A PDF of `pages` blank pages, each a different size. */
function pdf(pages: number): Buffer {
  const kids = Array.from({ length: pages }, (_, i) => `${i + 3} 0 R`).join(" ");
  const objects = ["<</Type/Catalog/Pages 2 0 R>>", `<</Type/Pages/Kids[${kids}]/Count ${pages}>>`];
  for (let i = 0; i < pages; i++) objects.push(`<</Type/Page/Parent 2 0 R/MediaBox[0 0 ${300 * (i + 1)} 300]>>`);
  let text = "%PDF-1.4\n";
  const at: number[] = [];
  objects.forEach((o, i) => {
    at.push(text.length);
    text += `${i + 1} 0 obj${o}endobj\n`;
  });
  const xref = text.length;
  text += `xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${at.map((a) => `${String(a).padStart(10, "0")} 00000 n \n`).join("")}`;
  return Buffer.from(`${text}trailer<</Size ${objects.length + 1}/Root 1 0 R>>\nstartxref\n${xref}\n%%EOF`);
}

test("a room is traced over a picture scaled by two points", async ({ app, page }) => {
  const id = await app.makeJob(blank("Traced"));
  await app.open(id, "rooms");
  await page.getByRole("button", { name: "Picture", exact: true }).click();
  // 640 × 440 pixels, the frame 600 × 400: 6 × 4 m at 10 mm a pixel
  await page.getByLabel("Picture of the plan").setInputFiles(named("plan.png", "image/png", framePng(640, 440, 20)));
  const picture = page.locator("img.underlay");
  await expect(picture).toBeVisible();
  await expect(page.getByText("Click two points of the picture")).toBeVisible();
  const corner = async (px: number, py: number): Promise<[number, number]> => {
    const b = (await picture.boundingBox())!;
    return [b.x + (px / 640) * b.width, b.y + (py / 440) * b.height];
  };
  const clickAt = async (p: [number, number]) => {
    await page.mouse.move(p[0] - 2, p[1]);
    await page.mouse.move(...p);
    await page.mouse.down();
    await page.mouse.up();
  };
  await clickAt(await corner(20, 420));
  await clickAt(await corner(620, 420));
  await page.getByLabel("True distance").fill("6 m");
  await page.keyboard.press("Enter");

  await page.getByRole("toolbar").getByRole("button", { name: /^Room/ }).click();
  await clickAt(await corner(20, 420));
  await clickAt(await corner(620, 20));
  await expect(page.getByLabel("Width of Room 1")).toHaveValue("6.00 m");
  await expect(page.getByLabel("Depth of Room 1")).toHaveValue("4.00 m");
  await app.accessible();

  // dimmed, turned, kept over a reload, taken away and brought back
  await page.getByRole("button", { name: "Picture", exact: true }).click();
  await page.getByRole("slider", { name: "Strength of the picture" }).focus();
  for (let k = 0; k < 6; k++) await page.keyboard.press("ArrowLeft");
  await page.getByLabel("Turn of the picture").fill("5");
  await page.keyboard.press("Enter");
  await app.saved();
  await page.reload();
  await expect(picture).toHaveCSS("opacity", "0.2");
  expect((await app.read(id)).job.levels[0].underlay).toMatchObject({ name: "plan.png", turn_deg: 5 });
  await page.getByRole("button", { name: "Picture", exact: true }).click();
  await page.getByRole("button", { name: "Take away" }).click();
  await expect(picture).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(picture).toBeVisible();
  await page.getByRole("group", { name: "Picture under" }).getByRole("button", { name: "Move" }).click();
  const before = (await picture.boundingBox())!;
  const metre = (await app.at(3, 2))[0] - (await app.at(2, 2))[0];
  await app.drag([2, 2], [3, 2]);
  // to the nearest pixel
  await expect.poll(async () => Math.abs((await picture.boundingBox())!.x - before.x - metre)).toBeLessThan(1);
});

test("a page of a PDF, and files that are none", async ({ app, page }) => {
  app.expectedErrors.push(/422/);
  const id = await app.makeJob(blank("PDF"));
  await app.open(id, "rooms");
  await page.getByRole("button", { name: "Picture", exact: true }).click();
  const field = page.getByLabel("Picture of the plan");
  await field.setInputFiles(named("plans.pdf", "application/pdf", pdf(2)));
  await page.getByLabel("Page of the PDF").fill("2");
  await page.getByRole("button", { name: "Take this page" }).click();
  await expect(page.locator("img.underlay")).toBeVisible();
  await app.saved();
  expect((await app.read(id)).job.levels[0].underlay).toMatchObject({ name: "plans.pdf, page 2", width_px: 4096, height_px: 2048 });

  const alert = page.getByRole("group", { name: "Picture under" }).getByRole("alert");
  await field.setInputFiles(named("broken.pdf", "application/pdf", Buffer.from("%PDF-1.4\nnothing of the kind")));
  await expect(alert).toContainText("no PDF that reads");
  await field.setInputFiles(named("plan.png", "image/png", Buffer.from("not a picture")));
  await expect(alert).toContainText("PNG or JPEG");
  await expect(page.locator("img.underlay")).toBeVisible();
});

test("a picture of 10 MB keeps up with the sheet", async ({ app, page }) => {
  const id = await app.makeJob(blank("Large picture"));
  await app.open(id, "rooms");
  await page.getByRole("button", { name: "Picture", exact: true }).click();
  const large = framePng(4000, 2700, 50, true);
  expect(large.length).toBeGreaterThan(10 * 2 ** 20);
  await page.getByLabel("Picture of the plan").setInputFiles(named("large.png", "image/png", large));
  await expect(page.locator("img.underlay")).toBeVisible();
  await page.getByRole("button", { name: /^Select/ }).click();
  await app.saved();
  // no figure of time is asserted: of twenty quick steps every one must arrive, 20 px each
  const left = async () => (await page.locator("img.underlay").boundingBox())!.x;
  const before = await left();
  await app.plan.focus();
  for (let i = 0; i < 20; i++) await page.keyboard.press("ArrowLeft");
  await expect.poll(async () => Math.round(Math.abs((await left()) - before))).toBe(400);
});

test("windows are placed by typing and read in the loss", async ({ app, page }) => {
  const id = await app.makeJob({ ...blank("Typed windows"), rooms: [box("a", "Hall", 0, 0, 5, 4)] });
  await app.open(id, "rooms");
  await page.getByRole("tab", { name: "Openings" }).click();
  await app.choice("Wall").click();
  await page.getByRole("option").nth(2).click();
  await page.getByRole("button", { name: "Add opening" }).click();
  const row = page.getByRole("region", { name: "Table of openings" }).getByRole("row").nth(1);
  const type = async (label: string, text: string) => {
    await row.getByLabel(label, { exact: true }).fill(text);
    await page.keyboard.press("Enter");
  };
  await type("Width", "6' 6 3/4\"");
  await type("Height", "1.4 m");
  await type("Sill", "0.9");
  await type("From the corner", "50 cm");
  await type("U of the opening", "1.1");
  await type("g of the opening", "55");
  await app.saved();
  expect((await app.read(id)).job.rooms[0].openings[0]).toMatchObject({ edge: 2, height_m: 1.4, sill_m: 0.9, offset_m: 0.5, u: 1.1, g: 0.55 });
  await type("U of the opening", "0");
  await expect(page.getByRole("alert").filter({ hasText: "U of the opening must be" })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByRole("link", { name: /Heat loss/ }).click();
  // 2.0003 m × 1.4 m × (1.1 + 0.05) W/m²K × 34 K
  await expect(page.getByRole("row", { name: /^Hall/ }).getByRole("cell", { name: "109 W", exact: true })).toHaveAttribute("title", /2\.8 m² × 1\.15 W\/m²K/);
});

test("a weather file sets the design day, a broken one changes nothing", async ({ app, page }) => {
  app.expectedErrors.push(/422/);
  const start = blank("Climate");
  const id = await app.makeJob({ ...start, site: { ...start.site, weather: undefined, annual_mean_c: undefined } });
  await app.open(id, "site");
  const file = readFileSync(EPW);
  const field = page.getByLabel("Weather file");
  await field.setInputFiles(named("alderfell.epw", "text/plain", file));
  const outdoor = page.getByLabel("Design outdoor temperature");
  await expect(outdoor).toHaveValue("-15.3 °C");
  await expect(page.getByRole("img", { name: /Daily temperatures of Alderfell/ })).toBeVisible();
  await expect(page.getByText("4036 K·d below 18.0 °C")).toBeVisible();
  await page.getByRole("button", { name: /^99 %/ }).click();
  await expect(outdoor).toHaveValue("-14.0 °C");
  await app.accessible();
  await field.setInputFiles(named("cut.epw", "text/plain", file.subarray(0, 600_000)));
  await expect(page.getByRole("alert")).toContainText("cut.epw was not taken");
  await expect(page.getByRole("alert")).toContainText("of 8760");
  await expect(outdoor).toHaveValue("-14.0 °C");
  await app.saved();
  expect((await app.read(id)).job.site).toMatchObject({ outdoor_c: -14, altitude_m: 640, weather: { annual_mean_c: 7.17 } });
});

test("any shape is typed by lengths and angles, split and merged again", async ({ app, page }) => {
  const id = await app.makeJob(blank("Shapes"));
  await app.open(id, "rooms");
  await page.getByRole("button", { name: /^Any shape/ }).click();
  const wall = async (length: string, direction: string, bulge = "") => {
    await page.getByLabel("Length of the wall").fill(length);
    await page.getByLabel("Direction of the wall").fill(direction);
    await page.getByLabel("Rise of a curved wall").fill(bulge);
    await page.keyboard.press("Enter");
  };
  await wall("6 m", "0");
  await wall("1.4142 m", "45");
  await wall("9' 10 1/8\"", "90");
  await wall("sideways", "90");
  await expect(page.getByRole("alert")).toContainText("Type the wall's length");
  await wall("7 m", "180", "0.5 m");
  await page.getByRole("button", { name: "Close the room" }).click();
  await app.saved();
  const outline = async () => (await app.read(id)).job.rooms.map((r: { outline: number[][] }) => r.outline);
  const first = (await outline())[0];
  expect(first.length).toBeGreaterThan(8);
  expect(first[2][0]).toBeCloseTo(7, 3);
  const top = Math.max(...first.map((p: number[]) => p[1]!));
  expect(top).toBeCloseTo(4.5, 1);

  await page.locator('.wall-grip[data-edge="0"]').dispatchEvent("pointerdown", { clientX: 400, clientY: 400, pointerId: 1, button: 0 });
  await page.locator("svg").first().dispatchEvent("pointerup", { pointerId: 1 });
  await expect(page.getByRole("heading", { name: /Room 1, south wall/ })).toBeVisible();
  await page.getByLabel("Distance of the cut from the corner").fill("2.5 m");
  await page.keyboard.press("Enter");
  await page.getByRole("region", { name: "Chosen" }).getByRole("button", { name: "Split" }).click();
  await expect(page.getByLabel("Name of Room 1 2")).toBeVisible();
  await page.getByRole("region", { name: "Chosen" }).getByRole("button", { name: "Merge" }).click();
  await expect(page.getByLabel("Name of Room 1", { exact: true })).toHaveCount(0);
  await app.saved();
  const merged = (await outline())[0];
  const area = (o: number[][]) => Math.abs(o.reduce((s, p, i) => s + (p[0]! * o[(i + 1) % o.length]![1]! - o[(i + 1) % o.length]![0]! * p[1]!) / 2, 0));
  expect(area(merged)).toBeCloseTo(area(first), 2);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByLabel("Name of Room 1 2")).toHaveCount(0);
});

test("a shape by clicks, and a partition drawn through it", async ({ app, page }) => {
  const id = await app.makeJob(blank("Clicks"));
  await app.open(id, "rooms");
  await page.keyboard.press("a");
  for (const [x, y] of [[0, 0], [6, 0], [6, 3], [5, 4], [0, 4], [0, 0]] as const) await app.click(x, y);
  await expect(page.getByLabel("Name of Room 1")).toBeVisible();
  await app.plan.focus();
  await page.keyboard.press("x");
  await app.click(3, 0.02);
  await app.click(3, 3.98);
  await expect(page.getByLabel("Name of Room 1 2")).toBeVisible();
  await app.saved();
  const rooms = (await app.read(id)).job.rooms as { outline: [number, number][] }[];
  const xs = rooms.map((r) => r.outline.map((p) => p[0]));
  const gap = Math.min(...xs.map((x) => Math.max(...x).valueOf()));
  expect(gap).toBeCloseTo(2.94, 3);
});

test("a partition moves for both of its rooms, or for one alone", async ({ app, page }) => {
  const id = await app.makeJob({ ...blank("Shared"), rooms: [box("a", "West", 0, 0, 4, 4), box("b", "East", 4.12, 0, 8, 4)] });
  await app.open(id, "rooms");
  const xs = async () => {
    await app.saved();
    const [a, b] = (await app.read(id)).job.rooms as { outline: [number, number][] }[];
    return [a!.outline[1]![0], b!.outline[0]![0]];
  };
  const wall = page.locator('.wall-grip[data-id="a"][data-edge="1"]');
  const grip = (await wall.boundingBox())!;
  const from = [grip.x + grip.width / 2, grip.y + grip.height / 4] as const;
  const scale = (await page.locator('polygon.floor[data-id="a"]').boundingBox())!.width / 4;
  const pull = async (by: number) => {
    await page.mouse.move(...from);
    await page.mouse.down();
    await page.mouse.move(from[0] + (by * scale) / 2, from[1], { steps: 4 });
    await page.mouse.move(from[0] + by * scale, from[1], { steps: 4 });
    await page.mouse.up();
  };
  await pull(-1);
  expect(await xs()).toEqual([3, 3.12]);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.keyboard.down("Alt");
  await pull(-1);
  await page.keyboard.up("Alt");
  expect(await xs()).toEqual([3, 4.12]);
});

test("a storey on top: what lies above is found from the plans", async ({ app, page }) => {
  const id = await app.makeJob({ ...blank("Storeys"), rooms: [box("a", "Below", 0, 0, 6, 5)] });
  await app.open(id, "heat-loss");
  const roof = async () => Number.parseFloat(await page.getByRole("row", { name: /^Below/ }).getByRole("cell").nth(await column("Roof")).innerText());
  const column = async (name: string) => (await page.getByRole("columnheader").allInnerTexts()).findIndex((t) => t.includes(name));
  await expect(page.getByRole("columnheader", { name: "Roof" })).toBeVisible();
  const whole = await roof();
  await page.getByRole("link", { name: /Rooms/ }).click();
  await page.getByRole("button", { name: "Change levels" }).click();
  await page.getByRole("button", { name: "Add above" }).click();
  await page.getByLabel("Level name").fill("Under the roof");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Under the roof" })).toHaveAttribute("aria-pressed", "true");
  await page.getByRole("button", { name: "Change levels" }).click();
  await page.keyboard.press("r");
  await page.getByLabel("Corner, to the right").fill("0");
  await page.getByLabel("Corner, upward").fill("0");
  await page.getByLabel("Width", { exact: true }).fill("3 m");
  await page.getByLabel("Depth", { exact: true }).fill("5 m");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Name of Room 2")).toBeVisible();
  // its ceiling slopes up from the south wall
  await page.locator('.wall-grip[data-id="room-1"][data-edge="0"]').dispatchEvent("pointerdown", { clientX: 400, clientY: 400, pointerId: 1, button: 0 });
  await page.locator("svg").first().dispatchEvent("pointerup", { pointerId: 1 });
  await app.tick("Ceiling slopes up from this wall");
  await page.getByLabel("Height at the low wall").fill("1 m");
  await page.keyboard.press("Enter");
  await app.saved();
  expect((await app.read(id)).job.rooms[1]).toMatchObject({ level_id: "level-2", below: { kind: "outside" }, slopes: [{ edge: 0, knee_m: 1 }] });
  await page.getByRole("link", { name: /Heat loss/ }).click();
  // the school's wall is 343 mm thick: 6 − 3 − 0.343 m of 6 m stay under roof
  await expect.poll(async () => (await roof()) / whole).toBeCloseTo(2.657 / 6, 1);
  await page.getByRole("link", { name: /Rooms/ }).click();
  await page.getByLabel("Name of Room 2").focus();
  await app.tick("Unheated space");
  await expect(page.getByText(/settles at -?\d+\.\d °C/).first()).toBeVisible();
});

test("rooms go out as files and come back, errors by line", async ({ app, page }) => {
  app.expectedErrors.push(/422/);
  const from = await app.makeJob({ ...DEMO, name: "Out" });
  const text = async (path: string) => (await page.request.get(`/api/jobs/${from}/${path}`)).body();
  const to = await app.makeJob({ ...blank("In"), levels: DEMO.levels });
  await app.open(to, "rooms");
  await page.getByRole("button", { name: "Files", exact: true }).click();
  const field = page.getByLabel("File of rooms or openings");
  const ground = DEMO.rooms.filter((r: { level_id: string }) => r.level_id === "ground").length;
  await field.setInputFiles(named("rooms.dxf", "image/vnd.dxf", await text("rooms.dxf?level=ground")));
  await expect(page.getByText(`rooms.dxf: ${ground} rooms added.`)).toBeVisible();
  await expect(page.getByLabel("Name of Studio A")).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await field.setInputFiles(named("rooms.geojson", "application/geo+json", await text("rooms.geojson")));
  await expect(page.getByText(`rooms.geojson: ${DEMO.rooms.length} rooms added.`)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await field.setInputFiles(named("rooms.csv", "text/csv", await text("survey-rooms.csv")));
  await expect(page.getByText(`rooms.csv: ${DEMO.rooms.length} rooms added.`)).toBeVisible();
  await field.setInputFiles(named("openings.csv", "text/csv", Buffer.from("room,wall,kind,width (m),height (m)\nStudio A,1,window,1.2,1.1\nNowhere,1,window,1,1\nStudio A,2,window,90,1\n")));
  const problems = page.getByRole("list", { name: "What was not taken" });
  await expect(problems.getByRole("listitem")).toHaveText([/Line 3: there is no room "Nowhere"/, /Line 4: width "90" must be/]);
  await field.setInputFiles(named("rooms.dxf", "image/vnd.dxf", Buffer.from("no drawing at all")));
  await expect(page.getByRole("group", { name: "Files of rooms" }).getByRole("alert")).toContainText("DXF");
  await field.setInputFiles(named("rooms.csv", "text/csv", Buffer.from("room,width (kg)\nA,1\n")));
  await expect(page.getByRole("group", { name: "Files of rooms" }).getByRole("alert")).toContainText("kg");
  await app.accessible();
});

test("a construction is built from layers and its U follows", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Layers" });
  await app.open(id, "site");
  await page.getByRole("button", { name: "Layers of roof" }).click();
  const dialog = page.getByRole("dialog");
  const u = dialog.locator(".u");
  const before = Number.parseFloat((await u.innerText()).slice(2));
  await dialog.getByLabel("Thickness of layer 2").fill("300 mm");
  await page.keyboard.press("Enter");
  await expect.poll(async () => Number.parseFloat((await u.innerText()).slice(2))).toBeLessThan(before - 0.05);
  await dialog.getByRole("button", { name: "Add a layer" }).click();
  await dialog.getByLabel("Name of the material").fill("Hemp");
  await dialog.getByLabel("Conductivity of the material").fill("0.045");
  await page.keyboard.press("Tab");
  await dialog.getByRole("button", { name: "Add it" }).click();
  await app.choose("Material of layer 5", "Hemp");
  await dialog.getByLabel("Thickness of layer 1").fill("0");
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("alert")).toContainText("Thickness of layer 1 must be");
  await page.keyboard.press("Escape");
  await app.accessible();
  await dialog.getByRole("button", { name: "Done" }).click();
  await app.saved();
  const { constructions, materials } = (await app.read(id)).job;
  expect(constructions[1].layers).toHaveLength(5);
  expect(materials.at(-1)).toMatchObject({ name: "Hemp", conductivity_w_mk: 0.045 });
  // one of the library is copied before it is changed
  await page.getByRole("button", { name: "Layers of partition" }).click();
  await dialog.getByRole("button", { name: "Copy it to change it" }).click();
  await expect(dialog.getByLabel("Name of the construction")).toHaveValue(/own$/);
  await dialog.getByText("typed U").click();
  await dialog.getByLabel("U typed").fill("0.9");
  await page.keyboard.press("Enter");
  await expect(u).toHaveText("U 0.90 W/m²K");
});

test("the heat loss report, on paper and as files", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Report" });
  await app.open(id, "heat-loss");
  await app.segment("Building").click();
  await expect(page.getByRole("img", { name: /^Load line/ })).toBeVisible();
  await expect(page.getByText(/its label says \d+%/)).toBeVisible();
  await app.accessible();
  await page.getByRole("link", { name: "The heat loss report" }).click();
  const report = page.getByRole("article");
  for (const r of DEMO.rooms) await expect(report.getByRole("cell", { name: r.name, exact: true }).first()).toBeVisible();
  await expect(report).toContainText("School's brick wall");
  await expect(report).toContainText("ISO 13370");
  await app.accessible();
  await page.emulateMedia({ media: "print" });
  await expect(page.getByRole("button", { name: "Print the report" })).toBeHidden();
  const paper = await page.pdf({ preferCSSPageSize: true });
  expect(paper.subarray(0, 5).toString()).toBe("%PDF-");
  await page.emulateMedia({ media: "screen" });
  const csv = await (await page.request.get(`/api/jobs/${id}/heat-loss.csv`)).text();
  expect(csv.split("\n")[0]).toContain("U (W/m²K)");
  const json = (await (await page.request.get(`/api/jobs/${id}/heat-loss.json`)).json()) as { building: { heat_w: number }; rooms: { heat_w: number }[] };
  expect(json.rooms.reduce((s, r) => s + r.heat_w, 0)).toBeCloseTo(json.building.heat_w, 6);
});

test("notes with photos, and the job handed on with its pictures", async ({ app, page }) => {
  const id = await app.makeJob({ ...blank("Photos"), rooms: [box("a", "Hall", 0, 0, 5, 4)] });
  await app.open(id, "rooms");
  await page.keyboard.press("n");
  await app.plan.click({ position: { x: 300, y: 200 } });
  await page.getByRole("complementary").getByLabel("Text of the note").fill("Old pipes come up here");
  await page.getByLabel("Photo of the mark").setInputFiles(named("photo.png", "image/png", framePng(60, 40, 4)));
  await expect(page.getByRole("img", { name: "Photo of the mark" })).toBeVisible();
  await page.getByRole("tab", { name: "Emitters" }).click();
  await page.getByRole("button", { name: "Record emitter" }).click();
  await page.getByLabel("Output by its label").fill("1200");
  await page.keyboard.press("Enter");
  await app.saved();
  const bundle = await (await page.request.get(`/api/jobs/${id}/bundle`)).body();
  await page.goto("/");
  await page.getByLabel("Job file").setInputFiles(named("photos.zip", "application/zip", bundle));
  await expect(page.getByRole("tab", { name: "Notes" })).toBeVisible();
  await page.getByRole("tab", { name: "Notes" }).click();
  await expect(page.getByLabel("Text of the note")).toHaveValue("Old pipes come up here");
  await expect(page.getByRole("img", { name: "Photo of the note" })).toBeVisible();
});

test("quick edits of a wall in a building of 60 rooms all arrive", async ({ app, page }) => {
  const rooms = [];
  for (let level = 0; level < 3; level++)
    for (let k = 0; k < 20; k++)
      rooms.push(box(`r${level}-${k}`, `Room ${level}.${k}`, (k % 10) * 4.12, Math.floor(k / 10) * 4.12, (k % 10) * 4.12 + 4, Math.floor(k / 10) * 4.12 + 4, { level_id: `l${level}`, below: { kind: level ? "outside" : "ground" } }));
  const levels = [0, 1, 2].map((k) => ({ id: `l${k}`, name: `Level ${k}`, floor_m: 2.8 * k }));
  const id = await app.makeJob({ ...blank("Sixty rooms"), levels, rooms });
  await app.open(id, "rooms");
  await page.locator('.wall-grip[data-id="r0-3"][data-edge="0"]').dispatchEvent("pointerdown", { clientX: 400, clientY: 400, pointerId: 1, button: 0 });
  await page.locator("svg").first().dispatchEvent("pointerup", { pointerId: 1 });
  await expect(page.getByRole("heading", { name: "Room 0.3, south wall" })).toBeVisible();
  await app.plan.focus();
  for (let i = 0; i < 25; i++) await page.keyboard.press("ArrowDown");
  await expect(page.getByLabel("Depth of Room 0.3")).toHaveValue("5.25 m");
  await app.saved();
  expect((await app.read(id)).job.rooms[3].outline[0]).toEqual([12.36, -1.25]);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByLabel("Depth of Room 0.3")).toHaveValue("4.00 m");
});

test("a garage finds its temperature, and the cellar its ground", async ({ app, page }) => {
  const garage = box("g", "Garage", 5.12, 0, 8, 4, { unheated: {}, air_changes_per_h: 1 });
  const id = await app.makeJob({ ...blank("Garage"), rooms: [box("a", "Hall", 0, 0, 5, 4), garage] });
  await app.open(id, "heat-loss");
  const row = page.getByRole("row", { name: /^Garage/ });
  await expect(row).toContainText(/settles at -?\d+\.\d °C/);
  const before = await row.innerText();
  await page.getByRole("link", { name: /Rooms/ }).click();
  await page.getByLabel("Name of Garage").focus();
  await page.getByLabel("Temperature of the unheated space").fill("41 °F");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: /Heat loss/ }).click();
  await expect(row).toContainText("settles at 5.0 °C");
  expect(before).not.toContain("5.0 °C");
  // the level sunk into the ground
  await page.getByRole("link", { name: /Rooms/ }).click();
  await page.getByRole("button", { name: "Change levels" }).click();
  await page.getByLabel("Floor over the ground outside").fill("-2.2 m");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: /Heat loss/ }).click();
  await expect(page.getByRole("row", { name: /^Hall/ }).locator('td[title*="to the ground"]').first()).toBeVisible();
  await app.accessible();
});

test("a partition that cannot be is refused with the reason", async ({ app, page }) => {
  app.expectedErrors = [/422/];
  const id = await app.makeJob({ ...blank("No partition"), rooms: [box("a", "Hall", 0, 0, 5, 4)] });
  await app.open(id, "rooms");
  const floor = (await app.plan.locator('[data-kind="room"]').boundingBox())!;
  await page.mouse.click(floor.x + floor.width / 2, floor.y + floor.height);
  await page.getByLabel("Distance of the cut from the corner").fill("0.05");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Split", exact: true }).last().click();
  await expect(page.getByRole("complementary").getByRole("alert")).not.toBeEmpty();
  expect((await app.read(id)).job.rooms).toHaveLength(1);
});
