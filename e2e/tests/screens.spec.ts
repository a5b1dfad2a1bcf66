/** The same app on a phone, in the dark, and on paper. */
import { App, DEMO, expect, test } from "./app";

/** Every station of the rail, by its address. */
async function stations(app: App): Promise<string[]> {
  const links = await app.page.getByRole("navigation", { name: "Stations" }).getByRole("link").all();
  return Promise.all(links.map(async (l) => (await l.getAttribute("href"))!.split("/").at(-1)!));
}

test("every station in the dark is accessible, stays dark, and prints on white", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Dark" });
  await app.open(id, "rooms");
  await page.getByRole("button", { name: "Dark theme" }).click();
  await expect(page.locator("html")).toHaveClass(/dark/);
  for (const station of await stations(app)) {
    await app.open(id, station);
    await expect(page.locator("html")).toHaveClass(/dark/);
    await expect(page.getByText("Calculating…")).toHaveCount(0);
    await app.accessible();
  }
  await page.emulateMedia({ media: "print" });
  const paper = page.getByRole("article");
  await expect(paper).toHaveCSS("background-color", "rgb(255, 255, 255)");
  await expect(paper).toHaveCSS("color", "rgb(36, 29, 23)");
});

test("on a phone nothing goes beyond the edge, and fingers choose, pinch and scroll", async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, baseURL: test.info().project.use.baseURL });
  const app = new App(await context.newPage());
  const { page } = app;
  const id = await app.makeJob({ ...DEMO, name: "In the pocket" });
  const wide = () => page.evaluate(() => document.documentElement.scrollWidth);
  await page.goto("/");
  await expect(page.getByRole("link", { name: "In the pocket", exact: true }).first()).toBeVisible();
  expect(await wide()).toBeLessThanOrEqual(390);
  await app.open(id, "rooms");
  for (const station of await stations(app)) {
    await app.open(id, station);
    await expect(page.getByText("Calculating…")).toHaveCount(0);
    expect(await wide(), station).toBeLessThanOrEqual(390);
    await app.accessible();
  }
  await app.open(id, "rooms");
  for (const button of await page.getByRole("toolbar").getByRole("button").all()) expect((await button.boundingBox())!.height).toBeGreaterThanOrEqual(44);
  const name = page.locator(".labels .name", { hasText: "Studio A" });
  const at = async () => (await name.boundingBox())!;
  const garage = (await page.locator(".labels .name", { hasText: "Van garage" }).boundingBox())!;
  await page.touchscreen.tap(garage.x + garage.width / 2, garage.y + garage.height / 2);
  await expect(page.getByLabel("Room name")).toHaveValue("Van garage");

  // two fingers drawn apart: the sheet grows, the page stays
  const touch = await context.newCDPSession(page);
  const box = (await app.plan.boundingBox())!;
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  const scroll = await page.evaluate(() => window.scrollY);
  const gap = async () => {
    const other = (await page.locator(".labels .name", { hasText: "Office" }).boundingBox())!;
    return Math.abs((await at()).y - other.y);
  };
  const before = await gap();
  const fingers = (d: number) => [{ x: x - d, y, id: 0 }, { x: x + d, y, id: 1 }];
  await touch.send("Input.dispatchTouchEvent", { type: "touchStart", touchPoints: fingers(30) });
  for (const d of [40, 50, 60]) await touch.send("Input.dispatchTouchEvent", { type: "touchMove", touchPoints: fingers(d) });
  await touch.send("Input.dispatchTouchEvent", { type: "touchEnd", touchPoints: [] });
  await expect.poll(gap).toBeGreaterThan(before * 1.5);
  expect(await page.evaluate(() => window.scrollY)).toBe(scroll);
  expect(app.errors).toEqual([]);
  await context.close();
});

test("nothing jumps while a screen comes", async ({ app, page }) => {
  await page.addInitScript(() => {
    const seen = window as unknown as { shifts: number };
    seen.shifts = 0;
    type Shift = PerformanceEntry & { value: number; hadRecentInput: boolean };
    new PerformanceObserver((list) => {
      for (const shift of list.getEntries() as Shift[]) if (!shift.hadRecentInput) seen.shifts += shift.value;
    }).observe({ type: "layout-shift", buffered: true });
  });
  const shifts = () => page.evaluate(() => (window as unknown as { shifts: number }).shifts);
  const id = await app.makeJob({ ...DEMO, name: "Calm screens" });
  await page.goto("/");
  await expect(page.getByRole("list", { name: "Jobs" })).toContainText("Calm screens");
  // what readers do not notice: a line or two within its own table
  expect(await shifts()).toBeLessThan(0.05);
  for (const station of ["site", "rooms", "heat-loss", "floor", "loops", "water", "plant", "materials", "papers"]) {
    await app.open(id, station);
    await expect(page.locator(".job")).toHaveAttribute("aria-busy", "false");
    expect(await shifts(), station).toBeLessThan(0.05);
  }
});
