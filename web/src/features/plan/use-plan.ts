/** A plan being written: kept in the browser at once, at the server a moment later. */

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";

import { api, faultsOf, given } from "../../api/client";
import type { BehaviourOut, PlanDocument, RemarkOut } from "../../domain/plan-document";

const PAUSE_MS = 500;
const RETRY_MS = 2000;

export type Keeping = "saved" | "saving" | "waiting" | "refused" | "overtaken";

interface Draft {
  number: number;
  revision: number;
  document: PlanDocument;
}

export interface WrittenPlan {
  plan: PlanDocument;
  keeping: Keeping;
  faults: string[];
  change: (next: PlanDocument) => void;
  undo: () => void;
  redo: () => void;
  /** The other one's plan instead of this one's. */
  takeTheirs: () => void;
  /** This one's plan on top of the other one's. */
  keepMine: () => void;
}

export function usePlan(behaviour: BehaviourOut): WrittenPlan {
  const store = `frequens.plan.${behaviour.id}`;
  const client = useQueryClient();
  const [first] = useState(() => readDraft(store));
  const [plan, setPlan] = useState<PlanDocument>(first?.document ?? behaviour.plan.document);
  const [keeping, setKeeping] = useState<Keeping>(first ? "saving" : "saved");
  const [faults, setFaults] = useState<string[]>([]);
  const past = useRef<PlanDocument[]>([]);
  const future = useRef<PlanDocument[]>([]);
  const base = useRef({
    number: first?.number ?? behaviour.plan.number,
    revision: first?.revision ?? behaviour.plan.revision,
  });
  const theirs = useRef<Draft | null>(null);
  const latest = useRef(plan);
  const timer = useRef(0);
  const busy = useRef(false);

  const sendOnce = useCallback(async (): Promise<number> => {
    const sent = latest.current;
    const answer = await api
      .PUT("/api/behaviours/{behaviour_id}/plan", {
        params: { path: { behaviour_id: behaviour.id } },
        body: { ...base.current, document: sent },
      })
      .catch(() => null);
    if (answer?.data) {
      base.current = { number: answer.data.number, revision: answer.data.revision };
      setFaults([]);
      if (latest.current !== sent) return 1;
      localStorage.removeItem(store);
      setKeeping("saved");
      void client.invalidateQueries({ queryKey: ["behaviours"] });
      return 0;
    }
    if (answer?.error && "document" in answer.error) {
      theirs.current = answer.error;
      setKeeping("overtaken");
      return 0;
    }
    if (answer?.response.status === 422) {
      setFaults(faultsOf(answer.error, 422));
      setKeeping("refused");
      return 0;
    }
    setKeeping("waiting");
    return RETRY_MS;
  }, [behaviour.id, client, store]);

  /** Send what is newest, again and again until the server has it or says no. */
  const send = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    let wait = await sendOnce();
    while (wait > 0) {
      const pause = wait;
      await new Promise((resolve) => window.setTimeout(resolve, pause));
      wait = await sendOnce();
    }
    busy.current = false;
  }, [sendOnce]);

  const put = useCallback(
    (next: PlanDocument) => {
      latest.current = next;
      setPlan(next);
      localStorage.setItem(store, JSON.stringify({ ...base.current, document: next }));
      setKeeping((now) => (now === "overtaken" ? now : "saving"));
      window.clearTimeout(timer.current);
      if (theirs.current === null) {
        timer.current = window.setTimeout(() => void send(), PAUSE_MS);
      }
    },
    [send, store],
  );

  // A draft that a closed tab left behind, and one that is left behind now.
  useEffect(() => {
    if (first) void send();
    const online = () => void send();
    window.addEventListener("online", online);
    return () => {
      window.removeEventListener("online", online);
      window.clearTimeout(timer.current);
      if (localStorage.getItem(store)) void send();
    };
  }, [first, send, store]);

  const change = useCallback(
    (next: PlanDocument) => {
      past.current.push(latest.current);
      future.current.length = 0;
      put(next);
    },
    [put],
  );
  // Read at the moment of the press: two quick ones must not undo the same change twice.
  const turn = useCallback(
    (from: PlanDocument[], to: PlanDocument[]) => {
      const other = from.pop();
      if (!other) return;
      to.push(latest.current);
      put(other);
    },
    [put],
  );
  const undo = useCallback(() => turn(past.current, future.current), [turn]);
  const redo = useCallback(() => turn(future.current, past.current), [turn]);

  const settle = useCallback(
    (document: PlanDocument) => {
      const other = theirs.current;
      if (!other) return;
      base.current = { number: other.number, revision: other.revision };
      theirs.current = null;
      setKeeping("saving");
      past.current.push(latest.current);
      put(document);
    },
    [put],
  );
  return {
    plan,
    keeping,
    faults,
    change,
    undo,
    redo,
    takeTheirs: () => {
      if (theirs.current) settle(theirs.current.document);
    },
    keepMine: () => settle(latest.current),
  };
}

function readDraft(store: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(store) ?? "null") as Draft | null;
  } catch {
    // Half a draft cannot be written on; a whole one never reads like this.
    localStorage.removeItem(store);
    return null;
  }
}

/** What the core says of the plan while it is written. */
export function useRemarks(plan: PlanDocument, learnerId: string): RemarkOut[] {
  const settled = useSettled(plan, 200);
  const read = useQuery({
    queryKey: ["remarks", learnerId, settled],
    placeholderData: (previous) => previous,
    queryFn: async () =>
      given(
        await api.POST("/api/plans/read", {
          body: { document: settled, learner_id: learnerId },
        }),
      ),
  });
  return read.data?.remarks ?? [];
}

/** A value once it has not changed for a while. */
function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), ms);
    return () => window.clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
