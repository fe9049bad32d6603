/** The click of a clicker: heard when one presses, without waiting for anything. */

const RATE = 48_000;
/** A press and its release: short bursts that die away, seconds and loudness. */
const BURSTS = [
  { at: 0, loud: 0.9 },
  { at: 0.055, loud: 0.45 },
];
const BURST_S = 0.004;
const PITCH_HZ = [3100, 5200];

/** Made when the reviewer first presses a button: a page may not sound before. */
export class ClickSound {
  private readonly context = new AudioContext({ latencyHint: "interactive", sampleRate: RATE });
  private readonly buffer: AudioBuffer;

  constructor() {
    this.buffer = this.context.createBuffer(1, RATE * 0.08, RATE);
    const wave = this.buffer.getChannelData(0);
    for (const { at, loud } of BURSTS) {
      const first = Math.round(at * RATE);
      for (let n = 0; n < BURST_S * 4 * RATE; n++) {
        const s = n / RATE;
        const tones = PITCH_HZ.map((hz) => Math.sin(2 * Math.PI * hz * s));
        const tone = tones.reduce((sum, one) => sum + one, 0) / tones.length;
        wave[first + n] = (wave[first + n] ?? 0) + loud * tone * Math.exp(-s / BURST_S);
      }
    }
  }

  /** Sound now. */
  sound() {
    void this.context.resume();
    const source = this.context.createBufferSource();
    source.buffer = this.buffer;
    source.connect(this.context.destination);
    source.start();
  }

  /** Seconds until one hears it, as far as the browser knows. */
  get delayS(): number {
    return this.context.baseLatency + (this.context.outputLatency || 0);
  }

  close() {
    void this.context.close();
  }
}
