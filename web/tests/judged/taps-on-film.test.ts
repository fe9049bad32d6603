/** Taps of the yard lie where the core lays them; a tap's frame keeps the order things came in. */

import { describe, expect, it } from "vitest";

import type { FilmOut } from "../../src/api/client";
import { FrameTimes } from "../../src/domain/frame-times";
import type { StoredEvent } from "../../src/domain/marks";
import { inOrderWith, isSeed, lookFor, movedAlong, seedNear } from "../../src/domain/seeds";
import { layTaps, type FilmedStretch, type Laid, type TapsOn } from "../../src/domain/taps-on-film";
import { Timeline } from "../../src/domain/timeline";

interface Case {
  taps: StoredEvent[];
  films: FilmedStretch[];
  laid: Record<string, Laid>;
}

const made = import.meta.glob<{ laid: Case[] }>("../.made/judged-cases.json", {
  eager: true,
  import: "default",
});
const cases = Object.values(made)[0];
if (!cases) throw new Error("no cases: `make test-web` makes them");
const { laid } = cases;

describe("as the core lays them", () => {
  it.each(laid.map((one, n) => [n, one] as const))("case %i", (_, { taps, films, laid }) => {
    expect(Object.fromEntries(layTaps(taps, films))).toEqual(laid);
  });

  it("is asked about what matters", () => {
    const edges = laid.flatMap((one) => Object.values(one.laid)).filter((at) => at.width_s === 0);
    expect(edges.length).toBeGreaterThan(100);
    expect(laid.filter((one) => Object.keys(one.laid).length > 5).length).toBeGreaterThan(50);
  });
});

/** A film of 20 s at ten pictures a second. */
const film = { id: "goat" } as FilmOut;
const times = new FrameTimes({
  ...{ time_base: [1, 10], first_pts: 0, runs: [[1, 199]], nominal_us: 100_000 },
});
const ON: TapsOn = { clips: { goat: 5 }, moved_s: 0 };

const tap = (id: string, kind: StoredEvent["kind"], best: number, more = {}): StoredEvent => ({
  ...{ id, kind, t: best + 1, width: 2, source: "tap", clock: "phone" as const, ...more },
});
const timelineOf = (taps: StoredEvent[], on: TapsOn | null = ON) =>
  new Timeline([film], new Map([["goat", times]]), 0, taps, on);

describe("a timeline with taps", () => {
  it("has them on the film's time and shows none of those off camera", () => {
    const taps = [tap("a", "onset", 8), tap("early", "onset", 4)];
    const timeline = timelineOf(taps);
    expect(taps.map((one) => timeline.shows(one))).toEqual([true, false]);
    expect(timeline.bestS(taps[0]!)).toBeCloseTo(3, 9);
    expect(timeline.us(taps[0]!)).toBe(4_000_000);
    expect(timeline.uncertaintyS(taps[0]!)).toBeCloseTo(2 / Math.sqrt(12), 9);
    // Any other mark is shown, whatever its time.
    expect(timeline.shows({ id: "n", kind: "note", t: 99 })).toBe(true);
  });

  it("moves all of them by one shared instant", () => {
    const taps = [tap("a", "onset", 8), tap("b", "onset", 12)];
    const timeline = timelineOf(taps, { ...ON, moved_s: null });
    const said = movedAlong(taps[0]!, 5.5, timeline, { ...ON, moved_s: null });
    expect(said).toEqual({ op: "facts", set: { taps_on: { ...ON, moved_s: 2.5 } } });
    const moved = timelineOf(taps, { ...ON, moved_s: 2.5 });
    expect(taps.map((one) => moved.bestS(one))).toEqual([5.5, 9.5]);
  });
});

describe("where a seed is looked for", () => {
  const usual = { markerS: 0.4, rewardS: 1.5 };
  const seed = tap("a", "onset", 10);
  const pay = tap("p", "reward", 10);

  it("before the marker that is near, else where it was tapped", () => {
    const timeline = timelineOf([seed]);
    const marker: StoredEvent = { id: "m", kind: "marker", marker: "event", t: 4.5, width: 0 };
    expect(lookFor(seed, [seed, marker], timeline, usual)).toBeCloseTo(4.1, 9);
    expect(lookFor(seed, [seed, { ...marker, t: 2.9 }], timeline, usual)).toBe(5);
    expect(lookFor(seed, [seed, { ...marker, marker: "no_reward" }], timeline, usual)).toBe(5);
  });

  it("after the marker for a reward, or after its rep", () => {
    const timeline = timelineOf([seed, pay]);
    const onset: StoredEvent = { id: "o", kind: "onset", t: 4, width: 0 };
    expect(lookFor(pay, [onset, pay], timeline, usual)).toBeCloseTo(5.9, 9);
    expect(lookFor(pay, [pay], timeline, usual)).toBe(5);
  });
});

describe("the tap a mark is of", () => {
  const seed = tap("a", "onset", 10);
  it.each([
    [3.0, ON, "a"],
    [7.0, ON, "a"],
    [2.9, ON, undefined],
    [5.0, { ...ON, moved_s: null }, undefined],
    [5.0, null, undefined],
  ] as const)("at %f s", (at, on, id) => {
    expect(seedNear("onset", at, [seed], timelineOf([seed]), on)?.id).toBe(id);
  });
});

describe("what goes along with a rep", () => {
  const put = (state: StoredEvent, isAfter: boolean): StoredEvent => ({
    ...{ id: state.id, kind: state.kind, text: isAfter ? "after" : "at" },
  });
  const rep = tap("rep", "onset", 10);
  const states = [
    tap("step", "criterion", 10, { approximation: "look" }),
    tap("begin", "bout_start", 9.8),
    tap("pause", "bout_end", 11),
    tap("next", "criterion", 12),
  ];
  const all = [rep, tap("pay", "reward", 10), ...states];
  const along = (bestS: number, isShared = false) =>
    inOrderWith(rep, bestS, all, timelineOf(all), put, isShared).map((body) =>
      body.op === "put" ? [body.event.id, body.event["text"]] : [],
    );

  it("is what came first and now would come later, and the other way round", () => {
    expect(along(5.001)).toEqual([]);
    // In the very same instant nothing but rounding would say which comes first.
    expect(along(5)).toEqual([["step", "at"]]);
    expect(along(4.9)).toEqual([["step", "at"]]);
    expect(along(4.5)).toEqual([
      ["step", "at"],
      ["begin", "at"],
    ]);
    expect(along(6.5)).toEqual([["pause", "after"]]);
  });

  it("is only what was tapped with it where all of them move along", () => {
    expect(along(1, true)).toEqual([["step", "at"]]);
    expect(along(15, true)).toEqual([["step", "at"]]);
  });

  it("is no seed of its own: its frame says nothing more than its tap", () => {
    expect(all.filter(isSeed).map(({ id }) => id)).toEqual(["rep", "pay"]);
  });
});
