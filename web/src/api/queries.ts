/** What the screens ask the server for, and how long an answer stays fresh. */

import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";

import { api, given, type FilmOut, type MeasuredOut, type SessionOut } from "./client";
import type { Findings } from "./findings";

const BUSY: FilmOut["state"][] = ["receiving", "waiting", "working"];

/** Whether the background is still at work on a film. */
export function isBusy(film: FilmOut): boolean {
  return BUSY.includes(film.state);
}

/** The logged-in user. */
export function useMe() {
  return useQuery({
    queryKey: ["me"],
    queryFn: async () => given(await api.GET("/api/me")),
    staleTime: 300_000,
  });
}

/** All films, asked for twice a second while one is on its way in. */
export function useFilms() {
  return useQuery({
    queryKey: ["films"],
    queryFn: async () => given(await api.GET("/api/films")),
    refetchInterval: (query) => (query.state.data?.some(isBusy) ? 500 : 5000),
  });
}

/** All sessions. */
export function useSessions() {
  return useQuery({
    queryKey: ["sessions"],
    queryFn: async () => given(await api.GET("/api/sessions")),
  });
}

/** The learners. */
export function useLearners() {
  return useQuery({
    queryKey: ["learners"],
    queryFn: async () => given(await api.GET("/api/learners")),
  });
}

/** What the learners are taught. */
export function useBehaviours() {
  return useQuery({
    queryKey: ["behaviours"],
    queryFn: async () => given(await api.GET("/api/behaviours")),
  });
}

/** One session with its films, asked for again while a film is on its way in. */
export function useSession(id: string) {
  return useQuery({
    queryKey: ["session", id],
    queryFn: async () =>
      given(await api.GET("/api/sessions/{session_id}", { params: { path: { session_id: id } } })),
    refetchInterval: (query) => (query.state.data?.films.some(isBusy) ? 1000 : false),
  });
}

/** Every frame's time of several films, by film. */
export function useFrames(films: FilmOut[]) {
  const ids = films.map((film) => film.id);
  return useQuery({
    // Another speed, other times.
    queryKey: ["frames", films.map((film) => [film.id, film.slowed])],
    enabled: ids.length > 0,
    staleTime: Infinity,
    queryFn: async () => {
      const answers = await Promise.all(
        ids.map((film_id) =>
          api.GET("/api/films/{film_id}/frame-runs", { params: { path: { film_id } } }),
        ),
      );
      return answers.map((answer, n) => ({ id: ids[n] ?? "", frames: given(answer) }));
    },
  });
}

export interface PlannedCondition {
  name: string;
  levels?: string[];
}

const NONE: PlannedCondition[] = [];

/** The conditions to vary of the plan a session was filmed under. */
export function usePlanned(session: SessionOut | undefined): PlannedCondition[] {
  const behaviour_id = session?.behaviour_id ?? "";
  const number = session?.plan_number ?? 0;
  const version = useQuery({
    queryKey: ["version", behaviour_id, number],
    enabled: behaviour_id !== "",
    staleTime: Infinity,
    queryFn: async () =>
      given(
        await api.GET("/api/behaviours/{behaviour_id}/versions/{number}", {
          params: { path: { behaviour_id, number } },
        }),
      ),
  });
  const document = version.data?.document as { conditions?: PlannedCondition[] } | undefined;
  return document?.conditions ?? NONE;
}

export const findingsKey = (sessionId: string) => ["findings", sessionId];

interface Measured {
  seq: number;
  findings: Findings | null;
  faults: string[];
}

/** Findings that came with the answer to an edit: shown at once, if nothing newer is. */
export function keepFindings(client: QueryClient, sessionId: string, measured: MeasuredOut) {
  client.setQueryData<Measured>(findingsKey(sessionId), (old) =>
    old && old.seq > measured.seq ? old : (measured as unknown as Measured),
  );
}

/** How long findings that did not come with a change are waited for. */
const FINDINGS_LATER_MS = 700;

/** The session measured as it stands, and again where `seq`, its last change, is not yet in it. */
export function useFindings(sessionId: string, seq: number) {
  const client = useQueryClient();
  // Under one key, so that reps nothing has happened to stay the same objects and stay still.
  const queryKey = useMemo(() => findingsKey(sessionId), [sessionId]);
  useEffect(() => {
    const known = client.getQueryData<Measured>(queryKey)?.seq;
    if (known === undefined || known >= seq) return;
    // They usually come with the answer to the change itself; where the server has much to do they
    // are asked for once for all changes of a moment.
    const timer = window.setTimeout(() => {
      const now = client.getQueryData<Measured>(queryKey)?.seq ?? 0;
      if (now < seq) void client.invalidateQueries({ queryKey });
    }, FINDINGS_LATER_MS);
    return () => window.clearTimeout(timer);
  }, [client, queryKey, seq]);
  return useQuery({
    queryKey,
    queryFn: async (): Promise<Measured> =>
      given(
        await api.GET("/api/sessions/{session_id}/findings", {
          params: { path: { session_id: sessionId } },
        }),
      ) as unknown as Measured,
  });
}
