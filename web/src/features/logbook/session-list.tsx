import { useState } from "react";
import { Link } from "react-router";

import { counted, latency } from "../../domain/times";
import { day } from "../../domain/words";
import {
  noteOf,
  VERDICT_WORDS,
  type Logged,
  type LogbookOut,
} from "../../domain/behaviour-logbook";
import { ForTrainers } from "../../components/for-trainers";
import { Tags } from "./tags";
import { t } from "../../words";

interface SessionListProps {
  logbook: LogbookOut;
  onHand: (session: Logged) => void;
}

const FIELD = "h-8 rounded border border-line bg-paper px-2";

/** Every session with its verdict, to be filtered, tagged and opened. */
export function SessionList({ logbook, onHand }: SessionListProps) {
  const [verdict, setVerdict] = useState("");
  const [trainer, setTrainer] = useState("");
  const [tag, setTag] = useState("");
  const [words, setWords] = useState("");
  const { sessions } = logbook;
  const name = (key: string | null) => (key === null ? "–" : (logbook.titles[key] ?? key));
  const shown = sessions.filter(
    (s) =>
      (!verdict || s.verdict === verdict) &&
      (!trainer || s.trainer === trainer) &&
      (!tag || s.tags.includes(tag)) &&
      (!words || textOf(s, name(s.step)).includes(words.toLowerCase())),
  );
  return (
    <section aria-labelledby="sessions-title" className="pt-4">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-2 border-b border-ink pb-2">
        <h2 id="sessions-title" className="text-[18px] font-semibold">
          {t("logbook:session_list.sessions")}
        </h2>
        <span className="text-soft" role="status">
          {shown.length === sessions.length
            ? counted(sessions.length, "session")
            : t("logbook:session_list.showncount_of_sessionscount", {
                shownCount: shown.length,
                sessionsCount: counted(sessions.length, "session"),
              })}
        </span>
        <span className="flex-1" />
        <span className="no-print flex flex-wrap gap-2">
          <Filter
            label={t("logbook:session_list.verdict")}
            value={verdict}
            options={unique(sessions.map((s) => s.verdict))}
            words={VERDICT_WORDS}
            onChange={setVerdict}
          />
          <Filter
            label={t("logbook:session_list.trainer")}
            value={trainer}
            options={unique(sessions.map((s) => s.trainer))}
            onChange={setTrainer}
          />
          <Filter
            label={t("logbook:session_list.tag")}
            value={tag}
            options={unique(sessions.flatMap((s) => s.tags))}
            onChange={setTag}
          />
          <input
            type="search"
            aria-label={t("logbook:session_list.words")}
            placeholder={t("logbook:session_list.words_2")}
            value={words}
            onChange={(event) => setWords(event.target.value)}
            className={`${FIELD} w-28`}
          />
        </span>
      </div>
      <ul>
        {shown.map((session) => (
          <Row
            key={session.session_id}
            session={session}
            step={name(session.step)}
            behaviourId={logbook.behaviour_id}
            onHand={() => onHand(session)}
          />
        ))}
      </ul>
      {shown.length === 0 && (
        <p className="py-3 text-soft">{t("logbook:session_list.no_session_is_like_this")}</p>
      )}
    </section>
  );
}

function textOf(session: Logged, step: string): string {
  const { date, trainer, handler, place } = session;
  const parts = [date, trainer, handler, place, step, session.sentence, noteOf(session)];
  return [...parts, ...session.tags].filter(Boolean).join(" ").toLowerCase();
}

function unique(values: (string | null)[]): string[] {
  return [...new Set(values)].filter((value): value is string => Boolean(value)).sort();
}

interface FilterProps {
  label: string;
  value: string;
  options: string[];
  words?: Record<string, string>;
  onChange: (value: string) => void;
}

function Filter({ label, value, options, words, onChange }: FilterProps) {
  if (options.length < 1) return null;
  return (
    <select
      aria-label={label}
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className={FIELD}
    >
      <option value="">
        {t("logbook:session_list.label_all", { label: label.toLowerCase() })}
      </option>
      {options.map((option) => (
        <option key={option} value={option}>
          {words?.[option] ?? option}
        </option>
      ))}
    </select>
  );
}

interface RowProps {
  session: Logged;
  step: string;
  behaviourId: string;
  onHand: () => void;
}

function Row({ session, step, behaviourId, onHand }: RowProps) {
  const { verdict } = session;
  const { session_id: id, minutes } = session;
  const note = noteOf(session);
  return (
    <li
      data-session={id}
      className="grid grid-cols-[7rem_10.5rem_1fr_auto] gap-x-4 border-b border-hair py-2 max-md:grid-cols-1"
    >
      <span>
        <span className="font-semibold">
          {session.date ? day(session.date) : t("common:no_day")}
        </span>
        <span className="block text-[13px] text-soft">
          {[session.trainer, session.handler, session.place].filter(Boolean).join(" · ")}
        </span>
      </span>
      <span className="num text-[13px] leading-5">
        {minutes === null
          ? "–"
          : t("logbook:session_list.minutes_min", { minutes: minutes.toFixed(1) })}{" "}
        · {counted(session.attempts, "rep")}
        <span className="block text-soft">
          {session.judged > 0 &&
            t("logbook:session_list.met_of_judged_fit", {
              met: session.met,
              judged: session.judged,
            })}
        </span>
      </span>
      <span className="min-w-0 leading-snug">
        {session.by_hand ? (
          <>
            <span className="rounded border border-dashed border-soft px-1.5 text-[13px]">
              {t("logbook:session_list.by_hand")}
            </span>{" "}
            <Link to={`/sessions/${id}/findings`} className="hover:underline">
              <span className="font-semibold">
                {verdict && (VERDICT_WORDS[verdict] ?? verdict)}
              </span>
              {" · "}
              {step}
              <span className="block text-[13px] text-soft">{session.sentence}</span>
            </Link>
            {note && <span className="text-soft">{note}</span>}
          </>
        ) : (
          <Link to={`/sessions/${id}/findings`} className="hover:underline">
            <span className="font-semibold">
              {verdict
                ? (VERDICT_WORDS[verdict] ?? verdict)
                : t("logbook:session_list.cannot_be_measured")}
            </span>
            {" · "}
            {step}
            <span className="block text-[13px] text-soft">{session.sentence}</span>
          </Link>
        )}
        {session.disagrees && (
          <span className="block text-[13px] text-marker">
            {t("logbook:session_list.you_saw_it_differently")}
          </span>
        )}
        <Tags session={session} behaviourId={behaviourId} />
      </span>
      <span className="num text-right text-[13px] leading-5 max-md:text-left">
        {session.per_min === null
          ? "–"
          : t("logbook:session_list.per_min_a_minute", { per_min: session.per_min.toFixed(1) })}
        <span className="block text-soft">
          {session.marker_s !== null && latency(session.marker_s, 2)}
        </span>
        {session.by_hand && (
          <ForTrainers>
            <button
              type="button"
              onClick={onHand}
              className="no-print underline underline-offset-3"
            >
              {t("logbook:session_list.change")}
            </button>
          </ForTrainers>
        )}
      </span>
    </li>
  );
}
