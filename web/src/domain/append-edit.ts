/** One change to a session from a page that keeps no log of its own. */

import { freshId, type EditBody } from "./marks";
import { api, faultsOf } from "../api/client";
import { t } from "../words";

/** Send one edit; returns what is wrong, empty where it was taken. */
export async function appendEdit(sessionId: string, body: EditBody): Promise<string> {
  const answer = await api
    .POST("/api/sessions/{session_id}/edits", {
      params: { path: { session_id: sessionId } },
      // A page that is left at once must not take the change with it.
      keepalive: true,
      body: { after: 0, findings: false, edits: [{ client_id: freshId(), body }] },
    })
    .catch(() => null);
  if (!answer) return t("domain:append_edit.this_could_not_be_saved");
  if (!answer.data) return faultsOf(answer.error, answer.response.status).join(" ");
  const refused = Object.values(answer.data.refused ?? {}).flat();
  return refused.length > 0
    ? t("domain:append_edit.this_cannot_be_refused", { refused: refused.join("; ") })
    : "";
}
