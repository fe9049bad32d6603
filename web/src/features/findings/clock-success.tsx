import { Link } from "react-router";

import type { Level } from "../../api/findings";
import { behind } from "./behind";
import { t } from "../../words";

const SIZE = 250;
const MIDDLE = SIZE / 2;

/** Success around the animal, 12 ahead of it: a fuller dot fits more often. */
export function ClockSuccess({ levels }: { levels: Record<string, Level> }) {
  const at = (hour: number, radius: number) => {
    const angle = (hour / 12) * 2 * Math.PI;
    return { x: MIDDLE + radius * Math.sin(angle), y: MIDDLE - radius * Math.cos(angle) };
  };
  const hours = Array.from({ length: 12 }, (_, i) => String(i + 1));
  return (
    <div className="flex flex-wrap items-center gap-x-8">
      <svg
        width={SIZE}
        height={SIZE}
        role="img"
        aria-label={Object.entries(levels)
          .map(([hour, l]) =>
            t("findings:clock_success.hour_oclock_number_of_of", {
              hour,
              number: l.success.count,
              of: l.success.of,
            }),
          )
          .join("; ")}
        className="shrink-0"
      >
        <circle cx={MIDDLE} cy={MIDDLE} r={84} fill="none" stroke="var(--line)" />
        <path
          d={`M${MIDDLE} ${MIDDLE - 30}l15 22v34h-30v-34z`}
          fill="var(--hair)"
          stroke="var(--soft)"
        />
        {hours.map((hour) => {
          const level = levels[hour];
          const dot = at(Number(hour), 84);
          const label = at(Number(hour), 111);
          if (!level) return <circle key={hour} cx={dot.x} cy={dot.y} r={2} fill="var(--soft)" />;
          const share = level.success.share ?? 0;
          return (
            <g key={hour}>
              <circle
                cx={dot.x}
                cy={dot.y}
                r={14}
                fill="var(--paper)"
                stroke="var(--behaviour)"
                strokeWidth={1.6}
              />
              <circle
                cx={dot.x}
                cy={dot.y}
                r={13 * Math.sqrt(share)}
                fill="var(--behaviour)"
                opacity={0.6}
              />
              <text
                x={label.x}
                y={label.y + 4}
                fontSize={12}
                textAnchor="middle"
                fill="var(--soft)"
                className="num"
              >
                {hour}
              </text>
            </g>
          );
        })}
      </svg>
      <ul className="min-w-40 flex-1">
        {Object.entries(levels).map(([hour, level]) => (
          <li key={hour} className="flex justify-between gap-4 border-b border-hair py-0.5">
            <Link
              {...behind(`where:clock=${hour}`)}
              preventScrollReset
              className="underline decoration-line underline-offset-3"
            >
              {t("findings:clock_success.hour_oclock", { hour })}
            </Link>
            <span className="num">
              {level.success.of === 0
                ? t("findings:clock_success.attempts_reps", { attempts: level.attempts })
                : t("findings:clock_success.number_of_of", {
                    number: level.success.count,
                    of: level.success.of,
                  })}
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}
