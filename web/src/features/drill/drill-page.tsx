import { useState } from "react";
import { useNavigation, useSearchParams } from "react-router";

import { Button } from "../../components/button";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import type { Drills, LevelKey, Scored } from "../../domain/drill";
import { t } from "../../words";
import { Choices } from "./choices";
import { CurvePart } from "./curve-part";
import { kindOfChoice, kindOfDrill } from "./drill-kind";
import { OwnLag } from "./own-lag";
import { Result } from "./result";
import { RunsList } from "./runs-list";
import { Stage } from "./stage";
import { useChoice, type Choice } from "./use-choice";
import { useDrilling } from "./use-drilling";
import { useDrills, useScored } from "./use-drills";
import { useScreen } from "./use-screen";

/** The timing drill: mark a drawn animal, or one's own films, and see one's own lag. */
export function DrillPage() {
  const drills = useDrills();
  return (
    <Shell title={t("drill:page.timing_drill")}>
      <main className="mx-auto w-full max-w-[1240px] px-[18px] pt-4 pb-12">
        {drills.error ? (
          <Fault error={drills.error} />
        ) : drills.data ? (
          <Drill drills={drills.data} />
        ) : (
          <Wait>{t("drill:page.opening")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function Drill({ drills }: { drills: Drills }) {
  const { choice, choose } = useChoice(drills);
  const [search, setSearch] = useSearchParams();
  const isLeaving = useNavigation().state !== "idle";
  const shownId = search.get("run");
  const scored = useScored(shownId);
  // An older drill is shown on what it was done on.
  const sessionId = scored.data ? scored.data.drill.session_id : choice.sessionId;
  const screen = useScreen(sessionId);
  const { drilling, ...parts } = useDrilling({
    choice,
    screen,
    // Whoever asked for another page meanwhile is not held back by it.
    onDone: (id) => !isLeaving && setSearch({ run: id }, { replace: true }),
  });
  const [isAgain, setAgain] = useState(false);
  const result = scored.data && !drilling.drill ? scored.data : null;
  const shown = drilling.drill ?? result?.drill;
  const kind = shown ? kindOfDrill(shown) : kindOfChoice(choice);
  const begin = (values: Partial<Choice> = {}) => {
    choose(values);
    setSearch({}, { replace: true });
    drilling.begin(values);
  };
  return (
    <div className="grid gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,1fr)_380px]">
      <section aria-labelledby="drill" className="min-w-0">
        <h1 id="drill" className="mb-2 text-[22px] leading-tight">
          {t("drill:page.timing_drill")}
        </h1>
        <Stage
          {...parts}
          isRunning={drilling.drill !== null}
          kind={kind}
          poster={screen?.films[0] ? `/api/films/${screen.films[0].id}/poster.jpg` : null}
          isAgain={isAgain}
          isByClicker={choice.isByClicker}
          isSmall={result !== null}
        />
        {(drilling.fault ?? drilling.resend) && (
          <p role="alert" className="mt-2 flex flex-wrap items-center gap-3 text-fault">
            {drilling.fault ?? t("drill:page.not_sent")}
            {drilling.resend && (
              <Button onClick={drilling.resend}>{t("drill:page.send_again")}</Button>
            )}
          </p>
        )}
        {scored.error && !drilling.drill && <Fault error={scored.error} />}
        {drilling.drill ? (
          <p className="mt-3 flex flex-wrap items-center gap-4">
            <Button onClick={drilling.stop}>{t("drill:page.stop")}</Button>
            <span className="text-soft">{t("drill:page.stopped_counts_for_nothing")}</span>
          </p>
        ) : result ? (
          <Result
            key={result.run.id}
            scored={result}
            drilling={drilling}
            advice={adviceAfter(drills, result)}
            onAgain={setAgain}
            onBegin={begin}
            onOther={() => setSearch({}, { replace: true })}
          />
        ) : (
          <Choices
            drills={drills}
            choice={choice}
            choose={choose}
            drilling={drilling}
            onBegin={() => begin()}
          />
        )}
      </section>
      <aside className="min-w-0 space-y-6">
        <OwnLag drills={drills} />
        <CurvePart drills={drills} kind={kind} />
        <RunsList runs={drills.runs} shownId={shownId} onShow={(id) => setSearch({ run: id })} />
      </aside>
    </div>
  );
}

/** Another level, where this was the last drill of its kind and it is time for one. */
function adviceAfter(drills: Drills, { drill }: Scored): LevelKey | null {
  const advice = drills.advice[drill.instant];
  const last = drills.runs.find((run) => run.source === "drawn" && run.instant === drill.instant);
  const isTold = advice && (advice.why === "raise" || advice.why === "lower");
  return isTold && last?.id === drill.id ? advice.level : null;
}
