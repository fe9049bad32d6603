// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import createClient from "openapi-fetch";

import { EditLog } from "../src/domain/edit-log";
import type { EditBody } from "../src/domain/marks";

interface Sent {
  client_id: string;
  body: EditBody;
}

/** The server's side of the agreement: append once, answer with what is new. */
class Server {
  readonly edits: (Sent & { seq: number })[] = [];
  down = false;
  loggedOut = false;
  history = "first";
  /** Answers with this status and fault to whatever is sent. */
  fails: { status: number; fault: string } | null = null;
  /** Refuses every request that holds this event, whole. */
  poison: string | null = null;
  asked = 0;
  refuse = new Set<string>();
  /** Takes an edit and then breaks the connection before it can answer. */
  swallowAnswer = false;

  respond = async (input: Request): Promise<Response> => {
    if (this.down) throw new TypeError("Failed to fetch");
    this.asked += 1;
    if (this.fails)
      return Response.json({ fault: this.fails.fault }, { status: this.fails.status });
    if (this.loggedOut) return Response.json({}, { status: 401 });
    const url = new URL(input.url);
    let after = Number(url.searchParams.get("after") ?? 0);
    const [taken, refused]: [string[], Record<string, string[]>] = [[], {}];
    if (input.method === "POST") {
      const body = (await input.json()) as { edits: Sent[]; after: number };
      after = body.after;
      const holds = (e: Sent) => e.body.op === "put" && e.body.event.id === this.poison;
      if (body.edits.some(holds)) return Response.json({ faults: ["text: bad"] }, { status: 422 });
      for (const edit of body.edits) {
        if (edit.body.op === "put" && this.refuse.has(edit.body.event.id)) {
          refused[edit.client_id] = ["event.frame: no such frame"];
          continue;
        }
        taken.push(edit.client_id);
        if (!this.edits.some((e) => e.client_id === edit.client_id)) {
          this.edits.push({ ...edit, seq: this.edits.length + 1 });
        }
      }
      if (this.swallowAnswer) {
        this.swallowAnswer = false;
        throw new TypeError("Failed to fetch");
      }
    }
    const edits = this.edits.filter((e) => e.seq > after);
    const last = this.edits.at(-1)?.seq ?? 0;
    const seq = edits.at(-1)?.seq ?? after;
    return Response.json({ history: this.history, last, seq, edits, taken, refused });
  };
}

const put = (id: string, frame = 1): EditBody => ({
  op: "put",
  event: { id, kind: "onset", frame },
});
const marks = (log: EditLog) => [...log.snapshot().folded.events.keys()];

let server: Server;

// The page's own way to the server, with the network taken out from under it.
vi.mock("../src/api/client", async (original) => ({
  ...(await original<object>()),
  api: createClient({
    baseUrl: "http://house.test",
    fetch: (request) => server.respond(request),
  }),
}));
let stops: (() => void)[];
let refusals: string[][];

function open(): EditLog {
  const log = new EditLog("s1", (faults) => refusals.push(faults));
  stops.push(log.start());
  return log;
}

beforeEach(() => {
  server = new Server();
  stops = [];
  refusals = [];
  localStorage.clear();
});

afterEach(() => {
  for (const stop of stops) stop();
});

const saved = (log: EditLog) =>
  vi.waitFor(() => expect([log.snapshot().saving, log.snapshot().waiting]).toEqual(["saved", 0]), {
    timeout: 5000,
  });

