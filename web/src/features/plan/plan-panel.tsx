import { HELP } from "../../domain/help-levels";
import {
  type Changes,
  type PlanDocument,
  type RemarkOut,
  type Step,
  WAYS,
  partsNamed,
  stepsOf,
  withLaterCue,
  withNewStep,
  withValues,
} from "../../domain/plan-document";
import { DosesCalculator } from "./calculators/doses";
import { LureCalculator } from "./calculators/lure";
import { PlacementCalculator } from "./calculators/placement";
import { RewardsCalculator } from "./calculators/rewards";
import { Cues } from "./cues";
import { Choice, FIELD, Line, NumberField, RemarkNote } from "./fields";
import { JudgingNumbers, Limits } from "./limits";
import { Chain } from "./chain";
import { Conditions } from "./conditions";
import { Cue } from "./cue";
import { Markers } from "./markers";
import { Placement } from "./placement";
import { Fades, News, Waits } from "./programme";
import { Retired } from "./retired";
import { Rule } from "./rule";
import { Stages } from "./stages";
import { t } from "../../words";

const PROMPTS = HELP.map((h) => ({ value: h.level, words: h.words }));

const HAZARDS = [
  { value: "speed_height_turning", words: t("plan:plan_panel.speed_or_turning") },
  { value: "jumping", words: t("plan:plan_panel.jumping") },
  { value: "raised_platform", words: t("plan:plan_panel.a_stand_or_ramp") },
  { value: "worn_or_following", words: t("plan:plan_panel.something_worn_or_pulled") },
  { value: "ropes", words: t("plan:plan_panel.ropes") },
  { value: "hoof_or_claw", words: t("plan:plan_panel.hooves_or_claws") },
  { value: "objects_in_mouth", words: t("plan:plan_panel.things_in_the_mouth") },
  { value: "large_animal", words: t("plan:plan_panel.a_large_animal") },
  { value: "children", words: t("plan:plan_panel.children") },
] as const;

interface PlanPanelProps {
  plan: PlanDocument;
  remarks: RemarkOut[];
  change: (plan: PlanDocument) => void;
}

