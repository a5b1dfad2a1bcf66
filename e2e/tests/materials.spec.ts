import type { Page } from "@playwright/test";
import { DEMO, expect, test } from "./app";

const table = (page: Page, name: string) => page.getByRole("region", { name: `Table of ${name}`, exact: true });
const line = (page: Page, name: string) => table(page, "materials").getByRole("row").filter({ hasText: name });
const coil = (page: Page, name: string) => page.getByRole("listitem", { name: `Coil ${name}`, exact: true });
const number = (text: string) => Number(/-?[\d,]+(\.\d+)?/.exec(text)![0].replaceAll(",", ""));

test("every article is counted, explained, and priced by hand or by a list", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Take-off", purchasing: undefined });
  await app.open(id, "materials");
  const staple = line(page, "Staple for tube");
  await expect(staple).toContainText("no price");
  // where the count comes from, and the rule of thumb beside it
  await staple.getByRole("button", { name: "Staple for tube" }).click();
  const why = page.getByRole("region", { name: "Where the count of Staple for tube comes from" });
  await expect(why).toContainText("straights, one every 0.50 m");
  await expect(why).toContainText("Rule of thumb: Two for each metre of tube");
  await why.getByRole("button", { name: "Studio A" }).first().click();
  await expect(page.getByRole("region", { name: "Verdict column" }).getByText("Studio A", { exact: false }).first()).toBeVisible();
  const price = staple.getByLabel("Price of Staple for tube");
  await price.fill("0.08");
  await price.press("Enter");
  await expect(staple.getByRole("cell").last()).toHaveText(/€$/);
  const pieces = number(await staple.getByRole("cell").nth(4).innerText());
  await expect.poll(async () => number(await staple.getByRole("cell").last().innerText())).toBeCloseTo(pieces * 0.08, 1);
  await app.accessible();
  await app.saved();
  // bad input stays out, and says why
  await price.fill("cheap");
  await price.press("Enter");
  await expect(page.getByText("“cheap” does not read as a price of staple for tube")).toBeVisible();
  await price.press("Escape");
  // a list: what reads is taken, what does not is named by its line
  const list = "article,name,unit,price,pack\nactuator,Actuator,pc,31.5,\ngold,,pc,1,\nedge-strip,,kg,2,\n";
  await page.locator("input[type=file]").setInputFiles({ name: "prices.csv", mimeType: "text/csv", buffer: Buffer.from(list) });
  await expect(page.getByText("prices.csv: 1 prices added, 0 changed.")).toBeVisible();
  const told = page.getByRole("list", { name: "What was not taken" });
  await expect(told).toContainText("Line 3: \"gold\" is no article of the take-off");
  await expect(told).toContainText("Line 4: \"kg\" is no unit");
  await expect(line(page, "Actuator").getByLabel("Price of Actuator")).toHaveValue("31.50");
  // undone in one step
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(line(page, "Actuator")).toContainText("no price");
  await app.saved();
  const order = await page.request.get(`/api/jobs/${id}/order.csv`);
  expect(await order.text()).toContain("staple,Staple for tube,");
});

test("a loop is dragged to another coil, what it lacks is said, and the plan taken back", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Coils" });
  await app.open(id, "materials");
  await app.segment("Coils").click();
  await expect(page.getByText("proved to be the least").first()).toBeVisible();
  const bars = page.getByRole("listitem", { name: /^Coil K\d+$/ });
  const before = await bars.count();
  const first = coil(page, "K1").getByRole("button").first();
  const tag = (await first.locator("b").innerText()).trim();
  // onto the second coil, which gets too short for it
  const from = (await first.boundingBox())!;
  const to = (await coil(page, "K2").boundingBox())!;
  await page.mouse.move(from.x + 12, from.y + from.height / 2);
  await page.mouse.down();
  await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
  await expect(coil(page, "K2")).toHaveClass(/over/);
  await page.mouse.up();
  await expect(coil(page, "K2").getByRole("button", { name: new RegExp(`^${tag},`) })).toBeVisible();
  await expect(page.getByText(/m missing/).first()).toBeVisible();
  await expect(page.getByRole("region", { name: "Verdict column" }).getByText(/are missing/).first()).toBeVisible();
  await app.accessible();
  // by the keyboard's list to a coil of its own
  await app.choose("Coil of the chosen loop", "a coil of its own");
  await expect(page.getByText(/m missing/)).toHaveCount(0);
  await app.saved();
  await page.reload();
  await app.segment("Coils").click();
  await expect(bars).toHaveCount(before + 1);
  await page.getByRole("button", { name: "Plan again" }).first().click();
  await expect(bars).toHaveCount(before);
  // the other school
  await app.choose("How loops come out of coils", "one a loop");
  await expect.poll(() => bars.count()).toBeGreaterThan(before);
  for (const bar of await bars.all()) await expect(bar.locator(".cut")).toHaveCount(1);
});

