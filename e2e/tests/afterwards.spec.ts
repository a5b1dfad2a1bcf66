/** After the floor is laid: start-up and service, on a phone in the plant room. */
import { App, DEMO, expect, inTheSun, test } from "./app";

test.use({ viewport: { width: 390, height: 844 }, hasTouch: true });

interface Port {
  loop_id: string;
  tag: string;
  shows_l_min: number;
  ends_l_min: number;
}
const started = async (app: App, id: string) =>
  (await (await app.page.request.get(`/api/jobs/${id}/start-up`)).json()) as { manifolds: { letter: string; settled: boolean; pass: number; ports: Port[] }[]; steps: { item: string; done: boolean }[] };

test("a heating is filled, purged, its flows set in two passes and the floor led up, each written down", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Started" });
  await app.open(id, "start-up");
  await expect(page.getByText("0 of 8 steps done")).toBeVisible();
  await app.accessible();
  await inTheSun(page, ".start-up");
  await app.tick("Flush");
  await expect(page.getByText("1 of 8 steps done")).toBeVisible();

  await app.segment("Purge").click();
  await expect(page.getByRole("region", { name: "Purging" }).getByRole("row")).toHaveCount((await started(app, id)).manifolds.flatMap((m) => m.ports).length + 1);

  await app.segment("Flows").click();
  const before = (await started(app, id)).manifolds[0]!;
  const manifold = page.getByRole("article", { name: `Manifold ${before.letter}` });
  // the list is in the order of setting, and says other figures than it ends at
  await expect(manifold.locator("tbody tr").first()).toContainText(before.ports[0]!.tag);
  await manifold.getByRole("row").nth(1).locator(".el-checkbox").click();
  await expect(manifold.locator("tr.next")).toContainText(before.ports[1]!.tag);
  // a phone that is put away finds its place again
  await page.reload();
  await app.segment("Flows").click();
  await expect(manifold.locator("tr.next")).toContainText(before.ports[1]!.tag);
  await manifold.getByRole("button", { name: "Read all after pass 1" }).click();
  await manifold.getByRole("button", { name: "Write them down" }).click();
  await expect(manifold.getByRole("alert")).toContainText("too: the list is worked out from all of them");
  const type = async (of: Port[], factor: number) => {
    for (const p of of) {
      const field = manifold.getByLabel(`Flow of ${p.tag}`, { exact: true });
      await field.fill(`${(p.ends_l_min * factor).toFixed(2)} L/min`);
      await field.press("Tab");
    }
    await manifold.getByRole("button", { name: "Write them down" }).click();
  };
  // all of them a fifth low: that is not the valves
  await type(before.ports, 0.8);
  await expect(manifold.getByText(/All are low alike/)).toBeVisible();
  await expect(manifold.getByText("Pass 2", { exact: true })).toBeVisible();
  await app.accessible();
  await manifold.getByRole("button", { name: "Read all after pass 2" }).click();
  await type((await started(app, id)).manifolds[0]!.ports, 1);
  await expect(manifold.getByText("Set: every meter within 5 %")).toBeVisible();

  await app.segment("Heat-up").click();
  const floor = page.getByRole("region", { name: "Heat-up" }).getByRole("article").first();
  await floor.getByRole("button", { name: "Write down a reading" }).click();
  const dialog = page.getByRole("dialog");
  await dialog.getByRole("button", { name: "Write it down" }).click();
  await expect(dialog.getByRole("alert")).toContainText("Read the supply first.");
  await dialog.getByLabel("Supply", { exact: true }).fill("25");
  await dialog.getByLabel("Supply", { exact: true }).press("Tab");
  await dialog.getByRole("button", { name: "Write it down" }).click();
  await expect(floor.getByText(/Day 1 of/)).toBeVisible();
  await app.accessible();

  // and all of it stands in its record
  const pdf = await page.request.get(`/api/jobs/${id}/papers/start-up.pdf`);
  expect([pdf.status(), (await pdf.body()).subarray(0, 5).toString()]).toEqual([200, "%PDF-"]);
  expect((await started(app, id)).steps.filter((s) => s.done).map((s) => s.item)).toEqual(["startup/flush"]);
});

