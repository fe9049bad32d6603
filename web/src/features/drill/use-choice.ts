import { useState } from "react";
import { useSearchParams } from "react-router";

import type { Drills, Instant, LevelKey } from "../../domain/drill";

/** What somebody wants to drill. */
export interface Choice {
  instant: Instant;
  level: LevelKey;
  asked: "touch" | "lift";
  /** The session whose film it is on; null for the drawn animal. */
  sessionId: string | null;
  seconds: number;
  hasClick: boolean;
  isByClicker: boolean;
}

/** As they did it last, on the level that is next; or the film they came from. */
export function useChoice(drills: Drills) {
  const [search] = useSearchParams();
  const last = drills.runs[0];
  const [chosen, setChosen] = useState<Partial<Choice>>({ sessionId: search.get("session") });
  const instant = chosen.instant ?? last?.instant ?? "begins";
  const choice: Choice = {
    level: drills.advice[instant]?.level ?? "clear",
    asked: "lift",
    sessionId: null,
    seconds: 60,
    hasClick: true,
    isByClicker: false,
    ...chosen,
    instant,
  };
  const choose = (values: Partial<Choice>) => setChosen((old) => ({ ...old, ...values }));
  return { choice, choose };
}
