/** The house in time: set-backs compared, sun on a floor, a year that can be stopped, the thermal picture. */
import type { Page } from "@playwright/test";
import { readFileSync } from "node:fs";
import { DEMO, expect, test } from "./app";

/** What is shown answers the newest question: while it does not, figures are faded. */
const settled = (page: Page) => expect(page.locator(".old")).toHaveCount(0);

test("a set-back compared in a slab and in a dry panel", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Over night" });
  await app.open(id, "time");
  await app.choose("Room that is followed", "Foyer and reception");
  const figures = page.getByRole("region", { name: "Variants in figures" });
  await expect(figures.getByRole("row")).toHaveCount(3);
  await app.segment("A week").click();
  await expect(page.getByText(/^From .*, the house warm/)).toBeVisible();
  await page.getByLabel("Set-back 2").fill("4 K");
  await page.getByLabel("Set-back 2").press("Tab");
  await expect(figures).toContainText("4.0 K cooler 22–5 h");
  await page.getByRole("button", { name: "Another one" }).click();
  await app.choose("Build-up 3", /^Grooved foam panel/);
  await expect(figures.getByRole("row")).toHaveCount(4);
  await app.choose("Covering 3", /^Carpet/i);
  await expect(figures).toContainText(/under carpet/i);
  await settled(page);
  await app.accessible();
  await app.segment("A year").click();
  await expect(page.getByRole("img", { name: "Heat by month" })).toBeVisible();
  await page.getByLabel("Price of a kilowatt-hour").fill("0.12");
  await page.getByLabel("Price of a kilowatt-hour").press("Tab");
  await expect(figures.getByRole("columnheader", { name: "cost" })).toBeVisible();
  await page.getByLabel("Price of a kilowatt-hour").fill("-3");
  await page.getByLabel("Price of a kilowatt-hour").press("Tab");
  await expect(page.getByText(/0\.00 to 10\.00/).first()).toBeVisible();
  await page.getByRole("button", { name: "Take out variant 3" }).click();
  await expect(figures.getByRole("row")).toHaveCount(3);
});

test("sun on a floor takes heat off its water, and curtains keep it out", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "In the sun" });
  await app.open(id, "time");
  await app.choose("Room that is followed", "Studio A");
  await app.segment("Sun on the floor").click();
  const says = page.getByText(/Up to .* of sun come in/);
  await expect(says).toBeVisible();
  const figures = page.getByRole("region", { name: "Variants in figures" });
  const felt = async (row: number) => Number((await figures.getByRole("row").nth(row).innerText()).match(/to (\d+\.\d) °C/)![1]);
  // the second one runs its water all the time: with curtains it is cooler
  await settled(page);
  const open = await felt(2);
  await page.getByLabel("Sun let in 2").fill("0%");
  await page.getByLabel("Sun let in 2").press("Tab");
  await expect(figures).toContainText("curtains drawn");
  await settled(page);
  expect(await felt(2)).toBeLessThan(open);
  await expect(page.getByRole("img", { name: "Sun in the room and heat of its floor's water over the time" })).toBeVisible();
  await page.getByLabel("Share of the sun that falls on the floor").fill("95%");
  await page.getByLabel("Share of the sun that falls on the floor").press("Tab");
  await expect(page.getByText(/0% to 90%/).first()).toBeVisible();
  await page.getByLabel("Share of the sun that falls on the floor").press("Escape");
  await app.accessible();
  // and on the plan, where the window is drawn onto the floor
  await page.getByRole("button", { name: "Thermal picture on the plan" }).click();
  await app.choose("Sun of a clear day", "21 March");
  await expect(page.getByLabel("Time shown")).toHaveText("13:12");
  await settled(page);
  await page.getByLabel("Outdoors on that day").fill("4");
  await page.getByLabel("Outdoors on that day").press("Tab");
  await settled(page);
  const time = page.getByRole("slider", { name: "Time of day" });
  await time.focus();
  await page.keyboard.press("Home");
  await expect(page.getByLabel("Time shown")).toHaveText("00:00");
  await app.accessible();
  // a phone leaves room for the floors
  await page.setViewportSize({ width: 390, height: 844 });
  await expect.poll(async () => (await app.plan.boundingBox())!.height).toBeGreaterThan(200);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test("a year says how far it is, is stopped and gone on with", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "A long year" });
  await app.open(id, "time");
  const figures = page.getByRole("region", { name: "Variants in figures" });
  await expect(figures.getByRole("row")).toHaveCount(3);
  await settled(page);
  // the server takes its time
  await page.route("**/api/time", () => {});
  await app.segment("A year").click();
  const progress = page.getByRole("status").filter({ hasText: "The house is followed" });
  await expect(progress.getByRole("progressbar")).toBeVisible();
  await app.accessible();
  await progress.getByRole("button", { name: "Stop" }).click();
  const stopped = page.getByRole("status").filter({ hasText: "Stopped." });
  await expect(stopped).toBeVisible();
  await app.accessible();
  await expect(page.getByRole("alert")).toHaveCount(0);
  await page.unroute("**/api/time");
  await stopped.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByRole("img", { name: "Heat by month" })).toBeVisible();
  await expect(stopped).toHaveCount(0);
  await settled(page);
});