test("simulated instruments are read: meters follow the valves that were turned, a faulty house shows its fault", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Instruments" });
  await app.open(id, "start-up");
  await app.segment("Flows").click();
  const before = (await started(app, id)).manifolds[0]!;
  const manifold = page.getByRole("article", { name: `Manifold ${before.letter}` });
  const readAll = async (pass: number) => {
    await manifold.getByRole("button", { name: `Read all after pass ${pass}` }).click();
    if (pass === 1) {
      await expect(manifold.getByRole("button", { name: "Read the meters" })).toHaveCount(0);
      await app.choose("Instrument", "simulated: all is well");
      await app.accessible();
      await inTheSun(page, ".start-up");
    }
    await manifold.getByRole("button", { name: "Read the meters" }).click();
    await expect(manifold.getByLabel(`Flow of ${before.ports[0]!.tag}`, { exact: true })).not.toHaveValue("");
    await manifold.getByRole("button", { name: "Write them down" }).click();
    await expect(manifold.getByRole("button", { name: "Write them down" })).toHaveCount(0);
  };
  const off = async () => {
    const found = (await started(app, id)).manifolds[0]! as unknown as { ports: { off: number | null }[] };
    return Math.max(...found.ports.map((p) => Math.abs(p.off ?? 9)));
  };
  // nothing turned yet: some loops run far too fast
  await readAll(1);
  await expect(manifold.getByText("Pass 2", { exact: true })).toBeVisible();
  expect(await off()).toBeGreaterThan(0.2);
  for (const p of (await started(app, id)).manifolds[0]!.ports) await manifold.locator("label.el-checkbox").filter({ has: page.getByRole("checkbox", { name: `${p.tag} is set`, exact: true }) }).click();
  await readAll(2);
  const kept = (await (await page.request.get(`/api/jobs/${id}/records`)).json()) as { record: { note?: string } }[];
  expect(kept.every((e) => e.record.note?.startsWith("Read from a simulated instrument"))).toBe(true);
  // a hand, marks of 0.05 L/min on a flow of half a litre, and a meter that flutters, other with every minute
  await expect.poll(off).toBeLessThan(0.25);

  await app.open(id, "service");
  await app.choose("Instrument", "simulated: something is wrong");
  await page.getByRole("button", { name: "Read all of it" }).click();
  await expect(page.getByText("Nothing has been read yet.")).toHaveCount(0);
  await expect(page.getByRole("region", { name: "Causes" }).locator(".cause").first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Write the visit down" })).toBeEnabled();
  // an answer that comes late is not put over what was typed meanwhile
  let go = () => {};
  const held = new Promise<void>((resolve) => (go = resolve));
  await page.route("**/stand-in/**", async (route) => {
    await held;
    await route.continue();
  });
  await page.getByRole("button", { name: "Read all of it" }).click();
  const outdoors = page.getByLabel("Outdoors", { exact: true });
  await outdoors.fill("-7");
  await outdoors.press("Tab");
  go();
  await expect(page.getByText("Something was typed while the instrument was read")).toBeVisible();
  await expect(outdoors).toHaveValue("-7.0 °C");
  await page.unroute("**/stand-in/**");
  // the server is gone: said, and what was read stays
  await page.route("**/stand-in/**", (route) => route.abort());
  app.expectedErrors.push(/ERR_FAILED/);
  await page.getByRole("button", { name: "Read all of it" }).click();
  await expect(page.getByText("The instrument does not answer.")).toBeVisible();
  await expect(page.getByRole("button", { name: /^Clear all/ })).toBeVisible();
  await expect(page.getByRole("region", { name: "Causes" })).toHaveAttribute("aria-busy", "false");
  await app.accessible();
});

test("a cold room is read, told apart, and its cause written down", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Cold room" });
  await app.open(id, "service");
  await expect(page.getByText("Nothing has been read yet.")).toBeVisible();
  await app.accessible();
  const { manifolds } = await started(app, id);
  const [first, second] = [...manifolds[0]!.ports].sort((a, b) => a.tag.localeCompare(b.tag, undefined, { numeric: true }));
  const put = async (label: string, text: string) => {
    const field = page.getByLabel(label, { exact: true });
    await field.fill(text);
    await field.press("Tab");
  };
  await put("Outdoors", "-4");
  await put(`${first!.tag}: flow`, "0");
  // as the empty field says
  const should = (await page.getByLabel(`${second!.tag}: flow`, { exact: true }).getAttribute("placeholder"))!;
  await put(`${second!.tag}: flow`, should.replace("should be ", ""));
  const causes = page.getByRole("region", { name: "Causes" });
  await expect(causes.getByText("Not decided yet")).toBeVisible();
  await expect(causes.locator(".tell")).toContainText(`look at ${first!.tag}`);
  await page.getByRole("radiogroup", { name: `${first!.tag}: actuator` }).getByText("shut").click();
  await expect(causes.getByRole("heading", { name: "Most likely" })).toBeVisible();
  await expect(causes.locator(".cause").first()).toContainText(`Actuator does not open${first!.tag}`);
  await app.accessible();
  await inTheSun(page, ".service");

  // what was read stays when the phone is put away
  await page.reload();
  await expect(causes.locator(".cause").first()).toContainText("Actuator does not open");
  await causes.getByRole("button", { name: "Write the visit down" }).click();
  const dialog = page.getByRole("dialog");
  await expect(dialog.getByLabel("What it was")).toHaveValue(`Actuator does not open: ${first!.tag}`);
  await dialog.getByLabel("What people say").fill("The studio stays cold");
  await dialog.getByLabel("What was done").fill("Actuator replaced");
  await dialog.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByRole("region", { name: "Visits" }).getByRole("listitem")).toContainText("The studio stays cold");
  await expect(page.getByText("Nothing has been read yet.")).toBeVisible();
});
