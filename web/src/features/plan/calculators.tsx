import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";

import { api, given, Refused } from "../../api/client";
import { Button } from "../../components/button";
import { ClockFace } from "./clock-face";
import { counted } from "../../domain/times";
import { day } from "../../domain/words";
import { Choice, FIELD, NumberField } from "./fields";
import type { PlanDocument, Step } from "../../domain/plan-document";

const WEEKDAYS = ["Mo", "Tu", "We", "Th", "Fr", "Sa", "Su"].map((words, n) => ({
  value: String(n),
  words,
}));

/** A calculator's answer from the core; asked for again whenever an argument changes. */
function useCalculated<T>(name: string, args: Record<string, unknown>) {
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
      ) as unknown as T & { practice: string; caution: string },
  });
}

/** A calculator folded away beside the field it fills. */
function Calculator({ title, children }: { title: string; children: ReactNode }) {
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

interface Answer {
  practice: string;
  caution: string;
}

/** The answer with the practice it follows and its caution, or what is wrong with the question. */
function Answered<T>({
  query,
  children,
}: {
  query: ReturnType<typeof useCalculated<T>>;
  children: (answer: T & Answer) => ReactNode;
}) {
  if (query.error) {
    return (
      <p role="alert" className="text-fault">
        {query.error instanceof Refused ? query.error.message : "The server does not answer."}
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
        {query.data.practice} <em>Common practice.</em>
      </p>
      {query.data.caution && <p className="text-soft">{query.data.caution}</p>}
    </>
  );
}

interface LadderAnswer {
  values: number[];
}

/** Bar heights and what a jump of that height spans, as steps. */
export function HeightsCalculator({ onFill }: { onFill: (steps: Partial<Step>[]) => void }) {
  const [final, setFinal] = useState<number | undefined>(60);
  const [unit, setUnit] = useState<"cm" | "in">("cm");
  const ladder = useCalculated<LadderAnswer>("height_ladder", { final: final ?? 0, unit });
  const span = useCalculated<{ span: number }>("jump_span", { height: final ?? 0 });
  return (
    <Calculator title="Work out heights and spans">
      <div className="flex items-center gap-2">
        final height
        <NumberField label="Final height" value={final} min={1} onChange={setFinal} />
        <select
          aria-label="Unit"
          value={unit}
          onChange={(event) => setUnit(event.target.value as "cm" | "in")}
          className={FIELD}
        >
          <option>cm</option>
          <option>in</option>
        </select>
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">
              {values.map((v) => +v.toFixed(2)).join(" → ")} {unit}
            </p>
            {span.data && (
              <p>
                A long jump of that height spans{" "}
                <span className="num">
                  {+span.data.span.toFixed(2)} {unit}
                </span>
                .
              </p>
            )}
            <Button
              onClick={() =>
                onFill(
                  values.map((v) => ({
                    title: `Bar at ${+v.toFixed(2)} ${unit}`,
                    criterion: `Over the bar at ${+v.toFixed(2)} ${unit}.`,
                    raises: ["distance"],
                  })),
                )
              }
            >
              Put these in as steps
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Strides from a first distance that fits the animal's size, as steps. */
export function DistancesCalculator({
  size,
  onFill,
}: {
  size: string;
  onFill: (steps: Partial<Step>[]) => void;
}) {
  const [goal, setGoal] = useState<number | undefined>(8);
  const [chosen, setChosen] = useState(size || "medium");
  const ladder = useCalculated<LadderAnswer>("distance_ladder", { size: chosen, goal: goal ?? 0 });
  return (
    <Calculator title="Work out distances">
      <div className="flex items-center gap-2">
        a
        <select
          aria-label="Size of the animal"
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
          className={FIELD}
        >
          <option>small</option>
          <option>medium</option>
          <option>large</option>
        </select>
        animal, up to
        <NumberField
          label="Strides at last"
          value={goal}
          min={1}
          onChange={setGoal}
          unit="strides"
        />
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">{values.join(" → ")} strides</p>
            <Button
              onClick={() =>
                onFill(
                  values.map((strides) => ({
                    title: `From ${strides} strides`,
                    criterion: `It does it from ${strides} strides away.`,
                    raises: ["distance"],
                    quantity: {
                      name: "distance",
                      unit: "strides",
                      better: "more",
                      target: strides,
                    },
                  })),
                )
              }
            >
              Put these in as steps
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Steps that want weeks, laid on the calendar; fills the notes. */
export function StagesCalculator({
  names,
  onFill,
}: {
  names: string[];
  onFill: (lines: string[]) => void;
}) {
  const [start, setStart] = useState(() => new Date().toLocaleDateString("sv"));
  const [weeks, setWeeks] = useState<number | undefined>(2);
  const [times, setTimes] = useState<number | undefined>(4);
  const [rest, setRest] = useState<string[]>(["6"]);
  const schedule = useCalculated<{
    stages: { name: string; first: string; last: string; sessions: string[] }[];
  }>("stage_schedule", {
    names,
    start,
    weeks_a_stage: weeks ?? 0,
    sessions_a_week: times ?? 0,
    rest: rest.map(Number),
  });
  const line = (stage: { name: string; first: string; last: string; sessions: string[] }) =>
    `${day(stage.first)} to ${day(stage.last)}: ${stage.name}, ${counted(stage.sessions.length, "session")}`;
  return (
    <Calculator title="Lay the steps on the calendar">
      <div className="flex flex-wrap items-center gap-2">
        from
        <input
          type="date"
          aria-label="First day"
          value={start}
          onChange={(event) => setStart(event.target.value)}
          className={FIELD}
        />
        <NumberField
          label="Weeks a step"
          value={weeks}
          step={0.5}
          unit="weeks a step"
          onChange={setWeeks}
        />
        <NumberField
          label="Sessions a week"
          value={times}
          min={1}
          max={7}
          unit="sessions a week"
          onChange={setTimes}
        />
      </div>
      <div>
        <p className="pb-1 text-soft">days of rest</p>
        <Choice label="Days of rest" options={WEEKDAYS} chosen={rest} onChange={setRest} />
      </div>
      <Answered query={schedule}>
        {({ stages }) => (
          <>
            <ol className="list-decimal pl-5">
              {stages.map((stage, n) => (
                <li key={n}>{line(stage)}</li>
              ))}
            </ol>
            <Button onClick={() => onFill(stages.map(line))}>Write it into the notes</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Seconds to hold, from the first to the goal, as steps; and rep by rep around a mean. */
export function DurationsCalculator({ onFill }: { onFill: (steps: Partial<Step>[]) => void }) {
  const [start, setStart] = useState<number | undefined>(1);
  const [goal, setGoal] = useState<number | undefined>(8);
  const [factor, setFactor] = useState<number | undefined>(1.5);
  const ladder = useCalculated<LadderAnswer>("numeric_ladder", {
    start: start ?? 0,
    goal: goal ?? 0,
    factor: factor ?? 0,
  });
  const reps = useCalculated<LadderAnswer>("duration_plan", {
    mean_s: start ?? 0,
    reps: 8,
    seed: 1,
  });
  return (
    <Calculator title="Work out durations">
      <div className="flex flex-wrap items-center gap-2">
        from
        <NumberField label="First seconds" value={start} step={0.5} onChange={setStart} />
        to
        <NumberField label="Last seconds" value={goal} step={0.5} onChange={setGoal} />
        s, each ×
        <NumberField label="Factor" value={factor} min={1.05} step={0.05} onChange={setFactor} />
      </div>
      <Answered query={ladder}>
        {({ values }) => (
          <>
            <p className="num text-[15px]">{values.map((v) => +v.toFixed(2)).join(" → ")} s</p>
            <Button
              onClick={() =>
                onFill(
                  values.map((v) => ({
                    title: `Held ${+v.toFixed(2)} s`,
                    criterion: `It lasts ${+v.toFixed(2)} s.`,
                    raises: ["duration"],
                    mark_at: "hold",
                    hold_s: +v.toFixed(2),
                  })),
                )
              }
            >
              Put these in as steps
            </Button>
          </>
        )}
      </Answered>
      {reps.data && (
        <p>
          Around {start} s, rep by rep:{" "}
          <span className="num">{reps.data.values.map((v) => v.toFixed(1)).join(" · ")}</span>
        </p>
      )}
    </Calculator>
  );
}

/** Where around the animal, drawn; fills the condition `clock`. */
export function ClockCalculator({
  onFill,
}: {
  onFill: (condition: { name: string; levels: string[] }) => void;
}) {
  const [easy, setEasy] = useState<"left" | "right">("right");
  const orders = useCalculated<{ stages: { positions: number[] }[] }>("clock_orders", {
    reps_per_stage: 4,
    easy_side: easy,
  });
  return (
    <Calculator title="Work out places around the animal">
      <label className="flex items-center gap-2">
        the easy side is
        <select
          aria-label="Easy side on the clock"
          value={easy}
          onChange={(event) => setEasy(event.target.value as "left" | "right")}
          className={FIELD}
        >
          <option>right</option>
          <option>left</option>
        </select>
      </label>
      <Answered query={orders}>
        {({ stages }) => (
          <div className="flex items-center gap-4">
            <ClockFace stages={stages.map((s) => [...new Set(s.positions)])} />
            <div>
              <ol className="list-decimal pl-5">
                {stages.map((stage, n) => (
                  <li key={n}>
                    <span className="num">{stage.positions.join(" · ")}</span> o'clock
                  </li>
                ))}
              </ol>
              <Button
                className="mt-2"
                onClick={() =>
                  onFill({
                    name: "clock",
                    levels: [...new Set(stages.flatMap((s) => s.positions.map(String)))],
                  })
                }
              >
                Vary the clock
              </Button>
            </div>
          </div>
        )}
      </Answered>
    </Calculator>
  );
}

/** Reps a side; fills the condition `side`. */
export function SidesCalculator({
  reps,
  onFill,
}: {
  reps: number | undefined;
  onFill: (condition: { name: string; levels: string[] }) => void;
}) {
  const [easy, setEasy] = useState<"left" | "right">("left");
  const weak = easy === "left" ? "right" : "left";
  const sides = useCalculated<{
    blocks: { side: string; reps: number }[];
    totals: Record<string, number>;
  }>("side_allotment", { reps: reps ?? 12, easy, weak });
  return (
    <Calculator title="Work out sides">
      <label className="flex items-center gap-2">
        the easy side is
        <select
          aria-label="Easy side"
          value={easy}
          onChange={(event) => setEasy(event.target.value as "left" | "right")}
          className={FIELD}
        >
          <option>left</option>
          <option>right</option>
        </select>
      </label>
      <Answered query={sides}>
        {({ blocks }) => (
          <>
            <p className="num">{blocks.map((b) => `${b.reps} ${b.side}`).join(" · ")}</p>
            <Button onClick={() => onFill({ name: "side", levels: [easy, weak] })}>
              Vary the side
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Rewards by place, to whole ones. */
export function PlacementCalculator({
  plan,
  onFill,
}: {
  plan: PlanDocument;
  onFill: (mix: Record<string, number>) => void;
}) {
  const [rewards, setRewards] = useState<number | undefined>(plan.rep_cap ?? 15);
  const mix = plan.placement ?? { off: 0.75, on: 0.25 };
  const budget = useCalculated<{ rewards: Record<string, number> }>("placement_budget", {
    rewards: rewards ?? 0,
    mix,
  });
  return (
    <Calculator title="Work out where the rewards go">
      <div className="flex items-center gap-2">
        of
        <NumberField label="Rewards to share out" value={rewards} min={1} onChange={setRewards} />
        rewards
      </div>
      <Answered query={budget}>
        {(answer) => (
          <>
            <p className="text-[15px]">
              {Object.entries(answer.rewards)
                .map(([place, n]) => `${n} ${place}`)
                .join(" · ")}
            </p>
            {!plan.placement && (
              <Button onClick={() => onFill({ off: 0.75, on: 0.25 })}>Use this mix</Button>
            )}
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Blocks and breaks; fills the session's limit. */
export function DosesCalculator({ onFill }: { onFill: (session_cap_s: number) => void }) {
  const [minutes, setMinutes] = useState<number | undefined>(5);
  const dose = useCalculated<{ blocks_s: number[]; break_s: number; over_practice: boolean }>(
    "dose_plan",
    { work_s: (minutes ?? 0) * 60 },
  );
  return (
    <Calculator title="Work out blocks and breaks">
      <div className="flex items-center gap-2">
        <NumberField label="Minutes of work" value={minutes} step={0.5} onChange={setMinutes} />
        minutes of work in all
      </div>
      <Answered query={dose}>
        {({ blocks_s, break_s, over_practice }) => (
          <>
            <p>
              {blocks_s.length} {blocks_s.length === 1 ? "block" : "blocks"} of{" "}
              <span className="num">{+((blocks_s[0] ?? 0) / 60).toFixed(2)}</span> min
              {break_s > 0 && `, ${+(break_s / 60).toFixed(1)} min of break between`}
              {over_practice && <strong className="text-marker"> · over common practice</strong>}
            </p>
            <Button onClick={() => onFill(Math.round(blocks_s[0] ?? 150))}>
              Limit a session to one block
            </Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** Pieces to have ready, and their share of the day's energy. */
export function RewardsCalculator({ plan }: { plan: PlanDocument }) {
  const [perMin, setPerMin] = useState<number | undefined>(10);
  const [piece, setPiece] = useState<number | undefined>();
  const [day, setDay] = useState<number | undefined>();
  const minutes = (plan.session_cap_s ?? 180) / 60;
  const ready = useCalculated<{
    pieces: number;
    energy_share: number | null;
    over: boolean | null;
  }>("prepare_rewards", {
    minutes,
    per_min: perMin ?? 0,
    ...(piece ? { piece_kj: piece } : {}),
    ...(day ? { day_kj: day } : {}),
  });
  return (
    <Calculator title="Work out rewards to prepare">
      <div className="flex flex-wrap items-center gap-2">
        <NumberField label="Rewards a minute" value={perMin} min={1} onChange={setPerMin} />a minute
        for {+minutes.toFixed(1)} min
        <NumberField
          label="Energy of a piece, kJ"
          value={piece}
          step="any"
          unit="kJ a piece"
          onChange={setPiece}
        />
        <NumberField
          label="Energy of a day, kJ"
          value={day}
          step="any"
          unit="kJ a day"
          onChange={setDay}
        />
      </div>
      <Answered query={ready}>
        {({ pieces, energy_share, over }) => (
          <p className="text-[15px]">
            <span className="num">{pieces}</span> pieces
            {energy_share !== null && (
              <>
                , <span className="num">{(energy_share * 100).toFixed(1)} %</span> of the day's
                energy
                {over && <strong className="text-marker"> · more than a tenth</strong>}
              </>
            )}
          </p>
        )}
      </Answered>
    </Calculator>
  );
}

/** The order in which the parts of a chain are joined; fills the steps. */
export function ChainCalculator({
  parts,
  direction,
  onFill,
}: {
  parts: string[];
  direction: "forward" | "backward";
  onFill: (stages: string[][]) => void;
}) {
  const chain = useCalculated<{ stages: string[][] }>("chain_plan", { parts, direction });
  return (
    <Calculator title="Work out the order of joining">
      <Answered query={chain}>
        {({ stages }) => (
          <>
            <ol className="list-decimal pl-5">
              {stages.map((stage) => (
                <li key={stage.join()}>{stage.join(" → ")}</li>
              ))}
            </ol>
            <Button onClick={() => onFill(stages)}>Put these in as steps</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** How the help fades, rep by rep; fills the limit of lures. */
export function LureCalculator({ onFill }: { onFill: (lure_reps: number) => void }) {
  const [lures, setLures] = useState<number | undefined>(3);
  const fading = useCalculated<{ levels: string[] }>("lure_fading", { lures: lures ?? 0 });
  return (
    <Calculator title="Work out how the lure fades">
      <div className="flex items-center gap-2">
        <NumberField label="Reps with food in the hand" value={lures} onChange={setLures} />
        with food in the hand
      </div>
      <Answered query={fading}>
        {({ levels }) => (
          <>
            <p>{runs(levels)}</p>
            <Button onClick={() => onFill(lures ?? 0)}>Use this limit</Button>
          </>
        )}
      </Answered>
    </Calculator>
  );
}

/** New cue, a pause, then the old signal. */
export function CueCalculator() {
  const transfer = useCalculated<{
    reps: { rep: number; pause_s: number | null; old_signal: string }[];
  }>("cue_transfer", {});
  return (
    <Calculator title="Work out the change of cue">
      <Answered query={transfer}>
        {({ reps }) => (
          <ol className="num columns-2 text-[12.5px]">
            {reps.map((rep) => (
              <li key={rep.rep}>
                {rep.rep}:{" "}
                {rep.pause_s === null
                  ? "new cue alone"
                  : `pause ${rep.pause_s} s, ${rep.old_signal}`}
              </li>
            ))}
          </ol>
        )}
      </Answered>
    </Calculator>
  );
}

/** Runs of the same word: `3 food lure · 5 empty hand`. */
function runs(levels: string[]): string {
  const counted: [string, number][] = [];
  for (const level of levels) {
    const last = counted.at(-1);
    if (last?.[0] === level) last[1]++;
    else counted.push([level, 1]);
  }
  return counted
    .map(([level, n]) => `${n} ${level === "none" ? "without help" : level.replaceAll("_", " ")}`)
    .join(" · ");
}
