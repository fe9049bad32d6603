import type { ReactNode } from "react";
import { Link } from "react-router";

import type { Share } from "../../api/findings";
import { Numbers } from "../../components/numbers-behind";
import { counted, percent } from "../../domain/times";
import { SEVERITIES } from "../../domain/words";
import type { Book, LogbookOut, Trend } from "../../domain/behaviour-logbook";
import { DayPlot, shortDay } from "./day-plot";
import { Section } from "./section";

/** How the animal was, session by session: shown wherever there was a sign or it left. */
export function EaseSection({ book }: { book: Book }) {
  const { trends } = book;
  if (!trends.some((t) => t.signs > 0 || t.opt_outs > 0)) return null;
  const top = Math.max(2, ...trends.map((t) => t.signs + t.opt_outs));
  const last = trends.at(-1);
  return (
    <Section
      id="ease"
      title="How it was: signs, and leaving the work"
      value={last && last.signs + last.opt_outs}
    >
      <DayPlot
        label={`Signs and leaving the work in ${trends.length} sessions`}
        days={trends.map((t) => t.date)}
        height={120}
        lines={[
          { at: 0, name: "0" },
          { at: top, name: String(top) },
        ]}
        up={(value) => value / top}
      >
        {(x, y) =>
          trends.map((t) => (
            <g key={t.id} stroke="var(--marker)" fill="none" strokeWidth={2}>
              <path d={`M${x(t.date)} ${y(0)}V${y(t.signs)}`} strokeWidth={5} opacity={0.5} />
              {t.opt_outs > 0 && (
                <path
                  d={`M${x(t.date) - 4} ${y(t.signs + t.opt_outs)}h8m-4 -4v8`}
                  strokeWidth={1.8}
                />
              )}
            </g>
          ))
        }
      </DayPlot>
      <p className="text-soft">
        The bar counts signs; a cross above it, that it left the work. These come before every
        number below.
      </p>
      <Numbers
        caption="Signs and leaving the work, by session"
        heads={["Day", "signs", "at worst", "left"]}
        rows={trends.map((t) => [
          shortDay(t.date),
          t.signs,
          SEVERITIES[t.worst] || "–",
          t.opt_outs,
        ])}
      />
    </Section>
  );
}

/** Whether it answers, stays, comes back, joins its chain, and does it alone. */
export function TrendSections({ book, logbook }: { book: Book; logbook: LogbookOut }) {
  const { trends } = book;
  const part = (key: string | null) => (key === null ? "–" : (logbook.parts[key] ?? key));
  const weakest = trends.findLast((t) => t.completed !== null)?.weakest ?? null;
  return (
    <>
      <ShareTrend
        id="hits"
        title="Answers when asked"
        trends={trends}
        of={(t) => t.hits}
        says="Of the times it was asked"
        more={[
          ["said for one asking", (t) => fixed(t.said_per_cue, 1)],
          ["d′", (t) => fixed(t.d_prime, 2)],
        ]}
      >
        {saidOnce(trends)}
      </ShareTrend>
      <ShareTrend
        id="alarms"
        title="Shown although nothing was asked"
        trends={trends}
        of={(t) => t.alarms}
        says="Of the waits; lower is better"
      />
      <ValueTrend
        id="stay"
        title="How long it stays"
        unit="s"
        trends={trends}
        of={(t) => t.stay_s}
        more={[
          ["stayed until let go", (t) => count(t.kept)],
          ["pays a stay", (t) => fixed(t.pays_in_place, 1)],
        ]}
      >
        {paidInPlace(trends)}
      </ValueTrend>
      <ValueTrend
        id="return"
        title="How soon it comes back"
        unit="s"
        trends={trends}
        of={(t) => t.return_s}
        more={[["did not come back", (t) => t.lost ?? "–"]]}
      />
      <ShareTrend
        id="chain"
        title="Chains done to the end"
        trends={trends}
        of={(t) => t.completed}
        says="Of the chains begun"
        more={[["weakest part", (t) => part(t.weakest)]]}
      >
        {weakest !== null && <>The weakest part last time: “{part(weakest)}”.</>}
      </ShareTrend>
      <ShareTrend
        id="alone"
        title="Without help"
        trends={trends}
        of={(t) => t.alone}
        says="Of the reps, so many needed no help"
      />
    </>
  );
}

type More = [string, (t: Trend) => string | number][];

interface TrendProps {
  id: string;
  title: string;
  trends: Trend[];
  more?: More;
  children?: ReactNode;
}

