interface SpreadDotProps {
  x: number;
  y: number;
  /** From where to where its bar goes; null where nothing is known of that. */
  bar: [number, number] | null;
  colour: string;
  fill?: string;
  dash?: string | undefined;
}

/** A value with what surrounds it: a dot on a broad pale bar. */
export function SpreadDot({ x, y, bar, colour, fill = "var(--paper)", dash }: SpreadDotProps) {
  return (
    <>
      {bar && (
        <path d={`M${x} ${bar[0]}V${bar[1]}`} stroke={colour} strokeWidth={5} opacity={0.22} />
      )}
      <circle
        cx={x}
        cy={y}
        r={4}
        fill={fill}
        stroke={colour}
        strokeWidth={1.7}
        strokeDasharray={dash}
      />
    </>
  );
}
