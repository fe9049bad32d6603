import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import createClient from "openapi-fetch";

import { EditLog } from "../src/bench/edit-log";
import type { EditBody } from "../src/bench/marks";

interface Sent {
  client_id: string;
  body: EditBody;
}

/** The server's side of the agreement: append once, answer with what is new. */
class Server {
  readonly edits: (Sent & { seq: number })[] = [];
  down = false;
  loggedOut = false;
  refuse = new Set<string>();
  /** Takes an edit and then breaks the connection before it can answer. */
  swallowAnswer = false;

  respond = async (input: Request): Promise<Response> => {
    if (this.down) throw new TypeError("Failed to fetch");
    if (this.loggedOut) return Response.json({}, { status: 401 });
    const url = new URL(input.url);
    let after = Number(url.searchParams.get("after") ?? 0);
    const [taken, refused]: [string[], Record<string, string[]>] = [[], {}];
    if (input.method === "POST") {
      const body = (await input.json()) as { edits: Sent[]; after: number };
      after = body.after;
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
    return Response.json({ seq: edits.at(-1)?.seq ?? after, edits, taken, refused });
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
