import { useState } from "react";

import { Button } from "../../components/button";
import { HELP } from "../../domain/help-levels";
import {
  ChainCalculator,
  ClockCalculator,
  CueCalculator,
  DosesCalculator,
  LureCalculator,
  PlacementCalculator,
  RewardsCalculator,
  SidesCalculator,
  StagesCalculator,
} from "./calculators";
import { Choice, FIELD, Line, NumberField, RemarkNote } from "./fields";
import { Cues } from "./cues";
import { JudgingNumbers, Limits } from "./limits";
import {
  partsNamed,
  RULES,
  stepsOf,
  WAYS,
  withLaterCue,
  withNewStep,
  withStep,
  withValues,
  type Changes,
  type PlanDocument,
  type RemarkOut,
  type Step,
} from "../../domain/plan-document";

const MEANINGS = [
  { meaning: "event", words: "it pays" },
  { meaning: "keep_going", words: "stay, more comes" },
  { meaning: "no_reward", words: "not that" },
] as const;
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

interface PartProps {
  plan: PlanDocument;
  set: (values: Changes<PlanDocument>) => void;
}

function Markers({ plan, set }: PartProps) {
  const markers = plan.markers ?? [];
  const put = (n: number, marker: Partial<(typeof markers)[number]>) =>
    set({ markers: markers.map((m, i) => (i === n ? { ...m, ...marker } : m)) });
  return (
    <div className="space-y-1.5">
      {markers.map((marker, n) => (
        <div key={n} className="flex items-center gap-1.5">
          <input
            aria-label={`Marker ${n + 1}`}
            value={marker.name}
            onChange={(event) => put(n, { name: event.target.value || "marker" })}
            className={`${FIELD} w-24`}
          />
          <select
            aria-label={`Marker ${n + 1} means`}
            value={marker.meaning}
            onChange={(event) => put(n, { meaning: event.target.value as typeof marker.meaning })}
            className={`${FIELD} min-w-0 flex-1`}
          >
            {MEANINGS.map((m) => (
              <option key={m.meaning} value={m.meaning}>
                {m.words}
              </option>
            ))}
          </select>
          <button
            type="button"
            aria-label={`Take ${marker.name} out`}
            className="px-1 text-soft hover:text-ink"
            onClick={() => set({ markers: markers.filter((_, i) => i !== n) })}
          >
            ×
          </button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-1.5">
        <Button
          className="h-7"
          onClick={() =>
            set({
              markers: [
                ...markers,
                markers.length === 0
                  ? { name: "click", meaning: "event" }
                  : { name: "“good”", meaning: "keep_going" },
              ],
            })
          }
        >
          One more marker
        </Button>
        <select
          aria-label="After the marker"
          value={plan.after_marker ?? ""}
          onChange={(event) =>
            set({ after_marker: (event.target.value || undefined) as PlanDocument["after_marker"] })
          }
          className={FIELD}
        >
          <option value="">after it: –</option>
          <option value="release">after it: released</option>
          <option value="stay">after it: stays</option>
        </select>
        <select
          aria-label="After a miss"
          value={plan.after_miss ?? ""}
          onChange={(event) =>
            set({ after_miss: (event.target.value || undefined) as PlanDocument["after_miss"] })
          }
          className={FIELD}
        >
          <option value="">after a miss: –</option>
          <option value="wait">after a miss: wait</option>
          <option value="no_reward_marker">after a miss: mild “no”</option>
        </select>
        <select
          aria-label="Next rep begins with"
          value={plan.reset ?? ""}
          onChange={(event) =>
            set({ reset: (event.target.value || undefined) as PlanDocument["reset"] })
          }
          className={FIELD}
        >
          <option value="">next rep: –</option>
          <option value="toss">next rep: tossed away first</option>
          <option value="in_position">next rep: from where it is</option>
        </select>
      </div>
    </div>
  );
}

/** The mix in percent; it is kept as shares once it adds up. */
function Placement({ plan, set }: PartProps) {
  const kept = Object.entries(plan.placement ?? {}).map(([place, share]) => ({
    place,
    percent: Math.round(share * 1000) / 10,
  }));
  const [draft, setDraft] = useState<typeof kept | null>(null);
  const rows = draft ?? kept;
  const total = rows.reduce((sum, row) => sum + (row.percent || 0), 0);
  const change = (next: typeof kept) => {
    const sum = next.reduce((n, row) => n + (row.percent || 0), 0);
    const names = new Set(next.map((row) => row.place.trim()));
    const isWhole = Math.abs(sum - 100) < 0.11 && names.size === next.length && !names.has("");
    if (next.length === 0) {
      setDraft(null);
      set({ placement: undefined });
    } else if (isWhole) {
      setDraft(null);
      set({
        placement: Object.fromEntries(next.map((row) => [row.place.trim(), row.percent / sum])),
      });
    } else setDraft(next);
  };
  const put = (n: number, row: Partial<(typeof kept)[number]>) =>
    change(rows.map((r, i) => (i === n ? { ...r, ...row } : r)));
  return (
    <div className="space-y-1.5">
      {rows.map((row, n) => (
        <div key={n} className="flex items-center gap-1.5">
          <input
            aria-label={`Place ${n + 1}`}
            value={row.place}
            onChange={(event) => put(n, { place: event.target.value })}
            className={`${FIELD} min-w-0 flex-1`}
          />
          <NumberField
            label={`Percent at place ${n + 1}`}
            value={row.percent}
            max={100}
            step="any"
            unit="%"
            onChange={(percent) => put(n, { percent: percent ?? 0 })}
          />
          <button
            type="button"
            aria-label={`Take ${row.place || "this place"} out`}
            className="px-1 text-soft hover:text-ink"
            onClick={() => change(rows.filter((_, i) => i !== n))}
          >
            ×
          </button>
        </div>
      ))}
      {draft && rows.length > 0 && Math.abs(total - 100) >= 0.11 && (
        <p className="text-[13px] text-marker">
          Together {+total.toFixed(1)} %; the mix is kept once it makes 100.
        </p>
      )}
      <Button
        className="h-7"
        onClick={() => {
          if (rows.length === 0) change([{ place: "in place", percent: 100 }]);
          else change([...rows, { place: "tossed away", percent: Math.max(0, 100 - total) }]);
        }}
      >
        One more place
      </Button>
    </div>
  );
}

const KINDS = Object.keys(RULES) as (keyof typeof RULES)[];

function Rule({ plan, set }: PartProps) {
  const rule = plan.rule;
  const numbers = rule ? RULES[rule.kind].numbers : [];
  return (
    <div className="space-y-1.5">
      <select
        aria-label="School"
        value={rule?.kind ?? ""}
        onChange={(event) => {
          const kind = KINDS.find((one) => one === event.target.value);
          set({ rule: kind && { kind } });
        }}
        className={`${FIELD} w-full`}
      >
        <option value="">no rule yet</option>
        {KINDS.map((kind) => (
          <option key={kind} value={kind}>
            {RULES[kind].words}
          </option>
        ))}
      </select>
      {rule &&
        numbers.map(([key, words, usual]) => (
          <div key={key} className="flex items-center justify-between gap-2 text-[13px]">
            <span>{words}</span>
            <NumberField
              label={words}
              value={rule[key] ?? usual}
              step={usual < 1 ? 0.05 : 1}
              onChange={(value) => set({ rule: { ...rule, [key]: value ?? usual } })}
            />
          </div>
        ))}
    </div>
  );
}

function Cue({ plan, set }: PartProps) {
  return (
    <>
      <div className="flex items-center gap-1.5">
        <input
          aria-label="Cue"
          placeholder="none yet"
          value={plan.cue?.name ?? ""}
          onChange={(event) =>
            set({ cue: event.target.value ? { ...plan.cue, name: event.target.value } : undefined })
          }
          className={`${FIELD} w-24`}
        />
        {plan.cue && (
          <label className="flex min-w-0 flex-1 items-center gap-1.5">
            from
            <select
              aria-label="Cue from step"
              value={plan.cue.from_step ?? ""}
              onChange={(event) =>
                set({
                  cue: {
                    name: plan.cue?.name ?? "",
                    ...(event.target.value ? { from_step: event.target.value } : {}),
                  },
                })
              }
              className={`${FIELD} min-w-0 flex-1`}
            >
              <option value="">–</option>
              {stepsOf(plan).map((step) => (
                <option key={step.key} value={step.key}>
                  {step.title || "not named yet"}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      {plan.cue && <CueCalculator />}
    </>
  );
}

function Conditions({ plan, set }: PartProps) {
  const conditions = plan.conditions ?? [];
  const fill = (condition: { name: string; levels: string[] }) =>
    set({ conditions: [...conditions.filter((c) => c.name !== condition.name), condition] });
  const put = (n: number, condition: Partial<(typeof conditions)[number]>) =>
    set({ conditions: conditions.map((c, i) => (i === n ? { ...c, ...condition } : c)) });
  return (
    <>
      <div className="space-y-1.5">
        {conditions.map((condition, n) => (
          <div key={n} className="flex items-center gap-1.5">
            <input
              aria-label={`Condition ${n + 1}`}
              value={condition.name}
              onChange={(event) => put(n, { name: event.target.value || "condition" })}
              className={`${FIELD} w-24`}
            />
            <input
              aria-label={`Levels of ${condition.name}`}
              placeholder="levels, with commas"
              defaultValue={(condition.levels ?? []).join(", ")}
              key={(condition.levels ?? []).join()}
              onBlur={(event) =>
                put(n, {
                  levels: event.target.value
                    .split(",")
                    .map((level) => level.trim())
                    .filter(Boolean),
                })
              }
              className={`${FIELD} min-w-0 flex-1`}
            />
            <button
              type="button"
              aria-label={`Take ${condition.name} out`}
              className="px-1 text-soft hover:text-ink"
              onClick={() => set({ conditions: conditions.filter((_, i) => i !== n) })}
            >
              ×
            </button>
          </div>
        ))}
        <Button
          className="h-7"
          onClick={() => set({ conditions: [...conditions, { name: "distance", levels: [] }] })}
        >
          One more condition
        </Button>
      </div>
      <ClockCalculator onFill={fill} />
      <SidesCalculator reps={plan.rep_cap} onFill={fill} />
    </>
  );
}

function Chain({ plan, set, addSteps }: PartProps & { addSteps: (stages: string[][]) => void }) {
  const parts = plan.chain?.parts ?? [];
  const direction = plan.chain?.direction ?? "backward";
  return (
    <>
      <div className="flex items-center gap-1.5">
        <input
          aria-label="Parts of the chain"
          placeholder="parts in their order, with commas"
          key={parts.join()}
          defaultValue={parts.join(", ")}
          onBlur={(event) => {
            const names = event.target.value
              .split(",")
              .map((part) => part.trim())
              .filter(Boolean);
            set({ chain: names.length > 0 ? { direction, parts: names } : undefined });
          }}
          className={`${FIELD} min-w-0 flex-1`}
        />
        {parts.length > 0 && (
          <select
            aria-label="Joined from"
            value={direction}
            onChange={(event) =>
              set({ chain: { parts, direction: event.target.value as typeof direction } })
            }
            className={FIELD}
          >
            <option value="backward">from the end</option>
            <option value="forward">from the start</option>
          </select>
        )}
      </div>
      {parts.length > 1 && (
        <ChainCalculator parts={parts} direction={direction} onFill={addSteps} />
      )}
    </>
  );
}

function Retired({ plan, change }: { plan: PlanDocument; change: (plan: PlanDocument) => void }) {
  const retired = (plan.approximations ?? []).filter((step) => step.retired);
  if (retired.length === 0) return null;
  return (
    <Line label="Retired">
      <ul>
        {retired.map((step) => (
          <li key={step.key} className="flex justify-between gap-2">
            <span>{step.title}</span>
            <button
              type="button"
              className="underline underline-offset-3"
              onClick={() => change(withStep(plan, step.key, { retired: undefined }))}
            >
              bring it back
            </button>
          </li>
        ))}
      </ul>
    </Line>
  );
}
