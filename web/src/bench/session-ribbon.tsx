import { useMemo, useRef, type PointerEvent } from "react";

import type { Findings } from "../api/findings";
import { clock } from "../ui/times";
import type { FrameTimes } from "./frame-times";
import type { StoredEvent } from "./marks";
import type { SoundOverview } from "./sound-overview";

const HEIGHT = 76;
const GROUND = 52;

interface SessionRibbonProps {
  times: FrameTimes;
  frame: number;
  events: StoredEvent[];
  timeOf: (event: StoredEvent) => number;
  findings: Findings | null;
  sound: SoundOverview | null;
  titleOf: (approximation: string) => string;
  onGo: (frame: number) => void;
}

/** The whole session as one band: pay as its skyline, steps as its ground, clicks as hairs. */
export function SessionRibbon(props: SessionRibbonProps) {
  const { times, frame, events, timeOf, findings, sound, titleOf, onGo } = props;
  const box = useRef<HTMLDivElement>(null);
  const total = times.durationUs / 1e6;
  const x = (s: number) => (s / total) * 1000;

  const go = (event: PointerEvent) => {
    const bounds = box.current?.getBoundingClientRect();
    if (!bounds) return;
    const share = Math.min(1, Math.max(0, (event.clientX - bounds.left) / bounds.width));
    onGo(times.atUs(share * times.durationUs));
  };

  const hairs = useMemo(() => sound?.hairs(1000) ?? "", [sound]);
  const curve = findings?.rate_curve ?? [];
  const top = Math.max(12, ...curve.map((p) => p.per_min));
  const y = (rate: number) => GROUND - (rate / top) * (GROUND - 8);
  const skyline = curve.map((p) => `${x(p.t_s).toFixed(1)} ${y(p.per_min).toFixed(1)}`).join("L");
  const steps = groundOf(events, timeOf, total);
  const at = times.us(frame) / 1e6;

  return (
    <div
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Session ribbon: where in the film"
      aria-valuemin={0}
      aria-valuemax={times.count - 1}
      aria-valuenow={frame}
      aria-valuetext={clock(times.us(frame))}
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
        <path d={hairs} stroke="var(--soft)" vectorEffect="non-scaling-stroke" opacity={0.55} />
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
          10 rewards a minute
        </span>
      )}
    </div>
  );
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
