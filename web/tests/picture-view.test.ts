import { describe, expect, it } from "vitest";

import { EVERYTHING, MOST_ZOOM, regionOf, WHOLE, zoomed } from "../src/domain/picture-view";

describe("zooming", () => {
  it("keeps the place under the pointer where it is", () => {
    const view = zoomed(WHOLE, 2, 100, -40);
    // A point of the picture lies at zoom × its place + the move.
    expect(2 * 100 + view.x).toBe(100);
    expect(2 * -40 + view.y).toBe(-40);
  });

  it("goes neither below the whole picture nor above its most", () => {
    expect(zoomed(zoomed(WHOLE, 2, 50, 50), 0.1, 0, 0)).toEqual(WHOLE);
    expect(zoomed(WHOLE, 1000, 0, 0).zoom).toBe(MOST_ZOOM);
  });
});

describe("the region one sees", () => {
  it("is everything unzoomed, whatever bars stand beside the picture", () => {
    expect(regionOf(WHOLE, 708, 384, 683, 384)).toEqual(EVERYTHING);
  });

  it("is the middle half at twice the size", () => {
    const region = regionOf({ zoom: 2, x: 0, y: 0 }, 640, 360, 640, 360);
    expect(region).toEqual({ x: 0.25, y: 0.25, width: 0.5, height: 0.5 });
  });

  it("follows a picture that is moved", () => {
    const region = regionOf({ zoom: 2, x: 320, y: 0 }, 640, 360, 640, 360);
    expect(region.x).toBeCloseTo(0);
    expect(region.width).toBeCloseTo(0.5);
  });

  it("ends where the picture ends", () => {
    const region = regionOf({ zoom: 2, x: 480, y: 0 }, 640, 360, 640, 360);
    expect(region.x).toBe(0);
    expect(region.width).toBeCloseTo(0.375);
  });

  it("is everything where the picture was moved out of sight", () => {
    const region = regionOf({ zoom: 2, x: 5000, y: 0 }, 640, 360, 640, 360);
    expect([region.x, region.width]).toEqual([0, 1]);
  });

  it("sees more across in a wide stage than an upright picture has", () => {
    // 9:16, 216 px across: at twice the size the whole width is still to be seen.
    const region = regionOf({ zoom: 2, x: 0, y: 0 }, 708, 384, 216, 384);
    expect([region.x, region.width]).toEqual([0, 1]);
    expect([region.y, region.height]).toEqual([0.25, 0.5]);
  });
});
