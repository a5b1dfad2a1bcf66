/** The pictures of the documentation, from the demo job. Only when asked: `cargo xtask shots`. */
import { DEMO, expect, firstPage, test } from "./app";

const folder = process.env.FUOCO_SHOTS;
const VIEWS = ["site", "rooms", "heat-loss", "floor", "loops", "water", "plant", "materials", "papers"];

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
  await app.open(served, "cooling");
  await expect(page.getByText(/No colder than/)).toBeVisible();
  await page.screenshot({ path: `${folder}/cooling.png`, animations: "disabled" });
  await app.open(served, "time");
  await app.segment("A week").click();
  await expect(page.getByText(/the house warm at its beginning/)).toBeVisible();
  await page.screenshot({ path: `${folder}/time.png`, animations: "disabled" });
  await page.getByRole("button", { name: "Thermal picture on the plan" }).click();
  await app.choose("Loops that are open", "A3");
  await app.choose("What is wrong", "two loops at each other's ports");
  await app.choose("The loop that is wrong", "A3");
  await app.choose("The other loop", "A6");
  await expect(page.locator(".tag").filter({ hasText: "A3 stands" })).toHaveCount(1);
  await expect(page.locator(".old")).toHaveCount(0);
  await page.screenshot({ path: `${folder}/thermal.png`, animations: "disabled" });
  const outdoors = ((await (await page.request.get("/api/jobs")).json()) as { id: string; name: string }[]).find((j) => j.name.startsWith("Forecourt"))!.id;
  await app.open(outdoors, "snow");
  await app.segment("A storm").click();
  await expect(page.getByRole("region", { name: "Ways of running it" })).toBeVisible();
  await page.screenshot({ path: `${folder}/snow.png`, animations: "disabled" });
  await page.goto("/practice");
  await page.getByRole("button", { name: "Begin: One cold room after the purge" }).click();
  await page.getByText("Stopped", { exact: true }).click();
  await page.getByRole("button", { name: "A hint" }).click();
  await expect(page.locator("li.port").filter({ hasText: "gurgles" })).toHaveCount(1);
  await page.getByRole("button", { name: "Take a picture with the thermal camera" }).click();
  await expect(page.getByRole("img", { name: /^Thermal picture of/ })).toBeVisible();
  await page.screenshot({ path: `${folder}/practice.png`, animations: "disabled" });
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto(`/jobs/${served}/laying?loop=B3`);
  for (let k = 0; k < 7; k++) await page.getByRole("button", { name: "Next" }).click();
  await expect(page.getByText(/^Run 8 of/)).toBeVisible();
  await page.screenshot({ path: `${folder}/phone.png`, animations: "disabled" });
  await page.request.delete(`/api/jobs/${id}`);
});
