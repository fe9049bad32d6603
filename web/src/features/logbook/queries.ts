/** What the logbook asks the server for. */

import { useQuery } from "@tanstack/react-query";

import { api, given } from "../../api/client";

export const logbookKey = (behaviourId: string) => ["logbook", behaviourId];

/** One behaviour over its sessions. */
export function useLogbook(behaviourId: string) {
  return useQuery({
    queryKey: logbookKey(behaviourId),
    enabled: behaviourId !== "",
    queryFn: async () =>
      given(
        await api.GET("/api/logbook/{behaviour_id}", {
          params: { path: { behaviour_id: behaviourId } },
        }),
      ),
  });
}
