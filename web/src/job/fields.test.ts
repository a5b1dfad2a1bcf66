import { describe, expect, it } from "vitest";
import type { Design, Job } from "../api/client";
import { fieldRows } from "./fields";

const job = {
  manifolds: [{ id: "m", letter: "B" }],
  rooms: [
    { id: "a", name: "Bath", fields: [{ id: "f", edge: 0, tube_id: "pex-16x2" }, { id: "g", tube_id: "pex-16x2" }] },
    { id: "b", name: "Hall" },
  ],
} as unknown as Job;

describe("circuits of fields", () => {
  it("are rows with their manifold, room and number", () => {
    const design = {
      rooms: [
        { id: "b", fields: [] },
        { id: "a", fields: [{ id: "f", circuits: 1, manifold_id: "m" }, { id: "g", circuits: 3, manifold_id: null }] },
      ],
    } as unknown as Design;
    expect(fieldRows(job, design).map((r) => [r.tag, r.name])).toEqual([
      ["B", "Bath, wall field: 1 circuit"],
      ["–", "Bath, ceiling field: 3 circuits"],
    ]);
  });

  it("are left out as long as the design does not know them", () => {
    expect(fieldRows(job, { rooms: [{ id: "a", fields: [{ id: "old", circuits: 1 }] }] } as unknown as Design)).toEqual([]);
    expect(fieldRows(null, null)).toEqual([]);
  });
});
