/** What holds until it is changed: conditions of the reps, where rewards go. */

import { useCallback, useMemo, useState } from "react";

import type { PlanBody, StoredEvent } from "../../domain/marks";

export interface Condition {
  name: string;
  levels: string[];
}

export interface HeldConditions {
  /** The conditions one can set, from the plan and from what is marked already. */
  conditions: Condition[];
  /** Level in force by condition. */
  inForce: Record<string, string>;
  setCondition: (name: string, level: string | null) => void;
  /** Places rewards go to, and the one in force. */
  placements: string[];
  placement: string | null;
  /** Whether a new rep fits until it is judged otherwise. */
  isFitting: boolean;
  setFitting: (fits: boolean) => void;
  setPlacement: (placement: string | null) => void;
  /** Cues one can say, and the one that is said until another is chosen. */
  cues: string[];
  cue: string | null;
  setCue: (cue: string | null) => void;
  /** What a new event of this kind takes from all that. */
  fieldsOf: (kind: string) => Record<string, unknown>;
}

interface Kept {
  inForce: Record<string, string>;
  placement: string | null;
  isFitting?: boolean;
  cue?: string | null;
}

/** `planned`: the conditions of the shaping plan the session was filmed under. */
export function useHeldConditions(
  sessionId: string,
  plan: PlanBody,
  planned: { name: string; levels?: string[] }[],
  events: StoredEvent[],
): HeldConditions {
  const store = `frequens.standing.${sessionId}`;
  const [kept, setKept] = useState<Kept>(() => read(store));
  const change = useCallback(
    (next: Kept) => {
      localStorage.setItem(store, JSON.stringify(next));
      setKept(next);
    },
    [store],
  );

  const conditions = useMemo(() => {
    const found = new Map<string, Set<string>>();
    for (const { name, levels } of planned) found.set(name, new Set(levels));
    for (const event of events) {
      const marked = (event["conditions"] ?? {}) as Record<string, unknown>;
      for (const [name, level] of Object.entries(marked)) {
        if (!found.has(name)) found.set(name, new Set());
        found.get(name)?.add(String(level));
      }
    }
    for (const [name, level] of Object.entries(kept.inForce)) {
      if (!found.has(name)) found.set(name, new Set());
      found.get(name)?.add(level);
    }
    return [...found].map(([name, levels]) => ({ name, levels: [...levels] }));
  }, [planned, events, kept.inForce]);
  const placements = useMemo(() => {
    const planned = Object.keys(plan.placement ?? {});
    const used = events.flatMap((e) =>
      e.kind === "reward" && typeof e["placement"] === "string" ? [e["placement"]] : [],
    );
    return [...new Set([...planned, ...used, ...(kept.placement ? [kept.placement] : [])])];
  }, [plan, events, kept.placement]);

  const cues = useMemo(() => {
    const used = events.flatMap((e) =>
      e.kind === "cue" && typeof e["label"] === "string" ? [e["label"]] : [],
    );
    return [...new Set([...(plan.cues ?? []).map((cue) => cue.label), ...used])];
  }, [plan, events]);
  // A plan with one cue needs no choosing.
  const cue = kept.cue === undefined ? (cues.length === 1 ? (cues[0] ?? null) : null) : kept.cue;

  const fieldsOf = useCallback(
    (kind: string): Record<string, unknown> => {
      if (kind === "onset") {
        return {
          ...(Object.keys(kept.inForce).length > 0 ? { conditions: kept.inForce } : {}),
          ...(kept.isFitting ? { met: true } : {}),
        };
      }
      if (kind === "cue") return cue ? { label: cue } : {};
      return kind === "reward" && kept.placement ? { placement: kept.placement } : {};
    },
    [cue, kept],
  );
  return {
    conditions,
    inForce: kept.inForce,
    setCondition: (name, level) => {
      const inForce = { ...kept.inForce };
      if (level === null) delete inForce[name];
      else inForce[name] = level;
      change({ ...kept, inForce });
    },
    placements,
    placement: kept.placement,
    isFitting: kept.isFitting ?? false,
    setFitting: (isFitting) => change({ ...kept, isFitting }),
    setPlacement: (placement) => change({ ...kept, placement }),
    cues,
    cue,
    setCue: (cue) => change({ ...kept, cue }),
    fieldsOf,
  };
}

function read(store: string): Kept {
  try {
    const found = JSON.parse(localStorage.getItem(store) ?? "null") as Kept | null;
    return found ?? { inForce: {}, placement: null };
  } catch {
    return { inForce: {}, placement: null };
  }
}
