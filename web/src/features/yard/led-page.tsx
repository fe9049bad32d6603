import { useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";

import { useWakeLock } from "../../components/use-wake-lock";
import { forgetLed, readLed, type LedSession } from "../../domain/led-sessions";
import {
  breaks,
  clockOf,
  comesBack,
  ends,
  goesOn,
  leaves,
  ledState,
  paidWait,
  showsSign,
  tried,
  turnsTo,
  wordOf,
  type LedState,
  type LiveWord,
} from "../../domain/led-taps";
import { lineWords, payWords, type ScriptLine } from "../../domain/script";
import { counted, shortClock } from "../../domain/times";
import { t } from "../../words";
import { SignSheet } from "./sign-sheet";
import { useLedSession, type Led } from "./use-led-session";

/** A hand feels which word it is without looking: pulses and pauses, milliseconds. */
const PULSES: Partial<Record<LiveWord, number[]>> = {
  raise: [90],
  stands: [90],
  lower: [90, 90, 90],
  rest: [350],
  stop: [350, 120, 350, 120, 350],
};

/** A session led by thumb, with or without a network. */
export function LedPage() {
  const sessionId = useParams()["sessionId"] ?? "";
  const [known] = useState(() => readLed(sessionId));
  if (known) return <Leading known={known} />;
  return (
    <main className="p-4">
      <p>{t("yard:lead_page.not_here")}</p>
      <p className="mt-2 flex gap-4">
        <Link className="underline" to={`/sessions/${sessionId}/findings`}>
          {t("yard:lead_page.to_findings")}
        </Link>
        <Link className="underline" to="/yard">
          {t("yard:lead_page.back_to_the_yard")}
        </Link>
      </p>
    </main>
  );
}

function Leading({ known }: { known: LedSession }) {
  const led = useLedSession(known);
  const { kit, is_ended } = led.session;
  const now = useNow(is_ended);
  const title = t("yard:lead_page.title", { learner: kit.learner, behaviour: kit.behaviour });
  useEffect(() => {
    document.title = t("components:shell.title_frequens", { title });
  }, [title]);
  useWakeLock(!is_ended);
  return (
    <main className="sunlight flex min-h-full flex-col px-3 pt-3 pb-4 text-[16px]">
      <h1 className="text-[15px] text-soft">{title}</h1>
      {is_ended ? <Ended led={led} /> : <Pad led={led} now={now} />}
    </main>
  );
}

/** The clock on the wall, a second at a time. */
function useNow(isStill: boolean): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (isStill) return;
    const timer = window.setInterval(() => setNow(Date.now()), 1000);
    return () => window.clearInterval(timer);
  }, [isStill]);
  return now;
}

function Pad({ led, now }: { led: Led; now: number }) {
  const { session, log, tap, takeBack } = led;
  const { kit } = session;
  const [isSigning, setIsSigning] = useState(false);
  const state = useMemo(() => ledState(session, log.folded, now), [session, log.folded, now]);
  const steps = kit.plan.approximations;
  const place = steps.findIndex((step) => step.key === state.step);
  const line = kit.script[session.line] ?? null;
  const caps = capsOf(session);
  const word = wordOf(state, caps);
  usePulse(word);

  const at = () => clockOf(session, Date.now());
  const next = { line: session.line + 1 };
  const rep = (met: boolean) => {
    const t_s = at();
    const isOther = line?.sort === "rep" && line.step !== null && line.step !== state.step;
    const turned = isOther && line.step !== null ? turnsTo(t_s, line.step) : [];
    const scripted = line?.sort === "rep" ? line : null;
    tap([...turned, ...tried(t_s, met, scripted)], scripted ? next : undefined);
  };
  const stepTo = (to: number) => {
    const step = steps[to];
    if (step) tap(turnsTo(at(), step.key));
  };
  const titleOf = (key: string | null) => steps.find((step) => step.key === key)?.title ?? "";
  const isResting = state.isBreak || state.isAway;
  return (
    <>
      <Word word={word} state={state} />
      <div className="mt-3 min-h-24">
        {line && !state.isBreak ? (
          <Line line={line} session={session} titleOf={titleOf} />
        ) : (
          <>
            <h2 className="text-[27px] leading-tight font-semibold">{titleOf(state.step)}</h2>
            <p className="mt-1 text-[17px]">{kit.criteria[state.step ?? ""]}</p>
          </>
        )}
        <p className="mt-1 text-soft">
          {state.isBreak
            ? t("yard:lead_page.is_a_break")
            : state.isAway
              ? t("yard:lead_page.it_is_away")
              : state.tried > 0
                ? t("yard:lead_page.of_tried", { met: state.met, tried: state.tried })
                : t("yard:lead_page.nothing_tried")}
        </p>
      </div>
      <Numbers state={state} session={session} caps={caps} />
      <span className="flex-1" />
      {isSigning ? (
        <SignSheet
          onSign={(label, severity) => {
            tap(showsSign(at(), label, severity));
            setIsSigning(false);
          }}
          onLeave={() => setIsSigning(false)}
        />
      ) : (
        <div className="mt-3 grid grid-cols-6 gap-2">
          <Key wide={3} onTap={() => stepTo(place - 1)} isOff={place <= 0}>
            {t("yard:lead_page.step_down")}
          </Key>
          <Key wide={3} onTap={() => stepTo(place + 1)} isOff={place + 1 >= steps.length}>
            {t("yard:lead_page.step_up")}
          </Key>
          <Key wide={2} onTap={() => setIsSigning(true)}>
            {t("yard:lead_page.sign")}
          </Key>
          <Key
            wide={2}
            isOff={state.isBreak}
            onTap={() => tap(state.isAway ? comesBack(at()) : leaves(at()))}
          >
            {state.isAway ? t("yard:lead_page.came_back") : t("yard:lead_page.walked_off")}
          </Key>
          <Key
            wide={2}
            onTap={() =>
              state.isBreak
                ? tap(goesOn(at()))
                : tap(breaks(at()), line?.sort === "break" ? next : undefined)
            }
          >
            {state.isBreak ? t("yard:lead_page.go_on") : t("yard:lead_page.break")}
          </Key>
          {line?.sort === "wait" && !isResting ? (
            <Key wide={6} look="main" onTap={() => tap(paidWait(at()), next)}>
              {t("yard:lead_page.wait_paid")}
            </Key>
          ) : (
            <>
              <Key wide={3} look="large" isOff={isResting} onTap={() => rep(false)}>
                {t("yard:lead_page.not_yet")}
              </Key>
              <Key wide={3} look="main" isOff={isResting} onTap={() => rep(true)}>
                {t("yard:lead_page.fits")}
              </Key>
            </>
          )}
          <Key wide={3} look="quiet" onTap={takeBack} isOff={!log.canUndo}>
            {t("yard:lead_page.undo")}
          </Key>
          <Key
            wide={3}
            look="quiet"
            onTap={() => tap(ends(at(), state.isBreak), { is_ended: true })}
          >
            {t("yard:lead_page.end")}
          </Key>
        </div>
      )}
      {!isSigning && <Kept led={led} />}
    </>
  );
}

