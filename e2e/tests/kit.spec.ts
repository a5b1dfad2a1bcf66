import { DEMO, expect, test } from "./app";

test("a table is sorted by its heads, walked through by arrows, written as CSV, and chooses what the sheet shows", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Tables" });
  await app.open(id, "water");
  const table = page.getByRole("region", { name: "Table of loops" });
  const flows = async () => (await table.getByRole("row").locator("td:nth-child(3)").allInnerTexts()).map(Number.parseFloat).filter((v) => !Number.isNaN(v));
  const head = table.getByRole("columnheader", { name: "Flow" });
  await head.getByRole("button").click();
  await expect(head).toHaveAttribute("aria-sort", "ascending");
  const sums = (await table.locator("tfoot tr").count()) as number;
  const up = (await flows()).slice(0, -sums);
  expect(up.length).toBeGreaterThan(4);
  expect(up).toEqual([...up].sort((a, b) => a - b));
  await head.getByRole("button").click();
  await expect(head).toHaveAttribute("aria-sort", "descending");
  expect((await flows()).slice(0, -sums)).toEqual([...up].reverse());

  // arrows go from row to row; the row is chosen everywhere
  const first = table.locator("tbody tr").nth(0).getByRole("button");
  const second = table.locator("tbody tr").nth(1).getByRole("button");
  await first.focus();
  await page.keyboard.press("ArrowDown");
  await expect(second).toBeFocused();
  await expect(page.getByRole("heading", { name: `Loop ${await second.innerText()}` })).toBeVisible();

  const [download] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "Table of loops as a CSV file" }).click()]);
  expect(download.suggestedFilename()).toBe("Tables - loops.csv");
  const text = await (await download.createReadStream()).toArray();
  const lines = Buffer.concat(text).toString("utf8").trim().split("\r\n");
  expect(lines[0]).toBe('Loop,Rooms,"Flow, L/min","Velocity, m/s",Reynolds,"Supply, °C","Return, °C","Pressure drop, kPa","Valve closes, kPa"');
  expect(lines).toHaveLength(up.length + 1);
});

test("columns are chosen, and stay chosen", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Columns" });
  await app.open(id, "floor");
  const table = page.getByRole("region", { name: "Table of floors" });
  await expect(table.getByRole("columnheader", { name: "Tube" })).toHaveCount(0);
  await page.getByRole("button", { name: "Columns" }).click();
  await page.locator(".el-checkbox").filter({ hasText: /^Tube$/ }).click();
  await page.keyboard.press("Escape");
  await expect(table.getByRole("columnheader", { name: "Tube" })).toBeVisible();
  await page.reload();
  await expect(table.getByRole("columnheader", { name: "Tube" })).toBeVisible();
});

test("a field says its range and meaning when it gets the focus, and a figure where it comes from", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Provenance" });
  await app.open(id, "rooms");
  await page.getByLabel("Height of Office").focus();
  await expect(page.getByRole("tooltip").filter({ hasText: "Clear height: 1.50 m to 20.00 m" })).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(page.getByRole("tooltip").filter({ hasText: "Clear height" })).toBeHidden();
  // the same range refuses, in the words of the field
  await page.getByLabel("Height of Office").fill("25");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("alert").filter({ hasText: "Height of Office must be 1.50 m to 20.00 m" })).toBeVisible();

  // figures of a table: by arrows from the name of the row
  await app.open(id, "heat-loss");
  const table = page.getByRole("region", { name: "Table of heat losses" });
  await table.getByRole("button", { name: "Office", exact: true }).focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.getByRole("tooltip").filter({ hasText: /m² × .* W\/m²K/ })).toBeVisible();
});

test("a chart is read as a table too", async ({ app, page }) => {
  const id = await app.makeJob({ ...DEMO, name: "Charts" });
  await app.open(id, "site");
  const chart = page.getByRole("figure").filter({ hasText: "How cold does it get?" });
  await expect(chart.getByRole("img", { name: /^Daily temperatures/ })).toBeVisible();
  await chart.getByRole("button", { name: "As a table" }).click();
  await expect(chart.getByRole("row")).toHaveCount(13);
  await expect(chart.getByRole("row", { name: /^January/ })).toContainText("°C");
  await app.accessible();
  await chart.getByRole("button", { name: "As a chart" }).click();
  await expect(chart.getByRole("img")).toBeVisible();
});
