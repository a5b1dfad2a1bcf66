import { App, blank, DEMO, expect, test } from "./app";

test("what two browsers change of different rooms is both saved; the same figure asks, and mine is kept as the user wants", async ({ app, page, browser }) => {
  app.expectedErrors = [/409/];
  const id = await app.makeJob({ ...DEMO, name: "Two windows" });
  await app.open(id, "rooms");
  // another browser: tabs of one tell each other what they saved
  const other = new App(await browser.newPage({ baseURL: test.info().project.use.baseURL }));
  await other.page.goto(`/jobs/${id}/rooms`);
  await other.page.getByLabel("Design temperature of Studio A").fill("17");
  await other.page.keyboard.press("Enter");
  await other.saved();

  // different rooms: both are in, without a question
  await page.getByLabel("Design temperature of Office").fill("23");
  await page.keyboard.press("Enter");
  await app.saved();
  await expect(page.getByLabel("Design temperature of Studio A")).toHaveValue("17.0 °C");
  await expect(page.getByText("those changes and yours are both in")).toBeVisible();
  const office = DEMO.rooms.findIndex((r: { name: string }) => r.name === "Office");
  expect((await app.read(id)).job.rooms[office].room_c).toBe(23);

  await other.page.reload();
  await other.page.getByLabel("Design temperature of Studio A").fill("18");
  await other.page.keyboard.press("Enter");
  await other.saved();
  await page.getByLabel("Design temperature of Studio A").fill("21");
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "This job was changed elsewhere" });
  await expect(dialog).toBeVisible();
  const stored = async () => {
    const { rooms } = (await app.read(id)).job;
    return rooms.map((r: { room_c: number }) => r.room_c);
  };
  await expect(dialog).toContainText("You both changed Studio A");
  const theirs = DEMO.rooms.map((r: { room_c: number }, i: number) => (i === 0 ? 18 : i === office ? 23 : r.room_c));
  expect(await stored()).toEqual(theirs);
  await expect(page.locator(".el-message")).toHaveCount(0);
  await app.accessible();

  await dialog.getByRole("button", { name: "Keep mine as a new job" }).click();
  await expect(page.getByRole("heading", { name: "Two windows (my version)" })).toBeVisible();
  await expect(page.getByLabel("Design temperature of Office")).toHaveValue("23.0 °C");
  await expect(page.getByLabel("Design temperature of Studio A")).toHaveValue("21.0 °C");
  expect(await stored()).toEqual(theirs);
});

test("theirs can be taken, and mine can replace it when that is said", async ({ app, page }) => {
  app.expectedErrors = [/409/];
  const id = await app.makeJob({ ...DEMO, name: "Choices" });
  await app.open(id, "rooms");
  const elsewhere = async (room_c: number) => {
    const { revision, job } = await app.read(id);
    job.rooms[0].room_c = room_c;
    expect((await page.request.put(`/api/jobs/${id}?revision=${revision}`, { data: job })).ok()).toBe(true);
  };
  const field = page.getByLabel("Design temperature of Studio A");
  await elsewhere(16);
  await field.fill("25");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Take theirs, drop mine" }).click();
  await expect(field).toHaveValue("16.0 °C");
  await app.saved();

  await elsewhere(15);
  await field.fill("25");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Keep both; mine where we changed the same" }).click();
  await app.saved();
  expect((await app.read(id)).job.rooms[0].room_c).toBe(25);
});

test("edits survive a server that does not answer, even over a reload", async ({ app, page }) => {
  app.expectedErrors = [/ERR_FAILED|Failed to load/];
  const id = await app.makeJob({ ...DEMO, name: "Dead server" });
  await app.open(id, "rooms");
  await page.route("**/api/jobs/**", (route) => (route.request().method() === "PUT" ? route.abort() : route.continue()));
  await page.getByLabel("Design temperature of Office").fill("18");
  await page.keyboard.press("Enter");
  await expect(page.locator(".top .save")).toContainText("the server does not answer");
  expect((await app.read(id)).job.rooms[5].room_c).toBe(21);

  await page.unroute("**/api/jobs/**");
  await page.reload();
  await expect(page.getByLabel("Design temperature of Office")).toHaveValue("18.0 °C");
  await app.saved();
  expect((await app.read(id)).job.rooms[5].room_c).toBe(18);
});

test("an unreachable design is told, and made good", async ({ app, page }) => {
  app.expectedErrors = [/ERR_FAILED|Failed to load/];
  const id = await app.makeJob(blank("No design"));
  await app.open(id, "rooms");
  await page.route("**/api/design", (route) => route.abort());
  await page.keyboard.press("r");
  await app.click(0, 0);
  await app.click(5, 4);
  await expect(page.getByText("these are the figures before your last edits")).toBeVisible();
  await page.unroute("**/api/design");
  await expect(page.getByText("20.0 m²").first()).toBeVisible();
  await expect(page.getByText("these are the figures before your last edits")).toHaveCount(0);
});

test("figures of the job before the last edits are never shown without a word", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Slow design" });
  await app.open(id, "rooms");
  await expect(page.locator(".verdict .sum")).toContainText("OK");
  let go = () => {};
  const held = new Promise<void>((resolve) => (go = resolve));
  await page.route("**/api/design", async (route) => {
    await held;
    await route.continue();
  });
  await page.getByLabel("Design temperature of Office").fill("18");
  await page.keyboard.press("Enter");
  await app.saved();
  const sign = page.getByText("Calculating…");
  await expect(sign).toContainText("those before your last edits");
  await app.accessible();
  go();
  await expect(sign).toHaveCount(0);
});

