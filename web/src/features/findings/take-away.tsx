import { Link } from "react-router";

import type { SessionOut } from "../../api/client";
import { t } from "../../words";

const FORMS = [
  ["export.json", t("findings:take_away.marks_as_json")],
  ["export.csv", t("findings:take_away.marks_as_csv")],
  ["export.vtt", t("findings:take_away.marks_as_webvtt")],
  ["tables.xlsx", t("findings:take_away.all_tables_as_xlsx")],
  ["tables/reps.csv", t("findings:take_away.reps_as_csv")],
  ["tables/splits.csv", t("findings:take_away.steps_as_csv")],
] as const;

/** The findings to give to somebody: a report, and tables in open formats. */
export function TakeAway({ session }: { session: SessionOut }) {
  return (
    <section aria-labelledby="take-title" className="no-print mt-10 border-t border-ink pt-3">
      <h2 id="take-title" className="text-[16px] font-semibold">
        {t("findings:take_away.take_it_with_you")}
      </h2>
      <p className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <Link
          to={`/sessions/${session.id}/report`}
          className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper"
        >
          {t("findings:take_away.two_page_report")}
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
