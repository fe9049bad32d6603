import { keepPreviousData, useQuery, type UseQueryResult } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Refused, api, given } from "../../../api/client";
import type { components } from "../../../api/schema";
import { t } from "../../../words";

type Schemas = components["schemas"];

/** What each of the core's calculators answers. */
interface Answers {
  chain_plan: Schemas["ChainPlan"];
  clock_orders: Schemas["ClockPlan"];
  cue_transfer: Schemas["CueTransfer"];
  distance_ladder: Schemas["Ladder"];
  dose_plan: Schemas["Dose"];
  duration_plan: Schemas["Ladder"];
  height_from_withers: Schemas["Ladder"];
  height_ladder: Schemas["Ladder"];
  jump_span: Schemas["JumpSpan"];
  lure_fading: Schemas["LureFading"];
  numeric_ladder: Schemas["Ladder"];
  placement_budget: Schemas["PlacementBudget"];
  prepare_rewards: Schemas["Preparation"];
  side_allotment: Schemas["SidePlan"];
}

/** A calculator's answer from the core; asked for again whenever an argument changes. */
export function useCalculated<K extends keyof Answers>(name: K, args: Record<string, unknown>) {
  return useQuery({
    queryKey: ["calculate", name, args],
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    queryFn: async () =>
      given(
        await api.POST("/api/plans/calculators/{name}", {
          params: { path: { name } },
          body: { arguments: args as Record<string, never> },
        }),
      ) as Answers[K],
  });
}

/** A calculator folded away beside the field it fills. */
export function Calculator({ title, children }: { title: string; children: ReactNode }) {
  const [open, setOpen] = useState(false);
  return (
    <details
      className="mt-2 text-[13px]"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="cursor-pointer text-soft underline decoration-line underline-offset-3 hover:text-ink">
        {title}
      </summary>
      {open && <div className="mt-2 space-y-2 border-l border-line pl-3">{children}</div>}
    </details>
  );
}

/** The answer with the practice it follows and its caution, or what is wrong with the question. */
export function Answered<T extends Answers[keyof Answers]>({
  query,
  children,
}: {
  query: UseQueryResult<T>;
  children: (answer: T) => ReactNode;
}) {
  if (query.error) {
    return (
      <p role="alert" className="text-fault">
        {query.error instanceof Refused
          ? query.error.message
          : t("plan:calculator.the_server_does_not_answer")}
      </p>
    );
  }
  if (!query.data) return null;
  return (
    <>
      {/* What is shown for what was asked before must not be put in. */}
      <fieldset disabled={query.isPlaceholderData} className="contents">
        {children(query.data)}
      </fieldset>
      <p className="text-soft">
        {query.data.practice} <em>{t("plan:calculator.common_practice")}</em>
      </p>
      {query.data.caution && <p className="text-soft">{query.data.caution}</p>}
    </>
  );
}
