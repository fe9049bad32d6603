import { CouldBe } from "../../components/plot-parts";
import { counted, percent } from "../../domain/times";
import { behind } from "./behind";
import { Count, Main, Part } from "./part";
import type { PartOf } from "./parts";
import { t } from "../../words";

/** How many reps fit the criterion, and whether the marker went to those. */
export function FitPart({ findings, session }: PartOf) {
  const { success, fidelity, counts } = findings;
  if (success.share === null || success.low === null || success.high === null) {
    return (
      <Part
        id="success"
        session={session}
        about={t("findings:fit_part.what_fits")}
        title={t("findings:fit_part.fits_the_criterion")}
        value="–"
      >
        <p className="text-soft">{t("findings:fit_part.no_rep_is_judged_yet")}</p>
      </Part>
    );
  }
  const x = (share: number) => 8 + share * 624;
  const { fits } = findings.certainty;
  const clusters = fits.lag1 !== null && fits.effective < success.judged - 0.5;
  const [low, high] = [fits.low ?? success.low, fits.high ?? success.high];
  return (
    <Part
      id="success"
      session={session}
      about={t("findings:fit_part.what_fits")}
      title={t("findings:fit_part.fits_the_criterion")}
      value={
        <Main
          value={t("common:n_of_of", { n: success.met, of: success.judged })}
          behind={behind("fits")}
        />
      }
    >
      <svg viewBox="0 0 640 34" className="w-full" aria-hidden>
        <path d="M8 16H632" stroke="var(--line)" />
        <CouldBe from={[x(low), 16]} to={[x(high), 16]} colour="var(--behaviour)" />
        <circle cx={x(success.share)} cy={16} r={6} fill="var(--behaviour)" />
      </svg>
      <p>
        {t("findings:fit_part.judged_agree_with_a_true", {
          judged: counted(success.judged, "judged_rep"),
          low: percent(low),
          high: percent(high),
          longest_run: success.longest_run,
        })}
      </p>
      {clusters && (
        <p className="text-soft">
          {t("findings:fit_part.fits_and_misses_come_in", {
            max: Math.max(1, Math.round(fits.effective)),
          })}
        </p>
      )}
      <p className="mt-1 flex flex-wrap gap-x-5">
        <Count
          n={success.judged - success.met}
          words={t("findings:fit_part.not_yet")}
          behind={behind("not_yet")}
        />
        {counts.attempts > success.judged && (
          <Count
            n={counts.attempts - success.judged}
            words={t("findings:fit_part.not_judged")}
            behind={behind("unjudged")}
          />
        )}
      </p>
      {fidelity.share !== null && (
        <p className="mt-1 text-soft">
          {t("findings:fit_part.your_marker_went_to_the", {
            share: percent(fidelity.share),
            met_unmarked: fidelity.met_unmarked,
            unmet_marked: fidelity.unmet_marked,
          })}
        </p>
      )}
    </Part>
  );
}
