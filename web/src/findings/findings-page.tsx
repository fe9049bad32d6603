import { Link, useParams, useSearchParams } from "react-router";

import type { SessionOut } from "../api/client";
import type { Findings } from "../api/findings";
import { useFindings, useSession } from "../api/queries";
import { Shell } from "../ui/shell";
import { Fault, Wait } from "../ui/states";
import { counted, shortClock } from "../ui/times";
import { crumbOf, titleOfStep } from "../ui/words";
import { ConditionsPart } from "./conditions-part";
import { ControlPart } from "./control-part";
import { FitPart } from "./fit-part";
import { HandPart } from "./hand-part";
import { HeldPart } from "./held-part";
import { HelpPart } from "./help-part";
import { Judgement } from "./judgement";
import { MarkerPart } from "./marker-part";
import { MomentList } from "./moment-list";
import { OfferedPart } from "./offered-part";
import { PausePart } from "./pause-part";
import { PlacementPart } from "./placement-part";
import { CumulativePart, RatePart } from "./rate-part";
import { filterOf, momentsOf } from "./rep-filter";
import { RepList } from "./rep-list";
import { RewardPart } from "./reward-part";
import { asideOf } from "./sentence";
import { SplitsTable } from "./splits-table";
import { TakeAway } from "./take-away";

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
            then={measured.data.sentence?.then ?? null}
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
  then: string | null;
}

function Whole({ session, findings, headline, then }: WholeProps) {
  const [search, setSearch] = useSearchParams();
  const titleOf = (key: string | null) => titleOfStep(session.plan, key);
  const wanted = search.get("reps");
  const filter = filterOf(wanted, titleOf);
  const moments = momentsOf(wanted, findings);
  const aside = asideOf(findings);
  const hasFilm = session.films.some((film) => film.usable);
  const showAll = () => {
    const next = new URLSearchParams(search);
    next.delete("reps");
    setSearch(next, { preventScrollReset: true });
  };
  if (session.by_hand) {
    return (
      <>
        <h1 className="text-[30px] leading-tight">This session was counted by hand.</h1>
        <p className="mt-2 text-soft">
          Without marks there is nothing to find in it; its counts stand in the logbook.
        </p>
        <Link className="mt-4 inline-block underline" to={`/logbook/${session.behaviour_id ?? ""}`}>
          To the logbook
        </Link>
      </>
    );
  }
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
  const given = { findings, session, titleOf };
  return (
    <>
      <h1 className="max-w-[44ch] text-[29px] leading-[1.2] max-md:text-[24px]">{headline}</h1>
      <p className="mt-3 max-w-[75ch] text-soft">{aside}</p>
      <p className="num mt-2 text-[13px] text-soft">
        {shortClock(findings.training_time_s)} of training ·{" "}
        {counted(findings.counts.attempts, "rep")} · {counted(findings.counts.markers, "marker")} ·{" "}
        {counted(findings.counts.rewards, "reward")}
        {session.trainer && ` · trained by ${session.trainer}`}
        {session.behaviour_id && (
          <Link
            to={`/logbook/${session.behaviour_id}`}
            className="no-print ml-4 font-sans underline underline-offset-3"
          >
            Logbook
          </Link>
        )}
      </p>
      {findings.advice && (
        <Judgement
          advice={findings.advice}
          then={then}
          step={titleOf(findings.splits.segments.at(-1)?.approximation ?? null)}
        />
      )}
      {findings.splits.approximations.length > 0 && (
        <SplitsTable splits={findings.splits} session={session} titleOf={titleOf} />
      )}
      <div className="mt-8 grid grid-cols-2 gap-x-14 max-lg:grid-cols-1 print:mt-4">
        <MarkerPart {...given} />
        <RewardPart {...given} />
        <RatePart {...given} />
        <CumulativePart {...given} />
        <FitPart {...given} />
        <HandPart {...given} />
        <PausePart {...given} />
        <HeldPart {...given} />
        <OfferedPart {...given} />
        <PlacementPart {...given} />
        <HelpPart {...given} />
        <ControlPart {...given} />
        {Object.keys(findings.conditions).map((name) => (
          <ConditionsPart key={name} {...given} name={name} />
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
