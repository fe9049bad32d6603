import { useCallback, useEffect, useRef } from "react";

import { ClickSound } from "./click-sound";

/** The click one hears; made when it is first wanted, as a page may only sound once pressed. */
export function useClick() {
  const click = useRef<ClickSound | null>(null);
  const ready = useCallback(() => (click.current ??= new ClickSound()), []);
  useEffect(
    () => () => {
      click.current?.close();
      click.current = null;
    },
    [],
  );
  const sound = useCallback(() => ready().sound(), [ready]);
  /** Seconds until one hears it; null where nothing sounded yet. */
  const delayS = useCallback(() => click.current?.delayS ?? null, []);
  return { ready, sound, delayS };
}
