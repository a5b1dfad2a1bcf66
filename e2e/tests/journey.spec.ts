import { blank, DEMO, expect, test } from "./app";

test("from an empty sheet to a loop sheet with the mouse", async ({ app, page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "New job" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Rehearsal wing");
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByRole("heading", { name: "Rehearsal wing" })).toBeVisible();

  // a room by two clicks, the next with its size typed in the other unit system
  await page.getByRole("toolbar").getByRole("button", { name: /^Room/ }).click();
  await app.click(0, 0);
  await app.click(5, 4);
  await expect(page.getByLabel("Name of Room 1")).toBeVisible();
  await page.keyboard.press("r");
  await app.click(5.12, 0);
  await expect(page.getByLabel("Width", { exact: true })).toBeFocused();
  await page.keyboard.type("9' 10 1/8\"");
  await page.keyboard.press("Tab");
  await page.keyboard.type("4 m");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Width of Room 2")).toHaveValue("3.00 m");

  // the wall between is a partition, the others stand to the outside
  await app.plan.focus();
  await page.keyboard.press("w");
  await app.click(0, 2);
  await page.keyboard.press("d");
  await app.click(4.98, 1);
  await page.keyboard.press("m");
  await app.click(2.5, 0.02);
  await app.saved();

  await page.getByRole("tab", { name: "Openings" }).click();
  const openings = page.getByRole("region", { name: "Table of openings" });
  await expect(openings.getByRole("row")).toHaveCount(3);

  await page.getByRole("link", { name: /Loops/ }).click();
  const table = page.getByRole("region", { name: "Table of loops" });
  await expect(table.getByRole("button", { name: "A1" })).toBeVisible();
  await expect(table.getByText("Room 2")).toBeVisible();
  await expect(page.getByRole("heading", { name: "Verdict" })).toBeVisible();
  await expect(page.locator(".verdict .finding.error")).toHaveCount(0);

  await page.getByRole("link", { name: /Papers/ }).click();
  await expect(page.getByRole("img", { name: /Plan with loops/ })).toBeVisible();
  await expect(page.getByRole("article").getByRole("cell", { name: "Room 2" })).toBeVisible();

  await app.saved();
  await page.reload();
  await expect(page.getByRole("article").getByRole("cell", { name: "Room 2" })).toBeVisible();
});

test("the same without a pointer", async ({ app, page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "New job" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Name", { exact: true })).toBeFocused();
  await page.keyboard.type("By keyboard");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "By keyboard" })).toBeVisible();

  const type = async (label: string, text: string) => {
    await page.getByLabel(label, { exact: true }).focus();
    await page.keyboard.type(text);
  };
  await page.keyboard.press("r");
  await type("Width", "5");
  await type("Depth", "4");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Name of Room 1")).toBeVisible();
  await page.keyboard.press("Escape");
  await page.getByRole("button", { name: /^L-room/ }).focus();
  await page.keyboard.press("Enter");
  await type("Width", "4 m");
  await type("Depth", "13' 1 1/2\"");
  await type("Notch width", "1 m");
  await type("Notch depth", "1 m");
  await page.keyboard.press("Enter");
  await expect(page.getByLabel("Name of Room 2")).toBeVisible();

  await page.getByRole("tab", { name: "Rooms" }).focus();
  await page.keyboard.press("ArrowRight");
  await app.choose("Room", "Room 1");
  await app.choose("Wall", "east wall, 4.00 m");
  await app.choose("Kind", "Doorway");
  await page.getByRole("button", { name: "Add opening" }).focus();
  await page.keyboard.press("Enter");
  await page.getByRole("tab", { name: "Openings" }).focus();
  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("ArrowRight");
  await app.choose("Wall", "south wall, 5.00 m");
  await page.getByRole("button", { name: "Hang manifold" }).focus();
  await page.keyboard.press("Enter");
  await app.saved();

  await app.plan.focus();
  await page.keyboard.press("5");
  const table = page.getByRole("region", { name: "Table of loops" });
  await expect(table.getByRole("cell", { name: "Room 2" })).toBeVisible();
  await expect(page.locator(".verdict .finding.error")).toHaveCount(0);
  await page.getByRole("link", { name: /Papers/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("img", { name: /Plan with loops/ })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("article").getByRole("cell", { name: "Room 2" })).toBeVisible();
});

