/** Logging in and out, and the password: the accounts' own interface. */

import { csrfToken } from "./client";
import { t } from "../words";

const BASE = "/_allauth/browser/v1";

interface Answer {
  status: number;
  errors?: { message: string; param?: string; code?: string }[];
}

async function call(method: string, path: string, body?: unknown): Promise<Answer> {
  const response = await fetch(BASE + path, {
    method,
    credentials: "same-origin",
    headers: { "Content-Type": "application/json", "X-CSRFToken": csrfToken() },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
  const answer = (await response.json().catch(() => ({}))) as Partial<Answer>;
  return { ...answer, status: response.status };
}

/** What went wrong in one sentence, null for success. */
function sentence(answer: Answer, otherwise: string): string | null {
  if (answer.status === 200) return null;
  if (answer.status === 429) return t("api:account.too_many_tries_wait_five");
  return answer.errors?.map((e) => e.message).join(" ") || otherwise;
}

/** Log in; returns the fault, null for success. */
export async function login(username: string, password: string): Promise<string | null> {
  const answer = await call("POST", "/auth/login", { username, password });
  // Already logged in: nothing left to do.
  if (answer.status === 409) return null;
  return sentence(answer, t("api:account.the_name_or_the_password"));
}

/** Log out. */
export async function logout(): Promise<void> {
  await call("DELETE", "/auth/session");
}

/** Change the password; returns the fault, null for success. */
export async function changePassword(current: string, next: string): Promise<string | null> {
  const answer = await call("POST", "/account/password/change", {
    current_password: current,
    new_password: next,
  });
  return sentence(answer, t("api:account.the_password_could_not_be"));
}
