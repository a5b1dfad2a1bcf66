import { describe, expect, it } from "vitest";
import type { Firm } from "../api/client";
import { fileOf, kept } from "./firm";

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

  it("says where prices are missing", () => expect(kept({ ...bare, purchasing: {} } as Firm)).toEqual(["no prices"]));

  it("comes back from its file as it was", () => expect(JSON.parse(fileOf(bare))).toEqual(bare));
});
