import { describe, expect, it } from "vitest";

import type { FilmOut } from "../src/api/client";
import { FrameTimes } from "../src/domain/frame-times";
import type { StoredEvent } from "../src/domain/marks";
import { Timeline } from "../src/domain/timeline";

const film = (id: string) => ({ id }) as FilmOut;
const times = () =>
  new FrameTimes({
    time_base: [1, 10],
    first_pts: 0,
    runs: [[1, 3]],
    nominal_us: 100_000,
  });
const two = (offset = 0) =>
  new Timeline(
    [film("one"), film("two")],
    new Map([
      ["one", times()],
      ["two", times()],
    ]),
    offset,
  );

describe("clips one after another", () => {
  it("have a second of nothing between them", () => {
    const timeline = two();
    expect(timeline.clips.map((c) => c.startUs)).toEqual([0, 1_400_000]);
    expect(timeline.durationUs).toBe(1_800_000);
  });

  it("find a mark's clip, time and frame", () => {
    const timeline = two();
    const mark: StoredEvent = { id: "m", kind: "onset", frame: 2, clip: "two" };
    expect(timeline.us(mark)).toBe(1_600_000);
    expect(timeline.bestS(mark)).toBeCloseTo(1.55, 9);
    expect(timeline.clipOf({ id: "n", kind: "onset", frame: 1 })?.film.id).toBe("one");
    expect(timeline.at(1_650_000)).toMatchObject({ frame: 2, clip: { film: { id: "two" } } });
    // In the gap the last picture before it is shown.
    expect(timeline.at(900_000)).toMatchObject({ frame: 3, clip: { film: { id: "one" } } });
  });

  it("take the sound's offset off what was heard, and off nothing else", () => {
    const timeline = two(0.05);
    const heard: StoredEvent = { id: "h", kind: "marker", t: 0.25, width: 0, source: "audio" };
    expect(timeline.us(heard)).toBe(200_000);
    expect(timeline.us({ ...heard, source: "tap" })).toBe(250_000);
  });

  it("know how sure a mark is", () => {
    const timeline = two();
    const tap: StoredEvent = { id: "t", kind: "onset", t: 0.2, width: 0.12, source: "tap" };
    expect(timeline.uncertaintyS(tap)).toBeCloseTo(0.12 / Math.sqrt(12), 9);
    expect(timeline.uncertaintyS({ id: "f", kind: "onset", frame: 1 })).toBeCloseTo(
      0.1 / Math.sqrt(12),
      9,
    );
  });
});