interface Caps {
  seconds: number;
  reps: number | null;
}

/** The card's limits where there is one, and never beyond the plan's. */
function capsOf({ kit: { card, plan } }: LedSession): Caps {
  const reps = [card?.reps, plan.rep_cap].filter((cap) => cap != null);
  return {
    seconds: Math.min(card ? card.minutes * 60 : Infinity, plan.session_cap_s ?? Infinity),
    reps: reps.length > 0 ? Math.min(...reps) : null,
  };
}

function usePulse(word: LiveWord) {
  useEffect(() => {
    const pulses = PULSES[word];
    if (pulses && "vibrate" in navigator) navigator.vibrate(pulses);
  }, [word]);
}

/** The one word, and why. */
function Word({ word, state }: { word: LiveWord; state: LedState }) {
  const { why, beside } = state.said;
  const code = word === "stop" && why !== "distress" ? limitOf(beside) : firstSaid(word, state);
  return (
    <div
      role="status"
      data-word={word}
      data-why={why}
      className={`mt-2 rounded border-2 border-ink px-3 py-2 ${word === "go_on" ? "" : "bg-ink text-paper"}`}
    >
      <p className="text-[34px] leading-tight font-bold">{t(`yard:words.${word}`)}</p>
      <p className="min-h-6 text-[16px]">{code && t(`yard:why.${code}`)}</p>
    </div>
  );
}

type WhyCode = keyof (typeof import("../../words/en/yard.json"))["why"];

const limitOf = (beside: readonly string[]): WhyCode =>
  beside.includes("over_limit") ? "over_limit" : "at_limit";

const SAID: ReadonlySet<string> = new Set<WhyCode>([
  ...(["distress", "unease", "rule_lower", "five_misses", "mostly_missed", "rate_floor"] as const),
  ...(["ease_first", "rising_pause", "more_signs", "dry_spell", "rule_raise"] as const),
  ...(["last_step", "help_left", "lure_long", "plateau", "failed_above"] as const),
  "failed_above_today",
]);

/** The reason that goes with the word: what decided, or what tires beside it. */
function firstSaid(word: LiveWord, { said }: LedState): WhyCode | null {
  const tires = ["ease_first", "rising_pause", "more_signs", "dry_spell"];
  const codes = [said.why, ...said.beside];
  const code = word === "rest" ? codes.find((one) => tires.includes(one)) : said.why;
  return code !== undefined && SAID.has(code) ? (code as WhyCode) : null;
}

function Line({
  line,
  session,
  titleOf,
}: {
  line: ScriptLine;
  session: LedSession;
  titleOf: (key: string | null) => string;
}) {
  const levels = Object.entries(line.levels).map(([name, level]) => `${name} ${level}`);
  return (
    <>
      <h2 className="text-[27px] leading-tight font-semibold">{lineWords(line, titleOf)}</h2>
      <p className="mt-1 text-[17px]">
        {line.sort === "rep" ? session.kit.criteria[line.step ?? ""] : ""}
      </p>
      <p className="text-[17px]">{[...levels, payWords(line)].filter(Boolean).join(" · ")}</p>
      <p className="num text-[14px] text-soft">
        {t("yard:lead_page.script_line", {
          line: session.line + 1,
          lines: session.kit.script.length,
        })}
      </p>
    </>
  );
}

