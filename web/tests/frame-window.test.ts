import { describe, expect, it, vi } from "vitest";

import { FrameTimes } from "../src/domain/frame-times";
import { FrameWindow } from "../src/domain/frame-window";
import type { FrameSource } from "../src/domain/frame-source";

const COUNT = 200;
const times = new FrameTimes({
  time_base: [1, 30],
  first_pts: 0,
  runs: [[1, COUNT - 1]],
  nominal_us: 33_333,
});

/** A source whose pictures are numbers, and that says when each is let go. */
function source(closed: Set<number>, asked: number[]): FrameSource {
  const picture = (frame: number) =>
    ({ frame, close: () => closed.add(frame) }) as unknown as ImageBitmap;
  return {
    way: "window",
    decode: (frame) => {
      asked.push(frame);
      return Promise.resolve(picture(frame));
    },
    async *decodeRun(from, to, signal) {
      for (let frame = from; frame <= to && !signal.aborted; frame++) {
        await Promise.resolve();
        yield { frame, picture: picture(frame) };
      }
    },
    close: () => undefined,
  };
}

function opened() {
  const [closed, asked, came, faults] = [
    new Set<number>(),
    [] as number[],
    [] as number[],
    [] as unknown[],
  ];
  const window = new FrameWindow(
    source(closed, asked),
    times,
    (frame) => came.push(frame),
    (error) => faults.push(error),
  );
  return { window, closed, asked, came, faults };
}

describe("FrameWindow", () => {
  it("decodes the frame asked for first, then what lies ahead, then behind", async () => {
    const { window, came } = opened();
    window.moveTo(100);
    await vi.waitFor(() => expect(came).toHaveLength(31));
    expect(came[0]).toBe(100);
    expect(came.slice(1, 16)).toEqual(Array.from({ length: 15 }, (_, i) => 101 + i));
    expect(Math.min(...came)).toBe(85);
  });

  it("has every neighbour at once while stepping either way", async () => {
    const { window, came } = opened();
    window.moveTo(100);
    await vi.waitFor(() => expect(came).toHaveLength(31));
    for (const by of [1, -1]) {
      for (let frame = 100; Math.abs(frame - 100) < 40; frame += by) {
        window.moveTo(frame);
        if (frame !== 100) expect(window.peek(frame)).toBeDefined();
        await new Promise((resolve) => setTimeout(resolve, 2));
      }
      window.moveTo(100);
      await vi.waitFor(() => expect(window.peek(85)).toBeDefined());
      await vi.waitFor(() => expect(window.peek(115)).toBeDefined());
    }
  });

  it("lets go of what is far away, and of everything when it closes", async () => {
    const { window, closed, came } = opened();
    window.moveTo(20);
    await vi.waitFor(() => expect(came).toHaveLength(31));
    window.moveTo(150);
    expect(closed.size).toBe(31);
    await vi.waitFor(() => expect(window.peek(165)).toBeDefined());
    window.close();
    expect(window.peek(150)).toBeUndefined();
    expect(closed.size).toBe(62);
  });

  it("has the neighbours also where one went back while others were on their way", async () => {
    let open = () => {};
    const gate = { shut: Promise.resolve() };
    const made = source(new Set(), []);
    const slow: FrameSource = {
      ...made,
      async *decodeRun(from, to, signal) {
        await gate.shut;
        yield* made.decodeRun(from, to, signal);
      },
    };
    const window = new FrameWindow(slow, times, () => undefined, vi.fn());
    for (const frame of [100, 115]) {
      window.moveTo(frame);
      await vi.waitFor(() => expect(window.peek(frame + 15)).toBeDefined());
    }
    await vi.waitFor(() => expect(window.peek(100)).toBeDefined());
    gate.shut = new Promise((resolve) => (open = resolve));
    window.moveTo(118);
    // Still there, so that nothing has to be asked for at once; what is on its way is far off now.
    window.moveTo(94);
    expect(window.peek(94)).toBeDefined();
    expect(window.peek(80)).toBeUndefined();
    open();
    await vi.waitFor(() => expect(window.peek(79)).toBeDefined());
    expect(window.peek(109)).toBeDefined();
  });

  it("does not ask again and again for what does not come", async () => {
    const runs: [number, number][] = [];
    const empty: FrameSource = {
      ...source(new Set(), []),
      // eslint-disable-next-line @typescript-eslint/require-await
      async *decodeRun(from, to) {
        runs.push([from, to]);
      },
    };
    new FrameWindow(empty, times, () => undefined, vi.fn()).moveTo(100);
    await new Promise((resolve) => setTimeout(resolve, 20));
    expect(runs).toEqual([[101, 115]]);
  });

  it("stays inside the film", async () => {
    const { window, came } = opened();
    window.moveTo(COUNT - 1);
    await vi.waitFor(() => expect(came).toHaveLength(16));
    expect(Math.max(...came)).toBe(COUNT - 1);
  });

  it("says a fault once and does not hide it", async () => {
    const faults: unknown[] = [];
    const broken = { ...source(new Set(), []), decode: () => Promise.reject(new Error("gone")) };
    new FrameWindow(
      broken,
      times,
      () => undefined,
      (e) => faults.push(e),
    ).moveTo(5);
    await vi.waitFor(() => expect(faults).toEqual([new Error("gone")]));
  });
});
