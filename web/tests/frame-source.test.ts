// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { FrameTimes } from "../src/domain/frame-times";
import { WindowSource } from "../src/domain/frame-source";

const times = new FrameTimes({
  time_base: [1, 30],
  first_pts: 0,
  runs: [[1, 99]],
  nominal_us: 33_333,
});

/** The demuxer, as far as it is asked: it gives pictures away and is told when each is let go. */
const demuxer = vi.hoisted(() => {
  const open = new Set<number>();
  let number = 0;
  const sample = (timestamp: number) => {
    const own = ++number;
    open.add(own);
    const close = () => void open.delete(own);
    return { timestamp, close, toVideoFrame: () => ({ close: () => undefined }) };
  };
  return { open, sample };
});

vi.mock("mediabunny", () => ({
  ALL_FORMATS: [],
  UrlSource: class {},
  Input: class {
    getPrimaryVideoTrack = () =>
      Promise.resolve({
        canDecode: () => Promise.resolve(true),
        getFirstTimestamp: () => Promise.resolve(0),
      });
    dispose = () => undefined;
  },
  VideoSampleSink: class {
    async getSample(at: number) {
      await Promise.resolve();
      return demuxer.sample(at);
    }
    async *samples(from: number, to: number) {
      for (let at = from; at <= to; at += 1 / 30) {
        await Promise.resolve();
        yield demuxer.sample(at);
      }
    }
  },
}));

beforeEach(() => {
  vi.stubGlobal("VideoDecoder", class {});
  vi.stubGlobal("createImageBitmap", () => Promise.resolve({ close: () => undefined }));
});
afterEach(() => {
  vi.unstubAllGlobals();
  demuxer.open.clear();
});

describe("WindowSource", () => {
  it("lets go of each picture it has handed on", async () => {
    const source = await WindowSource.open("/film", times);
    await source.decode(3, new AbortController().signal);
    expect(demuxer.open.size).toBe(0);
  });

  it("lets go of a picture that came when nobody looked at it any more", async () => {
    const source = await WindowSource.open("/film", times);
    const left = new AbortController();
    const coming = source.decode(3, left.signal);
    left.abort();
    await expect(coming).rejects.toThrow();
    expect(demuxer.open.size).toBe(0);
  });

  it("lets go of the rest of a run that is left", async () => {
    const source = await WindowSource.open("/film", times);
    const left = new AbortController();
    const came: number[] = [];
    for await (const { frame } of source.decodeRun(10, 40, left.signal)) {
      came.push(frame);
      if (came.length === 3) left.abort();
    }
    expect(came).toEqual([10, 11, 12]);
    expect(demuxer.open.size).toBe(0);
  });
});
