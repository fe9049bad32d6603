import { useCallback, useEffect, useRef } from "react";

import { ClickerEar, type Heard } from "./clicker-ear";

/** The ear for a clicker: open while a drill by clicker runs, and at no other time. */
export function useEar() {
  const ear = useRef<ClickerEar | null>(null);
  const close = useCallback(() => {
    ear.current?.close();
    ear.current = null;
  }, []);
  useEffect(() => close, [close]);
  /** Rejects where there is no microphone, or somebody does not want it heard. */
  const open = useCallback(async () => {
    close();
    ear.current = await ClickerEar.open();
  }, [close]);
  const listen = useCallback(() => ear.current?.listen(), []);
  /** What was heard; null for nothing, undefined where nobody listened. */
  const heard = useCallback((): Heard | null | undefined => {
    const found = ear.current?.heard();
    close();
    return found;
  }, [close]);
  return { open, listen, heard, close };
}
