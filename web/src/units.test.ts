import { describe, expect, it } from "vitest";
import { dialect, figure, parse, parseLength, show, showConductivity, twoLengths } from "./units";

describe("typed lengths", () => {
  const cases: [string, number][] = [
    ["4.2 m", 4.2],
    ["4,2m", 4.2],
    ["420 cm", 4.2],
    ["4200mm", 4.2],
    ["13' 9 1/2\"", 13 * 0.3048 + 9.5 * 0.0254],
    ["13'9 1/2", 13 * 0.3048 + 9.5 * 0.0254],
    ["13′ 9″", 13 * 0.3048 + 9 * 0.0254],
    ["13.8ft", 13.8 * 0.3048],
    ["13 ft 6 in", 13.5 * 0.3048],
    ["13'", 13 * 0.3048],
    ["9 in", 9 * 0.0254],
    ["1/2\"", 0.0127],
    ["9 1/2\"", 9.5 * 0.0254],
    ["13' 1/2\"", 13 * 0.3048 + 0.0127],
    ["-2 m", -2],
  ];
  it.each(cases)("reads %s in either system", (text, metres) => {
    expect(parseLength(text, "metric")).toBeCloseTo(metres, 9);
    expect(parseLength(text, "us")).toBeCloseTo(metres, 9);
  });
  it("takes two of them in one field, as one says them", () => {
    expect(twoLengths("36 x 24")).toEqual(["36", "24"]);
    expect(twoLengths("13' 9 1/2\" × 9'")).toEqual(["13' 9 1/2\"", "9'"]);
    expect(twoLengths("4,2 m by 3 m")).toEqual(["4,2 m", "3 m"]);
    expect(twoLengths("4.2m x 3m")).toEqual(["4.2m", "3m"]);
    for (const one of ["4.2 m", "13' 9 1/2\"", "x", "6 ft 3 in", ""]) expect(twoLengths(one)).toEqual([one, ""]);
  });

  it("takes a bare number in the job's own unit", () => {
    expect(parseLength("10", "metric")).toBe(10);
    expect(parseLength("10", "us")).toBeCloseTo(3.048, 6);
    expect(parseLength("150", "metric", "size")).toBeCloseTo(0.15, 9);
    expect(parseLength("6", "us", "size")).toBeCloseTo(0.1524, 6);
  });
  it.each(["", "m", "four", "4 x", "4 m m", "1/0\"", "'", "12 3"])("refuses %s", (text) => {
    expect(parseLength(text, "metric")).toBeNull();
  });
});

describe("American habits", () => {
  const BTU_H = 1 / 3.412141633;
  it("tell heat to the ten, with thousands parted", () => {
    expect([40_071, 996, -1_004, 1_234_567, 3].map((b) => show("heat", b * BTU_H, "us"))).toEqual(["40,070 BTU/h", "1,000 BTU/h", "-1,000 BTU/h", "1,234,570 BTU/h", "0 BTU/h"]);
    expect(show("heat", 11_744, "metric")).toBe("11744 W");
  });
  it("read thousands parted by commas, and decimal commas still", () => {
    expect(parse("heat", "80,000 BTU/h", "metric")).toBeCloseTo(80_000 * BTU_H, 6);
    expect(parse("heat", "1,250,000", "us")).toBeCloseTo(1_250_000 * BTU_H, 3);
    expect(parse("heat", "12,000", "metric")).toBe(12_000);
    expect(parse("flow", "1,25", "metric")).toBe(1.25);
    expect(parse("heat", "80,00,000", "us")).toBeNull();
  });
  it("read the R of insulation as it is sold", () => {
    expect(parse("resistance", "R-21", "metric")).toBeCloseTo(21 / 5.678263341, 9);
    expect(parse("resistance", "r38", "us")).toBeCloseTo(38 / 5.678263341, 9);
    expect(parse("transmittance", "R-20", "us")).toBeCloseTo(5.678263341 / 20, 9);
    expect([parse("transmittance", "R-0", "us"), parse("heat", "R-20", "us")]).toEqual([null, null]);
  });
});

