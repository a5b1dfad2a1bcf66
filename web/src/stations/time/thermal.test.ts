import { beforeEach, describe, expect, it } from "vitest";
import { asked, bytes, clockOf, dropPhoto, mixed, NO_FLOOR, photo, SUNS, takePhoto, trialOf } from "./thermal";

describe("the thermal picture between two frames", () => {
  it("reads bytes from Base64, and has nothing off the floors", () => {
    const a = bytes(btoa(String.fromCharCode(0, 100, NO_FLOOR)));
    const b = bytes(btoa(String.fromCharCode(10, 100, NO_FLOOR)));
    const out = mixed(a, b, 0.5, { origin: [0, 0], step_m: 0.05, columns: 3, rows: 1, low_c: 12, per_k: 0.1 });
    expect(out[0]).toBeCloseTo(12.5);
    expect(out[1]).toBeCloseTo(22);
    expect(out[2]).toBeNaN();
  });
});

describe("a camera's photo", () => {
  it("lies in the middle of what is seen, as high as its pixels say, and goes", () => {
    takePhoto("blob:none", "camera.png", [400, 200], [10, 5], 4);
    expect(photo).toMatchObject({ width_m: 4, at: [8, 4], turn_deg: 0 });
    dropPhoto();
    expect(photo.url).toBe("");
  });
});

describe("what is asked of the server", () => {
  const has = (id: string) => ["A1", "A2"].includes(id);
  beforeEach(() => void Object.assign(asked, { hours: 12, begin_c: 12, sun: "none", outdoor_c: null, open: "", wrong: "nothing", first: "", second: "" }));

  it("is a warm-up as it is piped, until something is wrong", () => {
    expect(trialOf("ground", has)).toMatchObject({ level_id: "ground", hours: 12, begin_c: 12, sun_day: undefined, open: [], swapped: undefined, air_locked: [], reversed: [] });
    Object.assign(asked, { wrong: "air", first: "A2", open: "A1" });
    expect(trialOf("ground", has)).toMatchObject({ air_locked: ["A2"], reversed: [], open: ["A1"] });
    asked.wrong = "backwards";
    expect(trialOf("ground", has)).toMatchObject({ air_locked: [], reversed: ["A2"] });
  });

  it("swaps two loops of this level that are two", () => {
    Object.assign(asked, { wrong: "swapped", first: "A1", second: "A2" });
    expect(trialOf("ground", has).swapped).toEqual(["A1", "A2"]);
    asked.second = "A1";
    expect(trialOf("ground", has).swapped).toBeUndefined();
    // chosen on another level
    asked.second = "B7";
    expect(trialOf("ground", has).swapped).toBeUndefined();
    asked.open = "B7";
    expect(trialOf("ground", has).open).toEqual([]);
  });

  it("is a day with the sun of a date, in weather that is typed or designed", () => {
    Object.assign(asked, { sun: "79", hours: 96 });
    expect(trialOf("ground", has)).toMatchObject({ hours: 24, sun_day: 79, outdoor_c: undefined });
    asked.outdoor_c = 4;
    expect(trialOf("ground", has).outdoor_c).toBe(4);
    // a warm-up is on the design day
    asked.sun = "none";
    expect(trialOf("ground", has)).toMatchObject({ hours: 96, outdoor_c: undefined });
  });

  it("begins at midnight and ends there, told apart", () => {
    expect([0, 47520, 86400].map(clockOf)).toEqual(["00:00", "13:12", "24:00"]);
  });

  it("has days of the year for its dates", () => {
    for (const { value, text } of SUNS.filter((s) => s.value !== "none")) {
      const date = new Date(Date.UTC(2025, 0, 1 + Number(value)));
      expect(`${date.getUTCDate()} ${date.toLocaleDateString("en", { month: "long", timeZone: "UTC" })}`).toBe(text);
    }
  });
});
