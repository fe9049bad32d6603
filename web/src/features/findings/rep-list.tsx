import { Link } from "react-router";

import type { Findings, Rep } from "../../api/findings";
import { clock, counted, latency, uncertainty } from "../../domain/times";
import { thoughtOtherwise, thoughtWords, type RepFilter } from "../../domain/rep-filter";
import { t } from "../../words";

interface RepListProps {
  sessionId: string;
  findings: Findings;
  filter: RepFilter;
  hasFilm: boolean;
  titleOf: (approximation: string | null) => string;
  onAll: () => void;
}

/** The reps behind a number, each leading to its frames. */
export function RepList({ sessionId, findings, filter, hasFilm, titleOf, onAll }: RepListProps) {
  const reps = findings.reps
    .map((rep, place) => ({ rep, number: place + 1 }))
    .filter(({ rep }) => filter.holds(rep, findings));
  const instant = (s: number | null) => <Instant s={s} sessionId={hasFilm ? sessionId : null} />;
  return (
    <section id="reps" aria-labelledby="reps-title" className="far scroll-mt-4 pt-8">
      <div className="flex items-baseline gap-3 border-b border-ink pb-1">
        <h2 id="reps-title" className="text-[18px] font-semibold">
          {filter.words}
        </h2>
        <span className="text-soft">
          {reps.length === findings.reps.length
            ? counted(reps.length, "rep")
            : t("findings:rep_list.repscount_of_repscount2", {
                repsCount: reps.length,
                repsCount2: counted(findings.reps.length, "rep"),
              })}
        </span>
        {filter.key !== "all" && (
          <button type="button" className="underline underline-offset-3" onClick={onAll}>
            {t("findings:rep_list.show_all")}
          </button>
        )}
      </div>
      <div className="overflow-x-auto print:overflow-visible">
        <table className="w-full text-left whitespace-nowrap print:text-[10.5px] print:whitespace-normal">
          <thead>
            <tr className="text-[13px] text-soft">
              {[
                t("common:rep"),
                t("common:step"),
                t("findings:rep_list.fits"),
                t("findings:rep_list.begins"),
                t("findings:rep_list.marker"),
                t("findings:rep_list.from_the_beginning"),
                t("findings:rep_list.reward"),
                t("findings:rep_list.after_the_marker"),
              ].map((head) => (
                <th key={head} scope="col" className="py-1.5 pr-4 font-normal">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {reps.map(({ rep, number }) => (
              <tr key={rep.id} className="border-t border-hair">
                <th scope="row" className="num py-1 pr-4 font-normal">
                  {number}
                </th>
                <td className="pr-4">{titleOf(rep.approximation)}</td>
                <td className="pr-4">
                  {rep.met === null
                    ? "–"
                    : rep.met
                      ? t("findings:rep_list.fits_2")
                      : t("common:not_yet")}
                  {thoughtOtherwise(rep) && (
                    <span className="text-marker"> · {thoughtWords(rep)}</span>
                  )}
                </td>
                <td className="num pr-4">{instant(rep.onset_s)}</td>
                <td className="num pr-4">{instant(rep.marker_s)}</td>
                <td className="pr-4">
                  <MarkerLatency rep={rep} />
                </td>
                <td className="num pr-4">{instant(rep.reward_s)}</td>
                <td className="num">
                  {rep.reward_latency_s === null ? "–" : latency(rep.reward_latency_s)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {reps.length === 0 && (
        <p className="py-3 text-soft">{t("findings:rep_list.no_rep_stands_behind_this")}</p>
      )}
    </section>
  );
}

/** An instant of the recording, leading to its frames where there is a film. */
export function Instant({ s, sessionId }: { s: number | null; sessionId: string | null }) {
  if (s === null) return <>–</>;
  const said = clock(s * 1e6);
  if (sessionId === null) return <>{said}</>;
  return (
    <Link
      className="underline underline-offset-3 decoration-line"
      to={`/sessions/${sessionId}/bench?t=${Math.max(0, s).toFixed(6)}`}
    >
      {said}
    </Link>
  );
}

function MarkerLatency({ rep }: { rep: Rep }) {
  if (rep.marker_latency_s === null) return <>–</>;
  const notes: string[] = [];
  if (rep.timing === "early" || rep.timing === "late") notes.push(rep.timing);
  if (rep.behaviour_over) notes.push(t("findings:rep_list.it_was_over"));
  return (
    <>
      <span className="num">{latency(rep.marker_latency_s)}</span>
      {rep.uncertainty_s !== null && rep.uncertainty_s > 0 && (
        <span className="num ml-2 text-[12.5px] text-soft">{uncertainty(rep.uncertainty_s)}</span>
      )}
      {notes.length > 0 && (
        <span className="ml-2 text-[12.5px] text-marker">{notes.join(", ")}</span>
      )}
    </>
  );
}
