import { Numbers } from "../../components/numbers-behind";
import { counted, percent } from "../../domain/times";
import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** What the trainer thought of each rep while leading, against what the film of it shows. */
export function LedPart({ findings, session }: PartOf) {
  const { led } = findings;
  if (led === null) return null;
  const { differ } = led;
  const reps = (n: number) => counted(n, "rep");
  return (
    <Part
      id="led"
      session={session}
      about={t("findings:led_part.about")}
      title={t("findings:led_part.title")}
      value={
        <Main
          value={
            differ.of === 0
              ? null
              : t("findings:led_part.otherwise", { n: differ.count, of: differ.of })
          }
          behind={behind("tapped_otherwise")}
        />
      }
    >
      {differ.of > 0 && (
        <>
          <p>{t("findings:led_part.judged_twice")}</p>
          <p className="flex flex-wrap gap-x-5 gap-y-1">
            <Count
              n={led.only_tapped}
              words={t("findings:led_part.only_you")}
              behind={behind("only_tapped")}
              fault
            />
            <Count
              n={led.only_filmed}
              words={t("findings:led_part.only_film")}
              behind={behind("only_filmed")}
            />
          </p>
          <p className="mt-1 text-[13px] text-soft">
            {t("findings:led_part.range", {
              low: percent(differ.low ?? 0),
              high: percent(differ.high ?? 1),
            })}
          </p>
        </>
      )}
      {led.open > 0 && <p>{t("findings:led_part.open", { reps: reps(led.open) })}</p>}
      {led.unseen > 0 && <p>{t("findings:led_part.unseen", { reps: reps(led.unseen) })}</p>}
      {led.untapped > 0 && <p>{t("findings:led_part.untapped", { reps: reps(led.untapped) })}</p>}
      <Numbers
        caption={t("findings:led_part.caption")}
        heads={[
          t("common:rep"),
          t("findings:led_part.in_the_yard"),
          t("findings:led_part.on_the_film"),
        ]}
        rows={findings.reps.map((rep, n) => [n + 1, words(rep.tapped_met), words(rep.met)])}
      />
    </Part>
  );
}

const words = (met: boolean | null) =>
  met === null ? "–" : met ? t("findings:led_part.fits") : t("common:not_yet");
