import { Link } from "react-router";

import { counted, percent } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { ShareRows } from "../../components/share-rows";

/** Where the rewards went, against the plan's mix. */
export function PlacementPart({ findings, session }: PartOf) {
  const places = Object.entries(findings.placement);
  if (places.length === 0) return null;
  const planned = places.some(([, p]) => p.target !== null);
  return (
    <Part
      id="placement"
      session={session}
      about="placement"
      title="Where the rewards went"
      value={places[0]?.[1].of}
    >
      <ShareRows
        colour="var(--reward)"
        rows={places.map(([place, p]) => ({
          key: place,
          name: (
            <Link
              {...behind(`placement:${place}`)}
              preventScrollReset
              className="underline decoration-line underline-offset-3"
            >
              {place}
            </Link>
          ),
          count: `${p.count} of ${p.of}`,
          share: p,
          target: p.target,
        }))}
      />
      {planned && (
        <p className="mt-1 text-soft">
          The dashed line is the plan:{" "}
          {places.map(([place, p]) => `${place} ${percent(p.target ?? 0)}`).join(", ")}.
        </p>
      )}
      {places
        .filter(([, p]) => p.next_n > 0)
        .map(([place, p]) => (
          <p key={place} className="mt-1 text-[13.5px]">
            After “{place}”: {p.next_s !== null && `half came back within ${p.next_s.toFixed(1)} s`}
            {p.next_s !== null && p.next_met.of > 0 && ", "}
            {p.next_met.of > 0 && `${p.next_met.count} of ${p.next_met.of} of the next fitted`}
            {p.next_s === null &&
              p.next_met.of === 0 &&
              `${counted(p.next_n, "rep")} followed, none judged`}
            .
          </p>
        ))}
      <Numbers
        caption="Pieces by placement"
        heads={[
          "Placement",
          "pieces",
          "share",
          "could be",
          "plan",
          "next reps",
          "next after, s",
          "next fit",
        ]}
        rows={places.map(([place, p]) => [
          place,
          p.count,
          p.share === null ? "–" : percent(p.share),
          p.low === null || p.high === null ? "–" : `${percent(p.low)} to ${percent(p.high)}`,
          p.target === null ? "–" : percent(p.target),
          p.next_n,
          p.next_s?.toFixed(2) ?? "–",
          p.next_met.of === 0 ? "–" : `${p.next_met.count} of ${p.next_met.of}`,
        ])}
      />
    </Part>
  );
}
