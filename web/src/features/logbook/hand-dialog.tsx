import { useQueryClient } from "@tanstack/react-query";
import { Dialog } from "radix-ui";
import { useState, type FormEvent, type ReactNode } from "react";

import { api, faultsOf } from "../../api/client";
import { useMe } from "../../api/queries";
import { Button } from "../../components/button";
import { textOf } from "../../components/forms";
import { useNotice } from "../../components/notice";
import { HELP } from "../../domain/help-levels";
import { noteOf, type Logged, type LogbookOut } from "../../domain/behaviour-logbook";
import { logbookKey } from "./queries";

interface HandDialogProps {
  logbook: LogbookOut;
  /** The session to change; null for a new one. */
  session: Logged | null;
  onClose: () => void;
}

const FIELD = "h-8 rounded border border-line bg-paper px-2";

/** A session without film, as somebody with a pencil kept it: minutes and counts. */
export function HandDialog({ logbook, session, onClose }: HandDialogProps) {
  const client = useQueryClient();
  const me = useMe();
  const tell = useNotice();
  const [faults, setFaults] = useState<string[]>([]);

  const refresh = () =>
    void client.invalidateQueries({ queryKey: logbookKey(logbook.behaviour_id) });

  const keep = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const number = (name: string) => {
      const text = textOf(form, name);
      return text === "" ? {} : { [name]: Number(text) };
    };
    const text = (name: string) => (textOf(form, name) ? { [name]: textOf(form, name) } : {});
    const body = {
      date: textOf(form, "date"),
      trainer: textOf(form, "trainer"),
      tags: session?.tags ?? [],
      counts: {
        ...number("minutes"),
        ...number("reps"),
        ...number("met"),
        ...number("reinforcements"),
        ...number("opt_outs"),
        ...signsOf(form),
        ...conditionsOf(textOf(form, "conditions")),
        ...text("help"),
        ...text("approximation"),
        ...text("note"),
      },
    };
    const answer = await (
      session
        ? api.PUT("/api/logbook/by-hand/{session_id}", {
            params: { path: { session_id: session.session_id } },
            body,
          })
        : api.POST("/api/logbook/{behaviour_id}/by-hand", {
            params: { path: { behaviour_id: logbook.behaviour_id } },
            body,
          })
    ).catch(() => null);
    if (!answer?.data) {
      setFaults(
        answer
          ? faultsOf(answer.error, answer.response.status).map(spoken)
          : ["The server does not answer. What you wrote is still here."],
      );
      return;
    }
    refresh();
    onClose();
  };

  const remove = async () => {
    if (!session) return;
    const answer = await api.DELETE("/api/sessions/{session_id}", {
      params: { path: { session_id: session.session_id } },
    });
    refresh();
    onClose();
    if (!answer.response.ok) {
      tell(faultsOf(answer.error, answer.response.status).join(" "));
      return;
    }
    tell("The session counted by hand is removed.", {
      label: "Undo",
      run: () => void bringBack(session),
    });
  };

  /** What was removed, entered again as it stood. */
  const bringBack = async (gone: Logged) => {
    const answer = await api.POST("/api/logbook/{behaviour_id}/by-hand", {
      params: { path: { behaviour_id: logbook.behaviour_id } },
      body: {
        date: gone.date ?? "",
        trainer: gone.trainer,
        tags: gone.tags,
        counts: gone.counts ?? {},
      },
    });
    if (!answer.data) tell(faultsOf(answer.error, answer.response.status).join(" "));
    refresh();
  };

  const counted = (name: string): number | null => {
    const value = session?.counts?.[name];
    return typeof value === "number" ? value : null;
  };
  const count = (name: string, label: string, value: number | null, step = 1) => (
    <Line label={label}>
      <input
        name={name}
        type="number"
        min={0}
        step={step}
        required={name === "minutes"}
        defaultValue={value ?? ""}
        className={`${FIELD} num w-24`}
      />
    </Line>
  );
  const today = new Date().toLocaleDateString("sv");
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 max-h-[calc(100vh-5rem)] w-[32rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">
            {session ? "A session counted by hand" : "A session without film"}
          </Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            It counts towards rate, doses and steps, and towards what to do next. Of the marker's
            timing it says nothing; what you leave empty stays unknown.
          </Dialog.Description>
          <form onSubmit={(event) => void keep(event)} className="space-y-2.5">
            <Line label="Day">
              <input
                name="date"
                type="date"
                required
                defaultValue={session?.date ?? today}
                className={FIELD}
              />
            </Line>
            <Line label="Trainer">
              <input
                name="trainer"
                maxLength={200}
                defaultValue={session?.trainer ?? me.data?.username ?? ""}
                className={FIELD}
              />
            </Line>
            <Line label="Step">
              <select name="approximation" defaultValue={session?.step ?? ""} className={FIELD}>
                <option value="">no step</option>
                {logbook.order.map((key) => (
                  <option key={key} value={key}>
                    {logbook.titles[key] ?? key}
                  </option>
                ))}
              </select>
            </Line>
            {count("minutes", "Minutes", counted("minutes"), 0.1)}
            {count("reps", "Reps", counted("reps"))}
            {count("met", "of them fit", counted("met"))}
            {count("reinforcements", "Rewarded", counted("reinforcements"))}
            <Line label="Signs of strain">
              <span className="flex flex-wrap items-center gap-2">
                {SIGNS.map(({ severity, words }) => (
                  <label key={severity} className="flex items-center gap-1">
                    <input
                      name={`signs${severity}`}
                      type="number"
                      min={0}
                      max={50}
                      aria-label={`${words} signs`}
                      defaultValue={signsIn(session, severity) || ""}
                      className={`${FIELD} num w-16`}
                    />
                    {words}
                  </label>
                ))}
              </span>
            </Line>
            {count("opt_outs", "It left", counted("opt_outs"))}
            <Line label="Most help">
              <select
                name="help"
                defaultValue={
                  typeof session?.counts?.["help"] === "string" ? session.counts["help"] : ""
                }
                className={FIELD}
              >
                <option value="">not said</option>
                <option value="none">none</option>
                {HELP.map((h) => (
                  <option key={h.level} value={h.level}>
                    {h.words}
                  </option>
                ))}
              </select>
            </Line>
            <Line label="Conditions">
              <input
                name="conditions"
                placeholder="side: left, place: barn"
                maxLength={400}
                defaultValue={conditionsIn(session)}
                className={`${FIELD} w-full`}
              />
            </Line>
            <Line label="Note">
              <input
                name="note"
                maxLength={400}
                defaultValue={session ? noteOf(session) : ""}
                className={`${FIELD} w-full`}
              />
            </Line>
            {faults.length > 0 && (
              <ul role="alert" className="text-fault">
                {faults.map((fault) => (
                  <li key={fault}>{fault}</li>
                ))}
              </ul>
            )}
            <div className="flex justify-end gap-2 pt-2">
              {session && (
                <Button look="quiet" onClick={() => void remove()}>
                  Remove
                </Button>
              )}
              <Button onClick={onClose}>Not now</Button>
              <Button look="main" type="submit">
                Keep
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

const SIGNS = [
  { severity: 1, words: "slight" },
  { severity: 2, words: "marked" },
  { severity: 3, words: "severe" },
];

function signsOf(form: FormData): { signs?: { severity: number }[] } {
  const signs = SIGNS.flatMap(({ severity }) =>
    Array.from({ length: Number(textOf(form, `signs${severity}`)) || 0 }, () => ({ severity })),
  );
  return signs.length > 0 ? { signs } : {};
}

function signsIn(session: Logged | null, severity: number): number {
  const signs = session?.counts?.["signs"];
  if (!Array.isArray(signs)) return 0;
  return (signs as { severity: number }[]).filter((sign) => sign.severity === severity).length;
}

/** `side: left, place: barn` as conditions by their names. */
function conditionsOf(text: string): { conditions?: Record<string, string> } {
  const pairs = text
    .split(",")
    .map((pair) => pair.split(":").map((part) => part.trim()))
    .filter(([name, level]) => name && level);
  return pairs.length > 0
    ? { conditions: Object.fromEntries(pairs) as Record<string, string> }
    : {};
}

function conditionsIn(session: Logged | null): string {
  const conditions = session?.counts?.["conditions"];
  if (typeof conditions !== "object" || conditions === null) return "";
  return Object.entries(conditions as Record<string, string>)
    .map(([name, level]) => `${name}: ${level}`)
    .join(", ");
}

/** A fault of the core's with the field's own name. */
function spoken(fault: string): string {
  return fault
    .replace(/^by_hand\.minutes/, "Minutes")
    .replace(/^by_hand\.reps/, "Reps")
    .replace(/^by_hand\.met/, "Of them fit")
    .replace(/^by_hand\.reinforcements/, "Rewarded");
}

function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="grid grid-cols-[7rem_1fr] items-center justify-items-start">
      {label}
      {children}
    </label>
  );
}
