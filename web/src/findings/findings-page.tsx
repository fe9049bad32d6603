import type { ReactNode } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import type { SessionOut } from "../api/client";
import type { Findings } from "../api/findings";
import { useFindings, useSession } from "../api/queries";
import { InlineGlyph, MarkerRing, RewardSeed } from "../ui/glyphs";
import { Shell } from "../ui/shell";
import { Fault, Wait } from "../ui/states";
import { counted, latency, percent, shortClock, uncertainty } from "../ui/times";
import { crumbOf, titleOfStep } from "../ui/words";
import { Judgement } from "./judgement";
import { LatencyPlot } from "./latency-plot";
import { RatePlot } from "./rate-plot";
import { filterOf, stepKey } from "./rep-filter";
import { RepList } from "./rep-list";
import { asideOf } from "./sentence";
import { SplitsTable } from "./splits-table";

/** What a session's film says: one sentence first, then the numbers, each leading to its reps. */
export function FindingsPage() {
  const sessionId = useParams()["sessionId"] ?? "";
  const session = useSession(sessionId);
  const measured = useFindings(sessionId, -1);
  const crumb = session.data ? crumbOf(session.data) : "";
  const fault = session.error ?? measured.error;
  return (
    <Shell title={`Findings${crumb ? ` · ${crumb}` : ""}`} crumb={crumb} sessionId={sessionId}>
      <main className="mx-auto w-full max-w-[1160px] px-[18px] pt-7 pb-16">
        {fault ? (
          <Fault error={fault} />
        ) : !session.data || !measured.data ? (
          <Wait>Measuring</Wait>
        ) : measured.data.findings ? (
          <Whole
            session={session.data}
            findings={measured.data.findings}
            headline={measured.data.sentence?.text ?? ""}
          />
        ) : (
          <p role="alert">These marks cannot be measured: {measured.data.faults.join("; ")}</p>
        )}
      </main>
    </Shell>
  );
}

interface WholeProps {
  session: SessionOut;
  findings: Findings;
  /** What to do, in one sentence. */
  headline: string;
}

function Whole({ session, findings, headline }: WholeProps) {
  const [search, setSearch] = useSearchParams();
  const titleOf = (key: string | null) => titleOfStep(session.plan, key);
  const filter = filterOf(search.get("reps"), titleOf);
  const aside = asideOf(findings);
  const behind: Behind = (key) => ({
    to: `?reps=${encodeURIComponent(key)}#reps`,
    onClick: () => window.setTimeout(() => document.getElementById("reps")?.scrollIntoView()),
  });
  if (findings.counts.attempts === 0) {
    return (
      <>
        <h1 className="text-[30px] leading-tight">{headline}</h1>
        <p className="mt-2 text-soft">{aside}</p>
        <Link className="mt-4 inline-block underline" to={`/sessions/${session.id}/bench`}>
          To the bench
        </Link>
      </>
    );
  }
  return (
    <>
      <h1 className="max-w-[40ch] text-[29px] leading-[1.2] max-md:text-[24px]">{headline}</h1>
      <p className="mt-3 max-w-[75ch] text-soft">{aside}</p>
      <p className="num mt-2 text-[13px] text-soft">
        {shortClock(findings.training_time_s)} of training ·{" "}
        {counted(findings.counts.attempts, "rep")} · {counted(findings.counts.markers, "marker")} ·{" "}
        {counted(findings.counts.rewards, "reward")}
      </p>
      {findings.advice && (
        <Judgement
          advice={findings.advice}
          step={titleOf(findings.splits.segments.at(-1)?.approximation ?? null)}
        />
      )}
      <div className="mt-8 grid grid-cols-2 gap-x-14 max-lg:grid-cols-1">
        <MarkerPart findings={findings} session={session} behind={behind} />
        <RewardPart findings={findings} session={session} behind={behind} />
        <RatePart findings={findings} behind={behind} />
        <FitPart findings={findings} behind={behind} />
      </div>
      {findings.splits.approximations.length > 0 && (
        <SplitsTable
          splits={findings.splits.approximations}
          titleOf={titleOf}
          behind={(key) => behind(stepKey(key))}
        />
      )}
      <RepList
        sessionId={session.id}
        findings={findings}
        filter={filter}
        hasFilm={session.films.some((film) => film.usable)}
        titleOf={titleOf}
        onAll={() => setSearch({}, { preventScrollReset: true })}
      />
      <OpenFormats session={session} />
    </>
  );
}

type Behind = (key: string) => { to: string; onClick: () => void };

interface PartProps {
  findings: Findings;
  behind: Behind;
}

