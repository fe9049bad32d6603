import { memo, useEffect, useMemo, useRef, type MouseEvent } from "react";

import type { Findings, Rep } from "../../api/findings";
import { BehaviourStep, MarkerRing, PartTick, RewardSeed } from "../../components/glyphs";
import { counted, latency } from "../../domain/times";
import { axisFor, type LadderAxis } from "../../domain/ladder-axis";
import {
  ladderGroups,
  type LadderKind,
  type LadderMark,
  type RepRow,
  type WaitRow,
} from "../../domain/ladder-rows";
import { MarkerDensity } from "./marker-density";
import type { StoredEvent } from "../../domain/marks";
import { thoughtOtherwise, thoughtWords } from "../../domain/rep-filter";
import { t } from "../../words";

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
  /** The marks in their order, and each one's best estimate, seconds. */
  events: StoredEvent[];
  timeOf: (event: StoredEvent) => number;
  onTimeS: number;
  rewardLimitS: number;
  selected: string | null;
  /** Pixels. */
  width: number;
  titleOf: (approximation: string | null) => string;
  onRep: (rep: Rep) => void;
  onMark: (id: string) => void;
  onMissing: (missing: Missing) => void;
}

/** One row a rep, all lined up on the instant the behaviour begins. */
export const RepLadder = memo(function RepLadder(props: RepLadderProps) {
  const { findings, events, timeOf, onTimeS, selected, width, titleOf } = props;
  const { onRep, onMark, onMissing } = props;
  const groups = useMemo(() => ladderGroups(findings, events, timeOf), [findings, events, timeOf]);
  const axis = useMemo(
    () =>
      axisFor(
        groups.flatMap((group) =>
          group.rows.map((row) => Math.max(0, ...row.marks.map((mark) => mark.s))),
        ),
        width,
      ),
    [groups, width],
  );
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const rows = list.current;
    // Where the page scrolls and not the list, the film must not be scrolled away.
    if (!rows || rows.scrollHeight <= rows.clientHeight) return;
    rows.querySelector('[aria-current="true"]')?.scrollIntoView({ block: "nearest" });
  }, [selected]);
  return (
    <section aria-labelledby="ladder-title" className="flex min-h-0 flex-col" style={{ width }}>
      <h2 id="ladder-title" className="flex items-baseline gap-2.5 font-semibold">
        {t("bench:rep_ladder.reps_lined_up_on_the")}
      </h2>
      <Axis axis={axis} />
      <div ref={list} className="relative min-h-0 flex-1 overflow-x-hidden overflow-y-auto">
        {groups.map((group, n) => (
          <div key={n} role="group" aria-label={titleOf(group.approximation)}>
            <div className="flex items-baseline border-b border-line pt-1 pr-1 text-[12.5px]">
              <span className="flex-1 font-semibold">{titleOf(group.approximation)}</span>
              <span className="text-soft">{fitted(group.rows)}</span>
            </div>
            {group.rows.map((row) =>
              row.row === "rep" ? (
                <Row
                  key={row.rep.id}
                  row={row}
                  axis={axis}
                  current={selected === row.rep.id}
                  onTimeS={onTimeS}
                  onRep={onRep}
                  onMark={onMark}
                  onMissing={onMissing}
                />
              ) : (
                <Waiting key={row.id} row={row} axis={axis} onMark={onMark} />
              ),
            )}
          </div>
        ))}
      </div>
      <MarkerDensity findings={findings} axis={axis} rewardLimitS={props.rewardLimitS} />
    </section>
  );
});

function Axis({ axis }: { axis: LadderAxis }) {
  return (
    <svg width={axis.width} height={18} aria-hidden className="num mt-1 shrink-0 text-[10.5px]">
      {axis.ticks.map((s) => (
        <text key={s} x={axis.x(s)} y={12} textAnchor="middle" fill="var(--soft)">
          {s === 0 ? t("bench:rep_ladder.begins") : `${s > 0 ? "+" : "−"}${Math.abs(s)} s`}
        </text>
      ))}
    </svg>
  );
}

/** The hatched ground behind a row: early zone, on-time zone, whole seconds, onset. */
function RowGround({ axis, onTimeS }: { axis: LadderAxis; onTimeS: number }) {
  const { x } = axis;
  return (
    <>
      <rect x={x(axis.fromS)} width={x(0) - x(axis.fromS)} height={ROW} fill="var(--zone-early)" />
      <rect x={x(0)} width={x(onTimeS) - x(0)} height={ROW} fill="var(--zone-on-time)" />
      {axis.ticks
        .filter((s) => s > 0)
        .map((s) => (
          <path key={s} d={`M${x(s)} 0V${ROW}`} stroke="var(--hair)" />
        ))}
      <path d={`M${x(0)} 0V${ROW}`} stroke="var(--behaviour)" strokeWidth={1.4} />
    </>
  );
}

/** A mark of a row and where it stands; null id: a hollow place. */
interface Place {
  x: number;
  id: string | null;
  kind: LadderKind;
}

