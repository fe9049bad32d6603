/**
 * Pictures of exact frames, from the quickest place that has them.
 *
 * Three ways share one face: the review copy decoded in the page, the review copy in a
 * video element, and the server's own decoding of the original.
 */

import { ALL_FORMATS, Input, UrlSource, VideoSampleSink, type VideoSample } from "mediabunny";

import type { FilmOut } from "../api/client";
import type { FrameTimes } from "./frame-times";

/** Where the review copy is. What the browser keeps of it can never be of one made anew. */
export function copyUrl(film: FilmOut): string {
  return `/api/films/${film.id}/review.mp4?copy=${film.copy_key}`;
}

export interface FrameSource {
  readonly way: "window" | "video" | "server";
  /** The picture of one frame, decoded now if need be. */
  decode(frame: number, signal: AbortSignal): Promise<ImageBitmap>;
  /** Pictures of the frames `from` to `to`, in order, as far as they can be had. */
  decodeRun(
    from: number,
    to: number,
    signal: AbortSignal,
  ): AsyncIterable<{ frame: number; picture: ImageBitmap }>;
  close(): void;
}

/** The review copy, decoded in the page. */
export class WindowSource implements FrameSource {
  readonly way = "window";
  private constructor(
    private readonly times: FrameTimes,
    private readonly input: Input,
    private readonly sink: VideoSampleSink,
    /** The demuxer's time of the film's first frame. */
    private readonly shift: number,
  ) {}

  /**
   * `first`: the frame the file begins with. Raises where the page cannot decode: no secure
   * context, no codec.
   */
  static async open(url: string, times: FrameTimes, first = 0): Promise<WindowSource> {
    if (!("VideoDecoder" in window)) throw new Error("this page cannot decode video itself");
    const input = new Input({ source: new UrlSource(url), formats: ALL_FORMATS });
    const track = await input.getPrimaryVideoTrack();
    if (!track || !(await track.canDecode())) {
      input.dispose();
      throw new Error("this page cannot decode the review copy");
    }
    // An edit at the beginning is not applied by the demuxer.
    const shift = (await track.getFirstTimestamp()) - times.mediaTime(first);
    return new WindowSource(times, input, new VideoSampleSink(track), shift);
  }

  async decode(frame: number, signal: AbortSignal): Promise<ImageBitmap> {
    const sample = await this.sink.getSample(this.times.middle(frame) + this.shift);
    // Nobody looks at it any more, and a decoder has only so many pictures to give away.
    if (signal.aborted) sample?.close();
    signal.throwIfAborted();
    if (!sample) throw new Error(`frame ${frame} is not in the review copy`);
    return this.pictureOf(sample);
  }

  async *decodeRun(from: number, to: number, signal: AbortSignal) {
    const start = this.times.middle(from) + this.shift;
    const end = this.times.middle(to) + this.shift;
    for await (const sample of this.sink.samples(start, end)) {
      if (signal.aborted) {
        sample.close();
        return;
      }
      const frame = this.times.atMediaTime(sample.timestamp - this.shift);
      yield { frame, picture: await this.pictureOf(sample) };
    }
  }

  private async pictureOf(sample: VideoSample): Promise<ImageBitmap> {
    const picture = sample.toVideoFrame();
    sample.close();
    try {
      return await createImageBitmap(picture);
    } finally {
      picture.close();
    }
  }

  close(): void {
    this.input.dispose();
  }
}

/** How often and how long to wait for a picture that comes after its seek, milliseconds. */
const LATE_TRIES = 150;
const LATE_MS = 10;

/** The review copy in a video element of its own, one seek a frame. */
export class VideoSource implements FrameSource {
  readonly way = "video";
  private readonly video = document.createElement("video");
  private queue: Promise<unknown> = Promise.resolve();

  constructor(
    url: string,
    private readonly times: FrameTimes,
  ) {
    this.video.muted = true;
    this.video.preload = "auto";
    this.video.src = url;
  }

  decode(frame: number, signal: AbortSignal): Promise<ImageBitmap> {
    // One element shows one frame at a time: seeks wait for each other.
    const picture = this.queue.then(() => this.seek(frame, signal));
    this.queue = picture.catch(() => undefined);
    return picture;
  }

  private async seek(frame: number, signal: AbortSignal): Promise<ImageBitmap> {
    signal.throwIfAborted();
    if (this.video.readyState < HTMLMediaElement.HAVE_METADATA) {
      await happened(this.video, "loadedmetadata");
    }
    const target = this.times.middle(frame);
    if (
      this.video.currentTime !== target ||
      this.video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA
    ) {
      const seeked = happened(this.video, "seeked");
      this.video.currentTime = target;
      await seeked;
    }
    if (this.video.videoWidth === 0) throw new Error("the browser shows no picture of this film");
    return this.picture(frame, signal);
  }

  /**
   * The element's picture once it is the one asked for: on a busy machine the seek may be
   * over before the picture has changed, and the picture says itself when it belongs.
   */
  private async picture(frame: number, signal: AbortSignal): Promise<ImageBitmap> {
    if (!("VideoFrame" in window)) return createImageBitmap(this.video);
    for (let tries = 0; tries < LATE_TRIES; tries++) {
      const shown = new VideoFrame(this.video);
      try {
        if (this.times.atMediaTime(shown.timestamp / 1e6) === frame) {
          return await createImageBitmap(shown);
        }
      } finally {
        shown.close();
      }
      await new Promise((resolve) => setTimeout(resolve, LATE_MS));
      signal.throwIfAborted();
    }
    throw new Error(`the browser does not show frame ${frame}`);
  }

  async *decodeRun(from: number, to: number, signal: AbortSignal) {
    for (let frame = from; frame <= to && !signal.aborted; frame++) {
      yield { frame, picture: await this.decode(frame, signal) };
    }
  }

  close(): void {
    this.video.removeAttribute("src");
    this.video.load();
  }
}

/** The original, decoded by the server: there before the review copy is, and without a codec here. */
export class ServerSource implements FrameSource {
  readonly way = "server";

  constructor(private readonly filmId: string) {}

  async decode(frame: number, signal: AbortSignal): Promise<ImageBitmap> {
    const response = await fetch(`/api/films/${this.filmId}/frames/${frame}.jpg`, { signal });
    if (!response.ok) throw new Error(`the server has no picture of frame ${frame}`);
    return createImageBitmap(await response.blob());
  }

  async *decodeRun(from: number, to: number, signal: AbortSignal) {
    for (let frame = from; frame <= to && !signal.aborted; frame++) {
      yield { frame, picture: await this.decode(frame, signal) };
    }
  }

  close(): void {
    // Nothing is held between requests.
  }
}

function happened(target: HTMLMediaElement, event: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const settle = (then: () => void) => () => {
      target.removeEventListener(event, good);
      target.removeEventListener("error", bad);
      then();
    };
    const good = settle(resolve);
    const bad = settle(() => reject(new Error("the film could not be played")));
    target.addEventListener(event, good);
    target.addEventListener("error", bad);
  });
}
