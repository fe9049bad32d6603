import { Link } from "react-router";

import { shortClock } from "../../domain/times";
import { behind } from "./behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** The stretches of work with the breaks between them. */
export function BoutsPart({ findings, session }: PartOf) {
  const { bouts } = findings;
  if (bouts.length < 2) return null;
  return (
    <Part
      id="bouts"
      session={session}
      about={t("findings:bouts_part.work_and_breaks")}
      title={t("findings:bouts_part.work_and_breaks_2")}
      value={bouts.length}
    >
      <table className="w-full text-left text-[13.5px]">
        <thead className="text-soft">
          <tr>
            {["from", "work", "reps", "fit", "pays", "signs", "left"].map((head) => (
              <th key={head} scope="col" className="pr-3 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className="num">
          {bouts.map((bout) => (
            <tr key={bout.start_s} className="border-t border-hair">
              <th scope="row" className="pr-3 font-normal">
                {shortClock(bout.start_s)}
                {bout.break_before_s !== null && (
                  <span className="block text-[12px] text-soft">
                    {t("findings:bouts_part.after_break_before_s_of", {
                      break_before_s: shortClock(bout.break_before_s),
                    })}
                  </span>
                )}
              </th>
              <td className="pr-3">{shortClock(bout.end_s - bout.start_s)}</td>
              <td className="pr-3">
                <Link
                  {...behind(`between:${bout.start_s}~${bout.end_s}`)}
                  preventScrollReset
                  className="underline decoration-line underline-offset-3"
                >
                  {bout.attempts}
                </Link>
              </td>
              <td className="pr-3">
                {bout.judged === 0
                  ? "–"
                  : t("findings:bouts_part.met_of_judged", { met: bout.met, judged: bout.judged })}
              </td>
              <td className="pr-3">{bout.pays}</td>
              <td className={`pr-3 ${bout.signs > 0 ? "text-marker" : ""}`}>{bout.signs}</td>
              <td className={bout.opt_outs > 0 ? "text-marker" : ""}>{bout.opt_outs}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}