function Numbers({ state, session, caps }: { state: LedState; session: LedSession; caps: Caps }) {
  const { card } = session.kit;
  const left = card ? Math.max(0, card.pieces - state.pieces) : null;
  const passed = 60 * state.digest.minutes;
  return (
    <dl className="mt-2 grid grid-cols-3 gap-2 border-y-2 border-ink py-2">
      <Count
        name={t("yard:lead_page.time")}
        value={shortClock(passed)}
        cap={Number.isFinite(caps.seconds) ? shortClock(caps.seconds) : null}
      />
      <Count
        name={t("yard:lead_page.reps")}
        value={String(state.digest.attempts)}
        cap={caps.reps === null ? null : String(caps.reps)}
      />
      {left !== null && (
        <Count name={t("yard:lead_page.pieces_left")} value={String(left)} cap={null} />
      )}
    </dl>
  );
}

function Count({ name, value, cap }: { name: string; value: string; cap: string | null }) {
  return (
    <div>
      <dt className="text-[14px] text-soft">{name}</dt>
      <dd className="num text-[24px] leading-tight">
        {value}
        {cap !== null && (
          <span className="block text-[14px] text-soft">{t("yard:lead_page.of_cap", { cap })}</span>
        )}
      </dd>
    </div>
  );
}

const WIDE = { 2: "col-span-2", 3: "col-span-3", 6: "col-span-6" };
const LOOKS = {
  plain: "min-h-14 border-2 border-ink bg-raised",
  large: "min-h-28 border-2 border-ink bg-raised text-[24px] font-semibold",
  main: "min-h-28 bg-ink text-[24px] font-semibold text-paper",
  quiet: "min-h-12 border border-line bg-raised",
};

function Key({
  wide,
  look = "plain",
  isOff = false,
  onTap,
  children,
}: {
  wide: keyof typeof WIDE;
  look?: keyof typeof LOOKS;
  isOff?: boolean;
  onTap: () => void;
  children: string;
}) {
  return (
    <button
      type="button"
      disabled={isOff}
      onClick={onTap}
      className={`touch-manipulation rounded px-1 disabled:opacity-35 ${WIDE[wide]} ${LOOKS[look]}`}
    >
      {children}
    </button>
  );
}

/** What is safe, and where. */
function Kept({ led: { log, session } }: { led: Led }) {
  const words =
    session.fault !== null
      ? t("yard:lead_page.not_taken", { fault: session.fault })
      : log.saving === "logged-out"
        ? t("yard:lead_page.logged_out")
        : log.waiting > 0 || !session.is_known
          ? t("yard:lead_page.taps_wait", { taps: counted(log.waiting, "tap") })
          : t("yard:lead_page.saved");
  return (
    <p className="mt-2 text-[14px] text-soft" data-testid="kept" data-waiting={log.waiting}>
      {words}
    </p>
  );
}

const WAY = "flex min-h-14 items-center justify-center rounded border-ink";

function Ended({ led }: { led: Led }) {
  const { session, log, tap } = led;
  const end = log.folded.facts["end_s"];
  const at = Date.parse(session.began_at) + 1000 * (typeof end === "number" ? end : 0);
  const { digest } = ledState(session, log.folded, at);
  const isSent = session.is_known && log.waiting === 0 && log.saving === "saved";
  useEffect(() => {
    // All of it is on the large screen: nothing need stay here.
    if (isSent) forgetLed(session.id);
  }, [isSent, session.id]);
  return (
    <>
      <h2 className="mt-3 text-[27px] font-semibold">{t("yard:lead_page.ended")}</h2>
      <p className="mt-2 text-[18px]">
        {t("yard:lead_page.ended_words", {
          reps: counted(digest.attempts, "rep"),
          minutes: digest.minutes.toFixed(1),
          met: digest.trials.filter(({ met }) => met).length,
        })}
      </p>
      <Kept led={led} />
      <span className="flex-1" />
      <div className="grid grid-cols-6 gap-2">
        <Key
          wide={6}
          onTap={() => {
            tap([...goesOn(clockOf(session, Date.now())), { op: "facts", set: { end_s: null } }], {
              is_ended: false,
            });
          }}
        >
          {t("yard:lead_page.after_all")}
        </Key>
      </div>
      <p className="mt-2 grid gap-2 text-[18px]">
        {isSent && (
          <Link className={`${WAY} border-2`} to={`/sessions/${session.id}/findings`}>
            {t("yard:lead_page.to_findings")}
          </Link>
        )}
        <Link className={`${WAY} border-2 bg-ink text-paper`} to="/yard">
          {t("yard:lead_page.back_to_the_yard")}
        </Link>
      </p>
    </>
  );
}
