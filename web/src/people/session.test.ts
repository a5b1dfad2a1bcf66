import { describe, expect, it } from "vitest";
import type { SessionInfo } from "../api/client";
import { changesJobs, wayBack } from "./session";

describe("the way back after signing in", () => {
  it("leads into the app, and never to another site", () => {
    expect(wayBack("/jobs/a/rooms?view=plan")).toBe("/jobs/a/rooms?view=plan");
    for (const to of [undefined, "", "https://evil.example", "//evil.example", "/\\evil.example", "javascript:alert(1)", ["/people"]]) expect(wayBack(to)).toBe("/");
  });
});

it("owners and designers change jobs; before anybody is known, the machine's own user does", () => {
  const of = (role: SessionInfo["role"]) => changesJobs({ needed: true, name: "", role });
  expect([changesJobs(null), of("owner"), of("designer"), of("crew"), of("viewer"), of(null)]).toEqual([true, true, true, false, false, false]);
  expect(changesJobs({ needed: false, name: "", role: null })).toBe(true);
});