/** What holds for the whole plan: way, markers, rewards, rule, limits, conditions. */
export function PlanPanel({ plan, remarks, change }: PlanPanelProps) {
  const set = (values: Changes<PlanDocument>) => change(withValues(plan, values));
  const at = (...places: string[]) => remarks.filter((r) => places.includes(r.place));
  const luring = plan.way === "luring" || stepsOf(plan).some((s) => s.way === "luring");
  const mend = (remark: RemarkOut) => {
    if (remark.mend === "cap_session") set({ session_cap_s: 180 });
    else if (remark.mend === "cap_reps") set({ rep_cap: 15 });
    else if (remark.mend === "fewer_lures") set({ lure_reps: 5 });
    else if (remark.mend === "cue_later") change(withLaterCue(plan));
  };
  const addSteps = (made: Partial<Step>[]) => {
    let next = plan;
    let after = stepsOf(plan).at(-1)?.key ?? null;
    for (const values of made) ({ plan: next, key: after } = withNewStep(next, after, values));
    change(next);
  };
  return (
    <section aria-label={t("plan:plan_panel.the_whole_plan")}>
      <h2 className="pb-2 text-[16px] font-semibold">{t("plan:plan_panel.the_whole_plan")}</h2>
      {at("goal", "approximations", "learner").map((remark) => (
        <RemarkNote key={remark.code} remark={remark} />
      ))}
      {remarks
        .filter((remark) => remark.place.startsWith("ladders["))
        .map((remark) => (
          <RemarkNote key={remark.place} remark={remark} />
        ))}
      <div className="mt-3" />
      <Line label={t("plan:plan_panel.way")} remarks={at("lure_reps", "prompts")} onMend={mend}>
        <Choice
          one
          label={t("plan:plan_panel.way")}
          options={WAYS.map((w) => ({ value: w.way, words: w.words }))}
          chosen={plan.way ? [plan.way] : []}
          onChange={([way]) => set({ way })}
        />
        {luring && (
          <div className="mt-2">
            <NumberField
              label={t("plan:plan_panel.reps_with_food_in_the")}
              value={plan.lure_reps}
              unit={t("plan:plan_panel.reps_with_food_in_the_2")}
              onChange={(lure_reps) => set({ lure_reps })}
            />
            <LureCalculator onFill={(lure_reps) => set({ lure_reps })} />
          </div>
        )}
      </Line>
      <Line label={t("plan:plan_panel.help_to_fade")}>
        <Choice
          label={t("plan:plan_panel.help_to_fade")}
          options={PROMPTS}
          chosen={(plan.prompts ?? []) as (typeof PROMPTS)[number]["value"][]}
          onChange={(chosen) =>
            set({
              prompts: chosen.length
                ? HELP.map((h) => h.level).filter((level) => chosen.includes(level))
                : undefined,
            })
          }
        />
      </Line>
      <Line
        label={t("plan:plan_panel.markers")}
        remarks={at("markers", "after_miss")}
        onMend={mend}
      >
        <Markers plan={plan} set={set} />
      </Line>
      <Line label={t("plan:plan_panel.reward_goes")} remarks={at("placement")} onMend={mend}>
        <Placement plan={plan} set={set} />
        <PlacementCalculator plan={plan} onFill={(placement) => set({ placement })} />
        <RewardsCalculator plan={plan} />
      </Line>
      <Line label={t("plan:plan_panel.go_up_when")} remarks={at("rule")} onMend={mend}>
        <Rule plan={plan} set={set} />
      </Line>
      <Line
        label={t("plan:plan_panel.at_most")}
        remarks={at("session_cap_s", "rep_cap")}
        onMend={mend}
      >
        <div className="flex flex-wrap gap-3">
          <NumberField
            label={t("plan:plan_panel.minutes_a_session")}
            value={plan.session_cap_s === undefined ? undefined : plan.session_cap_s / 60}
            step={0.5}
            unit={t("plan:plan_panel.min")}
            onChange={(m) => set({ session_cap_s: m === undefined ? undefined : m * 60 })}
          />
          <NumberField
            label={t("plan:plan_panel.reps_a_session")}
            value={plan.rep_cap}
            min={1}
            unit={t("plan:plan_panel.reps")}
            onChange={(rep_cap) => set({ rep_cap })}
          />
        </div>
        <DosesCalculator onFill={(session_cap_s) => set({ session_cap_s })} />
      </Line>
      <Line label={t("plan:plan_panel.paid_at_least")}>
        <NumberField
          label={t("plan:plan_panel.rewards_a_minute_at_least")}
          value={plan.rate_floor_per_min}
          unit={t("plan:plan_panel.times_a_minute_else_easier")}
          onChange={(rate_floor_per_min) => set({ rate_floor_per_min })}
        />
      </Line>
      <Line label={t("common:cue2")} remarks={at("cue")} onMend={mend}>
        <Cue plan={plan} set={set} />
        <Cues cues={plan.cues ?? []} onChange={(cues) => set({ cues })} />
        <Waits plan={plan} set={set} />
      </Line>
      <Line label={t("plan:plan_panel.vary_in_turn")}>
        <Conditions plan={plan} set={set} />
        <Fades plan={plan} set={set} />
        <News plan={plan} set={set} />
      </Line>
      <Line label={t("plan:plan_panel.chain")} remarks={at("chain")}>
        <Chain
          plan={plan}
          set={set}
          addSteps={(stages) =>
            addSteps(
              stages.map((stage) => ({
                title: stage.join(", then "),
                criterion: t("plan:plan_panel.stage_without_a_stop", {
                  stage: stage.join(", then "),
                }),
                ...(stage.length > 1 ? { parts: partsNamed(plan, stage) } : {}),
              })),
            )
          }
        />
      </Line>
      <Line label={t("plan:plan_panel.part_of_it")} remarks={at("hazards")}>
        <Choice
          label={t("plan:plan_panel.part_of_it")}
          options={HAZARDS}
          chosen={plan.hazards ?? []}
          onChange={(hazards) => set({ hazards })}
        />
      </Line>
      <Line label={t("plan:plan_panel.limits")}>
        <Limits settings={plan.settings ?? {}} onChange={(settings) => set({ settings })} />
      </Line>
      <Line label={t("plan:plan_panel.what_next")}>
        <JudgingNumbers settings={plan.judging ?? {}} onChange={(judging) => set({ judging })} />
      </Line>
      <Line
        label={t("plan:plan_panel.weeks")}
        remarks={remarks.filter((remark) => remark.place.startsWith("stages["))}
      >
        <Stages plan={plan} set={set} />
      </Line>
      <Line label={t("plan:plan_panel.notes")}>
        <textarea
          aria-label={t("plan:plan_panel.notes")}
          value={plan.notes ?? ""}
          rows={2}
          maxLength={4000}
          onChange={(event) => set({ notes: event.target.value || undefined })}
          className={`${FIELD} field-sizing-content h-auto min-h-13 w-full resize-none py-1`}
        />
      </Line>
      <Retired plan={plan} change={change} />
    </section>
  );
}