test("an L by two gestures, dragged walls, undo and redo", async ({ app, page }) => {
  const id = await app.makeJob(blank("Gestures"));
  await app.open(id, "rooms");
  await page.keyboard.press("l");
  await app.click(0, 0);
  await app.click(6, 4);
  await app.click(4, 2.5);
  await app.saved();
  expect((await app.read(id)).job.rooms[0].outline).toEqual([[0, 0], [6, 0], [6, 2.5], [4, 2.5], [4, 4], [0, 4]]);

  // the east wall by dragging, a corner by dragging
  await app.drag([6, 1.25], [7, 1.25]);
  await app.saved();
  expect((await app.read(id)).job.rooms[0].outline[1]).toEqual([7, 0]);
  await app.click(1.5, 1);
  await app.drag([0, 4], [0.5, 4.5]);
  await app.saved();
  const dragged = (await app.read(id)).job.rooms[0].outline;
  expect(dragged.at(-1)).toEqual([0.5, 4.5]);

  // each drag is one step
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await app.saved();
  expect((await app.read(id)).job.rooms[0].outline).toEqual([[0, 0], [6, 0], [6, 2.5], [4, 2.5], [4, 4], [0, 4]]);
  await app.plan.focus();
  await page.keyboard.press("Control+Shift+Z");
  await page.keyboard.press("Control+Y");
  await app.saved();
  expect((await app.read(id)).job.rooms[0].outline).toEqual(dragged);

  // a wall's length typed, and what is behind it corrected
  await app.click(3, 0);
  await page.getByLabel("Wall length").fill("20 ft");
  await page.keyboard.press("Enter");
  await app.choose("Other side of the wall", "ground");
  await app.saved();
  const room = (await app.read(id)).job.rooms[0];
  expect(room.outline[1][0] - room.outline[0][0]).toBeCloseTo(6.096, 4);
  expect(room.walls).toEqual([{ edge: 0, beyond: { kind: "ground" } }]);
});

test("a new room snaps to the corners and walls of others", async ({ app, page }) => {
  const id = await app.makeJob(blank("Snap"));
  await app.open(id, "rooms");
  await page.keyboard.press("r");
  await app.click(0, 0);
  await app.click(4.2, 3.3);
  await page.keyboard.press("r");
  // a few pixels off the neighbour's corner, a partition away
  await app.click(4.28, 0.03);
  await app.click(7, 3.34);
  await expect(page.getByLabel("Name of Room 2")).toBeVisible();
  await app.saved();
  const outline = (await app.read(id)).job.rooms[1].outline;
  expect(outline[0]).toEqual([4.32, 0]);
  expect(outline[2][1]).toBe(3.3);
});

test("keep-outs are drawn, the verdict follows and selects the cause", async ({ app, page }) => {
  const id = await app.makeJob(blank("Keep-outs"));
  await app.open(id, "rooms");
  await page.keyboard.press("r");
  await app.click(0, 0);
  await app.click(5, 4);
  await page.keyboard.press("k");
  await app.click(1, 1);
  await app.click(2, 1.6);
  await expect(page.getByRole("heading", { name: "Cabinet, Room 1" })).toBeVisible();
  await app.saved();
  expect((await app.read(id)).job.rooms[0].keep_outs[0]).toMatchObject({ x0_m: 1, y0_m: 1, x1_m: 2, y1_m: 1.6 });

  // a window that is too wide for its wall: the finding selects it
  await page.getByRole("tab", { name: "Openings" }).click();
  await page.getByRole("button", { name: "Add opening" }).click();
  await page.getByRole("region", { name: "Table of openings" }).getByLabel("Width", { exact: true }).fill("9 m");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Deselect" }).click();
  await page.getByRole("button", { name: /window of Room 1 reaches beyond its wall/ }).click();
  await expect(page.getByRole("heading", { name: "Window, Room 1" })).toBeVisible();
});

