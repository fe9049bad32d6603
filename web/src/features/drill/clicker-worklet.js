/** In the thread of the sound: hands on what the microphone heard, with each sample's place. */

const TOGETHER = 1024;

class Ear extends AudioWorkletProcessor {
  constructor() {
    super();
    this.held = new Float32Array(TOGETHER);
    this.count = 0;
  }

  process([input]) {
    const heard = input?.[0];
    if (heard) {
      this.held.set(heard, this.count);
      this.count += heard.length;
    }
    if (this.count === TOGETHER) {
      const first = currentFrame + heard.length - TOGETHER;
      this.port.postMessage({ first, samples: this.held.slice() });
      this.count = 0;
    }
    return true;
  }
}

registerProcessor("ear", Ear);
