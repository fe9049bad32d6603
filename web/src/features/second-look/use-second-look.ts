/** Second looks as the server has them, and what one does with them. */

import { useQuery, useQueryClient } from "@tanstack/react-query";

import { api, given } from "../../api/client";
import type { components } from "../../api/schema";

export type SecondLook = components["schemas"]["SecondLookOut"];
export type SecondLooks = components["schemas"]["SecondLooksOut"];

/** One second look, asked for again while somebody else may be done with their part. */
export function useSecondLook(id: string) {
  return useQuery({
    queryKey: ["second-look", id],
    queryFn: async () =>
      given(await api.GET("/api/second-looks/{look_id}", { params: { path: { look_id: id } } })),
    refetchInterval: (query) => (query.state.data?.opened_at ? false : 5000),
  });
}

/** The two codings side by side, once they may be seen. */
export function useComparison(id: string, isOpened: boolean) {
  return useQuery({
    queryKey: ["comparison", id],
    enabled: isOpened,
    queryFn: async () =>
      given(
        await api.GET("/api/second-looks/{look_id}/comparison", {
          params: { path: { look_id: id } },
        }),
      ),
  });
}

/** Says that a coding is done, or not yet after all; keeps what the server then says. */
export function useSayDone(id: string) {
  const client = useQueryClient();
  return async (coding: "first" | "second", isDone: boolean) => {
    const answer = await api.POST("/api/second-looks/{look_id}/done", {
      params: { path: { look_id: id } },
      body: { coding, is_done: isDone },
    });
    client.setQueryData(["second-look", id], given(answer));
    void client.invalidateQueries({ queryKey: ["second-looks"] });
  };
}
