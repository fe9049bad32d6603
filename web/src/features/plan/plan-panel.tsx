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
import { StagesCalculator } from "./calculators/stages";
import { Cues } from "./cues";
import { Choice, FIELD, Line, NumberField, RemarkNote } from "./fields";
import { JudgingNumbers, Limits } from "./limits";
import { Chain } from "./chain";
import { Conditions } from "./conditions";
import { Cue } from "./cue";
import { Markers } from "./markers";
import { Placement } from "./placement";
import { Retired } from "./retired";
import { Rule } from "./rule";

const PROMPTS = HELP.map((h) => ({ value: h.level, words: h.words }));

const HAZARDS = [
  { value: "speed_height_turning", words: "speed or turning" },
  { value: "jumping", words: "jumping" },
  { value: "raised_platform", words: "a stand or ramp" },
  { value: "worn_or_following", words: "something worn or pulled" },
  { value: "ropes", words: "ropes" },
  { value: "hoof_or_claw", words: "hooves or claws" },
  { value: "objects_in_mouth", words: "things in the mouth" },
  { value: "large_animal", words: "a large animal" },
  { value: "children", words: "children" },
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
    <section aria-label="The whole plan">
      <h2 className="pb-2 text-[16px] font-semibold">The whole plan</h2>
      {at("goal", "approximations", "learner").map((remark) => (
        <RemarkNote key={remark.code} remark={remark} />
      ))}
      <div className="mt-3" />
      <Line label="Way" remarks={at("lure_reps", "prompts")} onMend={mend}>
        <Choice
          one
          label="Way"
          options={WAYS.map((w) => ({ value: w.way, words: w.words }))}
          chosen={plan.way ? [plan.way] : []}
          onChange={([way]) => set({ way })}
        />
        {luring && (
          <div className="mt-2">
            <NumberField
              label="Reps with food in the hand, at most"
              value={plan.lure_reps}
              unit="reps with food in the hand"
              onChange={(lure_reps) => set({ lure_reps })}
            />
            <LureCalculator onFill={(lure_reps) => set({ lure_reps })} />
          </div>
        )}
      </Line>
      <Line label="Help to fade">
        <Choice
          label="Help to fade"
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
      <Line label="Markers" remarks={at("markers", "after_miss")} onMend={mend}>
        <Markers plan={plan} set={set} />
      </Line>
      <Line label="Reward goes" remarks={at("placement")} onMend={mend}>
        <Placement plan={plan} set={set} />
        <PlacementCalculator plan={plan} onFill={(placement) => set({ placement })} />
        <RewardsCalculator plan={plan} />
      </Line>
      <Line label="Go up when" remarks={at("rule")} onMend={mend}>
        <Rule plan={plan} set={set} />
      </Line>
      <Line label="At most" remarks={at("session_cap_s", "rep_cap")} onMend={mend}>
        <div className="flex flex-wrap gap-3">
          <NumberField
            label="Minutes a session"
            value={plan.session_cap_s === undefined ? undefined : plan.session_cap_s / 60}
            step={0.5}
            unit="min"
            onChange={(m) => set({ session_cap_s: m === undefined ? undefined : m * 60 })}
          />
          <NumberField
            label="Reps a session"
            value={plan.rep_cap}
            min={1}
            unit="reps"
            onChange={(rep_cap) => set({ rep_cap })}
          />
        </div>
        <DosesCalculator onFill={(session_cap_s) => set({ session_cap_s })} />
      </Line>
      <Line label="Paid at least">
        <NumberField
          label="Rewards a minute, at least"
          value={plan.rate_floor_per_min}
          unit="times a minute, else easier"
          onChange={(rate_floor_per_min) => set({ rate_floor_per_min })}
        />
      </Line>
      <Line label="Cue" remarks={at("cue")} onMend={mend}>
        <Cue plan={plan} set={set} />
        <Cues cues={plan.cues ?? []} onChange={(cues) => set({ cues })} />
      </Line>
      <Line label="Vary in turn">
        <Conditions plan={plan} set={set} />
      </Line>
      <Line label="Chain" remarks={at("chain")}>
        <Chain
          plan={plan}
          set={set}
          addSteps={(stages) =>
            addSteps(
              stages.map((stage) => ({
                title: stage.join(", then "),
                criterion: `${stage.join(", then ")}, without a stop.`,
                ...(stage.length > 1 ? { parts: partsNamed(plan, stage) } : {}),
              })),
            )
          }
        />
      </Line>
      <Line label="Part of it" remarks={at("hazards")}>
        <Choice
          label="Part of it"
          options={HAZARDS}
          chosen={plan.hazards ?? []}
          onChange={(hazards) => set({ hazards })}
        />
      </Line>
      <Line label="Limits">
        <Limits settings={plan.settings ?? {}} onChange={(settings) => set({ settings })} />
      </Line>
      <Line label="What next">
        <JudgingNumbers settings={plan.judging ?? {}} onChange={(judging) => set({ judging })} />
      </Line>
      <Line label="Weeks">
        <StagesCalculator
          names={stepsOf(plan).map((step) => step.title || "not named yet")}
          onFill={(lines) =>
            set({ notes: [plan.notes, ...lines].filter(Boolean).join("\n").slice(0, 4000) })
          }
        />
      </Line>
      <Line label="Notes">
        <textarea
          aria-label="Notes"
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
