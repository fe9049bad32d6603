import type { Moment } from "../../api/findings";
import { counted } from "../../domain/times";
import { Instant } from "./rep-list";
import { caughtWords } from "../../domain/rep-filter";
import { t } from "../../words";

interface MomentListProps {
  sessionId: string;
  words: string;
  moments: Moment[];
  hasFilm: boolean;
  onAll: () => void;
}

const SEVERITY = ["", "slight", "marked", "severe"];

/** What stands behind a number that counts no reps: each instant leads to its frames. */
export function MomentList({ sessionId, words, moments, hasFilm, onAll }: MomentListProps) {
  return (
    <section id="reps" aria-labelledby="reps-title" className="scroll-mt-4 pt-8">
      <div className="flex items-baseline gap-3 border-b border-ink pb-1">
        <h2 id="reps-title" className="text-[18px] font-semibold">
          {words}
        </h2>
        <span className="text-soft">{counted(moments.length, "time")}</span>
        <button type="button" className="underline underline-offset-3" onClick={onAll}>
          {t("findings:moment_list.show_all_reps")}
        </button>
      </div>
      <table className="text-left">
        <thead>
          <tr className="text-[13px] text-soft">
            <th scope="col" className="py-1.5 pr-6 font-normal">
              {t("findings:moment_list.at")}
            </th>
            <th scope="col" className="font-normal">
              {t("common:what")}
            </th>
          </tr>
        </thead>
        <tbody>
          {moments.map((moment) => (
            <tr key={moment.id} className="border-t border-hair">
              <th scope="row" className="num py-1 pr-6 font-normal">
                <Instant s={moment.t_s} sessionId={hasFilm ? sessionId : null} />
              </th>
              <td>
                {moment.kind === "marker"
                  ? caughtWords(moment.label ?? "nothing_coded")
                  : (moment.label ?? moment.kind.replaceAll("_", " "))}
                {moment.severity !== null && `, ${SEVERITY[moment.severity] ?? ""}`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
