/**
 * The session's edits: what the server has, and what waits in this browser to be sent.
 *
 * An edit is kept in the browser's storage before anything else happens, under its own
 * key; any tab of the session sends what it finds there, because sending one twice
 * changes nothing. Undo, two tabs, a closed tab, a stopped server and a lost connection
 * are all the same mechanism.
 */

import { api, faultsOf, type EditOut, type EditsOut, type MeasuredOut } from "../api/client";
import { fold, freshId, inverse, type EditBody, type Folded } from "./marks";

const POLL_MS = 2000;
const RETRY_MS = 1500;
/** Edits in one request: the server takes 2000. */
const BATCH = 500;

interface Waiting {
  /** Order of making, across tabs. */
  n: number;
  client_id: string;
  body: EditBody;
}

export type Saving = "loading" | "saved" | "saving" | "waiting" | "logged-out";

export interface LogState {
  folded: Folded;
  /** The last change of the server this state contains. */
  seq: number;
  waiting: number;
  saving: Saving;
  canUndo: boolean;
  canRedo: boolean;
}

export class EditLog {
  private readonly server = new Map<string, EditOut>();
  private waiting: Waiting[] = [];
  private readonly undone: EditBody[][] = [];
  private readonly done: EditBody[][] = [];
  private readonly listeners = new Set<() => void>();
  private readonly channel: BroadcastChannel;
  private seq = 0;
  private saving: Saving = "loading";
  private state: LogState;
  private busy = false;
  private again = false;
  private timer = 0;
  private stopped = true;
  private last = 0;
  private key = "";

  constructor(
    private readonly sessionId: string,
    private readonly onRefused: (faults: string[]) => void,
    /** Told the session as measured with the changes just sent. */
    private readonly onFindings: (measured: MeasuredOut) => void = () => undefined,
  ) {
    this.channel = new BroadcastChannel(`frequens.edits.${sessionId}`);
    this.readStorage();
    this.state = this.compute();
  }

  /** Begin to talk to the server; returns how to stop. */
  start(): () => void {
    this.stopped = false;
    const soon = () => void this.sync();
    const fromTab = () => {
      this.readStorage();
      this.changed();
      soon();
    };
    this.channel.addEventListener("message", fromTab);
    window.addEventListener("online", soon);
    window.addEventListener("focus", soon);
    soon();
    return () => {
      this.stopped = true;
      window.clearTimeout(this.timer);
      this.channel.removeEventListener("message", fromTab);
      window.removeEventListener("online", soon);
      window.removeEventListener("focus", soon);
      this.channel.close();
    };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): LogState => this.state;

  /** Make changes that undo together. */
  apply(bodies: EditBody[]): void {
    if (bodies.length === 0) return;
    this.done.push(inverse(bodies, this.state.folded));
    this.undone.length = 0;
    this.append(bodies);
  }

  undo(): void {
    this.turn(this.done, this.undone);
  }

  redo(): void {
    this.turn(this.undone, this.done);
  }

  private turn(from: EditBody[][], to: EditBody[][]): void {
    const bodies = from.pop();
    if (!bodies) return;
    to.push(inverse(bodies, this.state.folded));
    this.append(bodies);
  }

  private append(bodies: EditBody[]): void {
    for (const body of bodies) {
      this.last = Math.max(this.last + 1, Date.now() * 1000);
      const waiting: Waiting = { n: this.last, client_id: freshId(), body };
      localStorage.setItem(this.keyOf(waiting.client_id), JSON.stringify(waiting));
      this.waiting.push(waiting);
    }
    if (this.saving === "saved") this.saving = "saving";
    this.changed();
    this.channel.postMessage("changed");
    void this.sync();
  }

  private keyOf(clientId: string): string {
    return `frequens.edit.${this.sessionId}.${clientId}`;
  }

  private readStorage(): void {
    const prefix = this.keyOf("");
    const found: Waiting[] = [];
    for (const key of Object.keys(localStorage)) {
      if (!key.startsWith(prefix)) continue;
      try {
        found.push(JSON.parse(localStorage.getItem(key) ?? "") as Waiting);
      } catch {
        // Half a mark cannot be sent; a whole one never reads like this.
        localStorage.removeItem(key);
      }
    }
    this.waiting = found.filter((w) => !this.server.has(w.client_id)).sort((a, b) => a.n - b.n);
  }

  /** Send what waits and fetch what is new, one request at a time. */
  private async sync(): Promise<void> {
    if (this.stopped) return;
    if (this.busy) {
      this.again = true;
      return;
    }
    this.busy = true;
    window.clearTimeout(this.timer);
    let wait = POLL_MS;
    try {
      do {
        this.again = false;
        await this.exchange();
      } while ((this.again || this.waiting.length > 0) && !this.isStopped());
      this.saving = "saved";
    } catch (error) {
      this.saving = error instanceof LoggedOut ? "logged-out" : "waiting";
      wait = RETRY_MS;
    } finally {
      this.busy = false;
      if (!this.isStopped()) {
        this.changed();
        this.timer = window.setTimeout(() => void this.sync(), wait);
      }
    }
  }

  private isStopped(): boolean {
    return this.stopped;
  }

  private async exchange(): Promise<void> {
    const path = { session_id: this.sessionId };
    const batch = this.waiting.slice(0, BATCH);
    const answer =
      batch.length > 0
        ? await api.POST("/api/sessions/{session_id}/edits", {
            params: { path },
            body: {
              after: this.seq,
              findings: true,
              edits: batch.map(({ client_id, body }) => ({
                client_id,
                body: body as unknown as Record<string, never>,
              })),
            },
          })
        : await api.GET("/api/sessions/{session_id}/edits", {
            params: { path, query: { after: this.seq } },
          });
    if (answer.response.status === 401) throw new LoggedOut();
    if (!answer.data) throw new Error(faultsOf(answer.error, answer.response.status)[0]);
    this.take(answer.data);
  }

  private take(answer: EditsOut): void {
    for (const edit of answer.edits) this.server.set(edit.client_id, edit);
    this.seq = Math.max(this.seq, answer.seq);
    const settled = new Set([...(answer.taken ?? []), ...Object.keys(answer.refused ?? {})]);
    for (const edit of answer.edits) settled.add(edit.client_id);
    for (const clientId of settled) localStorage.removeItem(this.keyOf(clientId));
    this.waiting = this.waiting.filter((w) => !settled.has(w.client_id));
    if (answer.findings) this.onFindings(answer.findings);
    const refused = Object.values(answer.refused ?? {}).flat();
    if (refused.length > 0) this.onRefused(refused);
    if (settled.size > 0) this.channel.postMessage("changed");
    this.changed();
  }

  private compute(): LogState {
    const known = [...this.server.values()].sort((a, b) => a.seq - b.seq);
    const bodies = known.map((edit) => edit.body as unknown as EditBody);
    return {
      folded: fold([...bodies, ...this.waiting.map((w) => w.body)]),
      seq: this.seq,
      waiting: this.waiting.length,
      saving: this.saving,
      canUndo: this.done.length > 0,
      canRedo: this.undone.length > 0,
    };
  }

  private changed(): void {
    const waiting = this.waiting.map((w) => w.client_id).join();
    const key = `${this.seq} ${this.saving} ${this.done.length} ${this.undone.length} ${waiting}`;
    // Polling that brings nothing new must not redraw the screen.
    if (key === this.key) return;
    this.key = key;
    this.state = this.compute();
    for (const listener of this.listeners) listener();
  }
}

class LoggedOut extends Error {}
