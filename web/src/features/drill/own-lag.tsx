import type { Drills } from "../../domain/drill";
import { usePreferences } from "../../domain/key-map";
import { USUAL_LAG } from "../../domain/reaction";
import { counted, latency, uncertainty } from "../../domain/times";
import { Button } from "../../components/button";
import { t } from "../../words";

/** The lag that is taken off the taps at the bench, and where it comes from. */
export function OwnLag({ drills }: { drills: Drills }) {
  const { preferences, change } = usePreferences();
  const { learned } = drills;
  const lagS = preferences.lag_s ?? USUAL_LAG.lagS;
  const by = preferences.lag_by;
  return (
    <section aria-labelledby="own-lag">
      <h2 id="own-lag" className="text-[16px] font-semibold">
        {t("drill:own.your_tap_lag")}
      </h2>
      <p className="num text-[29px] leading-tight" data-testid="own-lag">
        {latency(lagS, 3)}
      </p>
      <p className="text-[13px] text-soft">
        {typeof preferences.lag_s !== "number"
          ? t("drill:own.usual_until_measured")
          : by === "hand"
            ? t("drill:own.set_by_hand")
            : t("drill:own.learned", {
                marks: learned ? counted(learned.marks, "mark") : "",
                spread: uncertainty(preferences.lag_sd_s ?? USUAL_LAG.sdS),
              })}{" "}
        {t("drill:own.taken_off")}
      </p>
      {by === "hand" && learned && (
        <Button
          className="mt-2"
          onClick={() =>
            change({
              lag_s: Math.round(learned.lag_s * 1000) / 1000,
              lag_sd_s: Math.round(learned.sd_s * 1000) / 1000,
              lag_by: "drill",
            })
          }
        >
          {t("drill:own.use_the_drills", { lag: latency(learned.lag_s, 3) })}
        </Button>
      )}
    </section>
  );
}
