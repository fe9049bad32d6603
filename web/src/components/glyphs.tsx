/** The three instants. Shape carries the meaning first, colour second. */

interface Placed {
  x: number;
  y: number;
  /** Missing: a hollow place to fill. */
  hollow?: boolean;
  /** Said with emphasis: a late marker, a selected mark. */
  strong?: boolean;
  /** Beside the one that counts: more is coming. */
  small?: boolean;
}

/** Behaviour: a low step up at the onset and down at the offset (open to the right without one). */
export function BehaviourStep({ from, to, y }: { from: number; to: number | null; y: number }) {
  const top = y - 3.5;
  const foot = y + 4.5;
  const d =
    to === null
      ? `M${from - 5} ${foot}H${from}V${top}H${from + 12}`
      : `M${from - 5} ${foot}H${from}V${top}H${Math.max(to, from + 2)}V${foot}h5`;
  return (
    <path
      d={d}
      fill="none"
      stroke="var(--behaviour)"
      strokeWidth={1.7}
      strokeDasharray={to === null ? "3 2.5" : undefined}
    />
  );
}

/** Marker: a small open ring on the line. */
export function MarkerRing({ x, y, hollow, strong, small }: Placed) {
  return (
    <circle
      data-hollow={hollow ? "marker" : undefined}
      cx={x}
      cy={y}
      r={small ? 3 : 4.4}
      fill={strong ? "var(--marker)" : hollow ? "none" : "var(--paper)"}
      stroke="var(--marker)"
      strokeWidth={hollow ? 1.2 : 1.9}
      strokeDasharray={hollow ? "2.2 2.2" : undefined}
    />
  );
}

/** A part of a chain begins: a tick through the step. */
export function PartTick({ x, y }: { x: number; y: number }) {
  return (
    <path
      data-part=""
      d={`M${x} ${y - 7.5}v9`}
      fill="none"
      stroke="var(--behaviour)"
      strokeWidth={2.4}
    />
  );
}

/** Reward: a filled seed leaning right. */
export function RewardSeed({ x, y, hollow }: Placed) {
  return (
    <ellipse
      cx={x}
      cy={y}
      rx={3}
      ry={5}
      transform={`rotate(20 ${x} ${y})`}
      fill={hollow ? "none" : "var(--reward)"}
      stroke="var(--reward)"
      strokeWidth={hollow ? 1.2 : 0}
      strokeDasharray={hollow ? "2.2 2.2" : undefined}
    />
  );
}

/** A glyph standing in a line of text. */
export function InlineGlyph({ kind }: { kind: "behaviour" | "marker" | "reward" }) {
  return (
    <svg
      width={16}
      height={14}
      viewBox="0 0 16 14"
      aria-hidden
      className="inline-block align-[-2px]"
    >
      {kind === "behaviour" && <BehaviourStep from={5} to={11} y={7} />}
      {kind === "marker" && <MarkerRing x={8} y={7} />}
      {kind === "reward" && <RewardSeed x={8} y={7} />}
    </svg>
  );
}

/** The house mark: the three instants on one line. */
export function HouseMark() {
  return (
    <svg width={30} height={22} viewBox="0 0 30 22" aria-hidden>
      <path d="M1 20H29" stroke="var(--soft)" />
      <path d="M5 20V9H11V20" fill="none" stroke="var(--behaviour)" strokeWidth={2} />
      <circle cx={15.5} cy={9} r={3} fill="none" stroke="var(--marker)" strokeWidth={2} />
      <ellipse cx={25} cy={14} rx={2.4} ry={4} transform="rotate(20 25 14)" fill="var(--reward)" />
    </svg>
  );
}