/** The marks there are, and hollow places for those one would look for. */
function placesOf({ rep, marks }: RepRow, { x }: LadderAxis): Place[] {
  const places: Place[] = marks.map((mark) => ({ x: x(mark.s), id: mark.id, kind: mark.kind }));
  const has = (...kinds: LadderKind[]) => marks.some((mark) => kinds.includes(mark.kind));
  if (!has("offset", "release")) places.push({ x: x(0) + 14, id: null, kind: "offset" });
  const marker = marks.find((mark) => mark.kind === "marker");
  // A rep judged not to fit needs no marker, one paid without never had it.
  if (!marker && rep.met !== false && !rep.paid_directly && !has("keep_going")) {
    places.push({ x: x(0) + 28, id: null, kind: "marker" });
  }
  if (marker && !has("reward")) places.push({ x: x(marker.s) + 110, id: null, kind: "reward" });
  return places;
}

function nearestTo<T extends { x: number }>(event: MouseEvent<HTMLButtonElement>, places: T[]) {
  // Enter and space come without a place.
  if (event.detail === 0) return undefined;
  const x = event.clientX - event.currentTarget.getBoundingClientRect().left;
  const nearest = places
    .map((place) => ({ place, gap: Math.abs(place.x - x) }))
    .sort((a, b) => a.gap - b.gap)[0];
  return nearest && nearest.gap <= NEAR ? nearest.place : undefined;
}

interface RowProps extends Pick<RepLadderProps, "onTimeS" | "onRep" | "onMark" | "onMissing"> {
  row: RepRow;
  axis: LadderAxis;
  current: boolean;
}

/** One rep. Hundreds of them stay still while the film is stepped through. */
const Row = memo(function Row(props: RowProps) {
  const { row, axis, current, onTimeS, onRep, onMark, onMissing } = props;
  const { rep, number } = row;
  const places = placesOf(row, axis);

  const click = (event: MouseEvent<HTMLButtonElement>) => {
    const near = nearestTo(event, places);
    if (!near) onRep(rep);
    else if (near.id !== null) onMark(near.id);
    else if (near.kind === "offset" || near.kind === "marker" || near.kind === "reward") {
      onMissing({ rep, kind: near.kind });
    }
  };
  return (
    <button
      type="button"
      onClick={click}
      aria-current={current ? "true" : undefined}
      aria-label={inWords(row)}
      className={`relative block w-full ${current ? "bg-raised outline-1 -outline-offset-1 outline-ink" : "hover:bg-raised"}`}
      style={{ height: ROW, contentVisibility: "auto", containIntrinsicHeight: ROW }}
      data-rep={rep.id}
    >
      <svg width={axis.width} height={ROW} aria-hidden className="absolute inset-0">
        <RowGround axis={axis} onTimeS={onTimeS} />
        <text x={26} y={16} textAnchor="end" className="num" fontSize={11.5} fill="var(--soft)">
          {number}
        </text>
        <text x={36} y={16} fontSize={12} fill={rep.met ? "var(--ink)" : "var(--soft)"}>
          {rep.false_alarm
            ? t("bench:rep_ladder.not_asked")
            : rep.met === null
              ? "–"
              : rep.met
                ? t("bench:rep_ladder.fits")
                : t("common:not_yet")}
        </text>
        {thoughtOtherwise(rep) && (
          <text x={92} y={16} fontSize={11.5} fill="var(--marker)" data-thought={rep.tapped_met}>
            {thoughtWords(rep)}
          </text>
        )}
        {row.backS !== null && <ReturnLine axis={axis} s={row.backS} />}
        <RowGlyphs row={row} places={places} axis={axis} />
      </svg>
    </button>
  );
});

/** Coming back after it was sent away: a line that ends where the rep begins. */
function ReturnLine({ axis, s }: { axis: LadderAxis; s: number }) {
  const [from, to, y] = [axis.x(-s), axis.x(0), ROW - 4];
  return (
    <g data-return={s.toFixed(3)} stroke="var(--soft)" fill="none">
      <path d={`M${from} ${y}H${to - 2}`} strokeDasharray="3 2" />
      <path d={`M${to - 6} ${y - 3}L${to - 2} ${y}L${to - 6} ${y + 3}`} />
      {/* Where it was sent away, unless that lies further off than the row reaches. */}
      {-s >= axis.fromS && <path d={`M${from} ${y - 3}V${y + 3}`} />}
    </g>
  );
}

const Y = ROW / 2;

