import { useState } from "react";
import { Link, Navigate, useNavigate, useParams, useSearchParams } from "react-router";

import { useBehaviours, useLearners } from "../../api/queries";
import { Button } from "../../components/button";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import type { Book, Logged, LogbookOut } from "../../domain/behaviour-logbook";
import { HandDialog } from "./hand-dialog";
import { useLogbook } from "./queries";
import { growthWords, RateSection } from "./rate-section";
import { SessionList } from "./session-list";
import { Disagreements } from "./schools-by-day";
import { SideBySide } from "./side-by-side";
import { StairsSection, SuccessSection } from "./stairs-section";
import { TimingSection } from "./timing-section";
import { EaseSection, TrendSections } from "./trend-sections";
import { WeeksSection } from "./weeks-section";

/** A learner and a behaviour over the weeks. */
export function LogbookPage() {
  const behaviourId = useParams()["behaviourId"] ?? "";
  const behaviours = useBehaviours();
  const logbook = useLogbook(behaviourId);
  const fault = behaviours.error ?? logbook.error;
  const first = behaviours.data?.find((b) => b.sessions > 0) ?? behaviours.data?.[0];
  if (!behaviourId && first) return <Navigate to={`/logbook/${first.id}`} replace />;
  const whose = logbook.data ? `${logbook.data.learner} · ${logbook.data.behaviour}` : "";
  return (
    <Shell title={`Logbook${whose ? ` · ${whose}` : ""}`}>
      <main className="mx-auto w-full max-w-[1160px] flex-1 px-[18px] pt-7 pb-16">
        {fault ? (
          <Fault error={fault} />
        ) : behaviours.data?.length === 0 ? (
          <Nothing />
        ) : logbook.data ? (
          <Whole logbook={logbook.data} />
        ) : (
          <Wait>Opening the logbook</Wait>
        )}
      </main>
    </Shell>
  );
}

function Nothing() {
  return (
    <div className="max-w-xl pt-6">
      <h1 className="text-[26px]">No logbook yet</h1>
      <p className="mt-2">
        A logbook begins with something to teach. Its sessions come in as films, or are entered by
        hand.
      </p>
      <p className="mt-4">
        <Link to="/plans" className="underline">
          Make a plan
        </Link>
      </p>
    </div>
  );
}

function Whole({ logbook }: { logbook: LogbookOut }) {
  const book = logbook.book;
  const [entering, setEntering] = useState<Logged | "new" | null>(null);
  const last = logbook.sessions.find((s) => !s.by_hand);
  const fromPlan = book.instant === "plan";
  const [search, setSearch] = useSearchParams();
  const other = search.get("beside");
  return (
    <>
      <div className="flex flex-wrap items-center gap-3">
        <Chooser chosen={logbook.behaviour_id} />
        <BesideChooser
          own={logbook.behaviour_id}
          chosen={other}
          onChange={(id) => setSearch(id ? { beside: id } : {})}
        />
        <span className="flex-1" />
        <span className="no-print flex flex-wrap items-center gap-3">
          <a
            className="underline underline-offset-3"
            href={`/api/logbook/${logbook.behaviour_id}/sessions.csv`}
            download
          >
            CSV
          </a>
          <a
            className="underline underline-offset-3"
            href={`/api/logbook/${logbook.behaviour_id}/tables.xlsx`}
            download
          >
            XLSX
          </a>
          <Button onClick={() => setEntering("new")}>Enter a session by hand</Button>
          {last && (
            <Link
              to={`/sessions/${last.session_id}/next`}
              className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper"
            >
              Next session
            </Link>
          )}
        </span>
      </div>
      {logbook.sessions.length === 0 ? (
        <div className="max-w-xl pt-8">
          <h1 className="text-[26px]">No session yet</h1>
          <p className="mt-2">
            Bring the film of a session and say that it was for this behaviour, or enter one by
            hand.
          </p>
          <p className="mt-4">
            <Link to="/films" className="underline">
              To the films
            </Link>
          </p>
        </div>
      ) : other ? (
        <SideBySide one={logbook} otherId={other} />
      ) : (
        <>
          <h1 className="mt-5 max-w-[44ch] text-[29px] leading-[1.2] max-md:text-[24px]">
            {nowAt(logbook, book)}
          </h1>
          <p className="mt-2 max-w-[75ch] text-soft">{growthWords(book.growth)}</p>
          <div className="mt-6 grid grid-cols-2 gap-x-14 max-lg:grid-cols-1">
            <StairsSection book={book} logbook={logbook} />
            <RateSection book={book} logbook={logbook} />
            <SuccessSection book={book} logbook={logbook} />
            <EaseSection book={book} />
            <TimingSection
              id="marker"
              title={fromPlan ? "Marker, from the plan's instant" : "Marker, from the onset"}
              of="middle, s"
              timings={fromPlan ? book.timing_error_s : book.marker_latency_s}
              logbook={logbook}
              colour="var(--marker)"
            />
            <TimingSection
              id="reward"
              title="Reward, after the marker"
              of="middle, s"
              timings={book.reward_latency_s}
              logbook={logbook}
              colour="var(--reward)"
            />
            <TrendSections book={book} logbook={logbook} />
            <WeeksSection book={book} logbook={logbook} />
          </div>
          <Disagreements logbook={logbook} />
          <SessionList logbook={logbook} onHand={setEntering} />
        </>
      )}
      {entering && (
        <HandDialog
          logbook={logbook}
          session={entering === "new" ? null : entering}
          onClose={() => setEntering(null)}
        />
      )}
    </>
  );
}

