import { readFileSync } from "node:fs";
import { DEMO, expect, test } from "./app";

test("copy, rename, delete with undo, download and open again", async ({ app, page }) => {
  await app.makeJob({ ...DEMO, name: "List of jobs" });
  await page.goto("/");
  await app.more("List of jobs", "Copy");
  await page.getByLabel("Name", { exact: true }).fill("List of jobs, second");
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByRole("link", { name: "List of jobs, second", exact: true })).toBeVisible();

  await app.more("List of jobs, second", "Rename");
  await page.getByLabel("Name", { exact: true }).fill("");
  await page.getByRole("dialog").getByRole("button", { name: "Rename" }).click();
  await expect(page.getByText("A job needs a name.")).toBeVisible();
  await page.getByLabel("Name", { exact: true }).fill("Renamed job");
  await page.getByRole("dialog").getByRole("button", { name: "Rename" }).click();
  await expect(page.getByRole("link", { name: "Renamed job", exact: true })).toBeVisible();

  await app.more("Renamed job", "Delete");
  await expect(page.getByRole("link", { name: "Renamed job", exact: true })).toHaveCount(0);
  await page.getByRole("status").filter({ hasText: "Renamed job" }).getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("link", { name: "Renamed job", exact: true })).toBeVisible();

  const waiting = page.waitForEvent("download");
  await app.more("Renamed job", "Download");
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

test("one of two hundred jobs is found, put by, and found in the archive", async ({ app, page }) => {
  const names = Array.from({ length: 200 }, (_, k) => `Row house ${k + 1}`);
  for (const name of names) expect((await page.request.post("/api/jobs", { data: { name } })).ok()).toBe(true);
  // a retry finds its own
  const who = `Quillfeather-${test.info().retry}`;
  const wanted = `The one wanted by ${who}`;
  await app.makeJob({ ...DEMO, name: wanted, customer: who, address: "7 Mill Lane" });
  await page.goto("/");
  const list = page.getByRole("list", { name: "Jobs" });
  await page.getByLabel("Search the jobs").fill(`${who} mill`);
  await expect(list.getByRole("listitem")).toHaveCount(1);
  const row = list.getByRole("listitem");
  await expect(row).toContainText(`${who} · 7 Mill Lane`);
  // its design at a glance
  await expect(row).toContainText("Supply");
  await expect(row.getByText("OK", { exact: true })).toBeVisible();
  await app.accessible();
  await app.more(wanted, "Archive");
  await expect(page.getByText(`No job has “${who} mill”.`)).toBeVisible();
  await page.getByRole("button", { name: /^Archive/ }).click();
  await expect(list.getByRole("listitem")).toHaveCount(1);
  await app.more(wanted, "Take out of the archive");
  await page.getByLabel("Search the jobs").fill("row house 17");
  await expect(list.getByRole("link").first()).toHaveText(/^Row house 17/);
  await app.choose("Order of the jobs", "by name");
  await expect(list.getByRole("link").first()).toHaveText("Row house 17");
});

test("a new job starts with what is usual for it, in the units asked for", async ({ app, page }) => {
  await page.goto("/");
  await page.getByRole("button", { name: "New job" }).click();
  await page.getByLabel("Name", { exact: true }).fill("Over the crawl space");
  await app.choose("What is it?", /^Retrofit/);
  await page.getByText("US: feet").click();
  await page.getByLabel("Place").fill("Alderfell");
  await page.getByLabel("Design outdoor temperature").fill("-400");
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByRole("alert")).toContainText("must be");
  await app.accessible();
  await page.getByLabel("Design outdoor temperature").fill("-4");
  await page.getByRole("button", { name: "Create" }).click();
  await expect(page.getByRole("heading", { name: "Over the crawl space" })).toBeVisible();
  const id = /jobs\/(\w+)/.exec(page.url())![1]!;

  // a room by two clicks, a window, both on whole inches
  await page.keyboard.press("r");
  await app.click(0, 0);
  await app.click(4.13, 3.07);
  await page.keyboard.press("w");
  await app.click(2.01, 0);
  await page.keyboard.press("Escape");
  await app.saved();
  const { job } = await app.read(id);
  expect(job.site).toMatchObject({ units: "us", place: "Alderfell" });
  expect(job.site.outdoor_c).toBeCloseTo(-20, 6);
  const [room] = job.rooms;
  expect(room.floor).toMatchObject({ build_up_id: "joist-extruded", tube_id: "pex-1/2" });
  const inches = (m: number) => m / 0.0254;
  for (const m of [...room.outline.flat(), room.height_m, room.openings[0].width_m]) expect(inches(m)).toBeCloseTo(Math.round(inches(m)), 1);
  await expect(page.getByLabel("Height of Room 1")).toHaveValue("8' 0\"");
});
