import { useEffect } from "react";

/** Keep the screen on while `wanted`; a browser that cannot, or will not, goes on without. */
export function useWakeLock(wanted: boolean): void {
  useEffect(() => {
    if (!wanted || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let isOver = false;
    const ask = async () => {
      if (document.visibilityState !== "visible") return;
      lock = await navigator.wakeLock.request("screen").catch(() => null);
      if (isOver) void lock?.release();
    };
    // It is given back whenever another page is looked at.
    const again = () => void ask();
    document.addEventListener("visibilitychange", again);
    again();
    return () => {
      isOver = true;
      document.removeEventListener("visibilitychange", again);
      void lock?.release();
    };
  }, [wanted]);
}
