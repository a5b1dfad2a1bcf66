/** The pictures of the documentation, from the demo job. Only when asked: `cargo xtask shots`. */
import type { Page } from "@playwright/test";
import { DEMO, expect, firstPage, test } from "./app";

const folder = process.env.FUOCO_SHOTS;
const VIEWS = ["site", "rooms", "heat-loss", "floor", "loops", "water", "plant", "materials", "papers"];

/** The people of a firm's server: a second one, where everybody signs in. */
async function office(page: Page, into: string) {
  const context = await page.context().browser()!.newContext({ ignoreHTTPSErrors: true, baseURL: process.env.FUOCO_OFFICE_URL, viewport: { width: 1280, height: 800 }, locale: "en-GB" });
  const at = await context.newPage();
  await at.goto("/sign-in?to=/people");
  await at.getByLabel("Name", { exact: true }).fill("Ada");
  await at.getByLabel("Password", { exact: true }).fill("seven warm floors");
  await at.getByRole("button", { name: "Sign in" }).click();
  await expect(at.getByRole("region", { name: "Table of who did what" })).toContainText("signed in");
  await at.screenshot({ path: `${into}/people.png`, animations: "disabled" });
  await context.close();
}

test("pictures", async ({ app, page }) => {
  test.skip(!folder, "pictures are taken by `cargo xtask shots`");
  const summed = page.waitForResponse(/\/summary$/);
  await page.goto("/");
  await expect(page.getByRole("link", { name: DEMO.name, exact: true })).toBeVisible();
  await summed;
  await expect(page.getByText("Load", { exact: true }).first()).toBeVisible();
  await page.screenshot({ path: `${folder}/jobs.png`, animations: "disabled" });
  const id = await app.makeJob(DEMO);
  for (const view of VIEWS) {
    await app.open(id, view);
    await expect(page.getByText("Calculating…")).toHaveCount(0);
    if (view === "rooms") await page.getByLabel("Name of Studio B").focus();
    if (view === "floor") await expect(page.getByRole("group", { name: /^Section/ })).toBeVisible();
    await page.screenshot({ path: `${folder}/${view}.png`, animations: "disabled" });
    if (view === "loops") {
      await app.segment("Score card").click();
      await app.choose("Picture on the floor", "Where does the floor get warm?");
      await expect(page.locator("image.map")).toBeAttached();
      await page.screenshot({ path: `${folder}/floor-map.png`, animations: "disabled" });
    }
    if (view === "papers") {
      await page.getByRole("menuitem", { name: "Manifold charts" }).click();
      await expect(firstPage(page, "Manifold charts")).toContainText("Manifold A");
      await page.screenshot({ path: `${folder}/papers.png`, animations: "disabled" });
    }
  }
  // the job that ships has a site at work
  const served = ((await (await page.request.get("/api/jobs")).json()) as { id: string; name: string }[]).find((j) => j.name === DEMO.name && j.id !== id)!.id;
  await app.open(served, "laying");
  await expect(page.getByText("5 of 15 loops lie")).toBeVisible();
  await page.screenshot({ path: `${folder}/laying.png`, animations: "disabled" });
  await app.segment("Pressure test").click();
  await expect(page.getByRole("img", { name: /as read and corrected/ })).toBeVisible();
  await page.screenshot({ path: `${folder}/pressure-test.png`, animations: "disabled" });
  await app.open(served, "start-up");
  await app.segment("Flows").click();
  await expect(page.getByRole("article", { name: "Manifold A" })).toBeVisible();
  await page.screenshot({ path: `${folder}/start-up.png`, animations: "disabled" });
  await app.open(served, "service");
  for (const [label, text] of [["Outdoors", "-4"], ["A1: flow", "0 L/min"], ["A2: flow", "0.5 L/min"]] as const) {
    await page.getByLabel(label, { exact: true }).fill(text);
    await page.getByLabel(label, { exact: true }).press("Tab");
  }
  await expect(page.locator(".cause").first()).toContainText("A1");
  await page.getByRole("heading", { name: "Not decided yet" }).click();
  await expect(page.locator(".el-tooltip__popper:visible, .el-popper:visible")).toHaveCount(0);
  await page.screenshot({ path: `${folder}/service.png`, animations: "disabled" });
  await page.goto("/firm");
  await expect(page.getByLabel("Name", { exact: true })).not.toHaveValue("");
  await page.screenshot({ path: `${folder}/firm.png`, animations: "disabled" });
  await office(page, folder!);
  await app.open(id, "loops");
  await page.getByRole("button", { name: "Dark theme" }).click();
  await page.mouse.move(600, 700);
  await expect(page.getByRole("tooltip")).toHaveCount(0);
  await page.screenshot({ path: `${folder}/dark.png`, animations: "disabled" });
  await page.getByRole("button", { name: "Light theme" }).click();
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`/jobs/${served}/laying?loop=B3`);
  for (let k = 0; k < 7; k++) await page.getByRole("button", { name: "Next" }).click();
  await expect(page.getByText(/^Run 8 of/)).toBeVisible();
  await page.screenshot({ path: `${folder}/phone.png`, animations: "disabled" });
  await page.request.delete(`/api/jobs/${id}`);
});
