import { memo, useEffect, useMemo, useRef, type MouseEvent } from "react";

import type { Findings, Rep } from "../api/findings";
import { BehaviourStep, MarkerRing, RewardSeed } from "../ui/glyphs";
import { counted, latency } from "../ui/times";
import { FROM_S, ladderX, TO_S, WIDTH } from "./ladder-axis";
import { MarkerDensity } from "./marker-density";

/** A click this close to a glyph means the glyph. */
const NEAR = 9;
const ROW = 24;

/** A hollow place: a mark that is missing from a rep. */
export interface Missing {
  rep: Rep;
  kind: "offset" | "marker" | "reward";
}

interface RepLadderProps {
  findings: Findings;
  onTimeS: number;
  selected: string | null;
  titleOf: (approximation: string | null) => string;
  onRep: (rep: Rep) => void;
  onMark: (id: string) => void;
  onMissing: (missing: Missing) => void;
}

/** One row a rep, all lined up on the instant the behaviour begins. */
export const RepLadder = memo(function RepLadder(props: RepLadderProps) {
  const { findings, onTimeS, selected, titleOf, onRep, onMark, onMissing } = props;
  const groups = useMemo(() => groupsOf(findings.reps), [findings.reps]);
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  return (
    <section
      aria-labelledby="ladder-title"
      className="flex min-h-0 flex-col"
      style={{ width: WIDTH }}
    >
      <h2 id="ladder-title" className="flex items-baseline gap-2.5 font-semibold">
        Reps, lined up on the instant the behaviour begins
      </h2>
      <Axis />
      <div ref={list} className="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto">
        {groups.map((group) => (
          <div key={group.start} role="group" aria-label={titleOf(group.approximation)}>
            <div className="flex items-baseline border-b border-line pt-1 pr-1 text-[12.5px]">
              <span className="flex-1 font-semibold">{titleOf(group.approximation)}</span>
              <span className="text-soft">{fitted(group.reps)}</span>
            </div>
            {group.reps.map((rep, i) => (
              <Row
                key={rep.id}
                rep={rep}
                number={group.start + i + 1}
                current={selected === rep.id}
                onTimeS={onTimeS}
                onRep={onRep}
                onMark={onMark}
                onMissing={onMissing}
              />
            ))}
          </div>
        ))}
      </div>
      <MarkerDensity findings={findings} />
    </section>
  );
});

function Axis() {
  const ticks = Array.from({ length: TO_S - FROM_S + 1 }, (_, i) => FROM_S + i);
  return (
    <svg width={WIDTH} height={18} aria-hidden className="num mt-1 shrink-0 text-[10.5px]">
      {ticks.map((s) => (
        <text key={s} x={ladderX(s)} y={12} textAnchor="middle" fill="var(--soft)">
          {s === 0 ? "begins" : `${s > 0 ? "+" : "−"}${Math.abs(s)} s`}
        </text>
      ))}
    </svg>
  );
}

/** The hatched ground behind a row: early zone, on-time zone, whole seconds, onset. */
export function RowGround({ height, onTimeS }: { height: number; onTimeS: number }) {
  return (
    <>
      <rect
        x={ladderX(FROM_S)}
        width={ladderX(0) - ladderX(FROM_S)}
        height={height}
        fill="var(--zone-early)"
      />
      <rect
        x={ladderX(0)}
        width={ladderX(onTimeS) - ladderX(0)}
        height={height}
        fill="var(--zone-on-time)"
      />
      {[1, 2, 3, 4, 5].map((s) => (
        <path key={s} d={`M${ladderX(s)} 0V${height}`} stroke="var(--hair)" />
      ))}
      <path d={`M${ladderX(0)} 0V${height}`} stroke="var(--behaviour)" strokeWidth={1.4} />
    </>
  );
}

/** A mark of a row and where it stands; null id: a hollow place. */
interface Place {
  x: number;
  id: string | null;
  kind: "onset" | "offset" | "marker" | "reward";
}

function placesOf(rep: Rep): Place[] {
  const at = (s: number | null) => (s === null ? null : ladderX(s));
  const marker = at(rep.marker_latency_s);
  const reward =
    rep.reward_latency_s === null ? null : at((rep.marker_latency_s ?? 0) + rep.reward_latency_s);
  const offset = at(rep.offset_s === null ? null : rep.offset_s - rep.onset_s);
  const places: Place[] = [{ x: ladderX(0), id: rep.id, kind: "onset" }];
  places.push({ x: offset ?? ladderX(0) + 14, id: rep.offset_id, kind: "offset" });
  // A rep judged not to fit needs no marker; any other one has a place for it.
  if (marker !== null || rep.met !== false) {
    places.push({ x: marker ?? ladderX(0.45), id: rep.marker_id, kind: "marker" });
  }
  if (marker !== null) {
    places.push({ x: reward ?? marker + 110, id: rep.reward_ids[0] ?? null, kind: "reward" });
  }
  return places;
}

