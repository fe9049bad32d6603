import { Link } from "react-router";

import type { SessionOut } from "../../api/client";

const FORMS = [
  ["export.json", "marks as JSON"],
  ["export.csv", "marks as CSV"],
  ["export.vtt", "marks as WebVTT"],
  ["tables.xlsx", "all tables as XLSX"],
  ["tables/reps.csv", "reps as CSV"],
  ["tables/splits.csv", "steps as CSV"],
] as const;

/** The findings to give to somebody: a report, and tables in open formats. */
export function TakeAway({ session }: { session: SessionOut }) {
  return (
    <section aria-labelledby="take-title" className="no-print mt-10 border-t border-ink pt-3">
      <h2 id="take-title" className="text-[16px] font-semibold">
        Take it with you
      </h2>
      <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Link
          to={`/sessions/${session.id}/report`}
          className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper"
        >
          Two-page report
        </Link>
        {FORMS.map(([file, words]) => (
          <a
            key={file}
            className="underline underline-offset-3"
            href={`/api/sessions/${session.id}/${file}`}
            download
          >
            {words}
          </a>
        ))}
      </p>
    </section>
  );
}
