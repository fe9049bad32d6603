import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";

import { appendEdit } from "../../domain/append-edit";
import {
  DECISIONS,
  HOLDS,
  judgementKey,
  SCHOOLS,
  type JudgementOut,
  type SaidBySchool,
} from "../../api/judgement";
import { helpAtMost } from "../../domain/help-levels";
import { useNotice } from "../../components/notice";
import { counted, percent } from "../../domain/times";
import { day } from "../../domain/words";
import { Trans, t } from "../../words";

/** What to do at the step judged: the word first, then why, what else is true, and on what it rests. */
export function Judgement({ sessionId, found }: { sessionId: string; found: JudgementOut }) {
  const { judgement, titles } = found;
  const title = (key: string | null) => (key === null ? "" : (titles[key] ?? key));
  const { next_step: next, step, record } = judgement;
  return (
    <section
      aria-labelledby="judgement-title"
      className="mt-7 grid grid-cols-[15rem_1fr] gap-x-10 border-t border-ink pt-4 max-md:grid-cols-1"
    >
      <div>
        <h2 id="judgement-title" className="text-[13px] text-soft">
          {t("findings:judgement.what_to_do_next_which", {
            which: step ? t("findings:judgement.at_step", { step: title(step) }) : "",
          })}
        </h2>
        <p
          className="text-[31px] leading-tight"
          data-testid="decision"
          data-decision={judgement.decision}
        >
          {DECISIONS[judgement.decision]}
        </p>
        {next !== null && next !== step && (
          <p className="text-[16px]">{t("findings:judgement.to_next", { next: title(next) })}</p>
        )}
        {judgement.help && <p className="text-[16px]">{helpAtMost(judgement.help)}</p>}
      </div>
      <div>
        <p className="max-w-[75ch] font-semibold" data-code={judgement.why.code}>
          {judgement.why.text}
        </p>
        {judgement.beside.length > 0 && (
          <ul
            aria-label={t("findings:judgement.also_true")}
            className="mt-2 max-w-[75ch] space-y-1"
          >
            {judgement.beside.map((said) => (
              <li key={said.code} data-code={said.code}>
                {said.text}
              </li>
            ))}
          </ul>
        )}
        {judgement.hands && (
          <p className="mt-2 border-l-[3px] border-marker pl-2.5" data-testid="hands">
            {t("findings:judgement.your_hands_hands", { hands: judgement.hands })}
          </p>
        )}
        <p className="mt-2 text-soft" data-testid="record">
          {t("findings:judgement.it_rests_on_judged_in", {
            judged: counted(record.judged, "judged_rep"),
            sessions: counted(record.sessions, "session"),
          })}
          {record.by_hand > 0 &&
            t("findings:judgement.by_hand_of_them_counted", { by_hand: record.by_hand })}
          {record.since && t("findings:judgement.since_since", { since: day(record.since) })}
          {record.low !== null &&
            record.high !== null &&
            t("findings:judgement.the_true_share_could_be", {
              low: percent(record.low),
              high: percent(record.high),
            })}
          .
        </p>
        <Why sessionId={sessionId} found={found} />
        <Differently sessionId={sessionId} found={found} />
      </div>
    </section>
  );
}

/** The line that decided, those asked before it, the sessions, and the other schools. */
function Why({ sessionId, found }: { sessionId: string; found: JudgementOut }) {
  const { judgement, rests_on: sessions } = found;
  const schools = [judgement.school, ...Object.values(judgement.other_schools)];
  return (
    <details className="mt-3 text-soft">
      <summary className="cursor-pointer underline decoration-line underline-offset-3">
        {t("findings:judgement.why")}
      </summary>
      <div className="mt-2 grid grid-cols-2 gap-x-8 gap-y-3 max-md:grid-cols-1">
        <div>
          <h3 className="font-semibold text-ink">{t("findings:judgement.asked_in_this_order")}</h3>
          <ol className="mt-1 list-decimal pl-5" aria-label={t("findings:judgement.lines_asked")}>
            {judgement.checked.map((line) => (
              <li key={line.code}>
                {line.question} <span className="text-ink">{line.found}</span>
              </li>
            ))}
            <li className="text-ink">
              <Trans
                i18nKey="findings:judgement.this_decided_text"
                components={{ b: <b /> }}
                values={{ text: judgement.why.text }}
              />
            </li>
          </ol>
        </div>
        <div>
          <h3 className="font-semibold text-ink">
            {t("findings:judgement.the_sessions_it_rests_on")}
          </h3>
          <ul className="mt-1" aria-label={t("findings:judgement.sessions_it_rests_on")}>
            {sessions.map((session) => (
              <li key={session.session_id}>
                {session.by_hand ? (
                  <span>
                    {t("findings:judgement.which_by_hand", {
                      which: session.date ? day(session.date) : t("common:no_day"),
                    })}
                  </span>
                ) : (
                  <Link
                    to={`/sessions/${session.session_id}/findings${
                      session.session_id === sessionId
                        ? `?reps=step:${judgement.step ?? ""}#reps`
                        : ""
                    }`}
                    className="underline underline-offset-3"
                  >
                    {session.date ? day(session.date) : t("common:no_day")}
                  </Link>
                )}{" "}
                <span className="num">
                  {session.judged === 0
                    ? t("findings:judgement.none_judged")
                    : t("findings:judgement.met_of_judged", {
                        met: session.met,
                        judged: session.judged,
                      })}
                </span>
              </li>
            ))}
          </ul>
          <h3 className="mt-3 font-semibold text-ink">
            {t("findings:judgement.what_each_school_says_of")}
          </h3>
          <ul className="mt-1" aria-label={t("findings:judgement.what_each_school_says")}>
            {schools.map((said, n) => (
              <li key={said.kind}>
                {t("findings:judgement.by_schools", { SCHOOLS: SCHOOLS[said.kind] })}
                {n === 0 && t("findings:judgement.this_plans")}:{" "}
                <span className="text-ink">{schoolSays(said)}</span>
              </li>
            ))}
          </ul>
        </div>
      </div>
    </details>
  );
}

export function schoolSays({ decision, reason }: Pick<SaidBySchool, "decision" | "reason">) {
  return decision === "hold"
    ? (HOLDS[reason] ?? "hold")
    : (DECISIONS[decision] ?? "").toLowerCase();
}

/** The trainer may see it differently: kept beside it, and the logbook tells what came of it. */
function Differently({ sessionId, found }: { sessionId: string; found: JudgementOut }) {
  const client = useQueryClient();
  const tell = useNotice();
  const say = async (disagrees: string | null) => {
    const fault = await appendEdit(sessionId, { op: "facts", set: { disagrees } });
    if (fault) tell(fault);
    else {
      await client.invalidateQueries({ queryKey: judgementKey(sessionId) });
      void client.invalidateQueries({ queryKey: ["logbook"] });
    }
  };
  if (found.disagrees) {
    return (
      <p className="no-print mt-2">
        <Trans
          i18nKey="findings:judgement.you_saw_it_differently_when"
          components={{ em: <em /> }}
          values={{ disagrees: found.disagrees }}
        />{" "}
        <button
          type="button"
          className="underline underline-offset-3"
          onClick={() => void say(null)}
        >
          {t("findings:judgement.take_it_back")}
        </button>
      </p>
    );
  }
  return (
    <button
      type="button"
      className="no-print mt-2 text-soft underline decoration-line underline-offset-3 hover:text-ink"
      onClick={() => void say(found.judgement.headline.slice(0, 400))}
    >
      {t("findings:judgement.i_see_it_differently")}
    </button>
  );
}