function limitOf(session: SessionOut, key: string, otherwise: number): number {
  const value = session.settings[key];
  return typeof value === "number" ? value : otherwise;
}

function Part({
  id,
  title,
  value,
  children,
}: {
  id: string;
  title: ReactNode;
  value: ReactNode;
  children: ReactNode;
}) {
  return (
    <section
      id={id}
      aria-labelledby={`${id}-title`}
      className="scroll-mt-4 border-t border-ink pt-3 pb-6"
    >
      <div className="flex items-baseline justify-between gap-4">
        <h2 id={`${id}-title`} className="text-[16px] font-semibold">
          {title}
        </h2>
        <span className="num text-[26px] tracking-tight whitespace-nowrap">{value}</span>
      </div>
      {children}
    </section>
  );
}

/** A count that opens its reps. */
function Count({
  n,
  words,
  behind,
  fault,
}: {
  n: number;
  words: string;
  behind: ReturnType<Behind>;
  fault?: boolean;
}) {
  return (
    <Link
      {...behind}
      preventScrollReset
      className={`underline decoration-line underline-offset-3 ${fault && n > 0 ? "text-marker" : ""}`}
    >
      <span className="num">{n}</span> {words}
    </Link>
  );
}

function MarkerPart({ findings, session, behind }: PartProps & { session: SessionOut }) {
  const summary = findings.marker_latency_s;
  const onTime = limitOf(session, "on_time_s", 0.5);
  const marked = findings.reps.filter((r) => r.marker_latency_s !== null);
  const values = marked.map((r) => ({
    id: r.id,
    value: r.marker_latency_s ?? 0,
    strong: r.timing === "late" || r.behaviour_over === true,
  }));
  const far = Math.max(1.5, Math.ceil((summary.max ?? 0) * 2) / 2);
  const { early, on_time, late, behaviour_over } = findings.timing;
  return (
    <Part
      id="marker"
      title={
        <>
          <InlineGlyph kind="marker" /> Marker, from the instant it begins
        </>
      }
      value={
        summary.median === null ? (
          "–"
        ) : (
          <Link {...behind("marked")} preventScrollReset>
            {latency(summary.median, 2)}
          </Link>
        )
      }
    >
      <LatencyPlot
        label={`${counted(summary.n, "marker")} by their distance from the onset`}
        values={values}
        from={Math.min(-0.5, Math.floor((summary.min ?? 0) * 2) / 2)}
        to={far}
        zero="begins"
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
            <rect
              x={x(0)}
              width={x(onTime) - x(0)}
              y={4}
              height={height - 4}
              fill="var(--zone-on-time)"
            />
            <path d={`M${x(0)} 4V${height}`} stroke="var(--behaviour)" strokeWidth={1.5} />
          </>
        )}
        glyph={(x, y, strong) => <MarkerRing x={x} y={y} strong={strong} />}
      />
      <p className="flex flex-wrap gap-x-5 gap-y-1">
        <Count n={early} words="early" behind={behind("early")} fault />
        <Count n={on_time} words={`on time, up to ${onTime} s`} behind={behind("on_time")} />
        <Count n={late} words="late" behind={behind("late")} fault />
        {behaviour_over !== null && (
          <Count n={behaviour_over} words="after it was over" behind={behind("over")} fault />
        )}
      </p>
      <Surety value={findings.sources.marker_latency_s} />
    </Part>
  );
}

function RewardPart({ findings, session, behind }: PartProps & { session: SessionOut }) {
  const summary = findings.reward_latency_s;
  const limit = limitOf(session, "reward_limit_s", 3);
  const values = findings.reps.flatMap((r) =>
    r.reward_latency_s === null
      ? []
      : [{ id: r.id, value: r.reward_latency_s, strong: r.reward_latency_s > limit }],
  );
  return (
    <Part
      id="reward"
      title={
        <>
          <InlineGlyph kind="reward" /> Reward, after the marker
        </>
      }
      value={
        summary.median === null ? (
          "–"
        ) : (
          <Link {...behind("rewarded")} preventScrollReset>
            {latency(summary.median, 2)}
          </Link>
        )
      }
    >
      <LatencyPlot
        label={`${counted(summary.n, "reward")} by their distance from the marker`}
        values={values}
        from={Math.min(0, Math.floor(summary.min ?? 0))}
        to={Math.max(limit + 1, Math.ceil(summary.max ?? 0))}
        zero="marker"
        median={
          summary.median === null
            ? null
            : { at: summary.median, low: summary.median_low, high: summary.median_high }
        }
        ground={(x, height) => (
          <path d={`M${x(limit)} 4V${height}`} stroke="var(--reward)" strokeDasharray="2 4" />
        )}
        glyph={(x, y) => <RewardSeed x={x} y={y} />}
      />
      <p className="flex flex-wrap gap-x-5 gap-y-1">
        <Count n={summary.over_limit} words={`over ${limit} s`} behind={behind("slow")} fault />
        <Count
          n={findings.counts.unrewarded_markers}
          words="markers without a reward"
          behind={behind("unpaid")}
          fault
        />
        {findings.counts.unmarked_rewards > 0 && (
          <span>
            <span className="num">{findings.counts.unmarked_rewards}</span> rewards without a marker
          </span>
        )}
      </p>
      <Surety value={findings.sources.reward_latency_s} />
    </Part>
  );
}

