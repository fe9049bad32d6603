import { Link } from "react-router";

import { counted, percent } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { ShareRows } from "../../components/share-rows";
import { t } from "../../words";

/** Where the rewards went, against the plan's mix. */
export function PlacementPart({ findings, session }: PartOf) {
  const places = Object.entries(findings.placement);
  if (places.length === 0) return null;
  const planned = places.some(([, p]) => p.target !== null);
  return (
    <Part
      id="placement"
      session={session}
      about={t("findings:placement_part.placement")}
      title={t("findings:placement_part.where_the_rewards_went")}
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
          count: t("findings:placement_part.number_of_of", { number: p.count, of: p.of }),
          share: p,
          target: p.target,
        }))}
      />
      {planned && (
        <p className="mt-1 text-soft">
          {t("findings:placement_part.the_dashed_line_is_the", {
            map: places.map(([place, p]) => `${place} ${percent(p.target ?? 0)}`).join(", "),
          })}
        </p>
      )}
      {places
        .filter(([, p]) => p.next_n > 0)
        .map(([place, p]) => (
          <p key={place} className="mt-1 text-[13.5px]">
            {t("findings:placement_part.after_place", { place })}{" "}
            {p.next_s !== null &&
              t("findings:placement_part.half_came_back_within_next", {
                next_s: p.next_s.toFixed(1),
              })}
            {p.next_s !== null && p.next_met.of > 0 && ", "}
            {p.next_met.of > 0 &&
              t("findings:placement_part.number_of_of_of_the", {
                number: p.next_met.count,
                of: p.next_met.of,
              })}
            {p.next_s === null &&
              p.next_met.of === 0 &&
              t("findings:placement_part.next_n_followed_none_judged", {
                next_n: counted(p.next_n, "rep"),
              })}
            .
          </p>
        ))}
      <Numbers
        caption={t("findings:placement_part.pieces_by_placement")}
        heads={[
          t("findings:placement_part.placement_2"),
          t("findings:placement_part.pieces"),
          t("findings:placement_part.share"),
          t("common:could_be"),
          t("findings:placement_part.plan"),
          t("findings:placement_part.next_reps"),
          t("findings:placement_part.next_after_s"),
          t("findings:placement_part.next_fit"),
        ]}
        rows={places.map(([place, p]) => [
          place,
          p.count,
          p.share === null ? "–" : percent(p.share),
          p.low === null || p.high === null
            ? "–"
            : t("findings:placement_part.low_to_high", {
                low: percent(p.low),
                high: percent(p.high),
              }),
          p.target === null ? "–" : percent(p.target),
          p.next_n,
          p.next_s?.toFixed(2) ?? "–",
          p.next_met.of === 0
            ? "–"
            : t("findings:placement_part.number_of_of", {
                number: p.next_met.count,
                of: p.next_met.of,
              }),
        ])}
      />
    </Part>
  );
}
