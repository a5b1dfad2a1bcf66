/** A drive from nothing to its loops and its purge; a storm watched; cool water in a humid week. */
import type { Page } from "@playwright/test";
import { readFileSync } from "node:fs";
import { App, DEMO, expect, test } from "./app";

const FORECOURT = JSON.parse(readFileSync(new URL("../../demo/alderfell-forecourt.json", import.meta.url), "utf8"));

/** What is shown answers the newest question: while it does not, figures are faded. */
const settled = (page: Page) => expect(page.locator(".old")).toHaveCount(0);

test("a drive from nothing to its loops and its purge", async ({ app, page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "New job" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Drive of the rehearsal wing");
  await app.choose("What is it?", "Drive, ramp or forecourt, kept free of snow");
  await page.getByLabel("Design outdoor temperature").fill("-16");
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByRole("heading", { name: "Drive of the rehearsal wing" })).toBeVisible();
  // a job outdoors has areas and snow, no heat loss
  const rail = page.getByRole("navigation", { name: "Stations" });
  await expect(rail.getByRole("link", { name: /Areas/ })).toBeVisible();
  await expect(rail.getByRole("link", { name: /Heat loss|Service|Cooling/ })).toHaveCount(0);
  await expect(page.getByRole("toolbar").getByRole("button", { name: /^Window/ })).toHaveCount(0);

  await page.getByRole("toolbar").getByRole("button", { name: /^Area/ }).click();
  await app.click(0, 0);
  await app.click(8, 5);
  await expect(page.getByRole("button", { name: "Area 1", exact: true })).toBeVisible();
  const verdict = page.locator(".verdict");
  await expect(verdict).toContainText("Area 1 has no drain");
  await app.plan.focus();
  await page.keyboard.press("k");
  await app.click(7.6, 0.3);
  await app.click(7.75, 4.7);
  await app.choose("Kind of keep-out", "Drain");
  await expect(verdict).not.toContainText("has no drain");
  await page.keyboard.press("Escape");
  await app.plan.focus();
  await page.keyboard.press("m");
  await app.click(0.02, 2.5);
  await app.saved();

  // its class by its use
  await app.choose("Use of Area 1", "ramp");
  await expect(page.getByLabel("Free part of Area 1")).toHaveValue("100%");
  await page.keyboard.press("Escape");
  await rail.getByRole("link", { name: /Snow/ }).click();
  const takes = page.getByRole("region", { name: "Storm by areas" });
  await expect(takes.getByRole("row", { name: /Area 1/ })).toContainText("W/m²");
  const load = async () => Number((await takes.getByRole("row", { name: /Area 1/ }).getByRole("cell").nth(1).innerText()).split(" ")[0]);
  const before = await load();
  await page.getByLabel("Wind in the storm").fill("9 m/s");
  await page.getByLabel("Wind in the storm").press("Tab");
  await expect.poll(load).toBeGreaterThan(before + 50);
  // bad input is named at its field, and nothing is saved
  await page.getByLabel("Snowfall").fill("500 mm/h");
  await page.getByLabel("Snowfall").press("Tab");
  await expect(page.getByText(/0\.0 mm\/h to 50\.0 mm\/h/).first()).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect.poll(load).toBe(before);
  await app.saved();

  await rail.getByRole("link", { name: /Loops/ }).click();
  const table = page.getByRole("region", { name: "Table of loops" });
  await expect(table.getByRole("button", { name: "A1" })).toBeVisible();
  await expect(verdict.locator(".finding.error")).toHaveCount(0);
  await rail.getByRole("link", { name: /Start-up/ }).click();
  await app.segment("Purge").click();
  await expect(page.getByText(/A1/).first()).toBeVisible();
  await page.reload();
  await expect(rail.getByRole("link", { name: /Snow/ })).toBeVisible();
});

test("a storm is watched, and another way of running it is chosen", async ({ app, page }) => {
  const id = await app.makeJob({ ...FORECOURT, name: "Watched" });
  await app.open(id, "snow");
  await app.segment("A storm").click();
  const ways = page.getByRole("region", { name: "Ways of running it" });
  await expect(ways.getByRole("row", { name: /idling above freezing/ })).toContainText("100%");
  const time = page.getByRole("slider", { name: "Time in the storm" });
  await time.focus();
  await page.keyboard.press("Home");
  await expect(page.getByText("5.9 h before the first flake")).toBeVisible();
  await page.keyboard.press("End");
  await expect(page.getByText(/after the first flake/)).toBeVisible();
  await page.keyboard.press("Home");
  await page.getByRole("button", { name: "Watch the storm" }).click();
  await expect.poll(async () => Number(await time.getAttribute("aria-valuenow"))).toBeGreaterThan(3);
  await page.getByRole("button", { name: "Stop" }).click();
  await ways.getByRole("button", { name: "Run it idling above freezing" }).click();
  await app.saved();
  expect((await app.read(id)).job.outdoors.control).toBe("idle");
  await settled(page);
  await app.accessible();

  // a house that leaves nothing: the storm stays
  await app.segment("What it takes").click();
  await page.getByLabel("Loss of the house").fill("1500");
  await page.getByLabel("Loss of the house").press("Tab");
  await expect(page.locator(".verdict")).toContainText("the house leaves");
  await app.segment("A storm").click();
  await expect(ways.getByRole("row", { name: /sensor for snow/ })).not.toContainText("100%");
  await app.segment("A year").click();
  await expect(page.getByText(/It snows in/)).toBeVisible();
  await expect(page.getByRole("region", { name: "Ways of running it for a year" }).getByRole("row")).toHaveCount(4);
  await settled(page);
  await app.accessible();
});

