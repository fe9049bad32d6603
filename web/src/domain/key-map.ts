/** Which key does what: the usual keys, and those a reviewer has changed. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";

import { api, given } from "../api/client";
import type { components } from "../api/schema";
import { useMe } from "../api/queries";
import { KINDS, type MarkKind } from "./marks";

type Preferences = components["schemas"]["PreferencesIO"];

/** What a key can do beside placing a mark. */
export type Act =
  | "judge"
  | "play"
  | "accept"
  | "next_click"
  | "fix"
  | "loop"
  | "compare"
  | "rows"
  | "loupe"
  | "show_keys";

export const ACTS: { act: Act; key: string; words: string }[] = [
  { act: "judge", key: "f", words: "fits the criterion · not yet · not judged" },
  { act: "play", key: " ", words: "play and stop; marks placed while it plays are taps" },
  { act: "accept", key: "Enter", words: "take the heard click here; in the fix pass: this frame" },
  { act: "next_click", key: "d", words: "the next heard click, or the next place to look at" },
  { act: "fix", key: "x", words: "fix pass: from uncertain mark to uncertain mark" },
  { act: "loop", key: "g", words: "play this rep round and round" },
  { act: "compare", key: "v", words: "two reps side by side" },
  { act: "rows", key: "q", words: "one, two or three rows of neighbouring frames" },
  { act: "loupe", key: "z", words: "loupe" },
  { act: "show_keys", key: "?", words: "all keys" },
];

export interface KeyMap {
  /** What a key does, null for nothing. */
  doneBy: (key: string) => { kind: MarkKind } | { act: Act } | null;
  keyOf: (name: MarkKind | Act) => string;
}

const USUAL = new Map<string, MarkKind | Act>([
  ...KINDS.map((k): [string, MarkKind] => [k.key, k.kind]),
  ...ACTS.map((a): [string, Act] => [a.key, a.act]),
]);

export function keyMapOf(own: Record<string, string>): KeyMap {
  const keys = new Map<MarkKind | Act, string>([...USUAL].map(([key, name]) => [name, key]));
  for (const [name, key] of Object.entries(own)) {
    // A key somebody chose is theirs, also where something new has come to have it.
    for (const [other, usual] of keys) if (usual === key && !(other in own)) keys.set(other, "");
    keys.set(name as MarkKind | Act, key);
  }
  const names = new Map(
    [...keys].filter(([, key]) => key !== "").map(([name, key]) => [key, name]),
  );
  return {
    keyOf: (name) => keys.get(name) ?? "",
    doneBy: (key) => {
      const name = names.get(key.length === 1 ? key.toLowerCase() : key);
      if (name === undefined) return null;
      const kind = KINDS.find((k) => k.kind === name)?.kind;
      return kind ? { kind } : { act: name as Act };
    },
  };
}

/** A key in words, as it stands on its cap. */
export function capOf(key: string): string {
  return key === " " ? "Space" : key;
}

/** Whether a key may be given to something: letters and the like, none the bench needs itself. */
export function isFree(key: string): boolean {
  return (key.length === 1 && !/[1-9]/.test(key)) || key === "Enter" || /^F\d+$/.test(key);
}

/** The reviewer's settings, and how to change them. */
export function usePreferences() {
  const me = useMe();
  const client = useQueryClient();
  const preferences = useMemo<Preferences>(
    () => me.data?.preferences ?? { keys: {}, marks_by: "click" },
    [me.data?.preferences],
  );
  const { mutate } = useMutation({
    mutationFn: async (next: Preferences) =>
      given(await api.PUT("/api/me/preferences", { body: next })),
    onMutate: (next) => {
      client.setQueryData(["me"], (old: typeof me.data) => old && { ...old, preferences: next });
    },
    onSettled: () => client.invalidateQueries({ queryKey: ["me"] }),
  });
  const change = useCallback(
    (values: Partial<Preferences>) => mutate({ ...preferences, ...values }),
    [mutate, preferences],
  );
  return { preferences, change };
}

export function useKeyMap(): KeyMap {
  const { preferences } = usePreferences();
  return useMemo(() => keyMapOf(preferences.keys ?? {}), [preferences.keys]);
}
