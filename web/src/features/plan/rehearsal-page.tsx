import { useMemo, useState } from "react";
import { Link, useParams } from "react-router";

import { Button } from "../../components/button";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { t } from "../../words";
import { AssumptionsPanel } from "./assumptions-panel";
import { RehearsedSchools } from "./rehearsed-schools";
import { RehearsedSteps } from "./rehearsed-steps";
import {
  RUNS,
  useAssumptions,
  useRehearsals,
  type Asked,
  type Assumptions,
  type Wanted,
} from "./use-rehearsals";

const OWN = "own";
const BETWEEN = "between";

/** A rehearsal of the plan: what it would ask of a simulated learner, never a forecast. */
export function RehearsalPage() {
  const behaviourId = useParams()["behaviourId"] ?? "";
  const assumptions = useAssumptions(behaviourId);
  return (
    <Shell title={t("plan:rehearsal.rehearsal")}>
      <main className="mx-auto w-full max-w-[1240px] px-[18px] pt-6 pb-16">
        {assumptions.error ? (
          <Fault error={assumptions.error} />
        ) : !assumptions.data ? (
          <Wait>{t("plan:rehearsal.looking_at_the_plan")}</Wait>
        ) : assumptions.data.course.steps.length === 0 ? (
          <NoSteps behaviourId={behaviourId} />
        ) : (
          <Whole behaviourId={behaviourId} assumptions={assumptions.data} />
        )}
      </main>
    </Shell>
  );
}

function NoSteps({ behaviourId }: { behaviourId: string }) {
  return (
    <>
      <h1 className="text-[29px] leading-tight">{t("plan:rehearsal.nothing_to_rehearse")}</h1>
      <p className="mt-2">
        <Link className="underline underline-offset-3" to={`/plans/${behaviourId}`}>
          {t("plan:rehearsal.to_the_plan")}
        </Link>
      </p>
    </>
  );
}

function Whole({ behaviourId, assumptions }: { behaviourId: string; assumptions: Assumptions }) {
  const [asked, setAsked] = useState<Asked>({
    learner: {},
    fromLogbook: assumptions.fitted !== null,
    capS: null,
    repCap: null,
    daysBetween: null,
  });
  const [step, setStep] = useState<string | null>(null);
  const own = assumptions.course.rule.kind;
  const wanted = useMemo<Wanted[]>(() => {
    const others = assumptions.schools.filter((kind) => kind !== own);
    return [
      { name: OWN, rule: null, between: null },
      ...(step ? [{ name: BETWEEN, rule: null, between: step }] : []),
      ...others.map((kind) => ({ name: kind, rule: { kind }, between: null })),
    ];
  }, [assumptions.schools, own, step]);
  const rehearsals = useRehearsals(behaviourId, wanted, asked);
  const { found, done, fault } = rehearsals;
  const plain = found.get(OWN);
  const tried = found.get(BETWEEN);
  // What is left of another step's trial is not this one's.
  const between = tried && step && tried.course.steps.includes(`${step} between`);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_300px] gap-8 max-lg:grid-cols-1">
      <div className="min-w-0">
        <p className="text-[13px] font-semibold tracking-wide text-marker uppercase">
          {t("plan:rehearsal.a_rehearsal_never_a_forecast")}
        </p>
        <h1 className="mt-1 max-w-[40ch] text-[29px] leading-[1.2] max-md:text-[24px]">
          {plain
            ? t("plan:rehearsal.about_so_many_reps", {
                reps: Math.round(plain.rehearsal.reps.median),
                sessions: Math.round(plain.rehearsal.sessions.median),
              })
            : t("plan:rehearsal.rehearsing")}
        </h1>
        <p className="mt-2 max-w-[70ch] text-soft">
          {plain &&
            t("plan:rehearsal.nine_of_ten", {
              runs: plain.rehearsal.runs,
              low: Math.round(plain.rehearsal.reps.low),
              high: Math.round(plain.rehearsal.reps.high),
            })}
        </p>
        <p className="mt-2 flex min-h-8 items-center gap-3 text-[13px] text-soft" role="status">
          {done !== null && (
            <>
              <progress max={wanted.length} value={done} className="w-40" />
              {t("plan:rehearsal.so_many_of", { done, of: wanted.length, runs: RUNS })}
              <Button look="quiet" onClick={rehearsals.stop}>
                {t("plan:rehearsal.stop")}
              </Button>
            </>
          )}
        </p>
        {fault && <Fault error={fault} />}
        <RehearsedSchools
          wanted={wanted.filter(({ name }) => name !== BETWEEN)}
          own={own}
          rehearsals={rehearsals}
        />
        {plain && (
          <RehearsedSteps
            rehearsed={plain}
            titles={assumptions.titles}
            between={step ? { step, rehearsed: between ? tried : undefined } : null}
            onBetween={setStep}
          />
        )}
        <section aria-labelledby="left-out" className="mt-9 border-t border-ink pt-3">
          <h2 id="left-out" className="text-[16px] font-semibold">
            {t("plan:rehearsal.what_it_leaves_out")}
          </h2>
          <ul className="mt-1 max-w-[75ch] list-disc pl-5 text-[14px]">
            {assumptions.left_out.map((name) => (
              <li key={name}>{t(`plan:rehearsal.left_out.${name as "sudden_insight"}`)}</li>
            ))}
          </ul>
          <p className="mt-2 max-w-[75ch] text-[13px] text-soft">{t("plan:rehearsal.the_model")}</p>
        </section>
        <p className="mt-6">
          <Link className="underline underline-offset-3" to={`/plans/${behaviourId}`}>
            {t("plan:rehearsal.to_the_plan")}
          </Link>
        </p>
      </div>
      <aside className="border-l border-line pl-6 max-lg:border-0 max-lg:pl-0">
        <AssumptionsPanel
          assumptions={assumptions}
          asked={asked}
          change={(changes) => setAsked((old) => ({ ...old, ...changes }))}
        />
      </aside>
    </div>
  );
}