test("a quote with two options adds up, and is not printed while a price is missing", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Offer" });
  await app.open(id, "materials");
  await app.segment("Time").click();
  await expect(page.getByText(/working days of the crew/)).toBeVisible();
  const crew = page.getByLabel("Crew", { exact: true });
  const days = async () => number(/([\d.]+) working days/.exec(await page.getByRole("status").filter({ hasText: "working days" }).innerText())![1]!);
  const two = await days();
  await crew.fill("4");
  await crew.press("Enter");
  await expect.poll(days).toBeLessThan(two);
  await app.accessible();
  await app.segment("Quote").click();
  const sheet = page.getByRole("article", { name: "The customer's page" });
  await expect(sheet).toBeVisible();
  const options = (await sheet.locator("thead th").count()) - 1;
  await page.getByRole("button", { name: "Add an option" }).click();
  await expect(sheet.locator("thead th")).toHaveCount(Math.max(2, options + 2));
  const last = page.getByRole("group", { name: /^Option/ }).last();
  await last.getByText("Plant room").click();
  await expect(sheet.getByRole("row", { name: /^Plant room/ }).getByRole("cell").last()).toHaveText("not included");
  await page.getByRole("button", { name: "Add a line" }).click();
  const price = page.getByRole("textbox", { name: /^Price of line/ }).last();
  await price.fill("250");
  await price.press("Enter");
  await expect(sheet.getByRole("row", { name: /^Extra work/ })).toContainText("250.00");
  // the columns add up
  await app.saved();
  const rows = await sheet.locator("tbody tr").allInnerTexts();
  const sums = rows.map((r) => r.split("\t").at(-1)!).filter((c) => c !== "not included").map(number);
  expect(number(await sheet.getByRole("row", { name: /^Sum/ }).getByRole("cell").last().innerText())).toBeCloseTo(sums.reduce((a, b) => a + b, 0), 1);
  // the customer never reads what things cost
  await expect(sheet).not.toContainText(/margin|cost/i);
  await app.accessible();
  await expect(page.getByRole("button", { name: "Print the quote" })).toBeEnabled();
  await app.segment("Time").click();
  const hour = page.getByLabel("Cost of an hour");
  await hour.fill("");
  await hour.press("Enter");
  await app.segment("Quote").click();
  await expect(page.getByText("an hour of work has no price").first()).toBeVisible();
  await expect(page.getByRole("button", { name: "Print the quote" })).toBeDisabled();
});

test("panels, plates and holes lie on the plan", async ({ app, page }) => {
  const rooms = DEMO.rooms.map((r: { name: string; floor: object | null }) => (r.name === "Studio B" ? { ...r, floor: { ...r.floor, build_up_id: "panel-board" } } : r.name === "Office" ? { ...r, floor: { ...r.floor, build_up_id: "joist-extruded" } } : r));
  const id = await app.makeJob({ ...DEMO, name: "On the floor", rooms, loops: [] });
  await app.open(id, "materials");
  await expect(line(page, "Grooved panel, straight")).toBeVisible();
  await page.getByRole("button", { name: "Show on the plan" }).click();
  await expect(page.locator(".on-the-floor .panel").first()).toBeVisible();
  expect(await page.locator(".on-the-floor .panel").count()).toBeGreaterThan(10);
  await app.accessible();
  await page.getByRole("button", { name: "Back to the lists" }).click();
  await app.segment("Joists and saw cuts").click();
  await expect(page.getByRole("heading", { name: "Drilling list" })).toBeVisible();
  await app.accessible();
});

test("the papers tell coil, marks and order of laying, what goes into the van, and the offer", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Papers of materials" });
  await app.open(id, "papers");
  await page.getByRole("menuitem", { name: "Order of laying", exact: true }).click();
  const first = page.getByRole("region", { name: "Coil K1" }).getByRole("row");
  await expect(first.nth(1)).toContainText("0.0 m");
  // each loop begins where the one before was cut
  const marks = (await first.allInnerTexts()).slice(1).map((r) => r.split("\t").slice(2, 4).map(number));
  for (let i = 1; i < marks.length; i++) expect(marks[i]![0]).toBeCloseTo(marks[i - 1]![1]!, 1);
  const tag = (await first.nth(1).getByRole("cell").first().innerText()).trim();
  await app.accessible();
  await page.goto(`/jobs/${id}/papers?sheet=loop&loop=${tag}`);
  await expect(page.getByText("K1, from mark 0.0 m")).toBeVisible();
  // the mark at a turn is half of the tails more than the tube from the port
  const turn = (await page.getByRole("table").first().getByRole("row").nth(1).innerText()).split("\t").map((c) => c.trim());
  expect(number(turn[4]!) - number(turn[3]!)).toBeCloseTo(0.5, 1);
  await app.accessible();
  await page.getByRole("menuitem", { name: "Materials", exact: true }).click();
  await expect(page.getByRole("region", { name: "Fixing" }).getByRole("row", { name: /^Staple for tube/ })).toBeVisible();
  await app.accessible();
  await page.getByRole("menuitem", { name: "Quote", exact: true }).click();
  await expect(page.getByRole("article", { name: "The customer's page" }).getByRole("row", { name: /^To pay/ })).toBeVisible();
  await app.accessible();
});
