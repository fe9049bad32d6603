/** One's own drills as the server has them, and what one does with them. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, faultsOf, given, Refused } from "../../api/client";
import type { components } from "../../api/schema";
import { sendFile } from "../../api/send-file";
import type { Measured } from "../../domain/drill";

type DrillIn = components["schemas"]["DrillIn"];

/** A drill that was done; with the sound, where a clicker was pressed in it. */
export interface Done {
  id: string;
  measured: Measured;
  heard: {
    pcm: Int16Array<ArrayBuffer>;
    /** Seconds of the drill for seconds of the sound; those between its pieces are left out. */
    placed: (clicksS: number[]) => number[];
  } | null;
}

export function useDrills() {
  return useQuery({
    queryKey: ["drills"],
    queryFn: async () => given(await api.GET("/api/drills")),
  });
}

/** Sessions whose films one can drill on. */
export function useDrillSessions() {
  return useQuery({
    queryKey: ["drill-sessions"],
    queryFn: async () => given(await api.GET("/api/drills/sessions")),
  });
}

export function useScored(id: string | null) {
  return useQuery({
    queryKey: ["drill", id],
    enabled: id !== null,
    queryFn: async () =>
      given(await api.GET("/api/drills/{run_id}", { params: { path: { run_id: id ?? "" } } })),
  });
}

export function useBeginDrill() {
  return useMutation({
    networkMode: "always",
    mutationFn: async (body: DrillIn) => given(await api.POST("/api/drills", { body })),
  });
}

/** What the server hears in the sound of a drill: seconds of each click from its first sample. */
async function clicksIn(id: string, pcm: Int16Array<ArrayBuffer>): Promise<number[]> {
  const sent = sendFile(`/api/drills/${id}/heard`, new Blob([pcm]), () => undefined);
  const arrived = await sent.arrived;
  if (!arrived) throw new Error();
  if (arrived.status !== 200) {
    throw new Refused(arrived.status, faultsOf(arrived.body, arrived.status));
  }
  return (arrived.body as components["schemas"]["HeardOut"]).clicks_s;
}

/** Sends what was pressed; from then on it counts. */
export function useFinishDrill() {
  const client = useQueryClient();
  return useMutation({
    // Without a line it is to be said at once that it is not sent.
    networkMode: "always",
    mutationFn: async ({ id, measured, heard }: Done) => {
      const body = heard
        ? {
            ...measured,
            presses: heard.placed(await clicksIn(id, heard.pcm)),
            by: "clicker" as const,
          }
        : measured;
      return given(
        await api.PUT("/api/drills/{run_id}/pressed", { params: { path: { run_id: id } }, body }),
      );
    },
    onSuccess: (scored) => {
      client.setQueryData(["drill", scored.run.id], scored);
      void client.invalidateQueries({ queryKey: ["drills"] });
      void client.invalidateQueries({ queryKey: ["me"] });
    },
  });
}

export function useLeaveOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ id, isOut }: { id: string; isOut: boolean }) =>
      given(
        await api.POST("/api/drills/{run_id}/left-out", {
          params: { path: { run_id: id } },
          body: { left_out: isOut },
        }),
      ),
    onSuccess: (row) => {
      void client.invalidateQueries({ queryKey: ["drill", row.id] });
      void client.invalidateQueries({ queryKey: ["drills"] });
      void client.invalidateQueries({ queryKey: ["me"] });
    },
  });
}
