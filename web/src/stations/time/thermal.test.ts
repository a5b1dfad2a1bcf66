import { describe, expect, it } from "vitest";
import { bytes, dropPhoto, mixed, NO_FLOOR, photo, takePhoto } from "./thermal";

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
