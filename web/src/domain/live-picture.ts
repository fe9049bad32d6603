/** The picture a player shows while it plays. */

/** That picture with its own time; null where the page cannot have it. */
export function grab(player: HTMLVideoElement): VideoFrame | null {
  if (!("VideoFrame" in window)) return null;
  try {
    return new VideoFrame(player);
  } catch {
    // Between two pictures there may be none.
    return null;
  }
}
