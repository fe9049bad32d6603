import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { appendEdit } from "../../domain/append-edit";
import { api, faultsOf, given } from "../../api/client";
import { useSession } from "../../api/queries";
import type { components } from "../../api/schema";
import { Button } from "../../components/button";
import { helpAtMost } from "../../domain/help-levels";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import { percent } from "../../domain/times";
import { crumbOf } from "../../domain/words";

type NextOut = components["schemas"]["NextOut"];

interface Changes {
  at?: string | null;
  minutes?: number | null;
  reps?: number | null;
  pieces?: number | null;
  warm_up?: string | null;
  criterion?: string | null;
  note?: string | null;
}

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
    <Shell title={`Next session${crumb ? ` · ${crumb}` : ""}`} crumb={crumb} sessionId={sessionId}>
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
          <Wait>Working out the next session</Wait>
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
  const [changed, setChanged] = useState(waiting ?? (card.changed as Changes));
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
      {card[name] === null && <option value="">no steps in the plan</option>}
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
      <p className="text-soft">Next session · {whose}</p>
      <h1 className="mt-1 max-w-[42ch] text-[27px] leading-[1.2]">{card.why.text}</h1>
      {card.before && (
        <p role="status" className="mt-3 border-l-4 border-marker py-1 pl-4">
          Since this card was printed the judgement has changed. It said: {card.before}
        </p>
      )}
      <dl className="mt-6">
        <Row label="When">
          <input
            type="datetime-local"
            aria-label="When"
            value={changed.at?.slice(0, 16) ?? ""}
            onChange={(event) => set({ at: event.target.value || null })}
            className={FIELD}
          />
          {!changed.at && <span className="text-soft print:hidden"> no day set yet</span>}
        </Row>
        <Row label="Begin with">
          {card.warm_up_reps} easy reps: {step("warm_up", "Begin with")}
        </Row>
        <Row label="Then">{step("criterion", "Then")}</Row>
        {card.help && <Row label="Help">{helpAtMost(card.help)}</Row>}
        {card.between && <Between sessionId={sessionId} step={card.between} />}
        {card.how.length > 0 && (
          <Row label="How">
            <List lines={card.how} />
          </Row>
        )}
        <Row label="At most">
          {number("minutes", "Minutes", 0.5)} min or {number("reps", "Reps", 1)} reps
        </Row>
        <Row label="Prepare">
          {number("pieces", "Rewards to prepare", 1)} rewards
          {card.energy_share !== null && `, ${percent(card.energy_share)} of the day's energy`}
          {(card.energy_share ?? 0) > 0.1 && " (a tenth is the usual most)"}
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
        {card.vary.length > 0 && (
          <Row label={VARY[card.why.code] ?? "Vary, one at a time"}>
            {card.vary.join(", then ")}
          </Row>
        )}
        <Row label="Watch">
          <List lines={card.watch} />
        </Row>
        {card.cautions.length > 0 && (
          <Row label="Keep in mind">
            <List lines={card.cautions} />
          </Row>
        )}
        <Row label="Stop">
          <List lines={card.stop_rules} />
        </Row>
        <Row label="Note">
          <textarea
            aria-label="Note"
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
        <Button
          look="main"
          onClick={() => {
            // So that a card on paper can be told from a newer judgement.
            void appendEdit(sessionId, { op: "facts", set: { printed: card.why.text } });
            window.print();
          }}
        >
          Print
        </Button>
        <a
          className="rounded border border-line bg-raised px-3 py-1 leading-6 hover:border-ink"
          href={`/api/plans/next/${sessionId}.ics`}
          download
        >
          To the calendar (.ics)
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
            As the rule says
          </Button>
        )}
        <Link className="underline underline-offset-3" to={`/sessions/${sessionId}/findings`}>
          Back to the findings
        </Link>
      </div>
    </>
  );
}

const VARY: Record<string, string> = { uneven: "Work there", last_step: "Take it to" };

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
    <Row label="A step is missing">
      {typeof title === "string" && title}
      {typeof criterion === "string" && <span className="text-soft"> · {criterion}</span>}{" "}
      <Button className="no-print ml-2 h-8" onClick={() => void put()}>
        Write it into the plan
      </Button>
    </Row>
  );
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
