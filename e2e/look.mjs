import { chromium } from "@playwright/test";
const b = await chromium.launch({ executablePath: "/usr/bin/chromium", args: ["--no-sandbox", "--disable-gpu"] });
const p = await b.newPage({ viewport: { width: 1280, height: 800 } });
p.on("console", (m) => m.type() === "error" && console.log("CONSOLE", m.text()));
p.on("pageerror", (e) => console.log("ERR", e.message));
await p.goto("http://127.0.0.1:8123/");
await p.getByRole("link", { name: "Tamarack Dance School" }).first().click();
await p.waitForURL(/jobs/);
const id = p.url().match(/jobs\/([^/]+)/)[1];
const want = process.argv.slice(2);
if (want.includes("water")) {
  await p.goto(`http://127.0.0.1:8123/jobs/${id}/water`);
  await p.getByText("Pump and balance").click();
  await p.waitForTimeout(1500);
  await p.screenshot({ path: "/tmp/water1.png" });
}
await p.goto(`http://127.0.0.1:8123/jobs/${id}/plant`);
await p.waitForSelector("svg.piping");
await p.waitForTimeout(700);
await p.screenshot({ path: "/tmp/plant1.png" });
for (const [k, name] of [["2", "Source and users"], ["3", "Does it fit?"], ["4", "Over the year"], ["5", "Compare"], ["6", "Pumps and mixing"]]) {
  if (!want.includes(k)) continue;
  await p.getByText(name, { exact: true }).click();
  await p.waitForTimeout(k === "5" ? 8000 : 2500);
  await p.screenshot({ path: `/tmp/plant${k}.png` });
}
await b.close();
