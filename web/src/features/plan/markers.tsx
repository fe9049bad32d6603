import { Button } from "../../components/button";
import type { PlanDocument } from "../../domain/plan-document";
import { FIELD } from "./fields";
import type { PartProps } from "./part-props";

const MEANINGS = [
  { meaning: "event", words: "it pays" },
  { meaning: "keep_going", words: "stay, more comes" },
  { meaning: "no_reward", words: "not that" },
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
            aria-label={`Take ${marker.name} out`}
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
          One more marker
        </Button>
        <select
          aria-label="After the marker"
          value={plan.after_marker ?? ""}
          onChange={(event) =>
            set({ after_marker: (event.target.value || undefined) as PlanDocument["after_marker"] })
          }
          className={FIELD}
        >
          <option value="">after it: –</option>
          <option value="release">after it: released</option>
          <option value="stay">after it: stays</option>
        </select>
        <select
          aria-label="After a miss"
          value={plan.after_miss ?? ""}
          onChange={(event) =>
            set({ after_miss: (event.target.value || undefined) as PlanDocument["after_miss"] })
          }
          className={FIELD}
        >
          <option value="">after a miss: –</option>
          <option value="wait">after a miss: wait</option>
          <option value="no_reward_marker">after a miss: mild “no”</option>
        </select>
        <select
          aria-label="Next rep begins with"
          value={plan.reset ?? ""}
          onChange={(event) =>
            set({ reset: (event.target.value || undefined) as PlanDocument["reset"] })
          }
          className={FIELD}
        >
          <option value="">next rep: –</option>
          <option value="toss">next rep: tossed away first</option>
          <option value="in_position">next rep: from where it is</option>
        </select>
      </div>
    </div>
  );
}