/** Where the stairs stand, in one sentence. */
function nowAt(logbook: LogbookOut, book: Book): string {
  const now = book.landings.at(-1);
  if (!now) return `${logbook.sessions.length} sessions, none of them at a named step.`;
  const title = logbook.titles[now.approximation] ?? now.approximation;
  const days = new Set(
    book.landings.filter((l) => l.approximation === now.approximation).map((l) => l.date),
  );
  const place = logbook.order.indexOf(now.approximation);
  const stair = place < 0 ? "" : `, step ${place + 1} of ${logbook.order.length}`;
  const fits = now.judged === 0 ? "" : `: ${now.met} of ${now.judged} fit last time`;
  return `At “${title}”${stair}${fits}. ${days.size === 1 ? "The first day" : `Day ${days.size}`} there.`;
}

/** Another logbook to hold beside this one, on request. */
function BesideChooser({
  own,
  chosen,
  onChange,
}: {
  own: string;
  chosen: string | null;
  onChange: (id: string | null) => void;
}) {
  const behaviours = useBehaviours();
  const learners = useLearners();
  const name = (id: string) => learners.data?.find((l) => l.id === id)?.name ?? "";
  const others = (behaviours.data ?? []).filter((b) => b.id !== own && b.sessions > 0);
  if (others.length === 0) return null;
  return (
    <select
      aria-label="Beside it"
      value={chosen ?? ""}
      onChange={(event) => onChange(event.target.value || null)}
      className="no-print h-9 max-w-full rounded border border-line bg-paper px-2 text-soft"
    >
      <option value="">beside it: nothing</option>
      {others.map((behaviour) => (
        <option key={behaviour.id} value={behaviour.id}>
          beside it: {[name(behaviour.learner_id), behaviour.name].filter(Boolean).join(" · ")}
        </option>
      ))}
    </select>
  );
}

/** Whose logbook: every behaviour by its learner. */
function Chooser({ chosen }: { chosen: string }) {
  const behaviours = useBehaviours();
  const learners = useLearners();
  const navigate = useNavigate();
  const name = (id: string) => learners.data?.find((l) => l.id === id)?.name ?? "";
  return (
    <select
      aria-label="Learner and behaviour"
      value={chosen}
      onChange={(event) => void navigate(`/logbook/${event.target.value}`)}
      className="h-9 max-w-full rounded border border-line bg-paper px-2 text-[15px] font-semibold print:appearance-none print:border-transparent print:px-0"
    >
      {behaviours.data?.map((behaviour) => (
        <option key={behaviour.id} value={behaviour.id}>
          {[name(behaviour.learner_id), behaviour.name].filter(Boolean).join(" · ")}
        </option>
      ))}
    </select>
  );
}
