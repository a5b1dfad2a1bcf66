import { defineConfig } from "@playwright/test";
import { existsSync } from "node:fs";

const chromium = process.env.CHROMIUM ?? ["/usr/bin/chromium", "/usr/bin/chromium-browser"].find((p) => existsSync(p));

const ARGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"];

// `cargo test` starts the real server on a free port and names it here.
export default defineConfig({
  testDir: "tests",
  outputDir: "results",
  // a guard against hanging, not a measure: build machines stall
  timeout: 180_000,
  expect: { timeout: 20_000 },
  workers: 2,
  fullyParallel: true,
  forbidOnly: Boolean(process.env.CI),
  // a loaded build machine may miss a deadline once; a second miss is a failure
  retries: process.env.CI ? 1 : 0,
  reporter: [["list"]],
  // every new job begins with what the one firm of the server keeps: tests that change it come last, one after the other
  projects: [
    { name: "jobs", testIgnore: /(firm|office)\.spec/ },
    // a second server: a firm's, encrypted by its own authority, which this browser does not know; a page kept there wants it trusted
    { name: "office", testMatch: /office\.spec/, use: { baseURL: process.env.FUOCO_OFFICE_URL, ignoreHTTPSErrors: true, launchOptions: { executablePath: chromium, args: [...ARGS, "--ignore-certificate-errors"] } } },
    { name: "firm", testMatch: /firm\.spec/, fullyParallel: false, dependencies: ["jobs"] },
  ],
  use: {
    baseURL: process.env.FUOCO_URL,
    viewport: { width: 1280, height: 800 },
    locale: "en-GB",
    // the app kept in the browser would answer in place of the server: `site.spec.ts` lets it
    serviceWorkers: "block",
    trace: "retain-on-failure",
    launchOptions: {
      executablePath: chromium,
      args: ARGS,
    },
  },
});
