/** The plan gone through under each school, one after another; a change begins anew. */

import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";

import { api, given } from "../../api/client";
import type { components } from "../../api/schema";

type Schemas = components["schemas"];
export type Assumptions = Schemas["AssumptionsOut"];
export type Rehearsed = Schemas["RehearsedOut"];
export type School = Assumptions["schools"][number];
export type Learner = Assumptions["learner"];
/** What is assumed of the learner as one number. */
export type Assumed = Exclude<keyof Learner, "carries">;

/** What one has changed of the plan's bounds and of what is assumed. */
export interface Asked {
  learner: Partial<Record<Assumed, number>>;
  fromLogbook: boolean;
  capS: number | null;
  repCap: number | null;
  daysBetween: number | null;
}

/** One rehearsal that is wanted: a school (null: the plan's own), or a step between. */
export interface Wanted {
  name: string;
  rule: Schemas["RehearseIn"]["rule"];
  between: string | null;
}

export const RUNS = 200;
/** One still moves the slider: begin a moment later. */
const SETTLE_MS = 250;

/** What a rehearsal of this behaviour's plan would assume. */
export function useAssumptions(behaviourId: string) {
  return useQuery({
    queryKey: ["rehearsal", behaviourId],
    gcTime: 0,
    queryFn: async () =>
      given(
        await api.GET("/api/behaviours/{behaviour_id}/rehearsal", {
          params: { path: { behaviour_id: behaviourId } },
        }),
      ),
  });
}

export interface Rehearsals {
  /** What has come so far, by name; what is left of the last ones until then. */
  found: ReadonlyMap<string, Rehearsed>;
  /** How many of those wanted have come; null where none is under way. */
  done: number | null;
  fault: Error | null;
  stop: () => void;
}

/** Rehearse all that is wanted, one after another, as asked. */
export function useRehearsals(behaviourId: string, wanted: Wanted[], asked: Asked): Rehearsals {
  const [found, setFound] = useState<ReadonlyMap<string, Rehearsed>>(new Map());
  const [done, setDone] = useState<number | null>(null);
  const [fault, setFault] = useState<Error | null>(null);
  const going = useRef<AbortController>(null);
  const question = JSON.stringify([behaviourId, wanted, asked]);
  useEffect(() => {
    const [id, rehearsals, as] = JSON.parse(question) as [string, Wanted[], Asked];
    const own = new AbortController();
    going.current = own;
    const run = async () => {
      setDone(0);
      setFault(null);
      for (const [place, one] of rehearsals.entries()) {
        const answer = await api.POST("/api/behaviours/{behaviour_id}/rehearsal", {
          params: { path: { behaviour_id: id } },
          body: {
            rule: one.rule ?? null,
            between: one.between,
            learner: as.learner,
            from_logbook: as.fromLogbook,
            cap_s: as.capS,
            rep_cap: as.repCap,
            days_between: as.daysBetween,
            runs: RUNS,
            seed: 1,
          },
          signal: own.signal,
        });
        const made = given(answer);
        setFound((old) => new Map([...old, [one.name, made]]));
        setDone(place + 1);
      }
      setDone(null);
    };
    const timer = window.setTimeout(() => {
      run().catch((error: unknown) => {
        // One that was overtaken says nothing any more.
        if (going.current === own) setDone(null);
        if (!own.signal.aborted) setFault(error instanceof Error ? error : new Error());
      });
    }, SETTLE_MS);
    return () => {
      window.clearTimeout(timer);
      own.abort();
    };
  }, [question]);
  return { found, done, fault, stop: () => going.current?.abort() };
}
