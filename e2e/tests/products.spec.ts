/** A job's own tubes, coverings, pumps and sources: typed once, chosen like the library's. */
import type { Page } from "@playwright/test";
import { DEMO, blank, box, expect, test } from "./app";

const table = (page: Page, of: string) => page.getByRole("region", { name: `Table of own ${of}` });
const slab = { build_up_id: "slab", covering_id: "tile", tube_id: "pex-16x2", spacing_core_m: 0.2, spacing_edge_m: 0.2, pattern: "auto" };

test("a tube that the library has not is typed, laid, and kept from being deleted while a floor has it", async ({ app, page }) => {
  const id = await app.makeJob({ ...blank("Own tube"), rooms: [box("a", "Workshop", 0, 0, 5, 4, { floor: slab })] });
  await app.open(id, "floor");
  await app.segment("Own tubes").click();
  await expect(page.getByText("No own tubes.")).toBeVisible();
  await app.choose("Add a tube like", "16 × 2 mm");
  const name = page.getByLabel("Name of tube 1");
  await expect(name).toHaveValue("16 × 2 mm, own");
  await name.fill("Layered 18 mm");
  await name.press("Enter");
  // a wall thicker than a tube can have is refused by the server, and told at its field
  app.expectedErrors.push(/422/);
  const wall = page.getByLabel("Wall of Layered 18 mm");
  await wall.fill("6 mm");
  await wall.press("Enter");
  await expect(table(page, "tubes").getByText("must be at most a third of")).toBeVisible();
  await wall.fill("2 mm");
  await wall.press("Enter");
  await expect(table(page, "tubes").getByText("must be at most a third of")).toHaveCount(0);
  const outside = page.getByLabel("Outside of Layered 18 mm");
  await outside.fill("18 mm");
  await outside.press("Enter");
  await app.saved();
  await app.accessible();

  await expect(page.getByRole("button", { name: "Delete Layered 18 mm" })).toBeEnabled();
  await app.segment("Floors").click();
  await page.getByRole("button", { name: /columns/i }).click();
  await app.tick("Tube");
  await page.keyboard.press("Escape");
  await app.choose("Tube of Workshop", "Layered 18 mm");
  await app.saved();
  await app.segment("Own tubes").click();
  await expect(page.getByRole("button", { name: "Delete Layered 18 mm" })).toBeDisabled();
  const { job } = await app.read(id);
  expect(job.rooms[0].floor.tube_id).toBe("tube-1");
  expect(job.tubes).toEqual([{ id: "tube-1", name: "Layered 18 mm", od_m: 0.018, wall_m: 0.002, bend_radius_m: 0.08, longest_loop_m: 100 }]);
});

test("the pump on the shelf and a source kept from the plant are chosen again", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Own plant" });
  await app.open(id, "plant");
  await app.segment("Own pumps").click();
  await app.choose("Add a pump like", "Circulator, 6 m");
  await expect(page.getByLabel("Name of pump 1")).toHaveValue("Circulator, 6 m, own");
  await page.getByLabel("Head of point 1, pump of Circulator, 6 m, own").fill("7 m");
  await page.keyboard.press("Enter");
  await app.accessible();
  await app.segment("Own sources").click();
  await expect(page.getByText("No own sources.")).toBeVisible();
  await app.segment("Source and users").click();
  const source = page.getByRole("region", { name: "Source", exact: true });
  await source.getByRole("button", { name: "Keep among own sources" }).click();
  await expect(table(page, "sources").getByRole("row")).toHaveCount(2);
  const kept = await page.getByLabel("Name of source 1").inputValue();
  // another kind is tried, and the kept one comes back as it was
  const rated = page.getByLabel("Rated output of the source");
  const before = await rated.inputValue();
  await rated.fill("31 kW");
  await rated.press("Enter");
  await app.choose("Own source to take", kept);
  await expect(rated).toHaveValue(before);
  await app.choose("Pump of the source", "Circulator, 6 m, own");
  await app.saved();
  const { job } = await app.read(id);
  expect(job.plant.source.pump.model_id).toBe("pump-1");
  expect(job.sources[0].name).toBe(kept);
});
