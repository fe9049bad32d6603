/** Hears the clicker in somebody's hand while a drill runs: the sound, and when it was. */

import worklet from "./clicker-worklet.js?url";

/** As the server listens. */
const RATE = 48_000;

interface Piece {
  first: number;
  samples: Float32Array;
}

/** What was heard: 16 bit samples, the first of them at `startMs` of the page's clock. */
export interface Heard {
  pcm: Int16Array<ArrayBuffer>;
  startMs: number;
}

export class ClickerEar {
  private pieces: Piece[] = [];
  /** The page's clock less the sound's, milliseconds: of the piece that was handed on soonest. */
  private aheadMs = Infinity;
  private isOn = false;

  private constructor(
    private readonly stream: MediaStream,
    private readonly context: AudioContext,
    node: AudioWorkletNode,
  ) {
    node.port.onmessage = ({ data }: MessageEvent<Piece>) => {
      const endMs = ((data.first + data.samples.length) / RATE) * 1000;
      this.aheadMs = Math.min(this.aheadMs, performance.now() - endMs);
      if (this.isOn) this.pieces.push(data);
    };
  }

  /** Ask for the microphone. Rejects where there is none, or somebody does not want it heard. */
  static async open(): Promise<ClickerEar> {
    // As it is: what a telephone call smooths away is what a click is made of.
    const stream = await navigator.mediaDevices.getUserMedia({
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
    });
    const context = new AudioContext({ latencyHint: "interactive", sampleRate: RATE });
    try {
      await context.audioWorklet.addModule(worklet);
      const node = new AudioWorkletNode(context, "ear", { numberOfOutputs: 0 });
      context.createMediaStreamSource(stream).connect(node);
      await context.resume();
      return new ClickerEar(stream, context, node);
    } catch (fault) {
      for (const track of stream.getTracks()) track.stop();
      void context.close();
      throw fault;
    }
  }

  listen() {
    this.pieces = [];
    this.isOn = true;
  }

  /** What was heard since `listen`; null where nothing came. */
  heard(): Heard | null {
    this.isOn = false;
    const [first, last] = [this.pieces[0], this.pieces.at(-1)];
    if (!first || !last) return null;
    // A piece that did not come stays silent: each of the others keeps its own time.
    const pcm = new Int16Array(last.first + last.samples.length - first.first);
    for (const piece of this.pieces) {
      piece.samples.forEach((value, n) => {
        pcm[piece.first - first.first + n] = Math.round(Math.max(-1, Math.min(1, value)) * 32767);
      });
    }
    this.pieces = [];
    return { pcm, startMs: this.aheadMs + (first.first / RATE) * 1000 };
  }

  close() {
    for (const track of this.stream.getTracks()) track.stop();
    void this.context.close();
  }
}

/** Whether this page may ask for a microphone at all. */
export function canHear(): boolean {
  return window.isSecureContext && "mediaDevices" in navigator && "AudioWorkletNode" in window;
}
