/** What kind of drill something is of: like is put beside like, and asked for in the same words. */

import type { Drill, Instant } from "../../domain/drill";
import { t } from "../../words";
import type { Choice } from "./use-choice";

export interface DrillKind {
  instant: Instant;
  source: Drill["source"];
  level: Drill["level"];
  asked: "touch" | "lift";
}

export function kindOfDrill({ instant, source, level, asked }: Drill): DrillKind {
  return { instant, source, level, asked: asked ?? "lift" };
}

export function kindOfChoice({ instant, sessionId, level, asked }: Choice): DrillKind {
  return sessionId === null
    ? { instant, source: "drawn", level, asked }
    : { instant, source: "film", level: "film", asked };
}

/** A drill of the same kind and length; null where its film was removed. */
export function choiceLike(drill: Drill): Partial<Choice> | null {
  const { instant, seconds, session_id: sessionId, asked, level } = drill;
  if (level !== "film") return { instant, seconds, sessionId: null, asked: asked ?? "lift", level };
  return sessionId === null ? null : { instant, seconds, sessionId };
}

/** What to press on, in a sentence. */
export function asksFor({ instant, source, level, asked }: DrillKind): string {
  if (source === "film") return t(`drill:asks.film_${instant}`);
  return t(`drill:asks.${asked}_${instant}${level === "both" ? "_both" : ""}` as const);
}
