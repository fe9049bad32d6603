import { counted, latency } from "../ui/times";
import { behind } from "./behind";
import { Numbers } from "./numbers";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";

/** Does it come when asked, how soon, and not when it was not asked. */
export function ControlPart({ findings, session }: PartOf) {
  const { response_latency_s: response, stimulus_control: control } = findings;
  const uncued = control.false_alarm + control.correct_rejection;
  if (response.n === 0 && uncued === 0) return null;
  return (
    <Part
      id="stimulus_control"
      session={session}
      about="the cue"
      title="When asked, and when not"
      value={
        response.n > 0 && <Main value={`${control.hit} of ${response.n}`} behind={behind("cued")} />
      }
    >
      {response.n > 0 && (
        <p>
          {counted(response.n, "cue")}, {control.hit} answered
          {response.median !== null && (
            <>
              ; half of the answers had begun after{" "}
              <span className="num">{latency(response.median, 2).slice(1)}</span>
              {response.median_low !== null && response.median_high !== null && (
                <span className="text-soft">
                  {" "}
                  (could be {response.median_low.toFixed(2)} to {response.median_high.toFixed(2)} s)
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
            behind={behind("at:no_cue_window")}
            fault
          />
          .
          {control.d_prime !== null && (
            <span className="text-soft">
              {" "}
              d′ {control.d_prime.toFixed(2)} (0 is no difference between asked and not; above 2 the
              cue is well told apart).
            </span>
          )}
        </p>
      ) : (
        <p className="mt-1 text-soft">
          Whether it stays away when not asked is not coded: mark stretches without a cue.
        </p>
      )}
      <Surety value={findings.sources.response_latency_s} />
      <Numbers
        caption="Answers to the cue"
        heads={["", "it came", "it did not"]}
        rows={[
          ["asked", control.hit, control.miss],
          ["not asked", control.false_alarm, control.correct_rejection],
        ]}
      />
    </Part>
  );
}