function RowGlyphs({ row, places, axis }: { row: RepRow; places: Place[]; axis: LadderAxis }) {
  const { rep } = row;
  const late = rep.timing === "late" || rep.behaviour_over === true;
  const end = places.find((p) => (p.kind === "offset" || p.kind === "release") && p.id !== null);
  const released = places.find((p) => p.kind === "release");
  return (
    <>
      <BehaviourStep from={axis.x(0)} to={end ? end.x : null} y={Y} />
      {released && (
        <path
          data-release={released.id}
          d={`M${released.x} ${Y - 3.5}l7 -4M${released.x} ${Y - 3.5}v8`}
          fill="none"
          stroke="var(--behaviour)"
          strokeWidth={1.7}
        />
      )}
      {places.map((place) =>
        place.kind === "marker" || place.kind === "keep_going" ? (
          <MarkerRing
            key={place.id ?? "m"}
            x={place.x}
            y={Y}
            hollow={place.id === null}
            small={place.kind === "keep_going"}
            strong={late && place.id === rep.marker_id}
          />
        ) : place.kind === "reward" ? (
          <RewardSeed key={place.id ?? "r"} x={place.x} y={Y} hollow={place.id === null} />
        ) : place.kind === "part" ? (
          <PartTick key={place.id} x={place.x} y={Y} />
        ) : null,
      )}
    </>
  );
}

/** A wait in which nothing was asked, lined up on its beginning, with what was paid in it. */
const Waiting = memo(function Waiting({
  row,
  axis,
  onMark,
}: {
  row: WaitRow;
  axis: LadderAxis;
  onMark: (id: string) => void;
}) {
  const places = row.marks.map((mark: LadderMark) => ({ ...mark, x: axis.x(mark.s) }));
  const paid = row.marks.filter((mark) => mark.kind === "marker").length;
  const words = row.wasShown
    ? t("bench:rep_ladder.shown_unasked")
    : paid > 0
      ? t("bench:rep_ladder.wait_paid")
      : t("bench:rep_ladder.waited");
  return (
    <button
      type="button"
      onClick={(event) => onMark(nearestTo(event, places)?.id ?? row.id)}
      aria-label={t("bench:rep_ladder.nothing_asked_words_which", {
        words,
        which: paid > 1 ? t("bench:rep_ladder.paid_times", { paid }) : "",
      })}
      className="relative block w-full hover:bg-raised"
      style={{ height: ROW }}
      data-wait={row.id}
    >
      <svg width={axis.width} height={ROW} aria-hidden className="absolute inset-0">
        <text x={10} y={16} fontSize={12} fill="var(--soft)">
          {words}
        </text>
        <path
          d={`M${axis.x(0)} ${Y - 4}v8M${axis.x(0)} ${Y}H${axis.x(row.lengthS)}M${axis.x(row.lengthS)} ${Y - 4}v8`}
          stroke="var(--soft)"
          strokeDasharray="1.5 2.5"
          strokeWidth={1.4}
        />
        {places.map((place) =>
          place.kind === "marker" ? (
            <MarkerRing key={`m${place.id}`} x={place.x} y={Y} />
          ) : (
            <RewardSeed key={`r${place.id}`} x={place.x} y={Y} />
          ),
        )}
      </svg>
    </button>
  );
});

/** A row for those who hear it. */
function inWords({ rep, number, marks, backS }: RepRow): string {
  const said = [t("bench:rep_ladder.rep_number", { number })];
  if (rep.false_alarm) said.push(t("bench:rep_ladder.shown_although_nothing_was_asked"));
  else if (rep.met !== null) said.push(rep.met ? "fits" : t("common:not_yet"));
  if (thoughtOtherwise(rep)) said.push(thoughtWords(rep));
  if (backS !== null)
    said.push(t("bench:rep_ladder.back_after_backs_s", { backS: backS.toFixed(1) }));
  if (rep.parts.length > 0) said.push(counted(rep.parts.length, "part"));
  said.push(
    rep.marker_latency_s === null
      ? rep.paid_directly
        ? t("bench:rep_ladder.paid_without_a_marker")
        : t("bench:rep_ladder.no_marker")
      : t("bench:rep_ladder.marker_marker_latency_s_which", {
          marker_latency_s: latency(rep.marker_latency_s),
          which: rep.timing === "on_time" ? "" : `, ${rep.timing ?? "not timed"}`,
        }),
  );
  if (rep.behaviour_over) said.push(t("bench:rep_ladder.after_the_behaviour_was_over"));
  if (rep.reward_latency_s !== null)
    said.push(
      t("bench:rep_ladder.reward_reward_latency_s_after", {
        reward_latency_s: latency(rep.reward_latency_s),
      }),
    );
  else if (rep.marker_s !== null) said.push(t("bench:rep_ladder.no_reward"));
  if (rep.pays > 1) said.push(t("bench:rep_ladder.paid_pays_times", { pays: rep.pays }));
  if (marks.some((mark) => mark.kind === "release")) said.push(t("bench:rep_ladder.let_go"));
  return said.join(", ");
}

function fitted(rows: (RepRow | WaitRow)[]): string {
  const reps = rows.flatMap((row) => (row.row === "rep" ? [row.rep] : []));
  const judged = reps.filter((rep) => rep.met !== null && !rep.false_alarm);
  if (judged.length === 0) return counted(reps.length, "rep");
  return t("bench:rep_ladder.filtercount_of_judgedcount_fit", {
    filterCount: judged.filter((rep) => rep.met).length,
    judgedCount: judged.length,
  });
}
