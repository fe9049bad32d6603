import { Numbers } from "../../components/numbers-behind";
import { ShareRows } from "../../components/share-rows";
import { cautionWords, ladderNextWords, rungWords, type Ladder } from "../../domain/ladder";
import { percent } from "../../domain/times";
import { t } from "../../words";
import { shortDay } from "../../components/day-plot";
import { Section } from "./section";

/** Every measured quantity: its rungs beside what was measured, and which one is next. */
export function LadderSections({ ladders }: { ladders: Ladder[] }) {
  return ladders.map((ladder) => (
    <OneLadder key={`${ladder.name} ${ladder.unit} ${ladder.better}`} ladder={ladder} />
  ));
}

function OneLadder({ ladder }: { ladder: Ladder }) {
  const { rungs, next } = ladder;
  const at = (rung: Ladder["rungs"][number]) =>
    rung.since !== null
      ? t("domain:ladder.since", { day: shortDay(rung.since) })
      : rung.not_before !== null
        ? t("domain:ladder.not_before", { day: shortDay(rung.not_before) })
        : "";
  const cautions = rungs[next] ? cautionWords(rungs[next]) : [];
  return (
    <Section
      id={`ladder-${ladder.name}`}
      title={t("logbook:ladder_section.rung_by_rung", { name: ladder.name })}
      value={ladder.middle === null ? undefined : rungWords(ladder, ladder.middle)}
      wide
    >
      <p className="mt-1 text-[20px]">{ladderNextWords(ladder)}</p>
      {cautions.map((said) => (
        <p key={said} className="mt-1 border-l-[3px] border-soft pl-2.5 text-[13px] text-soft">
          {said}
        </p>
      ))}
      {/* The highest stands on top, as on a ladder. */}
      <ShareRows
        colour="var(--behaviour)"
        rows={rungs
          .map((rung, place) => ({
            key: String(rung.value),
            name: (
              <span className={place === next ? "font-semibold" : ""}>
                {rungWords(ladder, rung.value)}
                {place === next && ` ← ${t("logbook:ladder_section.next")}`}
                <span className="block text-[12.5px] font-normal text-soft">{at(rung)}</span>
              </span>
            ),
            count:
              rung.reached.of === 0
                ? "–"
                : t("domain:ladder.reached", { count: rung.reached.count, of: rung.reached.of }),
            share: rung.reached,
          }))
          .reverse()}
      />
      <p className="mt-1 text-[13px] text-soft">
        {t("logbook:ladder_section.of_the_last_ten_reps")}
        {ladder.best !== null &&
          t("logbook:ladder_section.the_best_so_far", { best: rungWords(ladder, ladder.best) })}
      </p>
      <Numbers
        caption={t("logbook:ladder_section.rung_by_rung", { name: ladder.name })}
        heads={[
          t("logbook:ladder_section.rung"),
          t("logbook:ladder_section.came_to_it"),
          t("common:could_be"),
          t("logbook:ladder_section.worked_at_since"),
          t("logbook:ladder_section.not_before"),
        ]}
        rows={rungs.map((rung) => [
          rungWords(ladder, rung.value),
          rung.reached.of === 0 ? "–" : `${rung.reached.count} / ${rung.reached.of}`,
          rung.reached.low === null || rung.reached.high === null
            ? "–"
            : `${percent(rung.reached.low)} – ${percent(rung.reached.high)}`,
          rung.since === null ? "–" : shortDay(rung.since),
          rung.not_before === null ? "–" : shortDay(rung.not_before),
        ])}
      />
    </Section>
  );
}
