import { counted, percent, uncertainty, milliseconds } from "../../domain/times";
import { wordsOf } from "../../domain/marks";
import type { Comparison } from "../../domain/second-look";
import { t } from "../../words";

const COLUMNS = [
  "mark",
  "both",
  "only_first",
  "only_second",
  "agreement",
  "later",
  "sure",
] as const;
const CELL = "px-2 py-1.5 text-right first:pl-0 first:text-left last:pr-0";

/** How the two agree, kind by kind, in words a trainer knows; the intervals stand beside. */
export function AgreementTable({ comparison }: { comparison: Comparison }) {
  const { agreement, placing } = comparison;
  const surety = new Map(placing.map((one) => [one.kind, one]));
  const kinds = Object.entries(agreement.kinds).sort(([, a], [, b]) => b.a + b.b - a.a - a.b);
  return (
    <section aria-labelledby="by-kind" className="mt-9 border-t border-ink pt-3">
      <h2 id="by-kind" className="text-[16px] font-semibold">
        {t("second_look:agreement_table.how_you_agree")}
      </h2>
      <div className="mt-2 overflow-x-auto">
        <table className="num w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-line text-[13px] text-soft">
              {COLUMNS.map((name) => (
                <th key={name} scope="col" className={`${CELL} align-bottom font-normal`}>
                  {t(`second_look:agreement_table.${name}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {kinds.map(([kind, found]) => {
              const placed = surety.get(kind);
              return (
                <tr key={kind} className="border-b border-hair">
                  <th scope="row" className={`${CELL} font-normal`}>
                    {wordsOf(kind)}
                  </th>
                  <td className={CELL}>{found.matched}</td>
                  <td className={CELL}>{found.only_a.length}</td>
                  <td className={CELL}>{found.only_b.length}</td>
                  <td className={CELL}>
                    {found.agreement === null ? "–" : percent(found.agreement)}
                    <Interval
                      low={found.agreement_low}
                      high={found.agreement_high}
                      write={(x) => percent(x)}
                    />
                  </td>
                  <td className={CELL}>
                    {found.bias_s.mean === null ? "–" : milliseconds(found.bias_s.mean)}
                    <Interval
                      low={found.bias_s.mean_low}
                      high={found.bias_s.mean_high}
                      write={milliseconds}
                    />
                  </td>
                  <td className={CELL}>{placed?.u_s ? uncertainty(placed.u_s) : "–"}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
      <Fits kappa={agreement.kappa_met} />
      <Stretches kinds={kinds} />
      <p className="mt-2 max-w-[75ch] text-[13px] text-soft">
        {t("second_look:agreement_table.what_the_numbers_say", {
          tolerance: agreement.tolerance_s,
        })}
      </p>
    </section>
  );
}

type Kinds = [string, Comparison["agreement"]["kinds"][string]][];

const SHARES = [
  "total_count",
  "mean_count_per_interval",
  "exact_count_per_interval",
  "scored_interval",
  "unscored_interval",
  "interval_by_interval",
] as const;

/** The other ways to say how far two agree, for whoever is asked for one of them. */
function Stretches({ kinds }: { kinds: Kinds }) {
  return (
    <details className="mt-3">
      <summary className="cursor-pointer underline underline-offset-3">
        {t("second_look:agreement_table.in_stretches_of_ten_seconds")}
      </summary>
      <div className="mt-2 overflow-x-auto">
        <table className="num w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-line text-[13px] text-soft">
              <th scope="col" className={`${CELL} align-bottom font-normal`}>
                {t("second_look:agreement_table.mark")}
              </th>
              {SHARES.map((name) => (
                <th key={name} scope="col" className={`${CELL} align-bottom font-normal`}>
                  {t(`second_look:agreement_table.${name}`)}
                </th>
              ))}
              <th scope="col" className={`${CELL} align-bottom font-normal`}>
                {t("second_look:agreement_table.limits")}
              </th>
            </tr>
          </thead>
          <tbody>
            {kinds.map(([kind, found]) => (
              <tr key={kind} className="border-b border-hair">
                <th scope="row" className={`${CELL} font-normal`}>
                  {wordsOf(kind)}
                </th>
                {SHARES.map((name) => (
                  <td key={name} className={CELL}>
                    {found[name] === null ? "–" : percent(found[name])}
                  </td>
                ))}
                <td className={`${CELL} whitespace-nowrap`}>
                  {found.bias_s.low === null || found.bias_s.high === null
                    ? "–"
                    : t("second_look:agreement_table.from_to", {
                        low: milliseconds(found.bias_s.low),
                        high: milliseconds(found.bias_s.high),
                      })}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}

interface IntervalProps {
  low: number | null;
  high: number | null;
  write: (value: number) => string;
}

function Interval({ low, high, write }: IntervalProps) {
  if (low === null || high === null) return null;
  return (
    <span className="block text-[12px] whitespace-nowrap text-soft">
      {t("second_look:agreement_table.from_to", { low: write(low), high: write(high) })}
    </span>
  );
}

/** On whether the behaviour fits: how often the same, and how much of that chance would give. */
function Fits({ kappa }: { kappa: Comparison["agreement"]["kappa_met"] }) {
  const { n, observed, expected, value, low, high } = kappa;
  if (n === 0 || observed === null || expected === null) return null;
  return (
    <p className="mt-3 max-w-[75ch]">
      {t("second_look:agreement_table.fits_said_alike", {
        reps: counted(n, "rep"),
        same: Math.round(observed * n),
        chance: percent(expected),
      })}{" "}
      {value === null || low === null || high === null
        ? t("second_look:agreement_table.chance_explains_it_all")
        : t("second_look:agreement_table.beyond_chance", {
            value: value.toFixed(2),
            low: low.toFixed(2),
            high: high.toFixed(2),
          })}
    </p>
  );
}
