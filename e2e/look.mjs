import { chromium } from "@playwright/test";
const [, , out, path, w, h, ...acts] = process.argv;
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const c = await b.newContext({ viewport: { width: +w, height: +h }, hasTouch: +w < 500 });
const p = await c.newPage();
p.on("console", (m) => ["error", "warning"].includes(m.type()) && console.log(m.text()));
p.on("pageerror", (e) => console.log("PAGEERROR", e.message));
const jobs = await (await fetch("http://127.0.0.1:8123/api/jobs")).json();
await p.goto("http://127.0.0.1:8123" + path.replace("ID", jobs.at(-1).id));
await p.waitForTimeout(4000);
for (const a of acts) { await p.getByRole(a.split("=")[0], { name: a.split("=")[1] }).first().click(); await p.waitForTimeout(800); }
await p.screenshot({ path: out });
await b.close();
