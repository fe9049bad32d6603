/** The typed way to the server. */

import createClient from "openapi-fetch";

import type { components, paths } from "./schema";
import { t } from "../words";

export type FilmOut = components["schemas"]["FilmOut"];
export type StageOut = components["schemas"]["StageOut"];
export type SessionOut = components["schemas"]["SessionOut"];
export type SessionRow = components["schemas"]["SessionRow"];
export type EditOut = components["schemas"]["EditOut"];
export type MeasuredOut = components["schemas"]["FindingsOut"];
export type EditsOut = components["schemas"]["EditsOut"];

/** The token every changing request must carry, from the cookie the page came with. */
export function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]*)/.exec(document.cookie)?.[1] ?? "";
}

/** The server said no, with a sentence for the user. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly faults: string[],
  ) {
    super(faults.join("\n"));
  }
}

/** A house that is busy for a moment is asked again so often, a second apart. */
const BUSY_TRIES = 6;

/** Fetch, and again where the server says that it is busy: then nothing has happened yet. */
async function patiently(request: Request): Promise<Response> {
  for (let tries = 1; ; tries++) {
    const answer = await fetch(request.clone());
    if (answer.status !== 503 || tries === BUSY_TRIES) return answer;
    await new Promise((resolve) => setTimeout(resolve, 1000));
  }
}

export const api = createClient<paths>({ credentials: "same-origin", fetch: patiently });

api.use({
  onRequest({ request }) {
    request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
});

/** The data of an answer, or Refused. */
export function given<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.response.ok) return answer.data as T;
  throw new Refused(answer.response.status, faultsOf(answer.error, answer.response.status));
}

/** Why nothing came of it, in one text; `answer` is null where nobody answered. */
export function whyNot(answer: { error?: unknown; response: Response } | null): string {
  return answer
    ? faultsOf(answer.error, answer.response.status).join(" ")
    : t("api:client.the_server_does_not_answer");
}

/** The sentences an error answer carries. */
export function faultsOf(error: unknown, status: number): string[] {
  if (typeof error === "object" && error !== null) {
    const { fault, faults } = error as { fault?: string; faults?: string[] };
    if (fault) return [fault];
    if (faults?.length) return faults;
  }
  if (status === 401) return [t("api:client.you_are_logged_out_log")];
  if (status === 404) return [t("api:client.this_is_not_here_or")];
  return [t("api:client.the_server_could_not_do", { status })];
}
