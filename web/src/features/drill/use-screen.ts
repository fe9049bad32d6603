import { useMemo } from "react";

import { useFrames, useSession } from "../../api/queries";
import { FrameTimes } from "../../domain/frame-times";

/** The films a drill plays; null while they are fetched, and where it is on the drawn animal. */
export function useScreen(sessionId: string | null) {
  const session = useSession(sessionId ?? "", sessionId !== null);
  const films = useMemo(() => session.data?.films.filter((f) => f.usable) ?? [], [session.data]);
  const frames = useFrames(films);
  return useMemo(
    () =>
      frames.data && films.length > 0
        ? { films, times: new Map(frames.data.map((f) => [f.id, new FrameTimes(f.frames)])) }
        : null,
    [films, frames.data],
  );
}
