/** The core's judgement as the API gives it; the types are made from the core's own. */

import { useQuery } from "@tanstack/react-query";

import { api, given } from "./client";
import type { components } from "./schema";

type Schemas = components["schemas"];

export type JudgementOut = Schemas["JudgementOut"];
export type Judgement = Schemas["Judgement"];
export type Decision = Judgement["decision"];
export type Said = Schemas["Said"];
export type SaidBySchool = Schemas["SaidBySchool"];
export type School = SaidBySchool["kind"];

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
      ),
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
