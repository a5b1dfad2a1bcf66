/** The pictures of the documentation, from the demo job. Only when asked: `cargo xtask shots`. */
import { DEMO, expect, test } from "./app";

const folder = process.env.FUOCO_SHOTS;
const VIEWS = ["site", "rooms", "heat-loss", "floor", "loops", "water", "papers"];

test("pictures", async ({ app, page }) => {
  test.skip(!folder, "pictures are taken by `cargo xtask shots`");
  await page.goto("/");
  await expect(page.getByRole("link", { name: DEMO.name, exact: true })).toBeVisible();
  await page.screenshot({ path: `${folder}/jobs.png` });
  const id = await app.makeJob(DEMO);
  for (const view of VIEWS) {
    await app.open(id, view);
    await expect(page.getByText("Working it out")).toHaveCount(0);
    if (view === "rooms") await page.getByLabel("Name of Studio B").focus();
    await page.screenshot({ path: `${folder}/${view}.png` });
  }
  await page.request.delete(`/api/jobs/${id}`);
});
