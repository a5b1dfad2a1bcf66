import { createServer, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { DEMO, expect, test } from "./app";

/** A page of another origin that tries what a careless user's browser would let it do. */
async function foreign(body: string): Promise<{ server: Server; address: string }> {
  const server = createServer((_, answer) => answer.writeHead(200, { "Content-Type": "text/html" }).end(`<!doctype html><title>Elsewhere</title>${body}`));
  await new Promise<void>((ready) => server.listen(0, "127.0.0.1", ready));
  return { server, address: `http://127.0.0.1:${(server.address() as AddressInfo).port}/` };
}

test("a page of another origin changes nothing, by a form or by script", async ({ app, page, baseURL }) => {
  app.expectedErrors = [/403|415|CORS|ERR_FAILED|Failed to load|Failed to fetch/];
  const id = await app.makeJob({ ...DEMO, name: "Mine alone" });
  const target = `${baseURL}/api/jobs/${id}`;
  const { server, address } = await foreign(`
    <form method="post" action="${target}"><input name="_method" value="delete"><button>Win a prize</button></form>
    <form method="post" action="${baseURL}/api/jobs" enctype="text/plain"><input name='{"name":"Planted","x":"' value='"}'><button>Another prize</button></form>`);
  try {
    for (const prize of ["Win a prize", "Another prize"]) {
      await page.goto(address);
      const [answer] = await Promise.all([
        page.waitForResponse((r) => r.url().startsWith(baseURL!) && r.request().method() === "POST"),
        page.getByRole("button", { name: prize, exact: true }).click(),
      ]);
      expect([403, 415]).toContain(answer.status());
    }
    await page.goto(address);
    const outcomes = await page.evaluate(async (url) => {
      const tries: [string, RequestInit][] = [
        [url, { method: "DELETE" }],
        [url, { method: "POST", mode: "no-cors", body: new URLSearchParams({ _method: "delete" }) }],
        [`${url}/rename?revision=1`, { method: "POST", mode: "no-cors", body: '{"name":"Stolen"}' }],
      ];
      return Promise.all(tries.map(([to, how]) => fetch(to, how).then((r) => r.type, () => "refused")));
    }, target);
    expect(outcomes).toEqual(["refused", "refused", "refused"]);
    const { revision, job } = await app.read(id);
    expect([revision, job.name]).toEqual([1, "Mine alone"]);
    const names = ((await (await page.request.get("/api/jobs")).json()) as { name: string }[]).map((j) => j.name);
    expect(names).not.toContain("Planted");
  } finally {
    server.close();
  }
});
