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
/** A disk that is full, or a server that fails, is not asked every moment. */
const SLOW_RETRY_MS = 10_000;
/** Failures of the server's own after which it is asked only on request. */
const MOST_TRIES = 5;
/** Edits in one request: the server takes 2000. */
const BATCH = 500;

interface Waiting {
  /** Order of making, across tabs. */
  n: number;
  client_id: string;
  body: EditBody;
}

/**
 * `waiting`: there is no connection. `full`: the server's disk is. `failed`: it failed by itself
 * again and again and is asked only on request. `gone`: the session was removed elsewhere.
 */
export type Saving =
  "loading" | "saved" | "saving" | "waiting" | "logged-out" | "full" | "failed" | "gone";

export interface LogState {
  folded: Folded;
  /** The last change of the server this state contains. */
  seq: number;
  waiting: number;
  saving: Saving;
  /** What the server said where it could not save. */
  fault: string | null;
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
  private fault: string | null = null;
  /** Which history the server's numbers count; another one after a backup was restored. */
  private history: string | null = null;
  private tries = 0;
  private most = BATCH;
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
    /** Told how many changes the server did not know any more and is offered again. */
    private readonly onOfferedAgain: (changes: number) => void = () => undefined,
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
    let wait: number | null = POLL_MS;
    try {
      do {
        this.again = false;
        await this.exchange();
      } while ((this.again || this.waiting.length > 0) && !this.isStopped());
      this.saving = "saved";
      this.fault = null;
      this.tries = 0;
    } catch (error) {
      wait = this.troubled(error);
    } finally {
      this.busy = false;
      if (!this.isStopped()) {
        this.changed();
        if (wait !== null) this.timer = window.setTimeout(() => void this.sync(), wait);
      }
    }
  }

  /** Try again now, whatever was before. */
  retry = (): void => {
    this.tries = 0;
    void this.sync();
  };

  /** Say what is the matter; returns when to try again, null for not by itself. */
  private troubled(error: unknown): number | null {
    this.saving = "waiting";
    this.fault = null;
    if (!(error instanceof NotSaved)) return RETRY_MS;
    if (error.status === 401) {
      this.saving = "logged-out";
      return RETRY_MS;
    }
    this.fault = error.message;
    if (error.status === 503) return RETRY_MS;
    if (error.status === 404) {
      this.saving = "gone";
      return null;
    }
    if (error.status === 507) {
      this.saving = "full";
      return SLOW_RETRY_MS;
    }
    this.saving = "failed";
    this.tries += 1;
    return this.tries < MOST_TRIES ? SLOW_RETRY_MS : null;
  }

  private isStopped(): boolean {
    return this.stopped;
  }

  private async exchange(): Promise<void> {
    const path = { session_id: this.sessionId };
    const batch = this.waiting.slice(0, this.most);
    const answer =
      batch.length > 0
        ? await api.POST("/api/sessions/{session_id}/edits", {
            params: { path },
            body: {
              after: this.seq,
              findings: true,
              edits: batch.map(({ client_id, body }) => ({ client_id, body })),
            },
          })
        : await api.GET("/api/sessions/{session_id}/edits", {
            params: { path, query: { after: this.seq } },
          });
    const { status } = answer.response;
    if (!answer.data) {
      const faults = faultsOf(answer.error, status);
      if (batch.length > 0 && REFUSALS.has(status)) this.refused(batch, faults);
      else throw new NotSaved(status, faults[0] ?? "");
      return;
    }
    this.most = BATCH;
    const { history, last } = answer.data;
    const isAnother = this.history !== null && (history !== this.history || last < this.seq);
    this.history = history;
    if (isAnother) await this.offerAgain();
    else this.take(answer.data);
  }

  /** A request that cannot be right: its changes one by one, until the one at fault is found. */
  private refused(batch: Waiting[], faults: string[]): void {
    if (batch.length > 1) {
      this.most = Math.ceil(batch.length / 2);
      return;
    }
    this.most = BATCH;
    for (const { client_id } of batch) this.settle(client_id);
    this.onRefused(faults);
    this.changed();
  }

  /**
   * The server has gone back to an earlier state, as after a backup was restored: what it does
   * not know any more is offered again, before what is waiting already.
   */
  private async offerAgain(): Promise<void> {
    const path = { session_id: this.sessionId };
    const answer = await api.GET("/api/sessions/{session_id}/edits", {
      params: { path, query: { after: 0 } },
    });
    const { status } = answer.response;
    if (!answer.data) throw new NotSaved(status, faultsOf(answer.error, status)[0] ?? "");
    const there = new Set(answer.data.edits.map((edit) => edit.client_id));
    const lost = [...this.server.values()]
      .filter((edit) => !there.has(edit.client_id))
      .sort((a, b) => a.seq - b.seq);
    const before = Math.min(Date.now() * 1000, ...this.waiting.map((w) => w.n)) - lost.length;
    const again = lost.map(({ client_id, body }, place): Waiting => {
      const waiting = { n: before + place, client_id, body };
      localStorage.setItem(this.keyOf(client_id), JSON.stringify(waiting));
      return waiting;
    });
    this.waiting.unshift(...again);
    this.server.clear();
    this.seq = 0;
    this.take(answer.data);
    if (again.length > 0) this.onOfferedAgain(again.length);
  }

  private settle(clientId: string): void {
    localStorage.removeItem(this.keyOf(clientId));
    this.waiting = this.waiting.filter((w) => w.client_id !== clientId);
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
    const bodies = known.map((edit) => edit.body);
    return {
      folded: fold([...bodies, ...this.waiting.map((w) => w.body)]),
      seq: this.seq,
      waiting: this.waiting.length,
      saving: this.saving,
      fault: this.fault,
      canUndo: this.done.length > 0,
      canRedo: this.undone.length > 0,
    };
  }

  private changed(): void {
    const waiting = this.waiting.map((w) => w.client_id).join();
    const key = `${this.history} ${this.seq} ${this.saving} ${this.fault} ${this.done.length} ${this.undone.length} ${waiting}`;
    // Polling that brings nothing new must not redraw the screen.
    if (key === this.key) return;
    this.key = key;
    this.state = this.compute();
    for (const listener of this.listeners) listener();
  }
}

/** Answers to a request that cannot be right, however often it is sent. */
const REFUSALS = new Set([400, 413, 422]);

/** The server answered, and did not save. */
class NotSaved extends Error {
  constructor(
    readonly status: number,
    fault: string,
  ) {
    super(fault);
  }
}
