import { Button } from "../../components/button";
import type { PlanDocument } from "../../domain/plan-document";
import { FIELD } from "./fields";
import type { PartProps } from "./part-props";
import { t } from "../../words";

const MEANINGS = [
  { meaning: "event", words: t("plan:markers.it_pays") },
  { meaning: "keep_going", words: t("plan:markers.stay_more_comes") },
  { meaning: "no_reward", words: t("plan:markers.not_that") },
] as const;

/** The markers and what each of them says. */
export function Markers({ plan, set }: PartProps) {
  const markers = plan.markers ?? [];
  const put = (n: number, marker: Partial<(typeof markers)[number]>) =>
    set({ markers: markers.map((m, i) => (i === n ? { ...m, ...marker } : m)) });
  return (
    <div className="space-y-1.5">
      {markers.map((marker, n) => (
        <div key={n} className="flex items-center gap-1.5">
          <input
            aria-label={`Marker ${n + 1}`}
            value={marker.name}
            onChange={(event) => put(n, { name: event.target.value || "marker" })}
            className={`${FIELD} w-24`}
          />
          <select
            aria-label={`Marker ${n + 1} means`}
            value={marker.meaning}
            onChange={(event) => put(n, { meaning: event.target.value as typeof marker.meaning })}
            className={`${FIELD} min-w-0 flex-1`}
          >
            {MEANINGS.map((m) => (
              <option key={m.meaning} value={m.meaning}>
                {m.words}
              </option>
            ))}
          </select>
          <button
            type="button"
            aria-label={t("plan:markers.take_name_out", { name: marker.name })}
            className="px-1 text-soft hover:text-ink"
            onClick={() => set({ markers: markers.filter((_, i) => i !== n) })}
          >
            ×
          </button>
        </div>
      ))}
      <div className="flex flex-wrap items-center gap-1.5">
        <Button
          className="h-7"
          onClick={() =>
            set({
              markers: [
                ...markers,
                markers.length === 0
                  ? { name: "click", meaning: "event" }
                  : { name: "“good”", meaning: "keep_going" },
              ],
            })
          }
        >
          {t("plan:markers.one_more_marker")}
        </Button>
        <select
          aria-label={t("plan:markers.after_the_marker")}
          value={plan.after_marker ?? ""}
          onChange={(event) =>
            set({ after_marker: (event.target.value || undefined) as PlanDocument["after_marker"] })
          }
          className={FIELD}
        >
          <option value="">{t("plan:markers.after_it")}</option>
          <option value="release">{t("plan:markers.after_it_released")}</option>
          <option value="stay">{t("plan:markers.after_it_stays")}</option>
        </select>
        <select
          aria-label={t("plan:markers.after_a_miss")}
          value={plan.after_miss ?? ""}
          onChange={(event) =>
            set({ after_miss: (event.target.value || undefined) as PlanDocument["after_miss"] })
          }
          className={FIELD}
        >
          <option value="">{t("plan:markers.after_a_miss_2")}</option>
          <option value="wait">{t("plan:markers.after_a_miss_wait")}</option>
          <option value="no_reward_marker">{t("plan:markers.after_a_miss_mild_no")}</option>
        </select>
        <select
          aria-label={t("plan:markers.next_rep_begins_with")}
          value={plan.reset ?? ""}
          onChange={(event) =>
            set({ reset: (event.target.value || undefined) as PlanDocument["reset"] })
          }
          className={FIELD}
        >
          <option value="">{t("plan:markers.next_rep")}</option>
          <option value="toss">{t("plan:markers.next_rep_tossed_away_first")}</option>
          <option value="in_position">{t("plan:markers.next_rep_from_where_it")}</option>
        </select>
      </div>
    </div>
  );
}
