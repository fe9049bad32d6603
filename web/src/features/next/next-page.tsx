import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { appendEdit } from "../../domain/append-edit";
import { api, faultsOf, given } from "../../api/client";
import { useSession } from "../../api/queries";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { ForTrainers } from "../../components/for-trainers";
import { chainNextWords } from "../../domain/chain";
import { helpAtMost } from "../../domain/help-levels";
import { cautionWords, ladderNextWords } from "../../domain/ladder";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { percent } from "../../domain/times";
import { nextWords } from "../../domain/variation";
import { crumbOf } from "../../domain/words";
import { t } from "../../words";

type NextOut = components["schemas"]["NextOut"];
type Changes = components["schemas"]["CardChanges"];

/** The card of the next session: made by rule, changed by hand, printed on one page. */
export function NextPage() {
  const sessionId = useParams()["sessionId"] ?? "";
  const session = useSession(sessionId);
  const card = useQuery({
    queryKey: ["next", sessionId],
    queryFn: async () =>
      given(
        await api.GET("/api/plans/next/{session_id}", {
          params: { path: { session_id: sessionId } },
        }),
      ),
  });
  const crumb = session.data ? crumbOf(session.data) : "";
  const fault = session.error ?? card.error;
  return (
    <Shell
      title={t("next:next_page.next_session_which", { which: crumb ? ` · ${crumb}` : "" })}
      crumb={crumb}
      sessionId={sessionId}
    >
      <main className="mx-auto w-full max-w-[900px] flex-1 px-[18px] pt-7 pb-16">
        {fault ? (
          <Fault error={fault} />
        ) : card.data && session.data ? (
          <Card
            sessionId={sessionId}
            card={card.data}
            whose={[session.data.learner, session.data.behaviour].filter(Boolean).join(" · ")}
          />
        ) : (
          <Wait>{t("next:next_page.working_out_the_next_session")}</Wait>
        )}
      </main>
    </Shell>
  );
}

/**
 * What the trainer set instead of the rule's values: shown at once, kept in this browser until the
 * server has it, and sent one after another.
 */
function useChanges(sessionId: string, card: NextOut) {
  const client = useQueryClient();
  const tell = useNotice();
  const store = `frequens.next.${sessionId}`;
  const [waiting] = useState(() => readChanges(store));
  const [changed, setChanged] = useState(waiting ?? card.changed);
  const latest = useRef(changed);
  /** What is set and on no way yet: all of it is in the latest. */
  const unsent = useRef(waiting);
  const isSending = useRef(false);

  const send = useCallback(async () => {
    if (isSending.current) return;
    isSending.current = true;
    while (unsent.current) {
      const next = unsent.current;
      unsent.current = null;
      const fault = await appendEdit(sessionId, { op: "facts", set: { next_session: next } });
      if (fault) tell(fault);
      if (latest.current === next) localStorage.removeItem(store);
    }
    isSending.current = false;
    // How one works follows the criterion.
    void client.invalidateQueries({ queryKey: ["next", sessionId] });
    void client.invalidateQueries({ queryKey: ["today"] });
  }, [client, sessionId, store, tell]);
  useEffect(() => {
    // Of a page that was left at once.
    if (unsent.current) void send();
  }, [send]);
  const set = (values: Changes) => {
    const next = { ...latest.current, ...values };
    latest.current = next;
    unsent.current = next;
    localStorage.setItem(store, JSON.stringify(next));
    setChanged(next);
    void send();
  };
  return { changed, set };
}

function readChanges(store: string): Changes | null {
  try {
    return JSON.parse(localStorage.getItem(store) ?? "null") as Changes | null;
  } catch {
    return null;
  }
}

const BESIDE_MAIN = "rounded border border-line bg-raised px-3 py-1 leading-6 hover:border-ink";
const FIELD =
  "h-8 rounded border border-line bg-paper px-2 print:border-transparent print:px-0 print:appearance-none";

