import { useMemo, useRef, type PointerEvent } from "react";

import type { Findings } from "../../api/findings";
import { isSeed } from "../../domain/seeds";
import { clock } from "../../domain/times";
import type { StoredEvent } from "../../domain/marks";
import { useSoundOverview } from "./sound-overview";
import type { Clip, Timeline } from "../../domain/timeline";
import { t } from "../../words";

const HEIGHT = 76;
const GROUND = 52;

interface SessionRibbonProps {
  timeline: Timeline;
  clip: Clip;
  frame: number;
  events: StoredEvent[];
  findings: Findings | null;
  /** Suggestions from the sound nobody has taken up yet. */
  heard: { soundS: number; pictureS: number }[];
  titleOf: (approximation: string) => string;
  onGo: (us: number) => void;
}

/** The whole session as one band: pay as its skyline, steps as its ground, what is heard as hairs. */
export function SessionRibbon(props: SessionRibbonProps) {
  const { timeline, clip, frame, events, findings, heard, titleOf, onGo } = props;
  const timeOf = (event: StoredEvent) => timeline.bestS(event);
  const box = useRef<HTMLDivElement>(null);
  const total = timeline.durationUs / 1e6;
  const x = (s: number) => (s / total) * 1000;

  const go = (event: PointerEvent) => {
    const bounds = box.current?.getBoundingClientRect();
    if (!bounds) return;
    const share = Math.min(1, Math.max(0, (event.clientX - bounds.left) / bounds.width));
    onGo(Math.min(timeline.durationUs - 1, Math.round(share * timeline.durationUs)));
  };

  const curve = findings?.rate_curve ?? [];
  const top = Math.max(12, ...curve.map((p) => p.per_min));
  const y = (rate: number) => GROUND - (rate / top) * (GROUND - 8);
  const skyline = curve.map((p) => `${x(p.t_s).toFixed(1)} ${y(p.per_min).toFixed(1)}`).join("L");
  const steps = groundOf(events, timeOf, total);
  const at = (clip.startUs + clip.times.us(frame)) / 1e6;

  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label={t("bench:session_ribbon.session_ribbon_where_in_the")}
      aria-valuemin={0}
      aria-valuemax={Math.round(timeline.durationUs / 1000)}
      aria-valuenow={Math.round(at * 1000)}
      aria-valuetext={clock(at * 1e6)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        go(event);
      }}
      onPointerMove={(event) => {
        if (event.buttons & 1) go(event);
      }}
      className="relative mx-[18px] shrink-0 cursor-crosshair touch-none border-b border-line"
      style={{ height: HEIGHT }}
    >
      <svg
        viewBox={`0 0 1000 ${HEIGHT}`}
        preserveAspectRatio="none"
        className="absolute inset-0 h-full w-full"
        aria-hidden
      >
        {steps.map((step, i) => (
          <rect
            key={step.from}
            x={x(step.from)}
            y={GROUND}
            width={Math.max(0, x(step.to) - x(step.from) - 1)}
            height={14}
            fill="var(--hair)"
            opacity={i % 2 ? 1 : 0.65}
          />
        ))}
        {skyline && (
          <>
            <path
              d={`M${x(curve[0]?.t_s ?? 0)} ${GROUND}L${skyline}L${x(curve.at(-1)?.t_s ?? 0)} ${GROUND}Z`}
              fill="var(--reward)"
              opacity={0.13}
            />
            <path
              d={`M${skyline}`}
              fill="none"
              stroke="var(--reward)"
              strokeWidth={1.4}
              vectorEffect="non-scaling-stroke"
            />
            <path
              d={`M0 ${y(10)}H1000`}
              stroke="var(--soft)"
              strokeDasharray="1 5"
              vectorEffect="non-scaling-stroke"
              opacity={0.7}
            />
          </>
        )}
        {timeline.clips.map((one) => (
          <Hairs
            key={one.film.id}
            clip={one}
            from={x(one.startUs / 1e6)}
            width={x(one.times.durationUs / 1e6)}
          />
        ))}
        {timeline.clips.slice(1).map((one) => (
          <rect
            key={one.film.id}
            x={x(one.startUs / 1e6) - 1.5}
            y={0}
            width={3}
            height={HEIGHT}
            fill="var(--paper)"
          />
        ))}
        {breaksOf(events, timeOf, total).map((pause) => (
          <rect
            key={pause.from}
            x={x(pause.from)}
            y={0}
            width={x(pause.to) - x(pause.from)}
            height={GROUND + 14}
            fill="var(--paper)"
            opacity={0.8}
          />
        ))}
        {heard.map((one) => (
          <path
            key={one.soundS}
            data-heard={one.soundS}
            d={`M${x(one.pictureS)} ${GROUND + 16}v8`}
            stroke="var(--marker)"
            strokeDasharray="1.5 1.5"
            strokeWidth={1.6}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {events.filter(isSeed).map((e) => (
          <path
            key={e.id}
            data-tap={e.id}
            d={`M${x(timeOf(e))} ${e.kind === "onset" && e.met ? 2 : 7}V12`}
            stroke={e.kind === "sign" ? "var(--marker)" : "var(--behaviour)"}
            strokeWidth={e.kind === "reward" ? 0 : 2.4}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {events
          .filter((e) => e.kind === "marker")
          .map((e) => (
            <path
              key={e.id}
              d={`M${x(timeOf(e))} ${GROUND + 15}v9`}
              stroke="var(--marker)"
              strokeWidth={1.6}
              vectorEffect="non-scaling-stroke"
            />
          ))}
        <path
          d={`M${x(at)} 0V${HEIGHT}`}
          stroke="var(--ink)"
          strokeWidth={1.5}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      {steps.map((step) => (
        <span
          key={step.from}
          className="pointer-events-none absolute truncate pl-1.5 text-[11px]"
          style={{
            left: `${x(step.from) / 10}%`,
            width: `${(x(step.to) - x(step.from)) / 10}%`,
            top: GROUND - 1,
          }}
        >
          {step.key ? titleOf(step.key) : ""}
        </span>
      ))}
      {skyline && (
        <span
          className="pointer-events-none absolute left-1 text-[11px] text-soft"
          style={{ top: y(10) - 16 }}
        >
          {t("bench:session_ribbon.10_rewards_a_minute")}
        </span>
      )}
    </div>
  );
}

/** Where the sound of a clip stands out, as fine hairs. */
function Hairs({ clip, from, width }: { clip: Clip; from: number; width: number }) {
  const sound = useSoundOverview(clip.film.id, clip.film.sound_ready).data;
  const hairs = useMemo(() => sound?.hairs(from, width) ?? "", [sound, from, width]);
  return <path d={hairs} stroke="var(--soft)" vectorEffect="non-scaling-stroke" opacity={0.55} />;
}

/** The stretches in which work pauses, as the reviewer marked them. */
function breaksOf(events: StoredEvent[], timeOf: (event: StoredEvent) => number, total: number) {
  const ends = events.filter((e) => e.kind === "bout_end");
  return ends.map((end) => {
    const next = events.find((e) => e.kind === "bout_start" && timeOf(e) > timeOf(end));
    return { from: timeOf(end), to: next ? timeOf(next) : total };
  });
}

interface Ground {
  key: string | null;
  from: number;
  to: number;
}

/** The stretches in which one approximation is in force. */
function groundOf(
  events: StoredEvent[],
  timeOf: (event: StoredEvent) => number,
  total: number,
): Ground[] {
  const changes = events
    .filter((e) => e.kind === "criterion")
    .sort((a, b) => timeOf(a) - timeOf(b));
  const first = changes[0];
  const ground: Ground[] = [{ key: null, from: 0, to: first ? timeOf(first) : total }];
  changes.forEach((change, i) => {
    const next = changes[i + 1];
    ground.push({
      key: change.approximation ?? null,
      from: timeOf(change),
      to: next ? timeOf(next) : total,
    });
  });
  return ground.filter((step) => step.to > step.from);
}
