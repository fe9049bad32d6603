/** Marks as they are stored, and the state a list of edits amounts to. */

export type MarkKind = "onset" | "offset" | "marker" | "reward" | "reach";

/** An event as edits carry it: on a frame, or, where it came from elsewhere, at a time. */
export interface StoredEvent {
  id: string;
  kind: string;
  frame?: number;
  pts?: number;
  t?: number;
  width?: number;
  marker?: string;
  met?: boolean | null;
  approximation?: string;
  [field: string]: unknown;
}

export type EditBody =
  | { op: "put"; event: StoredEvent }
  | { op: "drop"; id: string }
  | { op: "facts"; set: Record<string, unknown> };

export interface Folded {
  events: Map<string, StoredEvent>;
  facts: Record<string, unknown>;
}

/** Apply edits in their order; the last one wins. */
export function fold(bodies: Iterable<EditBody>): Folded {
  const state: Folded = { events: new Map(), facts: {} };
  for (const body of bodies) {
    if (body.op === "put") state.events.set(body.event.id, body.event);
    else if (body.op === "drop") state.events.delete(body.id);
    else Object.assign(state.facts, body.set);
  }
  return state;
}

/** The edits that undo these, given the state before them; last one first. */
export function inverse(bodies: EditBody[], before: Folded): EditBody[] {
  const undone: EditBody[] = [];
  const events = new Map(before.events);
  const facts = { ...before.facts };
  for (const body of bodies) {
    if (body.op === "facts") {
      const previous = Object.fromEntries(
        Object.keys(body.set).map((key) => [key, facts[key] ?? null]),
      );
      undone.unshift({ op: "facts", set: previous });
      Object.assign(facts, body.set);
      continue;
    }
    const id = body.op === "put" ? body.event.id : body.id;
    const previous = events.get(id);
    if (previous) undone.unshift({ op: "put", event: previous });
    else if (body.op === "put") undone.unshift({ op: "drop", id });
    if (body.op === "put") events.set(id, body.event);
    else events.delete(id);
  }
  return undone;
}

/** The kinds the bench codes: their key, their words, and what a hollow place for one is called. */
export const KINDS: { kind: MarkKind; key: string; words: string; short: string }[] = [
  { kind: "onset", key: "b", words: "behaviour begins", short: "begins" },
  { kind: "offset", key: "e", words: "ends", short: "ends" },
  { kind: "marker", key: "m", words: "marker", short: "marker" },
  { kind: "reward", key: "r", words: "reward", short: "reward" },
  { kind: "reach", key: "h", words: "hand moves", short: "hand" },
];

/** A kind in words. */
export function wordsOf(kind: string): string {
  return KINDS.find((k) => k.kind === kind)?.words ?? kind.replaceAll("_", " ");
}

/** A fresh id for a mark or an edit. */
export function freshId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
