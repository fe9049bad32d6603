/** What the screens ask the server for, and how long an answer stays fresh. */

import {
  useInfiniteQuery,
  useQuery,
  useQueryClient,
  type QueryClient,
} from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";

import {
  api,
  given,
  type FilmOut,
  type MeasuredOut,
  type SessionOut,
  type SessionRow,
} from "./client";
import type { components } from "./schema";

type PlanDocument = components["schemas"]["PlanDocument"];

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

/** Who is in the workspace. */
export function useMembers() {
  return useQuery({
    queryKey: ["members"],
    queryFn: async () => given(await api.GET("/api/members")),
  });
}

/** Whether nobody has an account here yet. */
export function useIsNew() {
  return useQuery({
    queryKey: ["first"],
    queryFn: async () => given(await api.GET("/api/first")).is_open,
    staleTime: Infinity,
  });
}

const FILMS_A_PAGE = 50;

async function filmsBefore(older_than: string | null): Promise<FilmPage> {
  const query = { most: FILMS_A_PAGE, ...(older_than && { older_than }) };
  const films = given(await api.GET("/api/films", { params: { query } }));
  const of = [...new Set(films.flatMap((film) => film.session_id ?? []))];
  if (of.length === 0) return { films, sessions: [] };
  const sessions = given(await api.GET("/api/sessions", { params: { query: { of } } }));
  return { films, sessions };
}

interface FilmPage {
  films: FilmOut[];
  sessions: SessionRow[];
}

/**
 * The films, the newest first, with their sessions; `more` asks for older ones.
 *
 * Only what is still on its way is asked for again and again: twice a second while something is.
 */
export function useFilms() {
  const client = useQueryClient();
  const pages = useInfiniteQuery({
    queryKey: ["films"],
    initialPageParam: null as string | null,
    queryFn: ({ pageParam }) => filmsBefore(pageParam),
    getNextPageParam: ({ films }) => (films.length < FILMS_A_PAGE ? undefined : films.at(-1)?.id),
  });
  const underWay = useQuery({
    queryKey: ["films-under-way"],
    queryFn: async () => {
      const query = { under_way: true, most: 200 };
      return given(await api.GET("/api/films", { params: { query } }));
    },
    refetchInterval: (query) => (query.state.data?.length ? 500 : 5000),
  });
  // One that has come, gone or been indexed: the list is another, its sessions perhaps as well.
  const moving = underWay.data?.map((film) => [film.id, film.session_id]).join(" ");
  const known = useRef<string>(undefined);
  const { isFetchingNextPage } = pages;
  useEffect(() => {
    // Older films that were asked for come first: asking for all anew would give them up.
    if (moving === undefined || moving === known.current || isFetchingNextPage) return;
    known.current = moving;
    void client.invalidateQueries({ queryKey: ["films"] });
  }, [client, moving, isFetchingNextPage]);

  const now = new Map(underWay.data?.map((film) => [film.id, film]));
  const listed = pages.data?.pages.flatMap((page) => page.films);
  return {
    films: listed?.map((film) => now.get(film.id) ?? film),
    sessions: pages.data?.pages.flatMap((page) => page.sessions) ?? [],
    error: pages.error,
    more: pages.hasNextPage ? () => void pages.fetchNextPage() : null,
    isAsking: isFetchingNextPage,
  };
}

/** The newest sessions that came from a file, without film or behaviour. */
export function useLooseSessions() {
  return useQuery({
    queryKey: ["sessions"],
    queryFn: async () =>
      given(await api.GET("/api/sessions", { params: { query: { loose: true } } })),
  });
}

/** The newest sessions a phone led, of which there is no film yet. */
export function useLedAlone() {
  return useQuery({
    queryKey: ["sessions", "led"],
    queryFn: async () =>
      given(await api.GET("/api/sessions", { params: { query: { led_alone: true, most: 20 } } })),
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
export function useSession(id: string, isWanted = true) {
  return useQuery({
    queryKey: ["session", id],
    enabled: isWanted,
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

/** The shaping plan a session was filmed under, where there is one. */
export function usePlanned(session: SessionOut | undefined): PlanDocument | undefined {
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
  return version.data?.document;
}

export const findingsKey = (sessionId: string) => ["findings", sessionId];

/** Findings that came with the answer to an edit: shown at once, if nothing newer is. */
export function keepFindings(client: QueryClient, sessionId: string, measured: MeasuredOut) {
  client.setQueryData<MeasuredOut>(findingsKey(sessionId), (old) =>
    old && old.seq > measured.seq ? old : measured,
  );
}

/** How long findings that did not come with a change are waited for. */
const FINDINGS_LATER_MS = 700;

/** The session measured as it stands, and again where `seq`, its last change, is not yet in it. */
export function useFindings(sessionId: string, seq: number) {
  const client = useQueryClient();
  // Under one key, so that reps nothing has happened to stay the same objects and stay still.
  const queryKey = useMemo(() => findingsKey(sessionId), [sessionId]);
  const query = useQuery({
    queryKey,
    queryFn: async () =>
      given(
        await api.GET("/api/sessions/{session_id}/findings", {
          params: { path: { session_id: sessionId } },
        }),
      ),
  });
  // Also those asked for before the last change may come after it.
  const known = query.data?.seq;
  useEffect(() => {
    if (known === undefined || known >= seq) return;
    // They usually come with the answer to the change itself; where the server has much to do they
    // are asked for once for all changes of a moment.
    const timer = window.setTimeout(() => {
      const now = client.getQueryData<MeasuredOut>(queryKey)?.seq ?? 0;
      if (now < seq) void client.invalidateQueries({ queryKey });
    }, FINDINGS_LATER_MS);
    return () => window.clearTimeout(timer);
  }, [client, known, queryKey, seq]);
  return query;
}
