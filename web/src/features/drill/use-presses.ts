import { useEffect, useRef } from "react";

import { byPointer, isPress, type PressedBy } from "../../domain/drill";

interface Presses {
  isOn: boolean;
  onPress: (atMs: number, by: PressedBy) => void;
  onStop: () => void;
}

/**
 * Any key, and the stage under a finger or the mouse, while a drill runs. The instant is that of
 * the event itself, on the clock of the display's frames, whenever the page comes to hear of it.
 */
export function usePresses({ isOn, onPress, onStop }: Presses) {
  const stage = useRef<HTMLDivElement>(null);
  const latest = useRef({ onPress, onStop });
  useEffect(() => {
    latest.current = { onPress, onStop };
  });
  useEffect(() => {
    if (!isOn) return;
    const key = (event: KeyboardEvent) => {
      if (event.key === "Escape") latest.current.onStop();
      if (event.ctrlKey || event.metaKey || event.altKey || event.key === "Tab") return;
      // A space or Enter presses no button meanwhile.
      event.preventDefault();
      if (isPress(event)) latest.current.onPress(event.timeStamp, "key");
    };
    const pointer = (event: PointerEvent) => {
      event.preventDefault();
      latest.current.onPress(event.timeStamp, byPointer(event));
    };
    const target = stage.current;
    window.addEventListener("keydown", key);
    target?.addEventListener("pointerdown", pointer);
    return () => {
      window.removeEventListener("keydown", key);
      target?.removeEventListener("pointerdown", pointer);
    };
  }, [isOn]);
  return stage;
}
