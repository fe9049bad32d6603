/** How much room there is, and whether it is enough for a wide drawing beside its names. */

import { useSyncExternalStore } from "react";

const wide = window.matchMedia("(min-width: 768px)");

function listen(told: () => void) {
  wide.addEventListener("change", told);
  return () => wide.removeEventListener("change", told);
}

/** Asked for in every frame, and to look costs a layout: kept until it changes. */
let pageWidth: number | null = null;

function resized(told: () => void) {
  // Also where a scrollbar comes or goes: of that no event tells.
  const watch = new ResizeObserver(() => {
    pageWidth = null;
    told();
  });
  watch.observe(document.documentElement);
  return () => {
    pageWidth = null;
    watch.disconnect();
  };
}

/** The page's width, pixels; re-renders when it changes. */
export function usePageWidth(): number {
  return useSyncExternalStore(resized, () => (pageWidth ??= document.documentElement.clientWidth));
}

/** Re-renders when the window becomes wide or narrow. */
export function useWide(): boolean {
  return useSyncExternalStore(listen, () => wide.matches);
}
