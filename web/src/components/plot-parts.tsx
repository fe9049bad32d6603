import type { ReactNode } from "react";

type Point = [x: number, y: number];

/** From where to where a value could be: a broad pale bar, the same in every plot. */
export function CouldBe({ from, to, colour }: { from: Point; to: Point; colour: string }) {
  return (
    <path d={`M${from.join(" ")}L${to.join(" ")}`} stroke={colour} strokeWidth={5} opacity={0.26} />
  );
}

interface SpreadDotProps {
  x: number;
  y: number;
  /** From where to where its bar goes; null where nothing is known of that. */
  bar: [number, number] | null;
  colour: string;
  fill?: string;
  dash?: string | undefined;
}

/** A value with what it could be: a dot on its bar. */
export function SpreadDot({ x, y, bar, colour, fill = "var(--paper)", dash }: SpreadDotProps) {
  return (
    <>
      {bar && <CouldBe from={[x, bar[0]]} to={[x, bar[1]]} colour={colour} />}
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

interface LineAcrossProps {
  left: number;
  right: number;
  y: number;
  children: ReactNode;
  /** Named by words, not by a number. */
  worded?: boolean | undefined;
}

/** A line across a plot, named before its left end. */
export function LineAcross({ left, right, y, children, worded = false }: LineAcrossProps) {
  return (
    <>
      <path d={`M${left} ${y}H${right}`} stroke="var(--hair)" />
      <PlotText x={left - 6} y={y + 4} anchor="end" worded={worded}>
        {children}
      </PlotText>
    </>
  );
}

interface PlotTextProps {
  x: number;
  y: number;
  anchor?: "start" | "middle" | "end";
  worded?: boolean;
  colour?: string;
  children: ReactNode;
}

/** Small writing in a plot: numbers in the hand of numbers, or words. */
export function PlotText(props: PlotTextProps) {
  const { x, y, anchor, worded = false, colour = "var(--soft)", children } = props;
  return (
    <text
      x={x}
      y={y}
      textAnchor={anchor}
      fontSize={worded ? 12 : 11.5}
      className={worded ? undefined : "num"}
      fill={colour}
    >
      {children}
    </text>
  );
}
