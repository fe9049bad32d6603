import { Link } from "react-router";

import { counted } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

const LINK = "underline decoration-line underline-offset-3";

/** What else the animal did: behaviours it offered. */
export function OfferedPart({ findings, session }: PartOf) {
  const offered = Object.entries(findings.offered.labels);
  if (offered.length === 0) return null;
  const dry = findings.offered.in_dry_spells;
  return (
    <Part
      id="offered"
      session={session}
      about={t("findings:offered_part.what_else_it_did")}
      title={t("findings:offered_part.what_else_it_did_2")}
      value={findings.offered.in_dry_spells.of}
    >
      <ul className="space-y-1">
        {offered.map(([label, rate]) => (
          <li key={label}>
            <Link {...behind(`at:other_behaviour:${label}`)} preventScrollReset className={LINK}>
              <span className="num">{rate.count}</span> ×{" "}
              {label || t("findings:offered_part.another_behaviour")}
            </Link>
            {rate.value !== null && (
              <span className="text-soft">
                {t("findings:offered_part.value_a_minute", { value: rate.value.toFixed(1) })}
              </span>
            )}
            {rate.count > 1 && (
              <span className="text-soft">
                {t("findings:offered_part.first_half_early_second_half", {
                  first_half: rate.first_half,
                  second_half: rate.second_half,
                })}
                {rate.p !== null &&
                  rate.p < 0.05 &&
                  t("findings:offered_part.more_than_chance_would_make")}
              </span>
            )}
          </li>
        ))}
      </ul>
      {dry.count > 0 && (
        <p className="mt-1">
          {t("findings:offered_part.number_of_of_came_in", {
            number: dry.count,
            of: counted(dry.of, "offered_behaviour"),
          })}
        </p>
      )}
      <Numbers
        caption={t("findings:offered_part.offered_behaviours")}
        heads={[
          t("common:what"),
          t("findings:offered_part.count"),
          t("findings:offered_part.a_minute"),
          t("findings:offered_part.first_half"),
          t("findings:offered_part.second_half"),
          t("findings:offered_part.p_of_chance"),
        ]}
        rows={offered.map(([label, rate]) => [
          label,
          rate.count,
          rate.value?.toFixed(2) ?? "–",
          rate.first_half,
          rate.second_half,
          rate.p?.toFixed(3) ?? "–",
        ])}
      />
    </Part>
  );
}
