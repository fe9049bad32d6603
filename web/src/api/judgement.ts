/** The core's judgement as the API gives it; the types are made from the core's own. */

import { useQuery } from "@tanstack/react-query";

import { api, given } from "./client";
import type { components } from "./schema";
import { t } from "../words";

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
  raise: t("api:judgement.raise"),
  hold: t("api:judgement.hold"),
  lower: t("api:judgement.one_step_back"),
  split: t("api:judgement.a_smaller_step"),
  fade: t("api:judgement.less_help"),
  proof: t("api:judgement.elsewhere_now"),
  end: t("api:judgement.stop_for_today"),
  none: t("api:judgement.nothing_judged"),
};

export const SCHOOLS: Record<School, string> = {
  run: t("api:judgement.a_run_in_a_row"),
  share: t("api:judgement.a_share_of_the_last"),
  block: t("api:judgement.blocks_of_reps"),
  percentile: t("api:judgement.a_criterion_that_moves_with"),
  comfort: t("api:judgement.the_animals_own_ease"),
};
/** Every school, in the order of the screens. */
export const ALL_SCHOOLS = Object.keys(SCHOOLS) as School[];

/** Why a school holds, in words. */
export const HOLDS: Record<string, string> = {
  too_few: t("api:judgement.hold_too_few_to_say"),
  between: t("api:judgement.hold_on"),
  mid_block: t("api:judgement.hold_until_full"),
};
