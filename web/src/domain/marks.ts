/** Marks as they are stored, and the state a list of edits amounts to. */

import type { EditOut } from "../api/client";
import type { components } from "../api/schema";
import { titleOfStep } from "./words";
import { t } from "../words";

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
  {
    kind: "onset",
    key: "b",
    words: t("domain:marks.behaviour_begins"),
    short: t("domain:marks.behaviour"),
  },
  { kind: "offset", key: "e", words: t("common:ends") },
  { kind: "marker", key: "m", words: t("common:marker") },
  { kind: "reward", key: "r", words: t("domain:marks.reward") },
  { kind: "reach", key: "h", words: t("domain:marks.hand_moves"), short: t("domain:marks.hand") },
  { kind: "cue", key: "c", words: t("common:cue") },
  {
    kind: "other_behaviour",
    key: "o",
    words: t("domain:marks.other_behaviour"),
    short: t("domain:marks.other"),
    asks: "label",
  },
  { kind: "sign", key: "s", words: t("domain:marks.sign"), asks: "severity" },
  {
    kind: "prompt",
    key: "p",
    words: t("domain:marks.prompt_help_is_given"),
    asks: "level",
    rare: true,
  },
  { kind: "keep_going", key: "k", words: t("domain:marks.keep_going_marker"), rare: true },
  { kind: "no_reward", key: "n", words: t("domain:marks.no_reward_marker"), rare: true },
  {
    kind: "reset",
    key: "t",
    words: t("domain:marks.reset_sent_away_for_the"),
    short: t("domain:marks.sent_away"),
    rare: true,
  },
  {
    kind: "release",
    key: "l",
    words: t("domain:marks.let_go_told_it_may"),
    short: t("domain:marks.let_go"),
    rare: true,
  },
  { kind: "off_task", key: "a", words: t("domain:marks.away_from_the_work_and"), rare: true },
  { kind: "bout", key: "w", words: t("domain:marks.work_pauses_and_begins_again"), rare: true },
  {
    kind: "no_cue_window",
    key: "u",
    words: t("domain:marks.uncued_wait_begins_and_ends"),
    short: t("domain:marks.wait"),
    rare: true,
  },
  {
    kind: "part",
    key: "y",
    words: t("domain:marks.next_part_of_the_chain"),
    short: t("domain:marks.next_part"),
    rare: true,
  },
  {
    kind: "exposure",
    key: "i",
    words: t("domain:marks.it_is_touched_or_hears"),
    short: t("common:touch"),
    asks: "label",
    rare: true,
  },
  { kind: "note", key: "j", words: t("domain:marks.jot_a_note"), asks: "text", rare: true },
];

/** One step of the plan, as documents write it. */

/** One step of the plan, as a session knows it. */
export type PlanStep = components["schemas"]["SessionStep"];
/** The plan a session is coded under. */
export type PlanBody = components["schemas"]["SessionPlan"];

/** A kind of event in words, as it stands in lists. */
export function wordsOf(kind: string): string {
  return EVENT_WORDS[kind] ?? KINDS.find((k) => k.kind === kind)?.words ?? kind;
}

const EVENT_WORDS: Record<string, string> = {
  criterion: t("domain:marks.new_step"),
  bout_start: t("domain:marks.work_begins"),
  bout_end: t("domain:marks.work_pauses"),
  off_task_start: t("domain:marks.away_from_the_work"),
  off_task_end: t("domain:marks.back_at_work"),
  no_cue_window: t("domain:marks.uncued_wait"),
  part: t("domain:marks.part"),
  exposure: t("domain:marks.touch"),
  prompt: t("domain:marks.prompt"),
  reset: t("domain:marks.reset"),
  release: t("domain:marks.let_go"),
  note: t("domain:marks.note"),
  keep_going: t("domain:marks.keep_going_marker"),
  no_reward: t("domain:marks.no_reward_marker"),
};

/** A mark in words, with its name where it has one. */
export function markInWords(event: StoredEvent, plan: PlanBody): string {
  if (event.kind === "criterion" && event.approximation) {
    return titleOfStep(plan, event.approximation);
  }
  if (event.kind === "part")
    return t("domain:marks.part_plan", { plan: partTitle(plan, event["part"]) });
  if (event.kind === "marker" && event.marker) {
    return event.marker === "event" ? t("domain:marks.marker") : wordsOf(event.marker);
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
