import { Link, useParams, useSearchParams } from "react-router";

import type { SessionOut } from "../../api/client";
import type { Findings } from "../../api/findings";
import { useJudgement, type JudgementOut } from "../../api/judgement";
import { useFindings, useSession } from "../../api/queries";
import { Shell } from "../../components/shell";
import { PartBoundary } from "../../components/part-boundary";
import { Fault, Wait } from "../../components/states";
import { counted, shortClock } from "../../domain/times";
import { crumbOf, titleOfStep } from "../../domain/words";
import { BoutsPart } from "./bouts-part";
import { ConditionsPart } from "./conditions-part";
import { ControlPart } from "./control-part";
import { ChainsPart } from "./chains-part";
import { EasePart } from "./ease-part";
import { ExposuresPart } from "./exposures-part";
import { FitPart } from "./fit-part";
import { HandPart } from "./hand-part";
import { HeldPart } from "./held-part";
import { HelpPart } from "./help-part";
import { Judgement } from "./judgement";
import { LedPart } from "./led-part";
import { MarkerPart } from "./marker-part";
import { MomentList } from "./moment-list";
import { OfferedPart } from "./offered-part";
import { PausePart } from "./pause-part";
import { PlacementPart } from "./placement-part";
import { CumulativePart, RatePart } from "./rate-part";
import { filterOf, momentsOf } from "../../domain/rep-filter";
import { RepList } from "./rep-list";
import { ReturnsPart } from "./returns-part";
import { StaysPart } from "./stays-part";
import { ValuesPart } from "./values-part";
import { RewardPart } from "./reward-part";
import { asideOf } from "../../domain/sentence";
import { ScriptPart } from "./script-part";
import { SplitsTable } from "./splits-table";
import { TakeAway } from "./take-away";
import { t } from "../../words";

/** What a session's film says: one sentence first, then the numbers, each leading to its reps. */
export function FindingsPage() {
  const sessionId = useParams()["sessionId"] ?? "";
  const session = useSession(sessionId);
  const measured = useFindings(sessionId, -1);
  const judged = useJudgement(sessionId);
  const crumb = session.data ? crumbOf(session.data) : "";
  const fault = session.error ?? measured.error ?? (measured.data?.findings ? judged.error : null);
  return (
    <Shell
      title={[t("components:shell.findings"), crumb].filter(Boolean).join(" · ")}
      crumb={crumb}
      sessionId={sessionId}
    >
      <main className="mx-auto w-full max-w-[1160px] px-[18px] pt-7 pb-16">
        {fault ? (
          <Fault error={fault} />
        ) : !session.data || !measured.data ? (
          <Wait>{t("findings:findings_page.measuring")}</Wait>
        ) : measured.data.findings && judged.data ? (
          <Whole session={session.data} findings={measured.data.findings} judged={judged.data} />
        ) : measured.data.findings ? (
          <Wait>{t("findings:findings_page.judging")}</Wait>
        ) : (
          <p role="alert">
            {t("findings:findings_page.these_marks_cannot_be_measured", {
              faults: measured.data.faults.join("; "),
            })}
          </p>
        )}
      </main>
    </Shell>
  );
}

/** In the order of the page; each shows nothing where the session holds none of it. */
const PARTS = [
  EasePart,
  MarkerPart,
  RewardPart,
  RatePart,
  CumulativePart,
  FitPart,
  LedPart,
  HandPart,
  PausePart,
  ReturnsPart,
  HeldPart,
  StaysPart,
  ChainsPart,
  ExposuresPart,
  ValuesPart,
  BoutsPart,
  OfferedPart,
  PlacementPart,
  HelpPart,
  ControlPart,
  ScriptPart,
];

/** Nothing coded that could be looked at: no rep, and nothing done or shown beside reps. */
function isEmpty(f: Findings): boolean {
  const { attempts, markers, rewards } = f.counts;
  const beside = [f.exposures, f.signs.labels].some((found) => Object.keys(found).length > 0);
  return attempts + markers + rewards + f.opt_outs.count === 0 && !beside;
}

