import { chromium } from "@playwright/test";
const [,, what = "all", theme = "light", w = "1280", h = "800"] = process.argv;
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox","--disable-gpu"] });
const p = await b.newPage({ viewport: { width: +w, height: +h }, colorScheme: theme });
p.on("console", (m) => m.type() === "error" && console.log("CONSOLE", m.text()));
p.on("pageerror", (e) => console.log("PAGEERROR", e.message));
await p.goto("http://127.0.0.1:8123/");
const id = (await (await p.request.get("http://127.0.0.1:8123/api/jobs")).json())[0].id;
for (const s of what === "all" ? ["rooms", "heat-loss", "floor", "loops", "water", "papers", "site"] : what.split(",")) {
  if (s === "jobs") await p.goto("http://127.0.0.1:8123/");
  else { await p.goto(`http://127.0.0.1:8123/jobs/${id}/${s}`); await p.waitForFunction(() => document.querySelector(".save")?.textContent === "Saved"); }
  await p.waitForTimeout(900);
  await p.screenshot({ path: `/tmp/look-${s.replace(/\W/g, "_")}.png`, fullPage: +w < 600 });
}
await b.close();