test("the house that comes first is taken from its own job", async ({ app, page }) => {
  const school = await app.makeJob({ ...DEMO, name: "The school itself" });
  const bare = await app.makeJob({ ...DEMO, name: "No source yet", plant: undefined, old_source: undefined });
  const id = await app.makeJob({ ...FORECOURT, name: "Beside the school", outdoors: { ...FORECOURT.outdoors, house: undefined } });
  await app.open(id, "snow");
  await app.tick("A house is heated first");
  await page.getByRole("button", { name: "Take from a job…" }).click();
  await app.choose("Job of the house", "No source yet");
  await expect(page.getByRole("alert")).toContainText("no heat source yet");
  await app.choose("Job of the house", "The school itself");
  await expect(page.getByRole("alert")).toHaveCount(0);
  const design = (await (await page.request.post("/api/design", { data: (await app.read(school)).job, headers: { Origin: new URL(page.url()).origin } })).json()) as { building: { w_per_k: number } };
  await app.saved();
  const house = (await app.read(id)).job.outdoors.house as { source_w: number; w_per_k: number };
  expect(house.w_per_k).toBeCloseTo(design.building.w_per_k, 3);
  expect(house.source_w).toBe(DEMO.plant.source.most_w);
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByLabel("Loss of the house")).toHaveValue(/^200/);
  expect(bare).not.toBe(school);
});

test("a job outdoors is whole on a phone, in US units and in its papers", async ({ browser }) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true, baseURL: test.info().project.use.baseURL });
  const app = new App(await context.newPage());
  const { page } = app;
  const id = await app.makeJob({ ...FORECOURT, name: "In the snow", site: { ...FORECOURT.site, units: "us" } });
  const wide = () => page.evaluate(() => document.documentElement.scrollWidth);
  for (const station of ["rooms", "snow", "floor", "loops", "plant", "start-up", "papers"]) {
    await app.open(id, station);
    await expect(page.getByText("Calculating…")).toHaveCount(0);
    expect(await wide(), station).toBeLessThanOrEqual(390);
    await settled(page);
    await app.accessible();
  }
  await app.open(id, "snow");
  await expect(page.getByText(/BTU\/h·ft²/).first()).toBeVisible();
  for (const view of ["A storm", "A year"]) {
    await app.segment(view).click();
    await expect(page.getByText("Calculating…")).toHaveCount(0);
    expect(await wide(), view).toBeLessThanOrEqual(390);
    await settled(page);
    await app.accessible();
  }
  expect(app.errors).toEqual([]);
  await context.close();
});

test("the lowest safe water in a humid week", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "A humid week", cooling: undefined });
  await app.open(id, "cooling");
  await page.getByRole("button", { name: "Cool with the floors" }).click();
  const says = page.getByText(/No colder than/);
  await expect(says).toBeVisible();
  const supply = async () => Number((await says.innerText()).match(/(\d+\.\d) °C/)![1]);
  const before = await supply();
  // damp air wants warmer water; typed humidity goes before the weather's
  await page.getByLabel("Humidity indoors").fill("70%");
  await page.getByLabel("Humidity indoors").press("Tab");
  // 26 °C at 70 %: dew point 20.1 °C
  await expect.poll(supply).toBe(22.1);
  await page.getByLabel("Humidity indoors").fill("");
  await page.getByLabel("Humidity indoors").press("Tab");
  await expect.poll(supply).toBe(before);
  // a coil dries the air; a full class gives it more to do
  await page.getByLabel("Humidity kept by a coil").fill("50%");
  await page.getByLabel("Humidity kept by a coil").press("Tab");
  // 26 °C at 50 %: dew point 14.8 °C
  await expect.poll(supply).toBe(16.8);
  const moist = page.getByText(/of moisture/);
  const watts = async () => Number((await moist.innerText()).match(/and (\d+) W of moisture/)![1]);
  const few = await watts();
  await page.getByLabel("People in Studio A").fill("40");
  await page.getByLabel("People in Studio A").press("Tab");
  await expect.poll(watts).toBeGreaterThan(few + 100);
  await expect(page.getByRole("img", { name: /Dew point indoors/ })).toBeVisible();
  await settled(page);
  await app.accessible();
  await app.saved();
  await page.reload();
  await expect(page.getByLabel("People in Studio A")).toHaveValue("40.00");
  await page.getByRole("button", { name: "Do not cool" }).click();
  await expect(page.getByText("The floors heat only.")).toBeVisible();
});