function Card({ sessionId, card, whose }: { sessionId: string; card: NextOut; whose: string }) {
  const { changed, set } = useChanges(sessionId, card);
  const step = (name: "warm_up" | "criterion", label: string) => (
    <select
      aria-label={label}
      value={changed[name] ?? card[name] ?? ""}
      onChange={(event) => set({ [name]: event.target.value })}
      className={`${FIELD} max-w-full`}
    >
      {card[name] === null && <option value="">{t("next:next_page.no_steps_in_the_plan")}</option>}
      {Object.entries(card.titles).map(([key, title]) => (
        <option key={key} value={key}>
          {title}
        </option>
      ))}
    </select>
  );
  const number = (name: "minutes" | "reps" | "pieces", label: string, stepBy: number) => (
    <input
      type="number"
      aria-label={label}
      min={stepBy}
      step={stepBy}
      key={String(changed[name] ?? card[name] ?? "")}
      defaultValue={changed[name] ?? card[name] ?? ""}
      onBlur={(event) => {
        const value = event.target.value === "" ? null : event.target.valueAsNumber;
        if (value !== (changed[name] ?? card[name])) set({ [name]: value });
      }}
      className={`${FIELD} num w-20 text-[18px]`}
    />
  );
  const isChanged = Object.values(changed).some((value) => value !== null && value !== undefined);
  return (
    <>
      <p className="text-soft">{t("next:next_page.next_session_whose", { whose })}</p>
      <h1 className="mt-1 max-w-[42ch] text-[27px] leading-[1.2]">{card.why.text}</h1>
      {card.before && (
        <p role="status" className="mt-3 border-l-4 border-marker py-1 pl-4">
          {t("next:next_page.since_this_card_was_printed", { before: card.before })}
        </p>
      )}
      <dl className="mt-6">
        <Row label={t("next:next_page.when")}>
          <input
            type="datetime-local"
            aria-label={t("next:next_page.when")}
            value={changed.at?.slice(0, 16) ?? ""}
            onChange={(event) => set({ at: event.target.value || null })}
            className={FIELD}
          />
          {!changed.at && (
            <span className="text-soft print:hidden"> {t("next:next_page.no_day_set_yet")}</span>
          )}
        </Row>
        <Row label={t("next:next_page.begin_with")}>
          {t("next:next_page.warm_up_reps_easy_reps", { warm_up_reps: card.warm_up_reps })}{" "}
          {step("warm_up", t("next:next_page.begin_with"))}
        </Row>
        <Row label={t("next:next_page.then")}>{step("criterion", t("next:next_page.then"))}</Row>
        {card.help && <Row label={t("next:next_page.help")}>{helpAtMost(card.help)}</Row>}
        {card.between && <Between sessionId={sessionId} step={card.between} />}
        {card.how.length > 0 && (
          <Row label={t("next:next_page.how")}>
            <List lines={card.how} />
          </Row>
        )}
        <Row label={t("next:next_page.at_most")}>
          {number("minutes", t("next:next_page.minutes"), 0.5)} {t("next:next_page.min_or")}{" "}
          {number("reps", t("next:next_page.reps"), 1)} {t("next:next_page.reps_2")}
        </Row>
        <Row label={t("next:next_page.prepare")}>
          {number("pieces", t("next:next_page.rewards_to_prepare"), 1)}{" "}
          {t("next:next_page.rewards")}
          {card.energy_share !== null &&
            t("next:next_page.energy_share_of_the_days", {
              energy_share: percent(card.energy_share),
            })}
          {(card.energy_share ?? 0) > 0.1 && t("next:next_page.a_tenth_is_the_usual")}
          {Object.keys(card.placement).length > 0 && (
            <span className="text-soft">
              {" "}
              ·{" "}
              {Object.entries(card.placement)
                .map(([place, n]) => `${n} ${place}`)
                .join(", ")}
            </span>
          )}
        </Row>
        {card.levels.why !== "no_conditions" && (
          <Row label={t("next:next_page.where")}>
            <span className="inline-block max-w-[62ch] pt-1 leading-snug">
              {nextWords(card.levels)}
            </span>
          </Row>
        )}
        {card.chain && (
          <Row label={t("next:next_page.chain")}>
            <span className="inline-block max-w-[62ch] pt-1 leading-snug">
              {chainNextWords(card.chain)}
            </span>
          </Row>
        )}
        {card.ladders.length > 0 && (
          <Row label={t("next:next_page.how_much")}>
            <List lines={card.ladders.flatMap(ladderLines)} />
          </Row>
        )}
        {card.vary.length > 0 && (
          <Row label={VARY[card.why.code] ?? t("next:next_page.vary_one_at_a_time")}>
            {card.vary.join(", then ")}
          </Row>
        )}
        <Row label={t("next:next_page.watch")}>
          <List lines={card.watch} />
        </Row>
        {card.cautions.length > 0 && (
          <Row label={t("next:next_page.keep_in_mind")}>
            <List lines={card.cautions} />
          </Row>
        )}
        <Row label={t("common:stop")}>
          <List lines={card.stop_rules} />
        </Row>
        <Row label={t("next:next_page.note")}>
          <textarea
            aria-label={t("next:next_page.note")}
            rows={2}
            maxLength={4000}
            key={changed.note ?? ""}
            defaultValue={changed.note ?? ""}
            onBlur={(event) => {
              if (event.target.value !== (changed.note ?? "")) {
                set({ note: event.target.value || null });
              }
            }}
            className={`${FIELD} field-sizing-content h-auto w-full py-1`}
          />
        </Row>
      </dl>
      <div className="no-print mt-6 flex flex-wrap items-center gap-2">
        <Link className={BESIDE_MAIN} to={`/sessions/${sessionId}/script`}>
          {t("next:next_page.script_rep_by_rep")}
        </Link>
        <Button
          look="main"
          onClick={() => {
            // So that a card on paper can be told from a newer judgement.
            void appendEdit(sessionId, { op: "facts", set: { printed: card.why.text } });
            window.print();
          }}
        >
          {t("next:next_page.print")}
        </Button>
        <a className={BESIDE_MAIN} href={`/api/plans/next/${sessionId}.ics`} download>
          {t("next:next_page.to_the_calendar_ics")}
        </a>
        {isChanged && (
          <Button
            look="quiet"
            onClick={() =>
              set({
                at: null,
                minutes: null,
                reps: null,
                pieces: null,
                warm_up: null,
                criterion: null,
                note: null,
              })
            }
          >
            {t("next:next_page.as_the_rule_says")}
          </Button>
        )}
        <Link className="underline underline-offset-3" to={`/sessions/${sessionId}/findings`}>
          {t("next:next_page.back_to_the_findings")}
        </Link>
      </div>
    </>
  );
}

