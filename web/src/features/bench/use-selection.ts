/** Which mark is chosen, and what pointing at a frame does meanwhile. */

import { useCallback, useMemo, useState } from "react";

import type { MarkKind } from "../../domain/marks";

/**
 * What pointing at a frame does: go there, place a mark, or move the one that is chosen.
 * While a mark is being named, it goes there too, and the mark stays on its own frame.
 */
export type Pointing =
  | { does: "go" }
  | { does: "place"; kind: MarkKind }
  | { does: "move"; id: string }
  | { does: "name"; kind: MarkKind; frame: number };

export type Selection = ReturnType<typeof useSelection>;

export function useSelection() {
  const [chosen, setChosen] = useState<string | null>(null);
  const [pointing, setPointing] = useState<Pointing>({ does: "go" });
  const letGo = useCallback(() => {
    setChosen(null);
    setPointing({ does: "go" });
  }, []);
  return useMemo(
    () => ({ chosen, setChosen, pointing, setPointing, letGo }),
    [chosen, letGo, pointing],
  );
}
