/** Lessons at the rig, by mouse and by keys. */
import type { Page } from "@playwright/test";
import { expect, test } from "./app";

const done = (page: Page) => page.getByRole("status").filter({ hasText: "Done" });

/** Begins a lesson with the clock stopped: nothing moves but what the hand does. */
async function begin(page: Page, lesson: string) {
  await page.goto("/practice");
  await page.getByRole("button", { name: `Begin: ${lesson}` }).click();
  await expect(page.getByRole("heading", { name: lesson })).toBeVisible();
  await page.getByText("Stopped", { exact: true }).click();
}

test("two lessons by mouse: tails exchanged, air let out", async ({ app, page }) => {
  await begin(page, "Meters that show nothing");
  await expect(page.getByText("stands").or(page.getByText("0.00 L/min")).first()).toBeVisible();
  for (const hint of ["A hint", "A plainer hint", "A plainer hint"]) await page.getByRole("button", { name: hint }).click();
  await expect(page.getByRole("list", { name: "Hints" }).getByRole("listitem")).toHaveCount(3);
  await app.accessible();
  await page.getByRole("button", { name: "Exchange supply and return" }).click();
  await expect(done(page)).toContainText("One move; the least is 1.");
  await app.accessible();
  await page.getByRole("button", { name: "Back to the lessons" }).click();
  await expect(page.getByRole("listitem").filter({ hasText: "Meters that show nothing" })).toContainText("done in 1, best 1, hints 3");

  await page.getByRole("button", { name: "Begin: One cold room after the purge" }).click();
  await page.getByText("Stopped", { exact: true }).click();
  const cold = page.locator("li.port").filter({ hasText: "gurgles" });
  await expect(cold).toHaveCount(1);
  // a picture of the floors is no move
  await page.getByRole("button", { name: "Take a picture with the thermal camera" }).click();
  await expect(page.getByRole("img", { name: /^Thermal picture of/ })).toBeVisible();
  await expect(page.getByText("0 moves")).toBeVisible();
  await app.accessible();
  // too little head: the bubble stays
  await cold.getByRole("button", { name: /Open the vent/ }).click();
  await expect(page.getByText("the bubble does not move")).toBeVisible();
  const head = page.getByRole("slider", { name: "Head of the pump" });
  const before = Number(await head.getAttribute("aria-valuenow"));
  const bar = (await page.getByRole("region", { name: "Pump" }).locator(".el-slider__runway").boundingBox())!;
  await page.mouse.click(bar.x + 0.5 * bar.width, bar.y + bar.height / 2);
  await expect.poll(async () => Number(await head.getAttribute("aria-valuenow"))).toBeGreaterThan(3);
  await page.getByRole("button", { name: "Wait an hour" }).click();
  await cold.getByRole("button", { name: /Open the vent/ }).click();
  await expect(page.getByText("then water comes without bubbles")).toBeVisible();
  await expect(done(page)).toHaveCount(0);
  // back where it was: by keys from the end of the scale
  await head.focus();
  await page.keyboard.press("Home");
  for (let k = 0; k < Math.round((before - 0.2) / 0.05); k++) await page.keyboard.press("ArrowRight");
  await expect(done(page)).toContainText("the least is 3");
});

test("a lesson by keyboard alone, kept over a reload", async ({ page }) => {
  await page.goto("/practice");
  await page.getByRole("button", { name: "Begin: Every room is a little cool" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Every room is a little cool" })).toBeFocused();
  const head = page.getByRole("slider", { name: "Head of the pump" });
  await expect(head).toBeVisible();
  await page.reload();
  await expect(page.getByRole("heading", { name: "Every room is a little cool" })).toBeVisible();
  await head.focus();
  // a step at a time until the meters are right
  for (let k = 0; k < 60 && (await done(page).count()) === 0; k++) {
    await page.keyboard.press("ArrowRight");
    await expect(page.locator("main")).toHaveAttribute("aria-busy", "false");
  }
  await expect(done(page)).toContainText("the least is 1");
});

test("a lesson of another version is named, and begun anew", async ({ app, page }) => {
  app.expectedErrors.push(/422/);
  await page.goto("/practice");
  await page.evaluate(() => localStorage.setItem("fuoco-practice", JSON.stringify({ trial: { lesson: "balance", version: 999, seed: 0, moves: [], now_s: 60 }, hints: 0, jobId: "" })));
  await page.reload();
  await expect(page.getByRole("alert")).toContainText("begin the lesson anew");
  await page.getByRole("button", { name: "Back to the lessons" }).first().click();
  await expect(page.getByRole("button", { name: "Begin: Six loops, all wide open" })).toBeEnabled();
});
