import { Link } from "react-router";

import { counted } from "../ui/times";
import { behind } from "./behind";
import { Numbers } from "./numbers";
import { Part } from "./part";
import type { PartOf } from "./parts";

const LINK = "underline decoration-line underline-offset-3";

/** What else the animal did: behaviours it offered, and signs of how it felt. */
export function OfferedPart({ findings, session }: PartOf) {
  const offered = Object.entries(findings.offered.labels);
  const signs = Object.entries(findings.signs.labels);
  if (offered.length === 0 && signs.length === 0) return null;
  const dry = findings.offered.in_dry_spells;
  return (
    <Part
      id="offered"
      session={session}
      about="what else it did"
      title="What else it did"
      value={findings.offered.in_dry_spells.of + signs.reduce((n, [, s]) => n + s.count, 0)}
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
          </li>
        ))}
        {signs.map(([label, sign]) => (
          <li key={label}>
            <Link
              {...behind(`at:sign:${label}`)}
              preventScrollReset
              className={`${LINK} text-marker`}
            >
              <span className="num">{sign.count}</span> × {label || "a sign"}
            </Link>
            <span className="text-soft">
              , a sign{sign.worst >= 3 ? ", severe" : sign.worst === 2 ? ", marked" : ""}:{" "}
              {sign.first_third} in the first third, {sign.last_third} in the last
            </span>
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
        caption="Offered behaviours and signs"
        heads={["What", "count", "a minute", "first third", "last third"]}
        rows={[
          ...offered.map(([label, rate]) => [
            label,
            rate.count,
            rate.value?.toFixed(2) ?? "–",
            "–",
            "–",
          ]),
          ...signs.map(([label, s]) => [
            label,
            s.count,
            s.value?.toFixed(2) ?? "–",
            s.first_third,
            s.last_third,
          ]),
        ]}
      />
    </Part>
  );
}
