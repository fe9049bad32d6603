// A hand of known lag and spread: watches the picture, draws its lags from a lot of its own, waits
// on the page's clock alone (no timers), and presses a key. What it did stands in `window.hand`.
(told) => {
  let state = told.seed;
  const lot = () => {
    state = (state * 1664525 + 1013904223) % 4294967296;
    return (state + 0.5) / 4294967296;
  };
  const normal = () => Math.sqrt(-2 * Math.log(lot())) * Math.cos(2 * Math.PI * lot());
  const hand = { lags: [], clicks: 0 };
  const waiting = [];
  const turn = new MessageChannel();
  turn.port1.onmessage = () => {
    const next = waiting[0];
    if (!next) return;
    if (performance.now() >= next.at) {
      waiting.shift();
      const event = new KeyboardEvent("keydown", { key: "j", bubbles: true, cancelable: true });
      window.dispatchEvent(event);
      hand.lags.push((event.timeStamp - next.due) / 1000);
    }
    if (waiting.length > 0) turn.port2.postMessage(0);
  };
  /** Something was seen that is due at `due`, milliseconds of the page's clock. */
  const sees = (due) => {
    waiting.push({ due, at: due + told.lag_ms + told.sd_ms * normal() });
    if (waiting.length === 1) turn.port2.postMessage(0);
  };

  // The drawn animal: a change is heard of within the frame it is drawn in.
  let was = null;
  new MutationObserver(() => {
    const svg = document.querySelector("svg[data-whom]");
    const is = svg && told.parts.every((name) => svg.dataset[name] === "1");
    const running = document.querySelector("[data-running=true]");
    if (running && was !== null && is !== was) {
      if (is === told.is_there) sees(document.timeline.currentTime + told.hold_ms);
      // Let go before it was held long enough: nothing to mark.
      else if (told.hold_ms > 0) {
        const last = waiting.at(-1);
        if (last && last.due > document.timeline.currentTime) waiting.pop();
      }
    }
    was = is;
  }).observe(document.body, { subtree: true, attributes: true });

  // A film: the pictures that are painted, by their own times, in the frame each is painted in. What
  // the hidden player tells of itself may be a picture behind that.
  let lastS = null;
  const draw = CanvasRenderingContext2D.prototype.drawImage;
  CanvasRenderingContext2D.prototype.drawImage = function (picture, ...more) {
    const s = picture.timestamp / 1e6;
    if (lastS !== null && s > lastS && s - lastS < 0.2) {
      for (const onset of told.onsets_s) {
        if (lastS < onset - 0.001 && s >= onset - 0.001) sees(document.timeline.currentTime);
      }
    }
    lastS = s;
    return draw.call(this, picture, ...more);
  };

  const start = AudioBufferSourceNode.prototype.start;
  AudioBufferSourceNode.prototype.start = function (...more) {
    hand.clicks += 1;
    return start.apply(this, more);
  };
  window.hand = hand;
};
