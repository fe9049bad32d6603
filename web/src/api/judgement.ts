/** The core's judgement as the API gives it; the names are those of docs/measures.md. */

import { useQuery } from "@tanstack/react-query";

import { api, given } from "./client";
import type { components } from "./schema";

export type Decision = "raise" | "hold" | "lower" | "split" | "fade" | "proof" | "end" | "none";

export interface Said {
  code: string;
  text: string;
  numbers: Record<string, number | string>;
}

export interface SaidBySchool {
  kind: School;
  decision: "raise" | "hold" | "lower";
  reason: string;
  numbers: Record<string, number>;
}

export type School = "run" | "share" | "block" | "percentile" | "comfort";

export interface Judgement {
  decision: Decision;
  step: string | null;
  next_step: string | null;
  help: string | null;
  split_between: [string | null, string | null] | null;
  why: Said;
  beside: Said[];
  school: SaidBySchool;
  other_schools: Partial<Record<School, SaidBySchool>>;
  record: {
    sessions: number;
    judged: number;
    met: number;
    low: number | null;
    high: number | null;
    by_hand: number;
    since: string | null;
  };
  headline: string;
  hands: string | null;
  checked: { code: string; question: string; found: string }[];
  attempts: string[];
}

export type JudgementOut = Omit<components["schemas"]["JudgementOut"], "judgement"> & {
  judgement: Judgement;
};

export const judgementKey = (sessionId: string) => ["judgement", sessionId];

/** What to do next, judged with all sessions of the behaviour up to this one. */
export function useJudgement(sessionId: string) {
  return useQuery({
    queryKey: judgementKey(sessionId),
    queryFn: async () =>
      given(
        await api.GET("/api/sessions/{session_id}/judgement", {
          params: { path: { session_id: sessionId } },
        }),
      ) as unknown as JudgementOut,
  });
}

/** The decisions, a word or two each. */
export const DECISIONS: Record<string, string> = {
  raise: "Raise",
  hold: "Hold",
  lower: "One step back",
  split: "A smaller step",
  fade: "Less help",
  proof: "Elsewhere now",
  end: "Stop for today",
  none: "Nothing judged",
};

export const SCHOOLS: Record<School, string> = {
  run: "a run in a row",
  share: "a share of the last reps",
  block: "blocks of reps",
  percentile: "a criterion that moves with the animal",
  comfort: "the animal's own ease",
};
/** Every school, in the order of the screens. */
export const ALL_SCHOOLS = Object.keys(SCHOOLS) as School[];

/** Why a school holds, in words. */
export const HOLDS: Record<string, string> = {
  too_few: "hold, too few to say",
  between: "hold",
  mid_block: "hold until the block is full",
};
