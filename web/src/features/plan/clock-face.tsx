import { t } from "../../words";

/** Places around an animal, 12 ahead of it; the stage they come in stands beside each. */
export function ClockFace({ stages }: { stages: number[][] }) {
  const size = 124;
  const middle = size / 2;
  const at = (hour: number, radius: number) => {
    const angle = (hour / 12) * 2 * Math.PI;
    return { x: middle + radius * Math.sin(angle), y: middle - radius * Math.cos(angle) };
  };
  const stageOf = (hour: number) => stages.findIndex((stage) => stage.includes(hour));
  const hours = Array.from({ length: 12 }, (_, i) => i + 1);
  return (
    <svg
      width={size}
      height={size}
      role="img"
      aria-label={stages
        .map((s, n) => t("plan:clock_face.stage_n_s_oclock", { n: n + 1, s: s.join(" and ") }))
        .join("; ")}
      className="shrink-0"
    >
      <circle cx={middle} cy={middle} r={44} fill="none" stroke="var(--line)" />
      <path
        d={`M${middle} ${middle - 16}l8 12v18h-16v-18z`}
        fill="var(--hair)"
        stroke="var(--soft)"
      />
      {hours.map((hour) => {
        const stage = stageOf(hour);
        const dot = at(hour, 44);
        const label = at(hour, 57);
        return (
          <g key={hour}>
            <circle
              cx={dot.x}
              cy={dot.y}
              r={stage < 0 ? 1.6 : 6.5}
              fill={stage < 0 ? "var(--soft)" : "var(--behaviour)"}
            />
            {stage >= 0 && (
              <>
                <text
                  x={dot.x}
                  y={dot.y + 3.5}
                  fontSize={9.5}
                  textAnchor="middle"
                  fill="var(--paper)"
                >
                  {stage + 1}
                </text>
                <text
                  x={label.x}
                  y={label.y + 3.5}
                  fontSize={10}
                  textAnchor="middle"
                  fill="var(--soft)"
                >
                  {hour}
                </text>
              </>
            )}
          </g>
        );
      })}
    </svg>
  );
}
