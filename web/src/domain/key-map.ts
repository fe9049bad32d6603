/** Which key does what: the usual keys, and those a reviewer has changed. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo } from "react";

import { api, given } from "../api/client";
import type { components } from "../api/schema";
import { useMe } from "../api/queries";
import { KINDS, type MarkKind } from "./marks";
import { t } from "../words";

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
  { act: "judge", key: "f", words: t("domain:key_map.fits_the_criterion_not_yet") },
  { act: "play", key: " ", words: t("domain:key_map.play_and_stop_marks_placed") },
  { act: "accept", key: "Enter", words: t("domain:key_map.take_the_heard_click_here") },
  { act: "next_click", key: "d", words: t("domain:key_map.the_next_heard_click_or") },
  { act: "fix", key: "x", words: t("domain:key_map.fix_pass_from_uncertain_mark") },
  { act: "loop", key: "g", words: t("domain:key_map.play_this_rep_round_and") },
  { act: "compare", key: "v", words: t("domain:key_map.two_reps_side_by_side") },
  { act: "rows", key: "q", words: t("domain:key_map.one_two_or_three_rows") },
  { act: "loupe", key: "z", words: t("domain:key_map.loupe") },
  { act: "show_keys", key: "?", words: t("domain:key_map.all_keys") },
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
  return key === " " ? t("domain:key_map.space") : key;
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
