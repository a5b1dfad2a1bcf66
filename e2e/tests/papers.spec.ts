/** Papers as PDF, looked at and taken away. */
import { readFileSync } from "node:fs";
import { blank, DEMO, expect, firstPage as first, test } from "./app";
import type { Page } from "@playwright/test";

async function pack(page: Page) {
  const [download] = await Promise.all([page.waitForEvent("download"), page.getByRole("link", { name: "Inspector's pack" }).click()]);
  return { name: download.suggestedFilename(), bytes: readFileSync(await download.path()) };
}

test("every paper is listed, previewed, and the pack is taken away", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Papers to hand over" });
  await app.open(id, "papers");
  await expect(page.getByRole("menuitem")).toHaveText(["Loop sheets", "One loop", "Order of laying", "Heat loss report", "Plant sheet", "Manifold charts", "Materials", "Quote", "Owner's sheet", "Tube labels", "As laid", "Pressure tests", "Start-up record", "Inspector's pack"]);
  await app.accessible();
  for (const [title, says] of [["Manifold charts", "Manifold A"], ["Owner's sheet", "Where you must not drill"], ["Tube labels", "A1 S"], ["Inspector's pack", "Heat loss report"]] as const) {
    await page.getByRole("menuitem", { name: title, exact: true }).click();
    await expect(first(page, title)).toContainText(says);
    await expect(first(page, title)).toContainText("Papers to hand over");
    await app.accessible();
  }
  // the address leads to the same paper
  await page.reload();
  await expect(first(page, "Inspector's pack")).toBeVisible();
  const { name, bytes } = await pack(page);
  expect(name).toBe("papers-to-hand-over-pack.pdf");
  expect(bytes.subarray(0, 5).toString()).toBe("%PDF-");
  expect(bytes.length).toBeLessThan(3_000_000);
  // a page of US letter is 8.5 by 11 inches
  const shape = () => first(page, "Inspector's pack").evaluate((c: HTMLCanvasElement) => c.height / c.width);
  await expect.poll(shape).toBeCloseTo(297 / 210, 2);
  await app.choose("Paper", "US letter");
  await expect.poll(shape).toBeCloseTo(11 / 8.5, 2);
});

test("a paper that cannot be made yet says why, on a phone too", async ({ app, page }) => {
  const id = await app.makeJob({ ...blank("Nothing drawn"), purchasing: undefined });
  await app.open(id, "papers");
  await page.getByRole("menuitem", { name: "Tube labels", exact: true }).click();
  await expect(page.getByRole("complementary", { name: "All papers" })).toContainText("No loops yet");
  await expect(page.getByRole("link", { name: "Tube labels" })).toHaveCount(0);
  await page.setViewportSize({ width: 390, height: 800 });
  await app.choose("Paper to show", "Plant sheet");
  await expect(page.getByText("This job has no plant yet")).toBeVisible();
  await app.choose("Paper to show", "Owner's sheet");
  await expect(first(page, "Owner's sheet")).toContainText("No rooms yet");
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test("a preview follows the job, and what cannot be read says so", async ({ app, page }) => {
  app.expectedErrors.push(/404/);
  const id = await app.makeJob({ ...DEMO, name: "Preview" });
  await app.open(id, "papers?sheet=manifold-charts");
  await expect(first(page, "Manifold charts")).toContainText("Preview");
  const { revision, job } = await app.read(id);
  // renamed elsewhere: opened again, the paper has the new name
  await page.request.put(`/api/jobs/${id}?revision=${revision}`, { data: { ...job, name: "Another name" } });
  await page.reload();
  await expect(first(page, "Manifold charts")).toContainText("Another name");
  for (const path of [`/api/jobs/${id}/papers/poem.pdf`, "/api/jobs/none/papers", "/api/jobs/none/papers/quote.pdf"]) expect((await page.request.get(path)).status(), path).toBe(404);
  const odd = await page.request.get(`/api/jobs/${id}/papers/quote.pdf?format=a9`);
  expect([odd.status(), ((await odd.json()) as { field: string }).field]).toEqual([422, "format"]);
});