describe("EditLog", () => {
  it("shows a mark at once and saves it", async () => {
    const log = open();
    await saved(log);
    log.apply([put("a")]);
    expect(marks(log)).toEqual(["a"]);
    await saved(log);
    expect(server.edits).toHaveLength(1);
    expect(localStorage.length).toBe(0);
  });

  it("keeps marks in the browser while the server is away, through a closed tab, and sends them once", async () => {
    const log = open();
    await saved(log);
    server.down = true;
    log.apply([put("a")]);
    log.apply([put("b")]);
    await vi.waitFor(() => expect(log.snapshot().saving).toBe("waiting"));
    expect(log.snapshot().waiting).toBe(2);
    for (const stop of stops.splice(0)) stop();
    server.down = false;
    const later = open();
    expect(marks(later)).toEqual(["a", "b"]);
    await saved(later);
    expect(server.edits.map((e) => e.body.op === "put" && e.body.event.id)).toEqual(["a", "b"]);
  });

  it("sends a mark again when the answer was lost, and it is there once", async () => {
    const log = open();
    await saved(log);
    server.swallowAnswer = true;
    log.apply([put("a")]);
    await vi.waitFor(() => expect(log.snapshot().saving).toBe("waiting"));
    await saved(log);
    expect(server.edits).toHaveLength(1);
  });

  it("undoes and redoes, also what was done before the server answered", async () => {
    const log = open();
    log.apply([put("a", 1)]);
    log.apply([put("a", 5)]);
    log.undo();
    expect(log.snapshot().folded.events.get("a")?.frame).toBe(1);
    log.undo();
    expect(marks(log)).toEqual([]);
    log.redo();
    log.redo();
    expect(log.snapshot().folded.events.get("a")?.frame).toBe(5);
    await saved(log);
    expect(log.snapshot().folded.events.get("a")?.frame).toBe(5);
    log.undo();
    log.apply([put("b")]);
    expect(log.snapshot().canRedo).toBe(false);
  });

  it("brings two tabs together", async () => {
    const [one, two] = [open(), open()];
    await saved(one);
    await saved(two);
    one.apply([put("a")]);
    await vi.waitFor(() => expect(marks(two)).toEqual(["a"]), { timeout: 5000 });
    two.apply([{ op: "drop", id: "a" }]);
    await vi.waitFor(() => expect(marks(one)).toEqual([]), { timeout: 5000 });
  });

  it("takes back what the server refuses and says why", async () => {
    const log = open();
    await saved(log);
    server.refuse.add("a");
    log.apply([put("a")]);
    await saved(log);
    expect(marks(log)).toEqual([]);
    expect(refusals).toEqual([["event.frame: no such frame"]]);
    expect(localStorage.length).toBe(0);
  });

  it("offers again what a restored server does not know any more, in its order", async () => {
    const log = open();
    await saved(log);
    for (const id of ["a", "b", "c"]) log.apply([put(id)]);
    await saved(log);
    // A backup of before b is restored, and somebody else goes on from there.
    server.edits.splice(1);
    server.edits.push({ client_id: "other", body: put("o"), seq: 2 });
    server.history = "second";
    log.apply([put("d")]);
    await saved(log);
    const kept = server.edits.map((e) => (e.body.op === "put" ? e.body.event.id : ""));
    expect(kept.filter((id) => id !== "d")).toEqual(["a", "o", "b", "c"]);
    expect(marks(log).sort()).toEqual(["a", "b", "c", "d", "o"]);
    expect(localStorage.length).toBe(0);
  });

  it("notices a server that went back without saying so", async () => {
    const log = open();
    await saved(log);
    for (const id of ["a", "b"]) log.apply([put(id)]);
    await saved(log);
    server.edits.splice(1);
    await vi.waitFor(() => expect(server.edits).toHaveLength(2), { timeout: 5000 });
    expect(marks(log)).toEqual(["a", "b"]);
  });

  it("finds the one change that cannot be and saves the others", async () => {
    const log = open();
    await saved(log);
    server.down = true;
    for (const id of ["a", "b", "bad", "c", "d"]) log.apply([put(id)]);
    server.poison = "bad";
    server.down = false;
    await saved(log);
    expect(marks(log).sort()).toEqual(["a", "b", "c", "d"]);
    expect(refusals).toEqual([["text: bad"]]);
    expect(localStorage.length).toBe(0);
  });

  it.each([
    [500, "failed"],
    [507, "full"],
    [404, "gone"],
  ] as const)("says what a %s is and does not go on asking at once", async (status, saving) => {
    const log = open();
    await saved(log);
    server.fails = { status, fault: "The disk is full." };
    log.apply([put("a")]);
    await vi.waitFor(() => expect(log.snapshot().saving).toBe(saving));
    expect(log.snapshot().fault).toBe("The disk is full.");
    expect(log.snapshot().waiting).toBe(1);
    const asked = server.asked;
    await new Promise((resolve) => setTimeout(resolve, 2500));
    expect(server.asked).toBe(asked);
    server.fails = null;
    log.retry();
    await saved(log);
    expect(server.edits).toHaveLength(1);
  });

  it("says that one is logged out and keeps what was marked", async () => {
    const log = open();
    await saved(log);
    server.loggedOut = true;
    log.apply([put("a")]);
    await vi.waitFor(() => expect(log.snapshot().saving).toBe("logged-out"));
    expect(log.snapshot().waiting).toBe(1);
    server.loggedOut = false;
    await saved(log);
    expect(server.edits).toHaveLength(1);
  });
});