test("a swapped pair is seen in the picture of the warm-up", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Warming" });
  await app.open(id, "time");
  await page.getByRole("button", { name: "Thermal picture on the plan" }).click();
  const time = page.getByRole("slider", { name: "Time since the heat came on" });
  await expect(time).toHaveAttribute("aria-valuenow", "60");
  await settled(page);
  const tag = (name: string) => page.locator(".tag").filter({ hasText: new RegExp(`^${name}\\b`) });
  await expect(tag("A3")).toContainText("°C");
  await app.choose("Loops that are open", "A3");
  await settled(page);
  await expect(tag("A3").locator("text")).toContainText("°C");
  await expect(tag("A6").locator("text")).toContainText("stands");
  await app.choose("What is wrong", "two loops at each other's ports");
  await app.choose("The loop that is wrong", "A3");
  await app.choose("The other loop", "A6");
  await settled(page);
  // the port of A3 is open, and the tube of A6 is warm
  await expect(tag("A3").locator("text")).toContainText("stands");
  await expect(tag("A6").locator("text")).toContainText("°C");
  await app.accessible();
  // the pointer reads the floor, the slider goes back to the cold beginning
  await page.locator(".tag").first().hover();
  await page.mouse.move(390, 340);
  await expect(page.getByText(/^here \d/)).toBeVisible();
  await time.focus();
  await page.keyboard.press("Home");
  await expect(page.getByLabel("Time shown")).toHaveText("0.0 h");
  await page.getByRole("button", { name: "Play" }).click();
  await expect(page.getByLabel("Time shown")).not.toHaveText("0.0 h");
  await page.getByRole("button", { name: "Pause" }).click();
  // a camera's photo is laid over it, and taken away
  await page.getByLabel("Photo of a thermal camera").setInputFiles({ name: "camera.png", mimeType: "image/png", buffer: readFileSync(new URL("../../docs/screenshots/plant.png", import.meta.url)) });
  await expect(page.locator("image.photo")).toHaveCount(1);
  await page.getByLabel("Width of the photo on the floor").fill("6");
  await page.getByLabel("Width of the photo on the floor").press("Tab");
  await expect(page.locator("image.photo")).toHaveAttribute("width", "6");
  await page.getByRole("button", { name: "Take the photo away" }).click();
  await expect(page.locator("image.photo")).toHaveCount(0);
  await page.getByRole("button", { name: "Back to the charts" }).click();
  await expect(page.getByRole("region", { name: "Time" })).toBeVisible();
});