interface WholeProps {
  session: SessionOut;
  findings: Findings;
  judged: JudgementOut;
}

function Whole({ session, findings, judged }: WholeProps) {
  const { headline } = judged.judgement;
  const [search, setSearch] = useSearchParams();
  const titleOf = (key: string | null) => titleOfStep(session.plan, key);
  const wanted = search.get("reps");
  const filter = filterOf(wanted, titleOf);
  const moments = momentsOf(wanted, findings);
  const aside = asideOf(findings, titleOf);
  const hasFilm = session.films.some((film) => film.usable);
  const showAll = () => {
    const next = new URLSearchParams(search);
    next.delete("reps");
    setSearch(next, { preventScrollReset: true });
  };
  if (session.by_hand) {
    return (
      <>
        <h1 className="max-w-[44ch] text-[29px] leading-[1.2] max-md:text-[24px]">{headline}</h1>
        <p className="mt-2 text-soft">{t("findings:findings_page.this_session_was_counted_by")}</p>
        <Judgement sessionId={session.id} found={judged} />
        <Link className="mt-4 inline-block underline" to={`/logbook/${session.behaviour_id ?? ""}`}>
          {t("findings:findings_page.to_the_logbook")}
        </Link>
      </>
    );
  }
  if (isEmpty(findings)) {
    return (
      <>
        <h1 className="text-[30px] leading-tight">
          {t("findings:findings_page.nothing_is_coded_yet_mark")}
        </h1>
        <p className="mt-2 text-soft">{aside}</p>
        <Link className="mt-4 inline-block underline" to={`/sessions/${session.id}/bench`}>
          {t("findings:findings_page.to_the_bench")}
        </Link>
      </>
    );
  }
  const given = { findings, session, titleOf };
  return (
    <>
      <h1 className="max-w-[44ch] text-[29px] leading-[1.2] max-md:text-[24px]">{headline}</h1>
      <p className="mt-3 max-w-[75ch] text-soft">{aside}</p>
      <p className="num mt-2 text-[13px] text-soft">
        {t("findings:findings_page.training_time_s_of_training", {
          training_time_s: shortClock(findings.training_time_s),
          attempts: counted(findings.counts.attempts, "rep"),
          markers: counted(findings.counts.markers, "marker"),
          rewards: counted(findings.counts.rewards, "reward"),
          trainer:
            session.trainer &&
            t("findings:findings_page.trained_by_trainer", { trainer: session.trainer }),
          handler:
            session.handler &&
            t("findings:findings_page.handled_by_handler", { handler: session.handler }),
          place: session.place && ` · ${session.place}`,
        })}
        {session.behaviour_id && (
          <Link
            to={`/logbook/${session.behaviour_id}`}
            className="no-print ml-4 font-sans underline underline-offset-3"
          >
            {t("common:logbook")}
          </Link>
        )}
      </p>
      <Judgement sessionId={session.id} found={judged} />
      {findings.splits.approximations.length > 0 && (
        <SplitsTable splits={findings.splits} session={session} titleOf={titleOf} />
      )}
      <div className="mt-8 grid grid-cols-2 gap-x-14 max-lg:grid-cols-1 print:mt-4">
        {PARTS.map((Part, place) => (
          <PartBoundary key={place}>
            <Part {...given} />
          </PartBoundary>
        ))}
        {Object.keys(findings.conditions).map((name) => (
          <PartBoundary key={name}>
            <ConditionsPart {...given} name={name} />
          </PartBoundary>
        ))}
      </div>
      {moments ? (
        <MomentList sessionId={session.id} {...moments} hasFilm={hasFilm} onAll={showAll} />
      ) : (
        <RepList
          sessionId={session.id}
          findings={findings}
          filter={filter}
          hasFilm={hasFilm}
          titleOf={titleOf}
          onAll={showAll}
        />
      )}
      <TakeAway session={session} />
    </>
  );
}
