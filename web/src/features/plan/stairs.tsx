import { useState, type DragEvent, type KeyboardEvent } from "react";

import type { components } from "../../api/schema";
import { stepsOf, type PlanDocument, type Step } from "../../domain/plan-document";
import { t } from "../../words";

type WorkedSession = components["schemas"]["WorkedSessionOut"];

const FOOT = 44;
/** The lowest tread stands this high over the ground. */
const FIRST = 96;
const LEAST_WIDTH = 104;

interface StairsProps {
  plan: PlanDocument;
  filmed: WorkedSession[];
  /** The step the last session ended on. */
  inForce: string | null;
  chosen: string | null;
  width: number;
  height: number;
  onChoose: (key: string) => void;
  /** Put a new step after this one; null: at the foot. */
  onInsert: (after: string | null) => void;
  onMove: (key: string, by: 1 | -1) => void;
  onPlace: (key: string, other: string, side: 1 | -1) => void;
}

/** The plan as a flight of stairs, read from the bottom. */
export function Stairs(props: StairsProps) {
  const { plan, filmed, inForce, chosen, height, onChoose, onInsert, onMove, onPlace } = props;
  const [dragged, setDragged] = useState<string | null>(null);
  const steps = stepsOf(plan);
  const tread = Math.max(LEAST_WIDTH, props.width / Math.max(1, steps.length));
  const width = tread * Math.max(1, steps.length);
  const rise = Math.min(74, (height - 190) / Math.max(1, steps.length - 1));
  const topOf = (place: number) => height - FOOT - FIRST - place * rise;
  const now = steps.findIndex((step) => step.key === inForce);

  const key = (event: KeyboardEvent, step: Step) => {
    if (!event.altKey || !["ArrowLeft", "ArrowRight"].includes(event.key)) return;
    event.preventDefault();
    onMove(step.key, event.key === "ArrowRight" ? 1 : -1);
  };
  const drop = (event: DragEvent, other: Step, place: number) => {
    event.preventDefault();
    const from = steps.findIndex((step) => step.key === dragged);
    if (dragged && dragged !== other.key) onPlace(dragged, other.key, from < place ? 1 : -1);
    setDragged(null);
  };

  return (
    <div className="overflow-x-auto">
      <div
        role="group"
        aria-label={t("plan:stairs.steps_the_easiest_first")}
        className="relative"
        style={{ height, width }}
      >
        {steps.map((step, place) => {
          const isNow = place === now;
          const isReached = place <= now;
          const top = topOf(place);
          return (
            <button
              key={step.key}
              type="button"
              draggable
              data-step={step.key}
              aria-pressed={chosen === step.key}
              aria-label={t("plan:stairs.step_place_title_which", {
                place: place + 1,
                title: step.title || t("common:not_named_yet"),
                which: isNow ? t("plan:stairs.in_force") : "",
              })}
              onClick={() => onChoose(step.key)}
              onKeyDown={(event) => key(event, step)}
              onDragStart={() => setDragged(step.key)}
              onDragOver={(event) => event.preventDefault()}
              onDrop={(event) => drop(event, step, place)}
              className={`absolute flex flex-col overflow-hidden border-t-[3px] px-2.5 pt-2 text-left leading-snug ${
                isReached ? "border-l border-behaviour" : "border-l border-dashed border-soft"
              } ${chosen === step.key ? "bg-hair outline-2 -outline-offset-2 outline-ink" : isNow ? "bg-hair/80" : "bg-hair/40 hover:bg-hair/70"}`}
              style={{ left: place * tread, top, width: tread, height: height - FOOT - top }}
            >
              <span className={`block ${isNow || chosen === step.key ? "font-semibold" : ""}`}>
                {step.title || <em className="text-soft">{t("common:not_named_yet")}</em>}
              </span>
              <PartsOf step={step} />
              <span className="mt-1 block text-[12px] text-soft">
                {cameTo(step, filmed)}
                {isNow && `${cameTo(step, filmed) ? " · " : ""}now`}
              </span>
            </button>
          );
        })}
        <Path
          steps={steps}
          filmed={filmed}
          tread={tread}
          topOf={topOf}
          width={width}
          height={height}
        />
        {steps.map((step, place) => (
          <button
            key={step.key}
            type="button"
            aria-label={
              place === 0
                ? t("plan:stairs.a_step_at_the_foot")
                : t("plan:stairs.a_step_before_title", { title: step.title || "this" })
            }
            title={t("plan:stairs.put_a_step_in_here")}
            onClick={() => onInsert(steps[place - 1]?.key ?? null)}
            className="absolute z-10 flex size-6 items-center justify-center rounded-full border border-line bg-raised text-soft hover:border-ink hover:text-ink"
            style={{
              left: place === 0 ? 2 : place * tread - 12,
              top: (place === 0 ? height - FOOT : topOf(place - 1)) - 12,
            }}
          >
            +
          </button>
        ))}
        <div
          className="absolute inset-x-0 border-t border-ink pt-2 text-[12.5px] text-soft"
          style={{ top: height - FOOT }}
        >
          {steps.length === 0 ? (
            ""
          ) : (
            <>
              {t("plan:stairs.which_drag_a_step_to", {
                which: filmed.length > 0 ? t("plan:stairs.each_dot_a_sessions_last") : "",
              })}
            </>
          )}
        </div>
        {steps.length > 0 && (
          <button
            type="button"
            onClick={() => onInsert(steps.at(-1)?.key ?? null)}
            className="absolute right-0 rounded border border-line bg-raised px-2 py-0.5 text-[12.5px] hover:border-ink"
            style={{ top: Math.max(0, topOf(steps.length - 1) - 34) }}
          >
            {t("plan:stairs.one_more_step")}
          </button>
        )}
      </div>
    </div>
  );
}

