/**
 * Films on their way to the server: in pieces, several at once, going on where they were after a
 * lost connection, a locked screen or another day. They go on whatever page one looks at.
 */

import { useSyncExternalStore } from "react";
import { DetailedError, Upload } from "tus-js-client";

import { HEAD_BYTES, notAFilmWeRead } from "./not-a-film-we-read";
import { freshId } from "./marks";
import { t } from "../words";
import { api, csrfToken, faultsOf, given } from "../api/client";
import type { components } from "../api/schema";

export type ArrivingFilm = components["schemas"]["ArrivingOut"];

export interface FilmUpload {
  id: string;
  name: string;
  bytes: number;
  /** Part sent, 0 to 1. */
  share: number;
  /** `broken`: nobody answers any more; it can go on. `refused`: sending it again would not help. */
  state: "waiting" | "sending" | "broken" | "refused";
  fault: string | null;
}

const ADDRESS = "/api/films/arriving";
/** Each piece is safe on the server's disk before the next one is sent. */
const PIECE_BYTES = 8 * 1024 * 1024;
const AT_ONCE = 3;
/** How long it waits before each next try, milliseconds: half an hour in all. */
const TRIES_MS = [0, 1000, 3000, 5000, 10_000, ...Array<number>(60).fill(30_000)];
const REFUSED_ANYWAY = new Set([400, 401, 403, 413, 415, 422, 507]);

let shown: readonly FilmUpload[] = [];
let arrived = 0;
const sending = new Map<string, Upload>();
const files = new Map<string, File>();
const listeners = new Set<() => void>();

function show(next: readonly FilmUpload[]) {
  shown = next;
  for (const listener of listeners) listener();
}

function change(id: string, to: Partial<FilmUpload>) {
  show(shown.map((upload) => (upload.id === id ? { ...upload, ...to } : upload)));
}

function listen(listener: () => void) {
  listeners.add(listener);
  return () => void listeners.delete(listener);
}

/** The uploads of this browser, the newest first. */
export function useFilmUploads(): readonly FilmUpload[] {
  return useSyncExternalStore(listen, () => shown);
}

/** A number that changes whenever a film has arrived. */
export function useArrivals(): number {
  return useSyncExternalStore(listen, () => arrived);
}

/** Send a film. One that broke off before goes on where it was. */
export async function sendFilm(file: File): Promise<void> {
  const id = freshId();
  const isUnderWay = [...files.values()].some((other) => isSame(other, file));
  if (isUnderWay) return;
  const begun = { id, name: file.name, bytes: file.size, share: 0 };
  const head = new Uint8Array(await file.slice(0, HEAD_BYTES).arrayBuffer());
  const refusal = notAFilmWeRead(head);
  if (refusal !== null) {
    show([{ ...begun, state: "refused", fault: refusal }, ...shown]);
    return;
  }
  files.set(id, file);
  show([{ ...begun, state: "waiting", fault: null }, ...shown]);
  sendNext();
}

/** Go on with one that nobody answered to. */
export function goOnSending(id: string): void {
  change(id, { state: "waiting", fault: null });
  sendNext();
}

/** Stop one, or put it away; what came of it is removed from the server. */
export async function stopSending(id: string): Promise<void> {
  const upload = sending.get(id);
  forget(id);
  // One the server is just being told of can only be removed there once it has an address.
  if (upload?.url) await upload.abort(true).catch(() => undefined);
}

/** The films that broke off on their way here, from whatever device. */
export async function arrivingFilms(): Promise<ArrivingFilm[]> {
  return given(await api.GET("/api/films/arriving"));
}

/** Give up one that broke off. */
export async function giveUpFilm(id: string): Promise<void> {
  await Upload.terminate(`${ADDRESS}/${id}`, { headers: headers(), retryDelays: [] });
}

function sendNext() {
  const free = AT_ONCE - shown.filter((upload) => upload.state === "sending").length;
  // The oldest first.
  const waiting = shown.filter((upload) => upload.state === "waiting").reverse();
  for (const { id } of waiting.slice(0, Math.max(0, free))) {
    change(id, { state: "sending" });
    void start(id);
  }
}

async function start(id: string) {
  const file = files.get(id);
  if (!file) return;
  const known = await arrivingFilms().catch(() => []);
  const before = known.find((one) => isOf(one, file));
  // Stopped while it was asked.
  if (!files.has(id)) return;
  const upload = new Upload(file, {
    endpoint: ADDRESS,
    uploadUrl: before ? `${ADDRESS}/${before.id}` : null,
    chunkSize: PIECE_BYTES,
    retryDelays: TRIES_MS,
    storeFingerprintForResuming: false,
    metadata: {
      filename: file.name,
      written_at: writtenAt(file),
      zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
    },
    onBeforeRequest: (request) => request.setHeader("X-CSRFToken", csrfToken()),
    onShouldRetry: (error) =>
      files.has(id) && !REFUSED_ANYWAY.has(error.originalResponse?.getStatus() ?? 0),
    onUploadUrlAvailable: () => {
      if (!files.has(id)) void upload.abort(true).catch(() => undefined);
    },
    onProgress: (sent, of) => change(id, { share: of ? sent / of : 0 }),
    onError: (error) => {
      change(id, why(error));
      sendNext();
    },
    onSuccess: () => {
      arrived += 1;
      forget(id);
    },
  });
  sending.set(id, upload);
  upload.start();
}

function forget(id: string) {
  files.delete(id);
  sending.delete(id);
  show(shown.filter((upload) => upload.id !== id));
  sendNext();
}

function why(error: Error): Pick<FilmUpload, "state" | "fault"> {
  const response = error instanceof DetailedError ? error.originalResponse : null;
  const status = response?.getStatus() ?? 0;
  if (status === 0) return { state: "broken", fault: t("domain:film_uploads.nobody_answers") };
  const fault = faultsOf(parsed(response?.getBody()), status)[0] ?? "";
  return { state: status === 401 || status === 507 ? "broken" : "refused", fault };
}

function parsed(text: string | undefined): unknown {
  try {
    return JSON.parse(text ?? "");
  } catch {
    return null;
  }
}

const headers = () => ({ "X-CSRFToken": csrfToken() });
const writtenAt = (file: File) => new Date(file.lastModified).toISOString();

function isSame(one: File, other: File): boolean {
  return (
    one.name === other.name && one.size === other.size && one.lastModified === other.lastModified
  );
}

function isOf(arriving: ArrivingFilm, file: File): boolean {
  return (
    arriving.name === file.name &&
    arriving.bytes === file.size &&
    Date.parse(arriving.written_at ?? "") === file.lastModified
  );
}

/** Do not wait out a pause between two tries when there is a network, or a reader, again. */
function wake() {
  for (const { id, state } of shown) {
    const upload = sending.get(id);
    if (state === "sending" && upload) void upload.abort().then(() => upload.start());
  }
}

window.addEventListener("online", wake);
window.addEventListener("beforeunload", (event) => {
  if (shown.some((upload) => upload.state === "sending")) event.preventDefault();
});
