/** What the screens ask the server for, and how long an answer stays fresh. */

import { useQuery } from "@tanstack/react-query";

import { api, given, type FilmOut } from "./client";
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

/** Every frame's time of a film. */
export function useFrames(filmId: string | undefined) {
  return useQuery({
    queryKey: ["frames", filmId],
    enabled: filmId !== undefined,
    staleTime: Infinity,
    queryFn: async () =>
      given(
        await api.GET("/api/films/{film_id}/frames", {
          params: { path: { film_id: filmId ?? "" } },
        }),
      ),
  });
}

/** The session measured as of the change `seq`. */
export function useFindings(sessionId: string, seq: number) {
  return useQuery({
    queryKey: ["findings", sessionId, seq],
    placeholderData: (previous) => previous,
    queryFn: async () => {
      const answer = given(
        await api.GET("/api/sessions/{session_id}/findings", {
          params: { path: { session_id: sessionId } },
        }),
      );
      return { ...answer, findings: answer.findings as unknown as Findings | null };
    },
  });
}