function RatePart({ findings, behind }: PartProps) {
  const rate = findings.rates.reinforcement_per_min;
  return (
    <Part
      id="rate"
      title="Rewarded, a minute"
      value={
        rate.value === null ? (
          "–"
        ) : (
          <Link {...behind("rewarded")} preventScrollReset>
            {rate.value.toFixed(1)}
          </Link>
        )
      }
    >
      <RatePlot findings={findings} />
      <p>
        {counted(rate.count, "reinforcement")} in {shortClock(findings.training_time_s)}
        {rate.low !== null && rate.high !== null && (
          <>
            : the same teaching could as well have given {rate.low.toFixed(1)} to{" "}
            {rate.high.toFixed(1)} a minute (95 %).
          </>
        )}
      </p>
      {findings.dry_spells.longest_s !== null && (
        <p className="text-soft">
          Longest wait for a reward: {Math.round(findings.dry_spells.longest_s)} s.
        </p>
      )}
    </Part>
  );
}

function FitPart({ findings, behind }: PartProps) {
  const { success, fidelity, counts } = findings;
  if (success.share === null || success.low === null || success.high === null) {
    return (
      <Part id="fit" title="Fits the criterion" value="–">
        <p className="text-soft">
          No rep is judged yet. At the bench, f says that the current rep fits; f again, that it
          does not yet.
        </p>
      </Part>
    );
  }
  return (
    <Part
      id="fit"
      title="Fits the criterion"
      value={
        <Link {...behind("fits")} preventScrollReset>
          {success.met} of {success.judged}
        </Link>
      }
    >
      <ShareBar share={success.share} low={success.low} high={success.high} />
      <p>
        {counted(success.judged, "judged rep")} agree with a true share anywhere from{" "}
        {percent(success.low)} to {percent(success.high)} (95 %). Longest run: {success.longest_run}
        .
      </p>
      <p className="mt-1 flex flex-wrap gap-x-5">
        <Count n={success.judged - success.met} words="not yet" behind={behind("not_yet")} />
        {counts.attempts > success.judged && (
          <Count
            n={counts.attempts - success.judged}
            words="not judged"
            behind={behind("unjudged")}
          />
        )}
      </p>
      {fidelity.share !== null && (
        <p className="mt-1 text-soft">
          Your marker went to the right reps on {percent(fidelity.share)}: {fidelity.met_unmarked}{" "}
          that fit went unmarked, {fidelity.unmet_marked} that did not were marked.
        </p>
      )}
    </Part>
  );
}

function ShareBar({ share, low, high }: { share: number; low: number; high: number }) {
  const x = (s: number) => 8 + s * 624;
  return (
    <svg viewBox="0 0 640 34" className="w-full" aria-hidden>
      <path d="M8 16H632" stroke="var(--line)" />
      <path
        d={`M${x(low)} 16H${x(high)}`}
        stroke="var(--behaviour)"
        strokeWidth={6}
        opacity={0.35}
      />
      <circle cx={x(share)} cy={16} r={6} fill="var(--behaviour)" />
    </svg>
  );
}

function Surety({ value }: { value: number | null }) {
  if (value === null || value === 0) return null;
  return (
    <p className="mt-1 text-[13px] text-soft">
      The film shows each of these to within {uncertainty(value)} (one frame's width allows no
      more).
    </p>
  );
}

function OpenFormats({ session }: { session: SessionOut }) {
  return (
    <p className="no-print mt-10 text-[13px] text-soft">
      Take the marks with you:{" "}
      {(["json", "csv", "vtt"] as const).map((form) => (
        <a
          key={form}
          className="mr-3 underline"
          href={`/api/sessions/${session.id}/export.${form}`}
          download
        >
          {form === "vtt" ? "WebVTT" : form.toUpperCase()}
        </a>
      ))}
    </p>
  );
}
