/** Marks as they are stored, and the state a list of edits amounts to. */

import type { EditOut } from "../api/client";
import type { components } from "../api/schema";
import { titleOfStep } from "./words";

/** What the bench places by a key of its own; a marker by what it means. */
export type MarkKind =
  | "onset"
  | "offset"
  | "marker"
  | "reward"
  | "reach"
  | "cue"
  | "other_behaviour"
  | "sign"
  | "keep_going"
  | "no_reward"
  | "prompt"
  | "reset"
  | "release"
  | "off_task"
  | "bout"
  | "no_cue_window"
  | "part"
  | "exposure"
  | "note";

/** An event as edits carry it: on a frame of a clip, or, where it came from elsewhere, at a time. */
export type StoredEvent = components["schemas"]["StoredEvent"];
export type EditBody = EditOut["body"];

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
    else if (body.op === "marks") state.events = new Map(body.events.map((e) => [e.id, e]));
    else if (body.op === "facts") Object.assign(state.facts, body.set);
  }
  return state;
}

/** The edits that undo these, given the state before them; last one first. */
export function inverse(bodies: EditBody[], before: Folded): EditBody[] {
  const undone: EditBody[] = [];
  let events = new Map(before.events);
  const facts = { ...before.facts };
  for (const body of bodies) {
    if (body.op === "note") continue;
    if (body.op === "facts") {
      const previous = Object.fromEntries(
        Object.keys(body.set).map((key) => [key, facts[key] ?? null]),
      );
      undone.unshift({ op: "facts", set: previous });
      Object.assign(facts, body.set);
      continue;
    }
    if (body.op === "marks") {
      undone.unshift({ op: "marks", events: [...events.values()] });
      events = new Map(body.events.map((e) => [e.id, e]));
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
  /** What has to be said of it before it can stand. */
  asks?: "label" | "severity" | "level" | "text";
  /** Needed now and then: it stands in the menu, not on the bar. */
  rare?: boolean;
}

/** The kinds the bench codes, their usual keys and their words. */
export const KINDS: MarkKindFacts[] = [
  { kind: "onset", key: "b", words: "behaviour begins", short: "behaviour" },
  { kind: "offset", key: "e", words: "ends" },
  { kind: "marker", key: "m", words: "marker" },
  { kind: "reward", key: "r", words: "reward" },
  { kind: "reach", key: "h", words: "hand moves", short: "hand" },
  { kind: "cue", key: "c", words: "cue" },
  { kind: "other_behaviour", key: "o", words: "other behaviour", short: "other", asks: "label" },
  { kind: "sign", key: "s", words: "sign", asks: "severity" },
  { kind: "prompt", key: "p", words: "prompt: help is given", asks: "level", rare: true },
  { kind: "keep_going", key: "k", words: "keep-going marker", rare: true },
  { kind: "no_reward", key: "n", words: "no-reward marker", rare: true },
  {
    kind: "reset",
    key: "t",
    words: "reset: sent away for the next rep",
    short: "sent away",
    rare: true,
  },
  { kind: "release", key: "l", words: "let go: told it may leave", short: "let go", rare: true },
  { kind: "off_task", key: "a", words: "away from the work, and back", rare: true },
  { kind: "bout", key: "w", words: "work pauses, and begins again", rare: true },
  {
    kind: "no_cue_window",
    key: "u",
    words: "uncued wait begins, and ends",
    short: "wait",
    rare: true,
  },
  { kind: "part", key: "y", words: "next part of the chain", short: "next part", rare: true },
  {
    kind: "exposure",
    key: "i",
    words: "it is touched, or hears or feels something",
    short: "touch",
    asks: "label",
    rare: true,
  },
  { kind: "note", key: "j", words: "jot a note", asks: "text", rare: true },
];

/** One step of the plan, as documents write it. */
export interface PlanStep {
  key: string;
  title?: string;
  mark_at?: "onset" | "hold" | "offset";
  hold_s?: number;
  until_release?: boolean;
  answers?: boolean;
  parts?: { key: string; title?: string }[];
  quantity?: { name: string; unit: string };
}

/** The plan, as documents write it; what the bench does not know of it is kept. */
export interface PlanBody {
  rule?: { kind: string } & Record<string, unknown>;
  approximations?: PlanStep[];
  cues?: { label: string; behaviour: string }[];
  [field: string]: unknown;
}

/** A kind of event in words, as it stands in lists. */
export function wordsOf(kind: string): string {
  return EVENT_WORDS[kind] ?? KINDS.find((k) => k.kind === kind)?.words ?? kind;
}

const EVENT_WORDS: Record<string, string> = {
  criterion: "new step",
  bout_start: "work begins",
  bout_end: "work pauses",
  off_task_start: "away from the work",
  off_task_end: "back at work",
  no_cue_window: "uncued wait",
  part: "part",
  exposure: "touch",
  prompt: "prompt",
  reset: "reset",
  release: "let go",
  note: "note",
  keep_going: "keep-going marker",
  no_reward: "no-reward marker",
};

/** A mark in words, with its name where it has one. */
export function markInWords(event: StoredEvent, plan: PlanBody): string {
  if (event.kind === "criterion" && event.approximation) {
    return titleOfStep(plan, event.approximation);
  }
  if (event.kind === "part") return `part: ${partTitle(plan, event["part"])}`;
  if (event.kind === "marker" && event.marker) {
    return event.marker === "event" ? "marker" : wordsOf(event.marker);
  }
  const said = event["label"] ?? event["text"] ?? event["level"];
  const words = wordsOf(event.kind);
  return typeof said === "string" && said ? `${words}: ${said.replaceAll("_", " ")}` : words;
}

/** The event a key places: its kind and the fields that go with it, given what went before. */
export function eventOf(
  kind: MarkKind,
  before: StoredEvent[],
): { kind: StoredEvent["kind"]; fields: Record<string, unknown> } {
  switch (kind) {
    case "marker":
      return { kind: "marker", fields: { marker: "event" } };
    case "keep_going":
    case "no_reward":
      return { kind: "marker", fields: { marker: kind } };
    case "off_task": {
      const last = before.findLast((e) => e.kind.startsWith("off_task"));
      const isAway = last?.kind === "off_task_start";
      return { kind: isAway ? "off_task_end" : "off_task_start", fields: {} };
    }
    case "bout": {
      const last = before.findLast((e) => e.kind.startsWith("bout"));
      // Work goes on from the film's beginning: the first press says that it pauses.
      return { kind: last?.kind === "bout_end" ? "bout_start" : "bout_end", fields: {} };
    }
    default:
      return { kind, fields: {} };
  }
}

/** A part of a chain by its key, in words. */
export function partTitle(plan: PlanBody, key: unknown): string {
  const all = (plan.approximations ?? []).flatMap((step) => step.parts ?? []);
  const title = all.find((part) => part.key === key)?.title;
  return title ? title : typeof key === "string" ? key : "";
}

/** A fresh id for a mark or an edit. */
export function freshId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