describe("other quantities", () => {
  it("reads both systems whatever the job shows", () => {
    expect(parse("temperature", "68 °F", "metric")).toBeCloseTo(20, 9);
    expect(parse("temperature", "-10", "metric")).toBe(-10);
    expect(parse("temperature", "−10 °C", "us")).toBe(-10);
    expect(parse("temperature", "14", "us")).toBeCloseTo(-10, 9);
    expect(parse("difference", "18 °F", "metric")).toBeCloseTo(10, 9);
    expect(parse("transmittance", "0.28 W/m2K", "us")).toBeCloseTo(0.28, 9);
    expect(parse("head", "30 kPa", "us")).toBeCloseTo(30000, 6);
  });
  it("refuses units of something else", () => {
    expect(parse("temperature", "20 m", "metric")).toBeNull();
    expect(parse("heat", "", "metric")).toBeNull();
  });
});

describe("shown figures", () => {
  it("writes feet and inches", () => {
    expect(show("length", 13 * 0.3048 + 9.5 * 0.0254, "us")).toBe("13' 9 1/2\"");
    expect([15.75, 6.3, 11.9, -0.05].map((inches) => show("length", inches * 0.0254, "us"))).toEqual(["1' 3 3/4\"", "0' 6 1/4\"", "1' 0\"", "0' 0\""]);
    expect(show("length", 0.3048 * 12 - 0.001, "us")).toBe("12' 0\"");
    expect(show("length", -0.3048, "us")).toBe("-1' 0\"");
  });
  it("comes back from what it shows", () => {
    for (const m of [0.3, 1, 4.2, 12.345]) {
      // shown to half an inch
      expect(Math.abs((parseLength(show("length", m, "us"), "us") ?? NaN) - m)).toBeLessThan(0.0064);
      expect(parseLength(show("length", m, "metric"), "metric")).toBeCloseTo(m, 2);
    }
  });
  it("has no negative zero and says when there is nothing", () => {
    expect(figure("heat", -0.3, "metric")).toBe("0");
    expect(show("heat", null, "metric")).toBe("–");
    expect(show("share", 0.5, "us")).toBe("50%");
  });
});

describe("units of the trade besides those shown", () => {
  it("are read as they are typed, whichever system is shown", () => {
    expect([parse("heat", "31 kW", "metric"), parse("heat", "31kW", "us"), parse("pressure", "150 kPa", "us"), parse("head", "300 mbar", "metric"), parse("flow", "120 L/h", "us")]).toEqual([31_000, 31_000, 150_000, 30_000, 2]);
    expect(parse("heat", "60 MBH", "metric")).toBeCloseTo(60_000 * 0.29307107, 2);
    expect(parse("head", "6 m", "us")).toBeCloseTo(6 * 9806.65, 6);
    expect([parse("heat", "31 bar", "metric"), parse("flow", "2 kW", "metric"), parse("temperature", "3 kW", "us")]).toEqual([null, null, null]);
  });
  it("leave no noise in the last digits", () => {
    expect([parse("size", "18", "metric"), parse("heat", "4.3 kW", "metric")]).toEqual([0.018, 4300]);
  });
});

describe("insulation in feet and inches", () => {
  it("has an R for each inch, shown and typed", () => {
    // R-5 per inch is 0.02885 W/mK: 1 in ÷ (5 × 0.17611 m²K/W)
    const foam = 0.0254 / (5 / 5.678263341);
    expect(showConductivity(foam, "us")).toBe("R-5.0 per in");
    expect(showConductivity(0.035, "metric")).toBe("0.035 W/mK");
    for (const typed of ["R-5/in", "R5 per inch", "5/in", "r-5 / in"]) expect(parse("linear", typed, "us")).toBeCloseTo(foam, 9);
    expect(parse("linear", "R-0/in", "us")).toBeNull();
    expect(parse("linear", "0.035 W/mK", "us")).toBe(0.035);
  });
});

describe("words of those who have other units", () => {
  it("are theirs in US units only, small and capital", () => {
    expect(dialect("Pressure drop of the index loop", "us")).toBe("Head loss of the index loop");
    expect(dialect("an own build-up, two build-ups", "us")).toBe("an own floor assembly, two floor assemblies");
    expect(dialect("Pressure drop", "metric")).toBe("Pressure drop");
  });
});