interface RowProps extends Pick<RepLadderProps, "onTimeS" | "onRep" | "onMark" | "onMissing"> {
  rep: Rep;
  number: number;
  current: boolean;
}

/** One rep. Hundreds of them stay still while the film is stepped through. */
const Row = memo(function Row(props: RowProps) {
  const { rep, number, current, onTimeS, onRep, onMark, onMissing } = props;
  const places = placesOf(rep);

  const click = (event: MouseEvent<HTMLButtonElement>) => {
    const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const nearest = places
      .map((place) => ({ place, gap: Math.abs(place.x - x) }))
      .sort((a, b) => a.gap - b.gap)[0];
    // Enter and space come without a place.
    if (event.detail === 0 || !nearest || nearest.gap > NEAR) onRep(rep);
    else if (nearest.place.id !== null) onMark(nearest.place.id);
    else if (nearest.place.kind !== "onset") onMissing({ rep, kind: nearest.place.kind });
  };

  return (
    <button
      type="button"
      onClick={click}
      aria-current={current ? "true" : undefined}
      aria-label={inWords(rep, number)}
      className={`relative block w-full ${current ? "bg-raised outline-1 -outline-offset-1 outline-ink" : "hover:bg-raised"}`}
      style={{ height: ROW, contentVisibility: "auto", containIntrinsicHeight: ROW }}
      data-rep={rep.id}
    >
      <svg width={WIDTH} height={ROW} aria-hidden className="absolute inset-0">
        <RowGround height={ROW} onTimeS={onTimeS} />
        <text x={26} y={16} textAnchor="end" className="num" fontSize={11.5} fill="var(--soft)">
          {number}
        </text>
        <text x={36} y={16} fontSize={12} fill={rep.met ? "var(--ink)" : "var(--soft)"}>
          {rep.met === null ? "–" : rep.met ? "fits" : "not yet"}
        </text>
        <RowGlyphs rep={rep} places={places} />
      </svg>
    </button>
  );
});

function RowGlyphs({ rep, places }: { rep: Rep; places: Place[] }) {
  const y = ROW / 2;
  const late = rep.timing === "late" || rep.behaviour_over === true;
  const offset = places.find((p) => p.kind === "offset" && p.id !== null);
  return (
    <>
      <BehaviourStep from={ladderX(0)} to={offset ? offset.x : null} y={y} />
      {places.map((place) =>
        place.kind === "marker" ? (
          <MarkerRing key="m" x={place.x} y={y} hollow={place.id === null} strong={late} />
        ) : place.kind === "reward" ? (
          <RewardSeed key="r" x={place.x} y={y} hollow={place.id === null} />
        ) : null,
      )}
    </>
  );
}

/** A row for those who hear it. */
function inWords(rep: Rep, number: number): string {
  const said = [`Rep ${number}`];
  if (rep.met !== null) said.push(rep.met ? "fits" : "not yet");
  said.push(
    rep.marker_latency_s === null
      ? "no marker"
      : `marker ${latency(rep.marker_latency_s)}${rep.timing === "on_time" ? "" : `, ${rep.timing ?? "not timed"}`}`,
  );
  if (rep.behaviour_over) said.push("after the behaviour was over");
  if (rep.reward_latency_s !== null) said.push(`reward ${latency(rep.reward_latency_s)} after it`);
  else if (rep.marker_s !== null) said.push("no reward");
  return said.join(", ");
}

interface Group {
  approximation: string | null;
  start: number;
  reps: Rep[];
}

/** Consecutive reps at the same approximation. */
function groupsOf(reps: Rep[]): Group[] {
  const groups: Group[] = [];
  reps.forEach((rep, place) => {
    const last = groups.at(-1);
    if (last && last.approximation === rep.approximation) last.reps.push(rep);
    else groups.push({ approximation: rep.approximation, start: place, reps: [rep] });
  });
  return groups;
}

function fitted(reps: Rep[]): string {
  const judged = reps.filter((rep) => rep.met !== null);
  if (judged.length === 0) return counted(reps.length, "rep");
  return `${judged.filter((rep) => rep.met).length} of ${judged.length} fit`;
}
