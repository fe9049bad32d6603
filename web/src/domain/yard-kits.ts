/**
 * What this phone took along to the yard: kept in the browser whenever the server was there, so that a
 * session can be led without a network. One user's kits are never another's.
 */

import { useQuery } from "@tanstack/react-query";

import { api, given } from "../api/client";
import type { components } from "../api/schema";

export type YardKit = components["schemas"]["YardKit"];

interface Kept {
  user: string;
  at: string;
  kits: YardKit[];
}

const KEY = "frequens.yard-kits";

/** The kits: fresh ones where there is a network, else those taken along; `at` says when. */
export function useYardKits() {
  return useQuery({
    queryKey: ["yard-kits"],
    // Asked also where the browser says that it is offline: then the kept ones are the answer.
    networkMode: "always",
    retry: false,
    queryFn: async (): Promise<Kept & { isFresh: boolean }> => {
      try {
        const [me, kits] = await Promise.all([api.GET("/api/me"), api.GET("/api/yard")]);
        const user = given(me).username;
        const kept: Kept = {
          user,
          at: new Date().toISOString(),
          kits: given(kits),
        };
        localStorage.setItem(KEY, JSON.stringify(kept));
        return { ...kept, isFresh: true };
      } catch (error) {
        const kept = keptKits();
        // Whoever is logged out, or refused, shall know it; nobody answering is what kits are for.
        if (!(error instanceof TypeError) || kept === null) throw error;
        return { ...kept, isFresh: false };
      }
    },
  });
}

/** What was taken along, null where nothing was. */
export function keptKits(): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

/** On this phone nothing of it stays; sessions that were led and not sent yet do. */
export function forgetKits(): void {
  localStorage.removeItem(KEY);
}