test("a covering chosen for one room drawn after another stays with it", async ({ app, page }) => {
  const id = await app.makeJob(blank("Two rooms"));
  await app.open(id, "rooms");
  for (const [x, y] of [[0, 0], [5, 0]] as const) {
    await page.keyboard.press("r");
    await app.click(x, y);
    await app.click(x + 4, y + 4);
  }
  await app.saved();
  await page.keyboard.press("4");
  await app.choose("Covering of Room 2", "Carpet on thin pad");
  await app.saved();
  expect((await app.read(id)).job.rooms.map((r: { floor: { covering_id: string } }) => r.floor.covering_id)).toEqual(["tile", "carpet"]);
});

const office = (job: typeof DEMO) => job.rooms.find((r: { name: string }) => r.name === "Office").room_c;

test("a job left in the middle of a save is whole when one comes back", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Left early" });
  await app.open(id, "rooms");
  let go = () => {};
  const held = new Promise<void>((resolve) => (go = resolve));
  await page.route("**/api/jobs/**", async (route) => {
    if (route.request().method() === "PUT") await held;
    await route.continue();
  });
  const field = page.getByLabel("Design temperature of Office");
  await field.fill("18");
  await page.keyboard.press("Enter");
  await expect(page.locator(".top .save")).toHaveText("Saving…");
  await field.fill("17");
  await page.keyboard.press("Enter");
  await page.getByRole("link", { name: "All jobs" }).click();
  await expect(page.getByRole("button", { name: "New job" })).toBeVisible();
  go();
  await expect.poll(async () => office((await app.read(id)).job)).toBe(17);
  await page.getByRole("link", { name: "Left early", exact: true }).click();
  await expect(field).toHaveValue("17.0 °C");
  await app.saved();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  // what was done before can still be taken back
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(field).toHaveValue("18.0 °C");
});

test("two tabs keep what they have not saved apart; a saved edit comes to the other by itself", async ({ app, page, context }) => {
  const id = await app.makeJob({ ...DEMO, name: "Two tabs" });
  await app.open(id, "rooms");
  const other = new App(await context.newPage());
  await other.open(id, "rooms");
  const fields = [page, other.page].map((p) => p.getByLabel("Design temperature of Office"));
  await fields[1]!.fill("23");
  await other.page.keyboard.press("Enter");
  await expect(fields[0]!).toHaveValue("23.0 °C");

  app.expectedErrors = other.expectedErrors = [/ERR_FAILED|Failed to load|409/];
  await context.route("**/api/jobs/**", (route) => (route.request().method() === "PUT" ? route.abort() : route.continue()));
  await fields[0]!.fill("16");
  await page.keyboard.press("Enter");
  await fields[1]!.fill("25");
  await other.page.keyboard.press("Enter");
  for (const p of [page, other.page]) await expect(p.locator(".top .save")).toContainText("kept in this browser");
  await page.reload();
  await other.page.reload();
  await expect(fields[0]!).toHaveValue("16.0 °C");
  await expect(fields[1]!).toHaveValue("25.0 °C");
});

test("a job deleted elsewhere can be brought back with one's edits", async ({ app, page }) => {
  app.expectedErrors = [/404/];
  const id = await app.makeJob({ ...DEMO, name: "Deleted elsewhere" });
  await app.open(id, "rooms");
  expect((await page.request.delete(`/api/jobs/${id}`)).ok()).toBe(true);
  await page.getByLabel("Design temperature of Office").fill("18");
  await page.keyboard.press("Enter");
  const dialog = page.getByRole("dialog", { name: "This job was deleted elsewhere" });
  await expect(dialog).toBeVisible();
  // keys of the sheet do nothing behind it
  await page.keyboard.press("Delete");
  await app.accessible();
  await dialog.getByRole("button", { name: "Bring it back with my edits" }).click();
  await app.saved();
  expect(office((await app.read(id)).job)).toBe(18);
});

test("a save that is refused says which figure, and goes on once it is mended", async ({ app, page }) => {
  app.expectedErrors = [/422/];
  const id = await app.makeJob({ ...DEMO, name: "Refused" });
  await app.open(id, "rooms");
  const problem = { type: "about:blank", title: "Not taken", status: 422, detail: "rooms[5].room_c: must be between 5 and 35", field: "rooms[5].room_c" };
  await page.route("**/api/jobs/**", (route) => (route.request().method() === "PUT" ? route.fulfill({ status: 422, contentType: "application/problem+json", body: JSON.stringify(problem) }) : route.continue()));
  await page.getByLabel("Design temperature of Office").fill("18");
  await page.keyboard.press("Enter");
  await expect(page.locator(".top .save")).toHaveText("Not saved: rooms[5].room_c: must be between 5 and 35");
  // it stands at the field as well
  await expect(page.getByRole("region", { name: "Table of rooms" }).getByRole("alert")).toHaveText("Design temperature of Office: must be between 5 and 35");
  await page.unroute("**/api/jobs/**");
  await page.getByLabel("Design temperature of Office").fill("19");
  await page.keyboard.press("Enter");
  await app.saved();
  expect(office((await app.read(id)).job)).toBe(19);
});
