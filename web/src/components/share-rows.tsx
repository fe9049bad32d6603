import type { ReactNode } from "react";

import type { Interval } from "../api/findings";
import { CouldBe } from "./plot-parts";

export interface ShareRow {
  key: string;
  name: ReactNode;
  count: ReactNode;
  share: Interval;
  /** What the plan wanted, 0 to 1. */
  target?: number | null;
}

/** Shares one under the other on one axis from none to all, each with what it could be. */
export function ShareRows({ rows, colour }: { rows: ShareRow[]; colour: string }) {
  const x = (share: number) => 4 + share * 232;
  return (
    <ul className="mt-1">
      {rows.map(({ key, name, count, share, target }) => (
        <li
          key={key}
          className="grid grid-cols-[minmax(5rem,11rem)_minmax(4.5rem,auto)_minmax(6rem,1fr)] items-center gap-3 border-t border-hair py-1 first:border-0"
        >
          <span className="min-w-0 leading-snug">{name}</span>
          <span className="num whitespace-nowrap">{count}</span>
          <svg viewBox="0 0 240 20" className="h-5 w-full" preserveAspectRatio="none" aria-hidden>
            <path d="M4 10H236" stroke="var(--hair)" />
            {share.low !== null && share.high !== null && (
              <CouldBe from={[x(share.low), 10]} to={[x(share.high), 10]} colour={colour} />
            )}
            {share.share !== null && (
              <path d={`M${x(share.share)} 4v12`} stroke={colour} strokeWidth={3} />
            )}
            {target !== undefined && target !== null && (
              <path d={`M${x(target)} 1v18`} stroke="var(--ink)" strokeDasharray="2 2" />
            )}
          </svg>
        </li>
      ))}
    </ul>
  );
}