const VARY: Record<string, string> = {
  uneven: t("next:next_page.work_there"),
  last_step: t("next:next_page.take_it_to"),
};

/** A step that is missing: written into the plan with one press, to be looked over there. */
function Between({ sessionId, step }: { sessionId: string; step: Record<string, unknown> }) {
  const navigate = useNavigate();
  const tell = useNotice();
  const put = async () => {
    const answer = await api.POST("/api/plans/next/{session_id}/between", {
      params: { path: { session_id: sessionId } },
    });
    if (answer.data) {
      void navigate(`/plans/${answer.data.behaviour_id}?step=${answer.data.step}`);
    } else tell(faultsOf(answer.error, answer.response.status).join(" "));
  };
  const [title, criterion] = [step["title"], step["criterion"]];
  return (
    <Row label={t("next:next_page.a_step_is_missing")}>
      {typeof title === "string" && title}
      {typeof criterion === "string" && <span className="text-soft"> · {criterion}</span>}{" "}
      <ForTrainers>
        <Button className="no-print ml-2 h-8" onClick={() => void put()}>
          {t("next:next_page.write_it_into_the_plan")}
        </Button>
      </ForTrainers>
    </Row>
  );
}

/** The next rung of a measured quantity, and what to keep in mind there. */
function ladderLines(ladder: NextOut["ladders"][number]): string[] {
  const rung = ladder.rungs[ladder.next];
  const said = t("next:next_page.name_said", { name: ladder.name, said: ladderNextWords(ladder) });
  return [said, ...(rung ? cautionWords(rung) : [])];
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="grid grid-cols-[9rem_1fr] gap-x-4 border-t border-line py-2.5 max-md:grid-cols-1">
      <dt className="pt-1 text-soft">{label}</dt>
      <dd className="min-w-0 leading-8">{children}</dd>
    </div>
  );
}

function List({ lines }: { lines: string[] }) {
  return (
    <ul className="space-y-1 pt-1 leading-snug">
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </ul>
  );
}
