import type { Findings } from "../../api/findings";
import { InlineGlyph, MarkerRing } from "../../components/glyphs";
import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { LatencyPlot } from "../../components/latency-plot";
import { Numbers } from "../../components/numbers-behind";
import { Count, Main, Part, Surety } from "./part";
import type { PartOf } from "./parts";
import { caughtWords } from "../../domain/rep-filter";
import { Trans, t } from "../../words";
import { Link } from "react-router";

/** A drill takes so many reps. */
const LEAST_DRILLED = 6;

/** The marker on the axis of the onset, and what each caught. */
export function MarkerPart({ findings, session }: PartOf) {
  const summary = findings.marker_latency_s;
  const onTime = session.settings.on_time_s;
  const marked = findings.reps.filter((r) => r.marker_latency_s !== null);
  const far = Math.max(1.5, Math.ceil((summary.max ?? 0) * 2) / 2);
  const { early, on_time, late, behaviour_over } = findings.timing;
  const held = findings.reps.some((r) => r.target_s !== null && r.target_s - r.onset_s > 0.5);
  return (
    <Part
      id="marker_latency_s"
      session={session}
      about={t("findings:marker_part.the_marker")}
      title={
        <>
          <InlineGlyph kind="marker" /> {t("findings:marker_part.marker_from_the_instant_it")}
        </>
      }
      value={
        <Main
          value={summary.median === null ? null : latency(summary.median, 2)}
          behind={behind("marked")}
        />
      }
    >
      <LatencyPlot
        label={t("findings:marker_part.n_by_their_distance_from", {
          n: counted(summary.n, "marker"),
        })}
        values={marked.map((r) => ({
          id: r.id,
          value: r.marker_latency_s ?? 0,
          strong: r.timing === "late" || r.behaviour_over === true,
        }))}
        from={Math.min(-0.5, Math.floor((summary.min ?? 0) * 2) / 2)}
        to={far}
        zero={t("findings:marker_part.begins")}
        median={
          summary.median === null
            ? null
            : { at: summary.median, low: summary.median_low, high: summary.median_high }
        }
        ground={(x, height) => (
          <>
            <rect
              x={x(-9)}
              width={x(0) - x(-9)}
              y={4}
              height={height - 4}
              fill="var(--zone-early)"
            />
            {!held && (
              <rect
                x={x(0)}
                width={x(onTime) - x(0)}
                y={4}
                height={height - 4}
                fill="var(--zone-on-time)"
              />
            )}
            <path d={`M${x(0)} 4V${height}`} stroke="var(--behaviour)" strokeWidth={1.5} />
          </>
        )}
        glyph={(x, y, strong) => <MarkerRing x={x} y={y} strong={strong} />}
      />
      <p className="flex flex-wrap gap-x-5 gap-y-1">
        <Count n={early} words={t("findings:marker_part.early")} behind={behind("early")} fault />
        <Count
          n={on_time}
          words={t("findings:marker_part.on_time_up_to_ontime", { onTime })}
          behind={behind("on_time")}
        />
        <Count n={late} words={t("findings:marker_part.late")} behind={behind("late")} fault />
        {behaviour_over !== null && (
          <Count
            n={behaviour_over}
            words={t("findings:marker_part.after_it_was_over")}
            behind={behind("over")}
            fault
          />
        )}
      </p>
      {held && findings.timing_error_s.median !== null && (
        <p className="mt-1">
          <Trans
            i18nKey="findings:marker_part.against_the_instant_the_plan"
            components={{ part: <span className="num" /> }}
            values={{ median: latency(findings.timing_error_s.median, 2) }}
          />
        </p>
      )}
      <Caught findings={findings} />
      {findings.reps.length >= LEAST_DRILLED && session.films.some((film) => film.usable) && (
        <p className="no-print mt-2">
          <Link className="underline underline-offset-3" to={`/drill?session=${session.id}`}>
            {t("findings:marker_part.drill_on_this_film")}
          </Link>
        </p>
      )}
      <Surety value={findings.sources.marker_latency_s} />
      <Numbers
        caption={t("findings:marker_part.markers_by_rep")}
        heads={[
          t("common:rep"),
          t("findings:marker_part.from_the_beginning_s"),
          t("findings:marker_part.from_the_plans_instant_s"),
          t("findings:marker_part.fell"),
        ]}
        rows={findings.reps.flatMap((r, n) =>
          r.marker_latency_s === null
            ? []
            : [
                [
                  n + 1,
                  r.marker_latency_s.toFixed(3),
                  r.timing_error_s?.toFixed(3) ?? "–",
                  r.caught === null ? "–" : caughtWords(r.caught),
                ],
              ],
        )}
      />
    </Part>
  );
}

/** What the markers fell on: those on a rep lead to it, the others to their own instants. */
function Caught({ findings }: { findings: Findings }) {
  const fell = Object.entries(findings.caught).filter(([, n]) => n > 0);
  if (fell.length === 0) return null;
  return (
    <p className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
      <span className="text-soft">{t("findings:marker_part.what_they_caught")}</span>
      {fell.map(([key, n]) => (
        <Count
          key={key}
          n={n}
          words={caughtWords(key)}
          behind={behind(
            key.startsWith("other:") || key === "nothing_coded"
              ? `at:marker:${key}`
              : `caught:${key}`,
          )}
          fault={key !== "target"}
        />
      ))}
    </p>
  );
}
