import { chromium } from "@playwright/test";
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox","--disable-gpu"] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on("console", (m) => { if (m.type() === "error" || m.type()==="warning") console.log("console:", m.text()); });
p.on("pageerror", (e) => console.log("error", e.message));
const [id, ...what] = process.argv.slice(2);
for (const w of what) {
  const [name, path] = w.split("=>");
  await p.goto("http://127.0.0.1:8123" + path.replace("ID", id));
  await p.waitForLoadState("networkidle");
  await p.waitForTimeout(1500);
  await p.screenshot({ path: `/tmp/look-${name}.png` });
}
await b.close();
