import { readFileSync } from "node:fs";
import { DEMO, expect, test } from "./app";

test("copy, rename, delete with undo, download and open again", async ({ app, page }) => {
  await app.makeJob({ ...DEMO, name: "List of jobs" });
  await page.goto("/");
  await page.getByRole("button", { name: "Copy List of jobs", exact: true }).click();
  await page.getByLabel("Name", { exact: true }).fill("List of jobs, second");
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByRole("link", { name: "List of jobs, second", exact: true })).toBeVisible();

  await page.getByRole("button", { name: "Rename List of jobs, second", exact: true }).click();
  await page.getByLabel("Name", { exact: true }).fill("");
  await page.getByRole("dialog").getByRole("button", { name: "Rename" }).click();
  await expect(page.getByText("A job needs a name.")).toBeVisible();
  await page.getByLabel("Name", { exact: true }).fill("Renamed job");
  await page.getByRole("dialog").getByRole("button", { name: "Rename" }).click();
  await expect(page.getByRole("link", { name: "Renamed job", exact: true })).toBeVisible();

  await page.getByRole("button", { name: "Delete Renamed job", exact: true }).click();
  await expect(page.getByRole("link", { name: "Renamed job", exact: true })).toHaveCount(0);
  await page.getByRole("status").filter({ hasText: "Renamed job" }).getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("link", { name: "Renamed job", exact: true })).toBeVisible();

  const waiting = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download Renamed job", exact: true }).click();
  const download = await waiting;
  expect(download.suggestedFilename()).toBe("renamed-job.json");
  const file = await download.path();
  const kept = JSON.parse(readFileSync(file, "utf8"));
  expect(kept).toMatchObject({ format: "fuoco-job", version: DEMO.version, name: "Renamed job" });
  expect(kept.rooms).toHaveLength(DEMO.rooms.length);

  await page.getByLabel("Job file").setInputFiles(file);
  await expect(page.getByRole("heading", { name: "Renamed job" })).toBeVisible();
});

test("files that are no jobs are refused with the reason", async ({ app, page }) => {
  app.expectedErrors = [/422/];
  await page.goto("/");
  const offer = (name: string, text: string) =>
    page.getByLabel("Job file").setInputFiles({ name, mimeType: "application/json", buffer: Buffer.from(text) });
  await offer("broken.json", "{ not json");
  await expect(page.getByText("broken.json is not a job file")).toBeVisible();
  await offer("future.json", JSON.stringify({ ...DEMO, version: 99 }));
  await expect(page.getByText(/99 was written by a newer Fuoco/)).toBeVisible();
  await offer("negative.json", JSON.stringify({ ...DEMO, rooms: [{ ...DEMO.rooms[0], height_m: -2 }], manifolds: [] }));
  await expect(page.getByText(/rooms\[0\]\.height_m: must be between/)).toBeVisible();
});

test("an address that leads nowhere says so", async ({ app, page }) => {
  app.expectedErrors = [/404/];
  await page.goto("/jobs/x/y/z");
  await expect(page.getByRole("heading", { name: "This loop leads nowhere" })).toBeVisible();
  await app.accessible();
  await page.getByRole("link", { name: "All jobs" }).click();
  await expect(page.getByRole("button", { name: "New job" })).toBeVisible();
  await page.goto("/jobs/0000/rooms");
  await expect(page.getByRole("alert")).toContainText('there is no job "0000"');
});
