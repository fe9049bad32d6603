import type { Findings } from "../../api/findings";
import { counted, latency, percent } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";

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
      about="the cue"
      title="When asked, and when not"
      value={
        response.n > 0 && (
          <Main
            value={`${control.hit} of ${response.n}`}
            behind={behind("came:presentation:hit")}
          />
        )
      }
    >
      {response.n > 0 && (
        <p>
          Asked{" "}
          <Count
            n={response.n}
            words={response.n === 1 ? "time" : "times"}
            behind={behind("came:presentation")}
          />
          , {control.hit} answered
          {control.wrong > 0 && (
            <>
              ,{" "}
              <Count
                n={control.wrong}
                words="with something else"
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
                words="not at all"
                behind={behind("came:presentation:miss")}
              />
            </>
          )}
          {response.median !== null && (
            <>
              ; half of all askings were answered within{" "}
              <span className="num">{latency(response.median, 2).slice(1)}</span>
              {response.median_low !== null && response.median_high !== null && (
                <span className="text-soft">
                  {" "}
                  (could be {response.median_low.toFixed(2)} to {response.median_high.toFixed(2)} s;
                  those not answered count as later)
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
            words={`of ${counted(uncued, "stretch", "stretches")} without a cue brought it all the same`}
            behind={behind("came:window")}
            fault
          />
          .
          {findings.counts.paid_waits > 0 && (
            <>
              {" "}
              <Count
                n={findings.counts.paid_waits}
                words="× the waiting itself was paid"
                behind={behind("came:paid_wait")}
              />
              .
            </>
          )}
          {control.d_prime !== null && (
            <span className="text-soft">
              {" "}
              d′ {control.d_prime.toFixed(2)} (how far asked and not asked are told apart; 0 is not
              at all)
              {apart.low !== null &&
                apart.high !== null &&
                `, could be ${apart.low.toFixed(1)} to ${apart.high.toFixed(1)}${
                  apart.low > 1
                    ? ": told apart"
                    : apart.low > 0
                      ? ": told apart, how well is not sure"
                      : ": too few to say that it is told apart at all"
                }`}
              .
            </span>
          )}
        </p>
      ) : (
        <p className="mt-1 text-soft">
          Whether it stays away when not asked is not coded: mark stretches without a cue.
        </p>
      )}
      {findings.asked_share.share !== null && uncued > 0 && (
        <p className="mt-1 text-soft">
          Asked in {percent(findings.asked_share.share)} of all, left unasked in the rest.
        </p>
      )}
      <Answers findings={findings} />
      <Surety value={findings.sources.response_latency_s} />
      <Numbers
        caption="Answers to the cue"
        heads={["", "it came", "something else came", "nothing came"]}
        rows={[
          ["asked", control.hit, control.wrong, control.miss],
          ["not asked", control.false_alarm, "", control.correct_rejection],
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
        <caption className="sr-only">What came after each cue</caption>
        <thead>
          <tr className="text-left text-soft">
            <th scope="col" className="pr-5 font-normal">
              cue
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
                {cue === "unlabelled" ? "not named" : `“${cue}”`}
              </th>
              {columns.map((column) => (
                <td key={column} className="num pr-5">
                  {findings.confusion[cue]?.[column] ?? ""}
                </td>
              ))}
              <td className="text-soft">
                {answered.hits} of {answered.presentations} right
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {repeated.map(([cue, { presentations, said_once, said }]) => (
        <p key={cue} className="mt-1 text-marker">
          {cue === "unlabelled" ? "The cue" : `“${cue}”`} was said more than once{" "}
          {counted(presentations - said_once, "time")} of {presentations}
          {said.max !== null && `, up to ${said.max} times`}: once, then wait.
        </p>
      ))}
    </>
  );
}

/** Columns that are no behaviour. */
const LAST: Record<string, string> = { unlabelled: "it came", none: "nothing" };
