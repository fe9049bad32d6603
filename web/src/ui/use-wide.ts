/** Whether there is room for a wide drawing beside its names. */

import { useSyncExternalStore } from "react";

const wide = window.matchMedia("(min-width: 768px)");

function listen(told: () => void) {
  wide.addEventListener("change", told);
  return () => wide.removeEventListener("change", told);
}

/** Re-renders when the window becomes wide or narrow. */
export function useWide(): boolean {
  return useSyncExternalStore(listen, () => wide.matches);
}
