import { chance, counted } from "../../domain/times";
import { SEVERITIES } from "../../domain/words";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Part } from "./part";
import type { PartOf } from "./parts";

/** How the animal was: signs, and leaving the work. Shown first wherever there are any. */
export function EasePart({ findings, session }: PartOf) {
  const { opt_outs: left } = findings;
  const signs = Object.entries(findings.signs.labels);
  const { first_third: first, last_third: last } = findings.signs;
  const p = findings.certainty.signs_p;
  if (signs.length === 0 && left.count === 0) return null;
  return (
    <Part id="signs" session={session} about="how it was" title="How it was">
      {signs.length > 0 && (
        <ul>
          {signs.map(([label, sign]) => (
            <li key={label}>
              <Count
                n={sign.count}
                words={`× ${label || "a sign"}`}
                behind={behind(`at:sign:${label}`)}
                fault
              />
              <span className="text-soft">
                {SEVERITIES[sign.worst] && `, ${SEVERITIES[sign.worst]} at worst`}
              </span>
            </li>
          ))}
        </ul>
      )}
      {p !== null && p < 0.05 && (
        <p className="mt-1 text-marker">
          More towards the end: {last} in the last third, {first} in the first; by chance so many
          more in {chance(p)} of sessions.
        </p>
      )}
      {left.count > 0 && (
        <p className="mt-1">
          It left the work{" "}
          <Count
            n={left.count}
            words={left.count === 1 ? "time" : "times"}
            behind={behind("came:opt_out")}
            fault
          />
          {left.away_min > 0 && `, for ${counted(Math.round(left.away_min * 60), "second")} in all`}
          .
        </p>
      )}
      <Numbers
        caption="Signs"
        heads={["What", "count", "a minute", "first third", "last third"]}
        rows={signs.map(([label, s]) => [
          label,
          s.count,
          s.value?.toFixed(2) ?? "–",
          s.first_third,
          s.last_third,
        ])}
      />
      <p className="mt-1 text-[13px] text-soft">
        Before any number: an easier step, a better reward or an earlier end says more to it.
      </p>
    </Part>
  );
}
