import { describe, expect, it } from "vitest";
import type { Firm } from "../api/client";
import { fileOf, jobChoices, kept, ownProducts } from "./firm";

const bare: Firm = { format: "fuoco-firm", version: 1, name: "Alder Heating", lines: ["4 Mill Lane"] };

describe("what a firm keeps for new jobs", () => {
  it("is nothing as long as only its name is known", () => expect(kept(bare)).toEqual([]));

  it("is told with its counts", () => {
    const firm = {
      ...bare,
      rules: { name: "Short loops, cool water" },
      purchasing: { prices: { currency: "€", rows: [{}, {}] }, labour: { hour_price: 46.5 }, quote: { valid_days: 1 }, coils: { stocked: [{}] } },
      constructions: [{}],
      build_ups: [{}, {}],
    } as unknown as Firm;
    expect(kept(firm)).toEqual(["rules “Short loops, cool water”", "2 prices in €", "an hour of work at 46.50 €", "offers that hold for 1 day", "1 stocked coil", "2 own build-ups", "1 own construction"]);
  });

  it("shows its own products by their figures, in the viewer's units", () => {
    const firm = {
      ...bare,
      tubes: [{ id: "t", name: "Layered 16", od_m: 0.016, wall_m: 0.002, bend_radius_m: 0.08, longest_loop_m: 100 }],
      pumps: [{ id: "p", name: "On the shelf", most_w: 45, curve: [{ flow_l_min: 0, head_m: 6 }, { flow_l_min: 50, head_m: 0 }] }],
    } as Firm;
    expect(ownProducts(firm, "metric").map((p) => [p.kind, p.name, p.figures])).toEqual([
      ["Tube", "Layered 16", "16 mm × 2 mm, loops up to 100.0 m"],
      ["Pump", "On the shelf", "up to 45 W, 58.8 kPa at no flow"],
    ]);
    expect(ownProducts(firm, "us")[1]!.figures).toContain("19.7 ft head");
    expect(kept(firm)).toEqual(["1 own tube", "1 own pump"]);
  });

  it("tells jobs of one name apart", () => {
    const entry = (id: string, name: string, customer = "") => ({ id, name, customer, address: "", changed_at: "2026-11-30T08:15:00Z" });
    const said = jobChoices([entry("a", "Barn"), entry("b", "Annex", "A. Weller"), entry("c", "Annex")]).map((c) => c.text);
    expect(said[0]).toBe("Barn");
    expect(said[1]).toMatch(/^Annex \(A\. Weller, changed 30 Nov 2026/);
    expect(said[2]).toMatch(/^Annex \(changed 30 Nov 2026/);
  });

  it("says where prices are missing", () => expect(kept({ ...bare, purchasing: {} } as Firm)).toEqual(["no prices"]));

  it("comes back from its file as it was", () => expect(JSON.parse(fileOf(bare))).toEqual(bare));
});
