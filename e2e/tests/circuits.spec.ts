import { DEMO, expect, PLAIN, test } from "./app";

test("floors that do not go together get a circuit of their own from the verdict, and two supply temperatures", async ({ app, page }) => {
  // a carpeted office, widely spaced, needs far warmer water than the rest
  const job = structuredClone(PLAIN) as unknown as { name: string; rooms: { name: string; floor?: object }[] };
  job.name = "Two waters";
  Object.assign(job.rooms.find((r) => r.name === "Office")!.floor!, { covering_id: "carpet", spacing_core_m: 0.3, spacing_edge_m: 0.3 });
  const id = await app.makeJob(job as never);
  await app.open(id, "water");
  await expect(page.getByLabel("Circuit of manifold A")).toBeVisible();
  const verdict = page.getByRole("region", { name: "Verdict column" });
  const take = verdict.getByRole("button", { name: "Take it: A circuit of its own, mixed" });
  await expect(take).toBeVisible();
  const told = await verdict.getByText(/^A circuit of its own, mixed;/).innerText();
  const [there, others] = [...told.matchAll(/(\d+\.\d)\s°C/g)].map((m) => Number(m[1]));
  expect(there! - others!).toBeGreaterThan(3);
  await take.click();
  await app.saved();

  const circuits = page.getByRole("region", { name: /^Circuit / });
  await expect(circuits).toHaveCount(2);
  const supply = async (name: string) => Number.parseFloat(await page.getByRole("region", { name: `Circuit ${name}` }).locator("dd").first().innerText());
  await expect.poll(() => supply("Office")).toBeCloseTo(there!, 0);
  await expect.poll(() => supply("Floors")).toBeCloseTo(others!, 0);
  await expect(take).toHaveCount(0);
  await app.accessible();

  // set by hand: too cool is told; one step of undo for each
  await page.getByLabel("Mixing valve of Office").fill("30");
  await page.keyboard.press("Enter");
  await expect(verdict.getByText(/Circuit Office is set to 30\.0\s°C; Office needs/)).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(verdict.getByText(/Circuit Office is set/)).toHaveCount(0);
  await page.getByRole("region", { name: "Circuit Office" }).getByRole("button", { name: "Delete circuit" }).click();
  await expect(page.getByRole("region", { name: "Circuit Office" })).toHaveCount(0);
  await page.getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(take).toBeVisible();
});

test("a manifold is put on a circuit of its own at Water", async ({ app, page }) => {
  const id = await app.makeJob({ ...PLAIN, name: "Circuits by hand" });
  await app.open(id, "water");
  await app.choose("Circuit of manifold B", "a new circuit");
  const own = page.getByRole("region", { name: "Circuit Manifold B" });
  await expect(own).toBeVisible();
  await own.getByLabel("Name of the circuit").fill("Studio B");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Circuit Studio B" }).getByLabel("Circuit of manifold B")).toBeVisible();
  await app.saved();
  const circuits = (await app.read(id)).job.circuits as { name: string; manifold_ids: string[] }[];
  expect(circuits.map((c) => [c.name, c.manifold_ids.length])).toEqual([["Floors", 1], ["Studio B", 1]]);
});

test("balancing valves are told in turns once their table is typed", async ({ app, page }) => {
  const manifolds = DEMO.manifolds.map((m: { id: string }) => ({ ...m, valve_table: [] }));
  const id = await app.makeJob({ ...DEMO, name: "Valves", manifolds });
  await app.open(id, "water");
  await app.segment("Pump and balance").click();
  const settings = page.getByRole("region", { name: "Ports" }).locator(".setting");
  await expect(settings.filter({ hasText: "Kv" }).first()).toBeVisible();
  await app.open(id, "loops");
  await app.segment("Score card").click();
  await page.getByRole("region", { name: "Table of scores of manifolds" }).getByRole("button", { name: "A", exact: true }).click();
  const valves = page.getByRole("region", { name: "Balancing valves" });
  await valves.getByRole("button", { name: "Type the valves' table" }).click();
  const turns = valves.getByLabel("Turns of point 2");
  app.expectedErrors.push(/422/);
  await turns.fill("0.2");
  await turns.press("Tab");
  // a table rises: what does not is told where it stands, and nothing of it is kept
  await expect(page.getByText("must rise from point to point").first()).toBeVisible();
  await turns.fill("3");
  await turns.press("Tab");
  await expect(page.getByText("must rise from point to point")).toHaveCount(0);
  await app.saved();
  await app.accessible();
  await app.open(id, "water");
  await app.segment("Pump and balance").click();
  await expect(settings.filter({ hasText: /^\d+\.\d turns$/ }).first()).toBeVisible();
  // a pump at one speed wants a way for its water when zones shut
  await expect(page.getByText("differential bypass")).toHaveCount(0);
  await app.choose("How the pump is run", "one speed");
  await expect(page.getByText(/differential bypass where zones shut: it opens at \d/)).toBeVisible();
});