/** The parts of a chain as they are joined at a step, one under the other. */
function PartsOf({ step }: { step: Step }) {
  const parts = step.parts ?? [];
  if (parts.length < 2) return null;
  return (
    <span className="mt-1 block text-[12px] leading-tight">
      {parts.map((part, place) => (
        <span key={part.key} className="block truncate">
          <span aria-hidden className="inline-block w-3 text-center text-soft">
            {place === 0 ? "┬" : place === parts.length - 1 ? "┴" : "┼"}
          </span>{" "}
          {part.title || part.key}
        </span>
      ))}
    </span>
  );
}

interface PathProps {
  steps: Step[];
  filmed: WorkedSession[];
  tread: number;
  topOf: (place: number) => number;
  width: number;
  height: number;
}

/** Each session a dot above the step it ended on, joined in the order of the days. */
function Path({ steps, filmed, tread, topOf, width, height }: PathProps) {
  const on = filmed.flatMap((session) => {
    const place = steps.findIndex((step) => step.key === session.last_step);
    return place < 0 ? [] : [{ session, place }];
  });
  const count = new Map<number, number>();
  const total = new Map<number, number>();
  for (const { place } of on) total.set(place, (total.get(place) ?? 0) + 1);
  const dots = on.map(({ session, place }) => {
    const nth = (count.get(place) ?? 0) + 1;
    count.set(place, nth);
    const share = nth / ((total.get(place) ?? 1) + 1);
    return { id: session.session_id, x: (place + share) * tread, y: topOf(place) - 12 };
  });
  const last = dots.at(-1);
  return (
    <svg width={width} height={height} aria-hidden className="pointer-events-none absolute inset-0">
      <path
        d={dots.map((dot, i) => `${i ? "L" : "M"}${dot.x} ${dot.y}`).join("")}
        fill="none"
        stroke="var(--soft)"
        opacity={0.6}
      />
      {dots.map((dot) => (
        <circle
          key={dot.id}
          cx={dot.x}
          cy={dot.y}
          r={dot === last ? 5 : 3.2}
          fill={dot === last ? "var(--behaviour)" : "var(--soft)"}
        />
      ))}
    </svg>
  );
}

/** How many judged reps fitted at a step, over all its sessions. */
function cameTo(step: Step, filmed: WorkedSession[]): string {
  const sum = (of: "met" | "judged") => filmed.reduce((n, s) => n + (s[of][step.key] ?? 0), 0);
  const judged = sum("judged");
  return judged === 0 ? "" : t("plan:stairs.sum_of_judged", { sum: sum("met"), judged });
}
