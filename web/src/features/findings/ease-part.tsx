import { chance, counted, nounFor } from "../../domain/times";
import { SEVERITIES } from "../../domain/words";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Count, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** How the animal was: signs, and leaving the work. Shown first wherever there are any. */
export function EasePart({ findings, session }: PartOf) {
  const { opt_outs: left } = findings;
  const signs = Object.entries(findings.signs.labels);
  const { first_third: first, last_third: last } = findings.signs;
  const p = findings.certainty.signs_p;
  if (signs.length === 0 && left.count === 0) return null;
  return (
    <Part
      id="signs"
      session={session}
      about={t("findings:ease_part.how_it_was")}
      title={t("findings:ease_part.how_it_was_2")}
    >
      {signs.length > 0 && (
        <ul>
          {signs.map(([label, sign]) => (
            <li key={label}>
              <Count
                n={sign.count}
                words={`× ${label || t("findings:ease_part.a_sign")}`}
                behind={behind(`at:sign:${label}`)}
                fault
              />
              <span className="text-soft">
                {SEVERITIES[sign.worst] &&
                  t("findings:ease_part.at_worst", { severity: SEVERITIES[sign.worst] })}
              </span>
            </li>
          ))}
        </ul>
      )}
      {p !== null && p < 0.05 && (
        <p className="mt-1 text-marker">
          {t("findings:ease_part.more_towards_the_end_last", { last, first, p: chance(p) })}
        </p>
      )}
      {left.count > 0 && (
        <p className="mt-1">
          {t("findings:ease_part.it_left_the_work")}{" "}
          <Count
            n={left.count}
            words={nounFor(left.count, "time")}
            behind={behind("came:opt_out")}
            fault
          />
          {left.away_min > 0 &&
            t("findings:ease_part.for_counted_in_all", {
              counted: counted(Math.round(left.away_min * 60), "second"),
            })}
          .
        </p>
      )}
      <Numbers
        caption={t("findings:ease_part.signs")}
        heads={[
          t("common:what"),
          t("findings:ease_part.count"),
          t("findings:ease_part.a_minute"),
          t("findings:ease_part.first_third"),
          t("findings:ease_part.last_third"),
        ]}
        rows={signs.map(([label, s]) => [
          label,
          s.count,
          s.value?.toFixed(2) ?? "–",
          s.first_third,
          s.last_third,
        ])}
      />
      <p className="mt-1 text-[13px] text-soft">
        {t("findings:ease_part.before_any_number_an_easier")}
      </p>
    </Part>
  );
}