/** A share over the days with its 95 % interval; only sessions that hold any of it. */
function ShareTrend({
  id,
  title,
  trends,
  of,
  says,
  more = [],
  children,
}: TrendProps & { of: (t: Trend) => Share | null; says: string }) {
  const shown = trends.flatMap((t) => {
    const share = of(t);
    return share?.share == null ? [] : [{ t, share }];
  });
  if (shown.length === 0) return null;
  const last = shown.at(-1)?.share;
  return (
    <Section id={id} title={title} value={last && `${last.count} of ${last.of}`}>
      <DayPlot
        label={`${title}: ${counted(shown.length, "session")}`}
        days={shown.map(({ t }) => t.date)}
        height={130}
        left={52}
        lines={[0, 0.5, 1].map((at) => ({ at, name: percent(at) }))}
        up={(value) => value}
      >
        {(x, y) =>
          shown.map(({ t, share }) => (
            <g key={t.id}>
              <path
                d={`M${x(t.date)} ${y(share.low ?? 0)}V${y(share.high ?? 1)}`}
                stroke="var(--behaviour)"
                strokeWidth={5}
                opacity={0.22}
              />
              <circle cx={x(t.date)} cy={y(share.share ?? 0)} r={4} fill="var(--behaviour)" />
            </g>
          ))
        }
      </DayPlot>
      <p className="text-soft">
        {says}; the bar is what the true share could be. {children}
      </p>
      <Numbers
        caption={`${title}, by session`}
        heads={["Day", "count", "could be", ...more.map(([head]) => head)]}
        rows={shown.map(({ t, share }) => [
          <Link key={t.id} to={`/sessions/${t.id}/findings`}>
            {shortDay(t.date)}
          </Link>,
          `${share.count} of ${share.of}`,
          share.low === null || share.high === null
            ? "–"
            : `${percent(share.low)} to ${percent(share.high)}`,
          ...more.map(([, value]) => value(t)),
        ])}
      />
    </Section>
  );
}

/** A middle over the days; only sessions that hold one. */
function ValueTrend({
  id,
  title,
  unit,
  trends,
  of,
  more = [],
  children,
}: TrendProps & { of: (t: Trend) => number | null; unit: string }) {
  const shown = trends.flatMap((t) => {
    const value = of(t);
    return value === null ? [] : [{ t, value }];
  });
  if (shown.length === 0) return null;
  const top = Math.max(1, ...shown.map(({ value }) => value)) * 1.1;
  const last = shown.at(-1)?.value ?? 0;
  const line = shown.map(({ t, value }) => [t.date, value] as const);
  return (
    <Section id={id} title={title} value={`${last.toFixed(1)} ${unit}`}>
      <DayPlot
        label={`${title}: ${counted(shown.length, "session")}`}
        days={shown.map(({ t }) => t.date)}
        height={130}
        left={52}
        lines={[0, top / 2, top].map((at) => ({
          at,
          name: `${at.toFixed(at < 10 ? 1 : 0)} ${unit}`,
        }))}
        up={(value) => value / top}
      >
        {(x, y) => (
          <>
            <path
              d={`M${line.map(([day, value]) => `${x(day)} ${y(value)}`).join("L")}`}
              fill="none"
              stroke="var(--behaviour)"
              opacity={0.35}
            />
            {line.map(([day, value], n) => (
              <circle key={n} cx={x(day)} cy={y(value)} r={4} fill="var(--behaviour)" />
            ))}
          </>
        )}
      </DayPlot>
      <p className="text-soft">The middle of each session. {children}</p>
      <Numbers
        caption={`${title}, by session`}
        heads={["Day", `middle, ${unit}`, ...more.map(([head]) => head)]}
        rows={shown.map(({ t, value }) => [
          <Link key={t.id} to={`/sessions/${t.id}/findings`}>
            {shortDay(t.date)}
          </Link>,
          value.toFixed(2),
          ...more.map(([, said]) => said(t)),
        ])}
      />
    </Section>
  );
}

function fixed(value: number | null, digits: number): string {
  return value === null ? "–" : value.toFixed(digits);
}

function count(share: Share | null): string {
  return share === null ? "–" : `${share.count} of ${share.of}`;
}

function saidOnce(trends: Trend[]) {
  const said = trends.findLast((t) => t.said_per_cue !== null)?.said_per_cue ?? null;
  if (said === null) return null;
  return said <= 1 ? "Asked once each time." : `${said.toFixed(1)} words for one asking last time.`;
}

function paidInPlace(trends: Trend[]) {
  const last = trends.findLast((t) => t.stay_s !== null);
  if (!last) return null;
  const kept = last.kept ? ` ${last.kept.count} of ${last.kept.of} stayed until let go` : "";
  const paid =
    last.pays_in_place === null ? "" : `, paid ${last.pays_in_place.toFixed(1)} times in place`;
  return kept ? `Last time${kept}${paid}.` : null;
}
