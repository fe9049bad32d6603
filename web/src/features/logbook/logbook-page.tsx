import { useState } from "react";
import { Link, Navigate, useNavigate, useParams, useSearchParams } from "react-router";

import { useBehaviours, useLearners } from "../../api/queries";
import { Button } from "../../components/button";
import { ForTrainers } from "../../components/for-trainers";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import type { Book, Logged, LogbookOut } from "../../domain/behaviour-logbook";
import { ChainSection } from "./chain-section";
import { HandDialog } from "./hand-dialog";
import { LadderSections } from "./ladder-section";
import { useLogbook } from "./queries";
import { growthWords, RateSection } from "./rate-section";
import { SessionList } from "./session-list";
import { Disagreements } from "./schools-by-day";
import { SideBySide } from "./side-by-side";
import { StairsSection, SuccessSection } from "./stairs-section";
import { TimingSection } from "./timing-section";
import { TransferSection } from "./transfer-section";
import { EaseSection, TrendSections } from "./trend-sections";
import { VariationSection } from "./variation-section";
import { WeeksSection } from "./weeks-section";
import { t } from "../../words";

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
    <Shell title={[t("common:logbook"), whose].filter(Boolean).join(" · ")}>
      <main className="mx-auto w-full max-w-[1160px] flex-1 px-[18px] pt-7 pb-16">
        {fault ? (
          <Fault error={fault} />
        ) : behaviours.data?.length === 0 ? (
          <Nothing />
        ) : logbook.data ? (
          <Whole logbook={logbook.data} />
        ) : (
          <Wait>{t("logbook:logbook_page.opening_the_logbook")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function Nothing() {
  return (
    <div className="max-w-xl pt-6">
      <h1 className="text-[26px]">{t("logbook:logbook_page.no_logbook_yet")}</h1>
      <p className="mt-2">{t("logbook:logbook_page.a_logbook_begins_with_something")}</p>
      <p className="mt-4">
        <Link to="/plans" className="underline">
          {t("logbook:logbook_page.make_a_plan")}
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
            {t("logbook:logbook_page.csv")}
          </a>
          <a
            className="underline underline-offset-3"
            href={`/api/logbook/${logbook.behaviour_id}/tables.xlsx`}
            download
          >
            {t("logbook:logbook_page.xlsx")}
          </a>
          <ForTrainers>
            <Button onClick={() => setEntering("new")}>
              {t("logbook:logbook_page.enter_a_session_by_hand")}
            </Button>
          </ForTrainers>
          {last && (
            <Link
              to={`/sessions/${last.session_id}/next`}
              className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper"
            >
              {t("logbook:logbook_page.next_session")}
            </Link>
          )}
        </span>
      </div>
      {logbook.sessions.length === 0 ? (
        <div className="max-w-xl pt-8">
          <h1 className="text-[26px]">{t("logbook:logbook_page.no_session_yet")}</h1>
          <p className="mt-2">{t("logbook:logbook_page.bring_the_film_of_a")}</p>
          <p className="mt-4">
            <Link to="/films" className="underline">
              {t("logbook:logbook_page.to_the_films")}
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
              title={
                fromPlan
                  ? t("logbook:logbook_page.marker_from_the_plans_instant")
                  : t("logbook:logbook_page.marker_from_the_onset")
              }
              of={t("logbook:logbook_page.middle_s")}
              timings={fromPlan ? book.timing_error_s : book.marker_latency_s}
              logbook={logbook}
              colour="var(--marker)"
            />
            <TimingSection
              id="reward"
              title={t("logbook:logbook_page.reward_after_the_marker")}
              of={t("logbook:logbook_page.middle_s")}
              timings={book.reward_latency_s}
              logbook={logbook}
              colour="var(--reward)"
            />
            <ChainSection chain={logbook.chain} />
            <LadderSections ladders={logbook.ladders} />
            <VariationSection grid={logbook.programme} />
            <TransferSection
              transfers={logbook.transfers}
              titleOf={(key) => logbook.titles[key ?? ""] ?? key ?? ""}
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
  if (!now)
    return t("logbook:logbook_page.sessionscount_sessions_none_of_them", {
      sessionsCount: logbook.sessions.length,
    });
  const title = logbook.titles[now.approximation] ?? now.approximation;
  const days = new Set(
    book.landings.filter((l) => l.approximation === now.approximation).map((l) => l.date),
  );
  const place = logbook.order.indexOf(now.approximation);
  const stair =
    place < 0
      ? ""
      : t("logbook:logbook_page.step_place_of_ordercount", {
          place: place + 1,
          orderCount: logbook.order.length,
        });
  const fits =
    now.judged === 0
      ? ""
      : t("logbook:logbook_page.met_of_judged_fit_last", { met: now.met, judged: now.judged });
  return t("logbook:logbook_page.at_title_stair_fits_which", {
    title,
    stair,
    fits,
    which:
      days.size === 1
        ? t("logbook:logbook_page.the_first_day")
        : t("logbook:logbook_page.day_size", { size: days.size }),
  });
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
      aria-label={t("logbook:logbook_page.beside_it")}
      value={chosen ?? ""}
      onChange={(event) => onChange(event.target.value || null)}
      className="no-print h-9 max-w-full rounded border border-line bg-paper px-2 text-soft"
    >
      <option value="">{t("logbook:logbook_page.beside_it_nothing")}</option>
      {others.map((behaviour) => (
        <option key={behaviour.id} value={behaviour.id}>
          {t("logbook:logbook_page.beside_it_behaviour", {
            behaviour: [name(behaviour.learner_id), behaviour.name].filter(Boolean).join(" · "),
          })}
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
      aria-label={t("logbook:logbook_page.learner_and_behaviour")}
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
