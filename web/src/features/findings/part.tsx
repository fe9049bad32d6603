import type { ReactNode } from "react";
import { Link } from "react-router";

import type { SessionOut } from "../../api/client";
import { uncertainty } from "../../domain/times";
import type { BehindLink } from "./behind";
import { Note } from "./note";
import { t } from "../../words";

interface PartProps {
  /** The key of the findings it shows; notes stand under it. */
  id: string;
  title: ReactNode;
  /** What a note on it is said to be about. */
  about: string;
  value?: ReactNode;
  session: SessionOut;
  wide?: boolean;
  children: ReactNode;
}

/** One part of the findings: its name, its main number, what is behind it, and a note. */
export function Part({ id, title, about, value, session, wide, children }: PartProps) {
  return (
    <section
      id={id}
      aria-labelledby={`${id}-title`}
      className={`far min-w-0 scroll-mt-4 break-inside-avoid border-t border-ink pt-3 pb-6 ${wide ? "col-span-full" : ""}`}
    >
      <div className="flex items-baseline justify-between gap-4">
        <h2 id={`${id}-title`} className="text-[16px] font-semibold">
          {title}
        </h2>
        <span className="num text-[26px] tracking-tight whitespace-nowrap">{value}</span>
      </div>
      {children}
      <Note session={session} part={id} about={about} />
    </section>
  );
}

/** A main number that opens its reps; a dash where there is none. */
export function Main({ value, behind }: { value: string | null; behind: BehindLink }) {
  if (value === null) return <>–</>;
  return (
    <Link {...behind} preventScrollReset>
      {value}
    </Link>
  );
}

/** A count that opens its reps. */
export function Count({
  n,
  words,
  behind,
  fault,
}: {
  n: number;
  words: string;
  behind: BehindLink;
  fault?: boolean;
}) {
  return (
    <Link
      {...behind}
      preventScrollReset
      className={`underline decoration-line underline-offset-3 ${fault && n > 0 ? "text-marker" : ""}`}
    >
      <span className="num">{n}</span> {words}
    </Link>
  );
}

/** How well the film's frames show it. */
export function Surety({ value }: { value: number | null }) {
  if (value === null || value === 0) return null;
  return (
    <p className="mt-1 text-[13px] text-soft">
      {t("findings:part.the_film_shows_each_of", { value: uncertainty(value) })}
    </p>
  );
}
