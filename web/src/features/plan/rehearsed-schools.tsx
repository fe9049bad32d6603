import { RULES } from "../../domain/plan-document";
import { t } from "../../words";
import { SpreadBar } from "./spread-bar";
import type { Rehearsals, School, Wanted } from "./use-rehearsals";

const CELL = "px-2 py-2 text-right align-middle first:pl-0 first:text-left last:pr-0";
const BAR_PX = 190;
const NUMBERS = ["sessions", "days", "minutes", "rewards", "failed_raises", "signs"] as const;

interface RehearsedSchoolsProps {
  wanted: Wanted[];
  own: School;
  rehearsals: Rehearsals;
}

/** The plan under each school: reps as pictures on one axis, the rest as numbers. */
export function RehearsedSchools({ wanted, own, rehearsals }: RehearsedSchoolsProps) {
  const { found } = rehearsals;
  const most = Math.max(...wanted.map(({ name }) => found.get(name)?.rehearsal.reps.high ?? 0), 1);
  return (
    <section aria-labelledby="schools" className="mt-6 border-t border-ink pt-3">
      <h2 id="schools" className="text-[16px] font-semibold">
        {t("plan:rehearsal.under_each_school")}
      </h2>
      <p className="text-[13px] text-soft">{t("plan:rehearsal.how_to_read")}</p>
      <div className="mt-1 overflow-x-auto">
        <table className="w-full border-collapse text-[14px]">
          <thead>
            <tr className="border-b border-line text-[13px] text-soft">
              <th scope="col" className={`${CELL} font-normal`}>
                {t("plan:rehearsal.school")}
              </th>
              <th scope="col" className={`${CELL} text-left font-normal`}>
                {t("plan:rehearsal.reps")}
              </th>
              {NUMBERS.map((name) => (
                <th key={name} scope="col" className={`${CELL} font-normal`}>
                  {t(`plan:rehearsal.${name}`)}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {wanted.map(({ name, rule }) => {
              const made = found.get(name)?.rehearsal;
              const kind = rule?.kind ?? own;
              return (
                <tr key={name} data-school={name} className="border-b border-hair">
                  <th scope="row" className={`${CELL} font-normal`}>
                    {RULES[kind].words}
                    {rule === null && (
                      <span className="block text-[12px] text-soft">
                        {t("plan:rehearsal.as_the_plan_says")}
                      </span>
                    )}
                  </th>
                  {made ? (
                    <>
                      <td className={`${CELL} text-left`}>
                        <span className="flex items-center gap-2">
                          <SpreadBar
                            spread={made.reps}
                            most={most}
                            width={BAR_PX}
                            strong={rule === null}
                          />
                          <Middle spread={made.reps} />
                        </span>
                        {made.reached.count < made.reached.of && (
                          <span className="block text-[12px] text-soft">
                            {t("plan:rehearsal.came_to_the_end", {
                              count: made.reached.count,
                              of: made.reached.of,
                            })}
                          </span>
                        )}
                      </td>
                      {NUMBERS.map((number) => (
                        <td key={number} className={CELL}>
                          <Middle spread={made[number]} />
                        </td>
                      ))}
                    </>
                  ) : (
                    <td colSpan={1 + NUMBERS.length} className={`${CELL} text-left text-soft`}>
                      {rehearsals.done === null
                        ? t("plan:rehearsal.not_rehearsed")
                        : t("plan:rehearsal.being_rehearsed")}
                    </td>
                  )}
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}

/** The middle one of the runs, and between which nine of ten lie. */
function Middle({ spread }: { spread: { median: number; low: number; high: number } }) {
  return (
    <span className="num whitespace-nowrap">
      {Math.round(spread.median)}
      <span className="block text-[12px] text-soft">
        {Math.round(spread.low)}–{Math.round(spread.high)}
      </span>
    </span>
  );
}
