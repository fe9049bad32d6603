/** Marks as they are stored, and the state a list of edits amounts to. */

export type MarkKind =
  "onset" | "offset" | "marker" | "reward" | "reach" | "cue" | "other_behaviour" | "sign";

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

export interface MarkKindFacts {
  kind: MarkKind;
  key: string;
  words: string;
  /** As it stands on its button; the words where there is none. */
  short?: string;
  /** What has to be said of it before it can stand: its name, or its name and how strong. */
  asks?: "label" | "severity";
}

/** The kinds the bench codes, their keys and their words. */
export const KINDS: MarkKindFacts[] = [
  { kind: "onset", key: "b", words: "behaviour begins", short: "behaviour" },
  { kind: "offset", key: "e", words: "ends" },
  { kind: "marker", key: "m", words: "marker" },
  { kind: "reward", key: "r", words: "reward" },
  { kind: "reach", key: "h", words: "hand moves", short: "hand" },
  { kind: "cue", key: "c", words: "cue" },
  { kind: "other_behaviour", key: "o", words: "other behaviour", short: "other", asks: "label" },
  { kind: "sign", key: "s", words: "sign", asks: "severity" },
];

/** One step of the plan, as documents write it. */
export interface PlanStep {
  key: string;
  title?: string;
  mark_at?: "onset" | "hold" | "offset";
  hold_s?: number;
}

/** The plan, as documents write it; what the bench does not know of it is kept. */
export interface PlanBody {
  rule?: { kind: string } & Record<string, unknown>;
  approximations?: PlanStep[];
  [field: string]: unknown;
}

/** A kind in words. */
export function wordsOf(kind: string): string {
  if (kind === "criterion") return "new step";
  return KINDS.find((k) => k.kind === kind)?.words ?? kind.replaceAll("_", " ");
}

/** A mark in words, with its name where it has one. */
export function markInWords(event: StoredEvent, titleOf: (key: string) => string): string {
  if (event.kind === "criterion" && event.approximation) return titleOf(event.approximation);
  const label = event["label"];
  return typeof label === "string" && label
    ? `${wordsOf(event.kind)}: ${label}`
    : wordsOf(event.kind);
}

/** A fresh id for a mark or an edit. */
export function freshId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
