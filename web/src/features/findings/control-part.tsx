import type { Findings } from "../../api/findings";
import { counted, latency, nounFor, percent } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { Trans, t } from "../../words";

/** Does it come when asked, how soon, and not when it was not asked. */
export function ControlPart({ findings, session }: PartOf) {
  const { response_latency_s: response, stimulus_control: control } = findings;
  const apart = findings.certainty.d_prime;
  const uncued = control.false_alarm + control.correct_rejection;
  if (response.n === 0 && uncued === 0) return null;
  return (
    <Part
      id="stimulus_control"
      session={session}
      about={t("findings:control_part.the_cue")}
      title={t("findings:control_part.when_asked_and_when_not")}
      value={
        response.n > 0 && (
          <Main
            value={t("common:n_of_of", { n: control.hit, of: response.n })}
            behind={behind("came:presentation:hit")}
          />
        )
      }
    >
      {response.n > 0 && (
        <p>
          {t("findings:control_part.asked")}{" "}
          <Count
            n={response.n}
            words={nounFor(response.n, "time")}
            behind={behind("came:presentation")}
          />
          {t("findings:control_part.hit_answered", { hit: control.hit })}
          {control.wrong > 0 && (
            <>
              ,{" "}
              <Count
                n={control.wrong}
                words={t("findings:control_part.with_something_else")}
                behind={behind("came:presentation:wrong")}
                fault
              />
            </>
          )}
          {control.miss > 0 && (
            <>
              ,{" "}
              <Count
                n={control.miss}
                words={t("findings:control_part.not_at_all")}
                behind={behind("came:presentation:miss")}
              />
            </>
          )}
          {response.median !== null && (
            <>
              <Trans
                i18nKey="findings:control_part.half_of_all_askings_were"
                components={{ part: <span className="num" /> }}
                values={{ median: latency(response.median, 2).slice(1) }}
              />
              {response.median_low !== null && response.median_high !== null && (
                <span className="text-soft">
                  {" "}
                  {t("findings:control_part.could_be_median_low_to", {
                    median_low: response.median_low.toFixed(2),
                    median_high: response.median_high.toFixed(2),
                  })}
                </span>
              )}
            </>
          )}
          .
        </p>
      )}
      {uncued > 0 ? (
        <p className="mt-1">
          <Count
            n={control.false_alarm}
            words={t("findings:control_part.of_uncued_without_a_cue", {
              uncued: counted(uncued, "stretch"),
            })}
            behind={behind("came:window")}
            fault
          />
          .
          {findings.counts.paid_waits > 0 && (
            <>
              {" "}
              <Count
                n={findings.counts.paid_waits}
                words={t("findings:control_part.the_waiting_itself_was_paid")}
                behind={behind("came:paid_wait")}
              />
              .
            </>
          )}
          {control.d_prime !== null && (
            <span className="text-soft">
              {" "}
              {t("findings:control_part.d_d_prime_how_far", {
                d_prime: control.d_prime.toFixed(2),
              })}
              {apart.low !== null &&
                apart.high !== null &&
                t("findings:control_part.could_be_low_to_high", {
                  low: apart.low.toFixed(1),
                  high: apart.high.toFixed(1),
                  which:
                    apart.low > 1
                      ? t("findings:control_part.told_apart")
                      : apart.low > 0
                        ? t("findings:control_part.told_apart_how_well_is")
                        : t("findings:control_part.too_few_to_say_that"),
                })}
              .
            </span>
          )}
        </p>
      ) : (
        <p className="mt-1 text-soft">{t("findings:control_part.whether_it_stays_away_when")}</p>
      )}
      {findings.asked_share.share !== null && uncued > 0 && (
        <p className="mt-1 text-soft">
          {t("findings:control_part.asked_in_share_of_all", {
            share: percent(findings.asked_share.share),
          })}
        </p>
      )}
      <Answers findings={findings} />
      <Surety value={findings.sources.response_latency_s} />
      <Numbers
        caption={t("findings:control_part.answers_to_the_cue")}
        heads={[
          "",
          t("findings:control_part.it_came"),
          t("findings:control_part.something_else_came"),
          t("findings:control_part.nothing_came"),
        ]}
        rows={[
          ["asked", control.hit, control.wrong, control.miss],
          [
            t("findings:control_part.not_asked"),
            control.false_alarm,
            "",
            control.correct_rejection,
          ],
        ]}
      />
    </Part>
  );
}

/** Each cue with what came after it: one row a cue, one column a behaviour. */
function Answers({ findings }: { findings: Findings }) {
  const cues = Object.entries(findings.cues);
  if (cues.length === 0) return null;
  const columns = [...new Set(cues.flatMap(([cue]) => Object.keys(findings.confusion[cue] ?? {})))];
  columns.sort((a, b) => Number(a in LAST) - Number(b in LAST) || a.localeCompare(b));
  const repeated = cues.filter(([, cue]) => cue.said_once < cue.presentations);
  return (
    <>
      <table className="mt-2 text-[13.5px]">
        <caption className="sr-only">{t("findings:control_part.what_came_after_each_cue")}</caption>
        <thead>
          <tr className="text-left text-soft">
            <th scope="col" className="pr-5 font-normal">
              {t("common:cue")}
            </th>
            {columns.map((column) => (
              <th key={column} scope="col" className="pr-5 font-normal">
                {LAST[column] ?? column}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {cues.map(([cue, answered]) => (
            <tr key={cue} className="border-t border-hair">
              <th scope="row" className="pr-5 text-left font-semibold">
                {cue === "unlabelled" ? t("findings:control_part.not_named") : `“${cue}”`}
              </th>
              {columns.map((column) => (
                <td key={column} className="num pr-5">
                  {findings.confusion[cue]?.[column] ?? ""}
                </td>
              ))}
              <td className="text-soft">
                {t("findings:control_part.hits_of_presentations_right", {
                  hits: answered.hits,
                  presentations: answered.presentations,
                })}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {repeated.map(([cue, { presentations, said_once, said }]) => (
        <p key={cue} className="mt-1 text-marker">
          {t("findings:control_part.which_was_said_more_than", {
            which: cue === "unlabelled" ? t("findings:control_part.the_cue_2") : `“${cue}”`,
            counted: counted(presentations - said_once, "time"),
            presentations,
          })}
          {said.max !== null && t("findings:control_part.up_to_max_times", { max: said.max })}
          {t("findings:control_part.once_then_wait")}
        </p>
      ))}
    </>
  );
}

/** Columns that are no behaviour. */
const LAST: Record<string, string> = {
  unlabelled: t("findings:control_part.it_came"),
  none: "nothing",
};
