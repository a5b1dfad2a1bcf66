/** The firm: its name on papers, what new jobs begin with. One server has one firm: these tests run when all others are done. */
import { DEMO, expect, firstPage as first, test, type App } from "./app";

/** Does something with the firm as it is, and leaves it as it was: every new job of the other tests begins with it. */
async function borrowed(app: App, what: () => Promise<void>) {
  const read = async () => (await (await app.page.request.get("/api/firm")).json()) as { revision: number; firm: object };
  const before = await read();
  try {
    await what();
  } finally {
    const now = await read();
    expect((await app.page.request.put(`/api/firm?revision=${now.revision}`, { data: before.firm })).ok()).toBe(true);
  }
}

test("the firm's name stands on papers; new jobs begin with its rules and prices", async ({ app, page }) => {
  // of another name in every run: the list of jobs tells them apart by it
  const ours = `As we do it, ${Date.now()}`;
  const id = await app.makeJob({ ...DEMO, name: ours });
  await borrowed(app, async () => {
    await page.goto("/");
    await page.getByRole("button", { name: "Firm" }).click();
    await page.getByLabel("Name", { exact: true }).fill("Tarn & Daughters");
    await page.getByLabel("Address, telephone: a line each").fill("1 Beck Side\n\nAlderfell");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByText("Name and address are saved.")).toBeVisible();
    await page.reload();
    await expect(page.getByLabel("Address, telephone: a line each")).toHaveValue("1 Beck Side\nAlderfell");
    await app.accessible();

    await app.choose("Rules of new jobs", "Equal loops without valves");
    await expect(page.getByText("equal loops, no valves")).toBeVisible();
    const made = async () => (await (await page.request.post("/api/jobs", { data: { name: "Next" } })).json()) as { job: typeof DEMO };
    expect((await made()).job.rules.equal_loops).toBe(true);

    await app.choose("Job to keep for new ones", ours);
    await page.getByRole("button", { name: "Keep for new jobs" }).click();
    await expect(page.getByRole("list", { name: "Kept for new jobs" })).toContainText("prices in €");
    const next = (await made()).job;
    expect(next.rules).toMatchObject(DEMO.rules);
    expect(next.purchasing.prices.rows.length).toBe(DEMO.purchasing.prices.rows.length);
    expect(next.purchasing.labour.first_day).toBeUndefined();
    // messages fade in and out: half faded they have no contrast
    await expect(page.locator(".el-message")).toHaveCount(0);
    await app.accessible();

    // taken away, forgotten, and brought back
    const [download] = await Promise.all([page.waitForEvent("download"), page.getByRole("button", { name: "Download firm.json" }).click()]);
    await page.getByRole("button", { name: "Forget" }).click();
    await expect(page.getByText("Nothing is kept: new jobs begin with what is usual.")).toBeVisible();
    expect((await made()).job.purchasing).toBeUndefined();
    await page.getByLabel("Firm's file").setInputFiles(await download.path());
    await expect(page.getByRole("list", { name: "Kept for new jobs" })).toContainText("prices in €");

    await page.goto(`/jobs/${id}/papers?sheet=quote`);
    await page.getByRole("menuitem", { name: "Inspector's pack" }).click();
    await expect(first(page, "Inspector's pack")).toContainText("Tarn & Daughters, 1 Beck Side, Alderfell");
  });
});

test("a file that is no firm changes nothing, and neither does a window that is behind", async ({ app, page }) => {
  app.expectedErrors.push(/422/, /409/);
  await borrowed(app, async () => {
    await page.goto("/firm");
    const name = page.getByLabel("Name", { exact: true });
    await expect(name).not.toHaveValue("");
    const before = await name.inputValue();
    const send = (text: string) => page.getByLabel("Firm's file").setInputFiles({ name: "firm.json", mimeType: "application/json", buffer: Buffer.from(text) });
    await send("{ not json");
    await expect(page.getByText("does not read as JSON")).toBeVisible();
    await send(JSON.stringify({ format: "fuoco-job", version: 1 }));
    await expect(page.getByText(/this is not a firm's file/)).toBeVisible();
    await send(JSON.stringify({ format: "fuoco-firm", version: 1, rules: { ...DEMO.rules, spacings_m: [9] } }));
    await expect(page.getByText(/rules\.spacings_m/)).toBeVisible();
    const stored = (await (await page.request.get("/api/firm")).json()) as { revision: number; firm: { name: string } };
    expect(stored.firm.name).toBe(before);

    // another window saves first
    await page.request.put(`/api/firm?revision=${stored.revision}`, { data: { ...stored.firm, name: "Elsewhere" } });
    await name.fill("Here");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect(page.getByText("in another window, where its name is “Elsewhere”")).toBeVisible();
    // what was typed is not lost, and is saved when that is what is wanted
    await expect(name).toHaveValue("Here");
    await app.choose("Rules of new jobs", "Long loops, strong pump");
    await expect(page.getByText("The pump has to bring more head", { exact: false })).toBeVisible();
    await expect(name).toHaveValue("Here");
    await page.getByRole("button", { name: "Save", exact: true }).click();
    await expect.poll(async () => ((await (await page.request.get("/api/firm")).json()) as { firm: { name: string; rules: { name: string } } }).firm).toMatchObject({ name: "Here", rules: { name: "Long loops, strong pump" } });
  });
});
