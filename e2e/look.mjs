import { chromium } from "@playwright/test";
const [,, out, path, size = "1280x800", ...rest] = process.argv;
const [width, height] = size.split("x").map(Number);
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const c = await b.newContext({ viewport: { width, height }, colorScheme: rest.includes("dark") ? "dark" : "light", hasTouch: width < 500, deviceScaleFactor: 1 });
const p = await c.newPage();
p.on("console", (m) => m.type() === "error" && console.log("console:", m.text()));
const jobs = await (await p.request.get("http://127.0.0.1:8123/api/jobs")).json();
const id = (jobs.jobs ?? jobs).find((j) => /Tamarack/.test(j.name)).id;
await p.goto("http://127.0.0.1:8123" + path.replace("ID", id));
await p.waitForTimeout(1500);
const run = rest.find((r) => r.startsWith("do="));
if (run) { await (new Function("p", `return (async()=>{${run.slice(3)}})()`))(p); await p.waitForTimeout(800); }
await p.screenshot({ path: out });
await b.close();
