/** A server that others reach: signing in, people, links, whose job it is, and what it was. */
import type { Browser, Page } from "@playwright/test";
import { App, DEMO, expect, readable, test } from "./app";

const PASSWORD = "seven warm floors";
/** What a page that is not signed in, or asks for what is not its own, is answered; the browser tells its console. */
const REFUSED = [/401/, /403/];

async function signIn(page: Page, name: string, password = PASSWORD) {
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByLabel("Password", { exact: true }).fill(password);
  await page.getByRole("button", { name: "Sign in" }).click();
}
/** Another person at another browser. */
async function another(browser: Browser, name: string, size = { width: 1280, height: 800 }): Promise<App> {
  const context = await browser.newContext({ ignoreHTTPSErrors: true, baseURL: process.env.FUOCO_OFFICE_URL, viewport: size, locale: "en-GB" });
  const page = await context.newPage();
  if (name) {
    await page.goto("/sign-in");
    await signIn(page, name);
    await expect(page.getByRole("button", { name: `${name}: account` })).toBeVisible();
  }
  return new App(page);
}

test("who is not signed in is asked, told when it is wrong, and led to where they wanted to go", async ({ app, page }) => {
  app.expectedErrors.push(...REFUSED);
  await page.goto("/people");
  await expect(page).toHaveURL(/\/sign-in\?to=\/people/);
  await app.accessible();
  await signIn(page, "Ada", "seven cold floors");
  await expect(page.getByRole("alert")).toContainText("Name or password is wrong.");
  await signIn(page, "Ada");
  await expect(page).toHaveURL(/\/people$/);
  await expect(page.getByRole("region", { name: "Table of people" }).getByRole("row").filter({ hasText: "Ben" })).toContainText("Designer");

  // somebody new: too short a password is told, one made up is taken
  const name = `Dora ${Date.now() % 100000}`;
  app.expectedErrors.push(/422/);
  await page.getByLabel("Name", { exact: true }).fill(name);
  await page.getByLabel("First password").fill("short");
  await page.getByRole("button", { name: "Let them sign in" }).click();
  await expect(page.getByText("must have 12 to 200 characters")).toBeVisible();
  await page.getByRole("button", { name: "Make one up" }).click();
  const password = await page.getByLabel("First password").inputValue();
  await app.choose("Role of the new person", "Viewer");
  await page.getByRole("button", { name: "Let them sign in" }).click();
  await expect(page.getByRole("region", { name: "Table of people" }).getByRole("row").filter({ hasText: name })).toContainText("Viewer");
  await expect(page.getByRole("region", { name: "Table of who did what" })).toContainText(`let ${name} sign in as viewer`);
  await expect(page.locator(".el-message")).toHaveCount(0);
  await app.accessible();

  // they sign in, and are out as soon as they are taken off the list
  const dora = await another(page.context().browser()!, "");
  await dora.page.goto("/sign-in");
  await signIn(dora.page, name, password);
  await expect(dora.page.getByRole("button", { name: `${name}: account` })).toBeVisible();
  await page.getByRole("button", { name: `Take ${name} off the list` }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Take off the list" }).click();
  await expect(page.getByText(`${name} may no longer sign in.`)).toBeVisible();
  await dora.page.reload();
  await expect(dora.page).toHaveURL(/sign-in/);
  await dora.page.context().close();
});

test("an inspector reads the papers on a phone until the link is taken back", async ({ app, page }) => {
  app.expectedErrors.push(...REFUSED);
  const browser = page.context().browser()!;
  await page.goto("/sign-in");
  await signIn(page, "Ben");
  await expect(page.getByRole("button", { name: "Ben: account" })).toBeVisible();
  const id = await app.makeJob({ ...DEMO, name: "Linked" });
  await app.open(id, "rooms");
  await page.getByRole("button", { name: "Links", exact: true }).click();
  await page.getByLabel("For whom").fill("Inspector of Alderfell");
  await app.choose("How long the link is good", "a week");
  await page.getByRole("button", { name: "Make a link" }).click();
  const address = await page.getByLabel("Address of the link").inputValue();
  await expect(page.getByRole("img", { name: "Square code of the link for Inspector of Alderfell" })).toBeVisible();
  await app.accessible();

  const phone = await another(browser, "", { width: 390, height: 844 });
  await phone.page.goto(address);
  await expect(phone.page).toHaveURL(new RegExp(`/handover/${id}$`));
  expect(phone.page.url()).not.toContain("#");
  await expect(phone.page.getByRole("link", { name: "Inspector's pack" })).toBeVisible();
  await expect(phone.page.getByText("Quote")).toHaveCount(0);
  await phone.accessible();
  const [download] = await Promise.all([phone.page.waitForEvent("download"), phone.page.getByRole("link", { name: "Owner's sheet" }).click()]);
  expect(download.suggestedFilename()).toMatch(/owners-sheet\.pdf$/);
  expect((await phone.page.request.get(`/api/jobs/${id}`)).status()).toBe(403);

  await page.getByRole("button", { name: "Take back the link for Inspector of Alderfell" }).click();
  await expect(page.getByRole("list", { name: "Links made" })).toContainText("taken back");
  await phone.page.reload();
  await expect(phone.page).toHaveURL(/sign-in/);
  await phone.page.goto(address);
  await expect(phone.page.getByRole("alert")).toContainText("was taken back");
  await phone.page.context().close();
});

test("a crew opens its link on a phone, writes in the cellar without a network, and the office has it; then the link is taken back", async ({ app, page }) => {
  app.expectedErrors.push(...REFUSED);
  const browser = page.context().browser()!;
  await page.goto("/sign-in");
  await signIn(page, "Ben");
  await expect(page.getByRole("button", { name: "Ben: account" })).toBeVisible();
  const id = await app.makeJob({ ...DEMO, name: "For van 3" });
  await app.open(id, "laying");
  await page.getByRole("button", { name: "Links", exact: true }).click();
  await page.getByLabel("For whom").fill("Van 3");
  await app.choose("What the link is for", /^the job on site/);
  await page.getByRole("button", { name: "Make a link" }).click();
  const address = await page.getByLabel("Address of the link").inputValue();

  const context = await browser.newContext({ ignoreHTTPSErrors: true, baseURL: process.env.FUOCO_OFFICE_URL, viewport: { width: 390, height: 844 }, hasTouch: true, locale: "en-GB", serviceWorkers: "allow" });
  const van = new App(await context.newPage());
  const phone = van.page;
  await phone.goto(address);
  await expect(phone).toHaveURL(new RegExp(`/jobs/${id}/laying$`));
  await expect(phone.getByText(/0 of \d+ loops lie/)).toBeVisible();
  await readable(phone, id);
  await van.saved();
  await context.setOffline(true);
  await phone.reload();
  await expect(phone.locator(".top .save")).toContainText("No connection");
  await van.segment("Notes").click();
  const write = async (text: string) => {
    await phone.getByLabel("Note", { exact: true }).fill(text);
    await phone.getByRole("button", { name: "Write it down" }).tap();
    await expect(phone.getByLabel("Note", { exact: true })).toHaveValue("");
  };
  await write("Door to the yard is locked");
  await expect(phone.locator(".outbox")).toHaveText(/1 record waits for a connection/);
  await context.setOffline(false);
  await expect(phone.locator(".outbox")).toHaveCount(0);

  // at the desk, at once, under the crew's name
  await page.keyboard.press("Escape");
  await app.segment("Notes").click();
  await expect(page.getByRole("listitem").filter({ hasText: "Door to the yard is locked" })).toContainText("Van 3 (link)");

  await expect(phone.locator(".top .save")).toHaveText("Saved");
  await context.setOffline(true);
  await page.getByRole("button", { name: "Links", exact: true }).click();
  await page.getByRole("button", { name: "Take back the link for Van 3" }).click();
  await expect(page.getByRole("list", { name: "Links made" })).toContainText("taken back");
  // what was written before word of it came is not taken, and not lost
  await write("Too late");
  await context.setOffline(false);
  await expect(phone).toHaveURL(/sign-in/);
  await expect(phone.locator(".outbox")).toContainText("1 record of Van 3 waits");
  const records = (await (await page.request.get(`/api/jobs/${id}/records`)).json()) as { record: { note: string } }[];
  expect(records.map((r) => r.record.note)).toEqual(["Door to the yard is locked"]);
  await context.close();
});

test("the crew reads a job without its prices and changes nothing", async ({ app, page }) => {
  app.expectedErrors.push(...REFUSED);
  const ben = await another(page.context().browser()!, "Ben");
  const id = await ben.makeJob({ ...DEMO, name: "For the crew" });
  await ben.page.context().close();
  await page.goto("/sign-in");
  await signIn(page, "Cleo");
  await expect(page.getByRole("button", { name: "Cleo: account" })).toBeVisible();
  await expect(page.getByRole("button", { name: "New job" })).toHaveCount(0);
  await expect(page.getByRole("button", { name: /^More of/ })).toHaveCount(0);
  await app.open(id, "rooms");
  await expect(page.getByRole("button", { name: "Links", exact: true })).toHaveCount(0);
  const height = page.getByRole("region", { name: "Table of rooms" }).getByLabel(/^Height of/).first();
  const before = await height.inputValue();
  await height.fill("2.2");
  await height.press("Enter");
  await expect(page.getByText("You may read this job; changing it is for designers.")).toBeVisible();
  const { job, revision } = await app.read(id);
  expect([job.purchasing?.prices?.rows?.length ?? 0, revision]).toEqual([0, 1]);
  await height.press("Escape");
  await page.reload();
  await expect(height).toHaveValue(before);
});

test("what another person has changed is compared, brought back, and undone", async ({ app, page }) => {
  app.expectedErrors.push(...REFUSED);
  const browser = page.context().browser()!;
  const ben = await another(browser, "Ben");
  const id = await ben.makeJob({ ...DEMO, name: "As it was" });
  await ben.page.context().close();
  await page.goto("/sign-in");
  await signIn(page, "Ada");
  await expect(page.getByRole("button", { name: "Ada: account" })).toBeVisible();
  await app.open(id, "rooms");
  const height = page.getByRole("region", { name: "Table of rooms" }).getByLabel(/^Height of/).first();
  await expect(height).toHaveValue("3.60 m");
  await height.fill("4.2 m");
  await height.press("Enter");
  await app.saved();
  await page.getByRole("button", { name: "History" }).click();
  const rows = page.getByRole("list", { name: "Revisions" }).getByRole("listitem");
  await expect(rows).toHaveCount(2);
  await expect(rows.nth(0)).toContainText("Ada");
  await expect(rows.nth(0)).toContainText("(now)");
  await expect(rows.nth(1)).toContainText("Ben");
  await rows.nth(1).getByRole("button", { name: /^Compare/ }).click();
  const figures = page.getByRole("table", { name: "Then and now" });
  await expect(figures.getByRole("row").filter({ hasText: "Heat loss" })).toBeVisible();
  const [then, now] = (await figures.getByRole("row").filter({ hasText: "Heat loss" }).getByRole("cell").allInnerTexts()).slice(1).map((t) => Number(t.replace(/[^\d]/g, "")));
  expect(then!).toBeLessThan(now!);
  await app.accessible();
  await page.getByRole("button", { name: "Bring this one back" }).click();
  await expect(height).toHaveValue("3.60 m");
  await app.saved();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(height).toHaveValue("4.20 m");
});

test("two people work on one job: each sees that the other is there, both edits stay, and the same one asks", async ({ app, page }) => {
  app.expectedErrors.push(...REFUSED, /409/);
  const ben = await another(page.context().browser()!, "Ben");
  const id = await ben.makeJob({ ...DEMO, name: "Two at once" });
  await ben.open(id, "rooms");
  await page.goto("/sign-in");
  await signIn(page, "Ada");
  await expect(page.getByRole("button", { name: "Ada: account" })).toBeVisible();
  await app.open(id, "rooms");
  await expect(page.getByText("Ben is here")).toBeVisible();
  await expect(ben.page.getByText("Ada is here")).toBeVisible();
  const height = (of: Page, k: number) => of.getByRole("region", { name: "Table of rooms" }).getByLabel(/^Height of/).nth(k);
  const type = async (of: Page, k: number, text: string) => {
    await height(of, k).fill(text);
    await height(of, k).press("Enter");
  };

  // what Ben saves comes to Ada by itself
  await type(ben.page, 0, "3.10 m");
  await ben.saved();
  await expect(height(page, 0)).toHaveValue("3.10 m");
  // Ada types while Ben's save is still unknown to her: both are in, and her undo takes back hers alone
  await page.route("**/events?**", (route) => route.abort());
  await type(page, 1, "2.90 m");
  await type(ben.page, 2, "3.30 m");
  await app.saved();
  await ben.saved();
  await expect(height(page, 2)).toHaveValue("3.30 m");
  await expect(height(ben.page, 1)).toHaveValue("2.90 m");
  await page.getByRole("button", { name: "Undo" }).click();
  await app.saved();
  await expect(height(ben.page, 1)).not.toHaveValue("2.90 m");
  await expect(height(ben.page, 2)).toHaveValue("3.30 m");

  // the same figure, typed by both before either saw the other's
  await ben.page.route(`**/api/jobs/${id}?**`, async (route) => {
    // Ben's save waits until Ada's is in
    if (route.request().method() === "PUT") await expect.poll(async () => (await app.read(id)).job.rooms[0].height_m).toBe(2.6);
    await route.continue();
  });
  await type(ben.page, 0, "3.50 m");
  await type(page, 0, "2.60 m");
  ben.expectedErrors.push(/409/);
  const dialog = ben.page.getByRole("dialog", { name: "This job was changed elsewhere" });
  await expect(dialog).toContainText("You both changed Studio A: height");
  await ben.accessible();
  await dialog.getByRole("button", { name: "Keep both; mine where we changed the same" }).click();
  await ben.page.unroute(`**/api/jobs/${id}?**`);
  await ben.saved();
  await expect(height(page, 0)).toHaveValue("3.50 m");
  await ben.page.context().close();
  await expect(page.getByText("Ben is here")).toHaveCount(0);
});
