import { Numbers } from "../../components/numbers-behind";
import { percent } from "../../domain/times";
import { transferWords, type Transfer } from "../../domain/transfer";
import { t } from "../../words";
import { shortDay } from "../../components/day-plot";
import { Section } from "./section";

/** Every first time at another object, gear or place, against the last of the one before. */
export function TransferSection({
  transfers,
  titleOf,
}: {
  transfers: Transfer[];
  titleOf: (key: string | null) => string;
}) {
  if (transfers.length === 0) return null;
  return (
    <Section id="transfer" title={t("logbook:transfer_section.what_carried_over")} wide>
      <ol className="mt-1">
        {transfers.map((one) => (
          <li
            key={`${one.condition} ${one.after.level}`}
            className="grid grid-cols-[15rem_1fr_4.5rem] items-baseline gap-x-4 border-b border-hair py-1.5 max-md:grid-cols-1"
          >
            <span>
              <span className="text-soft">{one.condition}</span> {one.before.level} →{" "}
              <span className="font-semibold">{one.after.level}</span>
              <span className="block text-[12.5px] text-soft">
                {one.day && shortDay(one.day)}
                {one.after.step !== one.before.step &&
                  one.after.step !== null &&
                  t("logbook:transfer_section.at_step", { step: titleOf(one.after.step) })}
              </span>
            </span>
            <span>{transferWords(one)}</span>
            <span className="num text-right text-[18px] max-md:text-left">
              {t("domain:variation.met_of_judged", {
                met: one.after.success.count,
                judged: one.after.success.of,
              })}
            </span>
          </li>
        ))}
      </ol>
      <Numbers
        caption={t("logbook:transfer_section.what_carried_over")}
        heads={[
          t("logbook:variation_section.condition"),
          t("logbook:transfer_section.from"),
          t("logbook:transfer_section.to"),
          t("logbook:transfer_section.before"),
          t("logbook:transfer_section.after"),
          t("logbook:transfer_section.change_could_be"),
        ]}
        rows={transfers.map(({ condition, before, after, change }) => [
          condition,
          before.level,
          after.level,
          `${before.success.count} / ${before.success.of}`,
          `${after.success.count} / ${after.success.of}`,
          change.low === null || change.high === null
            ? "–"
            : `${percent(change.low)} – ${percent(change.high)}`,
        ])}
      />
    </Section>
  );
}