test("things on walls and keep-outs move by dragging and by arrow keys", async ({ app, page }) => {
  const id = await app.makeJob(blank("Moving"));
  await app.open(id, "rooms");
  await page.keyboard.press("r");
  await app.click(0, 0);
  await app.click(5, 4);
  await expect(page.getByLabel("Name of Room 1")).toBeVisible();
  await page.keyboard.press("w");
  await app.click(2, 0.02);
  await page.keyboard.press("m");
  await app.click(4, 3.98);
  await page.keyboard.press("k");
  await app.click(3, 1);
  await app.click(4, 2);
  await expect(page.getByRole("heading", { name: "Cabinet, Room 1" })).toBeVisible();
  await app.saved();
  const read = async () => {
    const { job } = await app.read(id);
    return { window: job.rooms[0].openings[0], manifold: job.manifolds[0], keep: job.rooms[0].keep_outs[0], outline: job.rooms[0].outline };
  };
  const before = await read();
  expect(before.window.offset_m).toBeCloseTo(1.4, 1);

  await app.drag([2, 0], [3, 0]);
  await app.saved();
  expect((await read()).window.offset_m).toBeCloseTo(before.window.offset_m + 1, 1);
  // the manifold goes to another wall
  await app.drag([4, 3.96], [0.02, 2]);
  await expect(page.getByRole("heading", { name: /Manifold A/ })).toBeVisible();
  await app.saved();
  expect((await read()).manifold.edge).toBe(3);
  await app.drag([3.5, 1.5], [2.5, 2]);
  await app.saved();
  expect((await read()).keep).toMatchObject({ x0_m: 2, y0_m: 1.5, x1_m: 3, y1_m: 2.5 });

  await page.keyboard.press("ArrowRight");
  await page.keyboard.press("Shift+ArrowUp");
  await app.saved();
  expect((await read()).keep).toMatchObject({ x0_m: 2.05, y0_m: 2 });
  // nudges of one thing in a row are one step
  await page.getByRole("button", { name: "Undo" }).click();
  await app.saved();
  expect((await read()).keep).toMatchObject({ x0_m: 2, y0_m: 1.5 });
  await page.keyboard.press("Delete");
  await app.saved();
  expect((await read()).keep).toBeUndefined();
  expect((await read()).outline).toEqual(before.outline);
});

test("the sheet zooms, pans and shows all again", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Zoom" });
  await app.open(id, "rooms");
  const floor = page.locator('polygon[data-id="studio-a"]');
  const width = async () => (await floor.boundingBox())!.width;
  const before = await width();
  await page.getByRole("button", { name: "Zoom in" }).click();
  await expect.poll(width).toBeGreaterThan(before * 1.2);
  await app.plan.focus();
  await page.keyboard.press("-");
  await page.keyboard.press("-");
  await expect.poll(width).toBeLessThan(before);
  await page.keyboard.press("0");
  await expect.poll(async () => Math.abs((await width()) - before)).toBeLessThan(1);
  const left = async () => (await floor.boundingBox())!.x;
  const x = await left();
  const box = (await app.plan.boundingBox())!;
  await page.mouse.move(box.x + box.width - 120, box.y + 20);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width - 60, box.y + 20, { steps: 3 });
  await page.mouse.up();
  await expect.poll(async () => Math.round((await left()) - x)).toBe(60);
});

test("bad sizes are refused where they are typed", async ({ app, page }) => {
  const id = await app.makeJob(blank("Bad sizes"));
  await app.open(id, "rooms");
  await page.keyboard.press("r");
  const form = page.getByRole("form", { name: "Typed room" });
  for (const [width, depth, reason] of [["wide", "4", "Type width and depth"], ["0.1", "4", "between 0.30 m and 200.00 m"], ["900", "4", "between 0.30 m and 200.00 m"]] as const) {
    await form.getByLabel("Width", { exact: true }).fill(width);
    await form.getByLabel("Depth", { exact: true }).fill(depth);
    await form.getByRole("button", { name: "Add room" }).click();
    await expect(form.getByRole("alert")).toContainText(reason);
  }
  // both in one field, as one says them
  await form.getByLabel("Width", { exact: true }).fill("4 x 3");
  await form.getByLabel("Depth", { exact: true }).fill("");
  await form.getByRole("button", { name: "Add room" }).click();
  const wanted = page.getByLabel("Design temperature of Room 1");
  await wanted.fill("900");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "must be 5.0 °C to 35.0 °C" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(wanted).toHaveValue("20.0 °C");
  await app.saved();
  const [room] = (await app.read(id)).job.rooms;
  const size = [0, 1].map((k) => Math.max(...room.outline.map((p: number[]) => p[k]!)) - Math.min(...room.outline.map((p: number[]) => p[k]!)));
  expect([room.room_c, ...size]).toEqual([20, 4, 3]);
});
