import { Link } from "react-router";

import { counted } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";

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
      about="what else it did"
      title="What else it did"
      value={findings.offered.in_dry_spells.of}
    >
      <ul className="space-y-1">
        {offered.map(([label, rate]) => (
          <li key={label}>
            <Link {...behind(`at:other_behaviour:${label}`)} preventScrollReset className={LINK}>
              <span className="num">{rate.count}</span> × {label || "another behaviour"}
            </Link>
            {rate.value !== null && (
              <span className="text-soft">, {rate.value.toFixed(1)} a minute</span>
            )}
            {rate.count > 1 && (
              <span className="text-soft">
                ; {rate.first_half} early, {rate.second_half} late
                {rate.p !== null && rate.p < 0.05 && ": more than chance would make of it"}
              </span>
            )}
          </li>
        ))}
      </ul>
      {dry.count > 0 && (
        <p className="mt-1">
          {dry.count} of {counted(dry.of, "offered behaviour")} came in a dry spell: the animal was
          working out what pays.
        </p>
      )}
      <Numbers
        caption="Offered behaviours"
        heads={["What", "count", "a minute", "first half", "second half", "p of chance"]}
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
