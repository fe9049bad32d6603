/** The `frequens-plan` document, and what is done to it: pure changes, each a new document. */

import type { components } from "../api/schema";
import { freshId } from "./marks";
import { counted, percent } from "./times";
import { t } from "../words";

export type BehaviourOut = components["schemas"]["BehaviourOut"];
export type LearnerOut = components["schemas"]["LearnerOut"];
export type RemarkOut = components["schemas"]["RemarkOut"];

export const WAYS = [
  { way: "free_shaping", words: t("domain:plan_document.free_shaping") },
  { way: "capturing", words: t("domain:plan_document.capturing") },
  { way: "luring", words: t("domain:plan_document.luring_then_fading") },
  { way: "targeting", words: t("domain:plan_document.targeting") },
] as const;
export const DIMENSIONS = [
  { dimension: "topography", words: t("domain:plan_document.form") },
  { dimension: "precision", words: t("domain:plan_document.precision") },
  { dimension: "speed", words: t("domain:plan_document.speed") },
  { dimension: "duration", words: t("domain:plan_document.duration") },
  { dimension: "distance", words: t("domain:plan_document.distance") },
  { dimension: "distraction", words: t("domain:plan_document.distraction") },
] as const;
export const MARK_AT = [
  { at: "onset", words: t("domain:plan_document.as_it_begins") },
  { at: "hold", words: t("domain:plan_document.after_a_hold") },
  { at: "offset", words: t("domain:plan_document.as_it_ends") },
] as const;

/** What a stage is for, with the practice its usual numbers come from. */
export const STAGE_KINDS = [
  {
    kind: "getting_used",
    words: t("domain:plan_document.getting_used"),
    practice: t("domain:plan_document.getting_used_practice"),
  },
  {
    kind: "short_goes",
    words: t("domain:plan_document.short_goes"),
    practice: t("domain:plan_document.short_goes_practice"),
  },
  {
    kind: "fetch",
    words: t("domain:plan_document.fetch"),
    practice: t("domain:plan_document.fetch_practice"),
  },
  {
    kind: "own",
    words: t("domain:plan_document.own"),
    practice: t("domain:plan_document.own_practice"),
  },
] as const;

type Schemas = components["schemas"];
export type PlanDocument = Schemas["PlanDocument"];
export type Step = Schemas["PlanStep"];
/** One part of a chain. */
export type Part = Schemas["ChainPart"];
/** What is measured of a step's reps. */
export type Quantity = Schemas["StepQuantity"];
/** The rungs of one quantity. */
export type PlanLadder = Schemas["PlanLadder"];
/** A stretch of the programme that takes weeks. */
export type Stage = Schemas["PlanStage"];
/** A school with its numbers. */
export type Rule = Schemas["PlanRule"];
export type Way = NonNullable<Step["way"]>;

/** Some of a thing's values; undefined takes one out. */
export type Changes<T> = { [K in keyof T]?: T[K] | undefined };

/** The steps in use, in their order. */
export function stepsOf(plan: PlanDocument): Step[] {
  return (plan.approximations ?? []).filter((step) => !step.retired);
}

/** The plan with some of its values changed; undefined takes one out. */
export function withValues(plan: PlanDocument, values: Changes<PlanDocument>): PlanDocument {
  return stripped<PlanDocument>({ ...plan, ...values });
}

/** The plan with one step changed; undefined takes a value out. */
export function withStep(plan: PlanDocument, key: string, values: Changes<Step>): PlanDocument {
  const approximations = (plan.approximations ?? []).map((step) => {
    if (step.key !== key) return step;
    const changed = stripped<Step>({ ...step, ...values });
    if (changed.mark_at === "hold") changed.hold_s ??= 1;
    else delete changed.hold_s;
    return changed;
  });
  return { ...plan, approximations };
}

/** A new step after the one with this key, or at the foot of the flight. */
export function withNewStep(
  plan: PlanDocument,
  after: string | null,
  values: Partial<Step> = {},
): { plan: PlanDocument; key: string } {
  const steps = [...(plan.approximations ?? [])];
  const place = after === null ? 0 : steps.findIndex((step) => step.key === after) + 1;
  const before = steps.slice(0, place).findLast((step) => !step.retired);
  const step: Step = {
    key: freshId().slice(0, 8),
    mark_at: "onset",
    ...(before ? { fallback: before.key } : {}),
    ...values,
  };
  steps.splice(place, 0, step);
  const above = steps.slice(place + 1).find((other) => !other.retired);
  // The step above falls back to the new one, where it fell back to the one below.
  const approximations = steps.map((other) =>
    other === above && other.fallback === before?.key ? { ...other, fallback: step.key } : other,
  );
  return { plan: { ...plan, approximations }, key: step.key };
}

/** The step's parts with a new one at the end. */
export function withNewPart(parts: Part[]): Part[] {
  return [...parts, { key: freshId().slice(0, 8), title: "" }];
}

/** Parts of a chain as steps hold them: the same part has the same key in every step. */
export function partsNamed(plan: PlanDocument, names: string[]): Part[] {
  const known = new Map(
    (plan.approximations ?? []).flatMap((s) => (s.parts ?? []).map((p) => [p.title, p.key])),
  );
  return names.map((title) => ({ key: known.get(title) ?? keyOf(title), title }));
}

/** A key made from a name, so that one and the same name gives one and the same key. */
function keyOf(name: string): string {
  return name.trim().toLowerCase().replaceAll(/\s+/g, "_").slice(0, 200);
}

/** A list with one of its items moved up (-1) or down (1). */
export function moved<T>(list: T[], place: number, by: 1 | -1): T[] {
  const to = place + by;
  if (to < 0 || to >= list.length) return list;
  const next = [...list];
  const [item] = next.splice(place, 1);
  if (item !== undefined) next.splice(to, 0, item);
  return next;
}

/** One step made two: what it raises first, then the rest of it. */
export function withSplit(plan: PlanDocument, key: string): { plan: PlanDocument; key: string } {
  const step = plan.approximations?.find((s) => s.key === key);
  if (!step) return { plan, key };
  const [first, ...rest] = step.raises ?? [];
  const lower = withStep(plan, key, {
    title: t("domain:plan_document.title_at_first", { title: step.title ?? "" }).trim(),
    ...(first ? { raises: [first] } : {}),
  });
  return withNewStep(lower, key, {
    ...(step.title === undefined ? {} : { title: step.title }),
    ...(step.criterion === undefined ? {} : { criterion: step.criterion }),
    raises: rest,
    mark_at: step.mark_at ?? "onset",
    ...(step.hold_s === undefined ? {} : { hold_s: step.hold_s }),
    ...askedAlike(step),
    fallback: key,
  });
}

/** The plan's own ladder of a quantity. */
export function ladderOf(plan: PlanDocument, name: string): PlanLadder | undefined {
  return plan.ladders?.find((ladder) => ladder.name === name);
}

/** The ladder of a quantity changed; without rungs there is none. */
export function withLadder(
  plan: PlanDocument,
  name: string,
  values: Changes<PlanLadder>,
): PlanDocument {
  const changed = stripped<PlanLadder>({ ...ladderOf(plan, name), name, ...values });
  const others = (plan.ladders ?? []).filter((ladder) => ladder.name !== name);
  const ladders = changed.rungs ? [...others, changed] : others;
  return withValues(plan, { ladders: ladders.length > 0 ? ladders : undefined });
}

/** Another quantity of a step; the rungs of one that is renamed go along with its name. */
export function withQuantity(
  plan: PlanDocument,
  key: string,
  quantity: Quantity | undefined,
): PlanDocument {
  const before = plan.approximations?.find((step) => step.key === key)?.quantity?.name;
  const changed = withStep(plan, key, { quantity });
  const isMeasured = changed.approximations?.some((step) => step.quantity?.name === before);
  if (before === undefined || isMeasured) return changed;
  const ladders = (changed.ladders ?? []).flatMap((ladder) =>
    ladder.name !== before ? [ladder] : quantity ? [{ ...ladder, name: quantity.name }] : [],
  );
  return withValues(changed, { ladders: ladders.length > 0 ? ladders : undefined });
}

/** Stages with one of them changed; undefined takes a value out. */
export function withStage(stages: Stage[], place: number, values: Changes<Stage>): Stage[] {
  return stages.map((stage, n) => (n === place ? stripped<Stage>({ ...stage, ...values }) : stage));
}

/** A stage for each step, ended by the judgement of it. */
export function stagesOfSteps(plan: PlanDocument): Stage[] {
  return stepsOf(plan).map((step) => ({
    name: (step.title || t("common:not_named_yet")).slice(0, 200),
    kind: "own",
    until: step.key,
  }));
}

/** What both halves of a step ask alike. */
function askedAlike(step: Step): Partial<Step> {
  const { parts, until_release, quantity, help, answers, rate_floor_per_min } = step;
  return stripped<Partial<Step>>({
    parts,
    until_release,
    quantity,
    help,
    answers,
    rate_floor_per_min,
  });
}

/** The step one place up or down the flight, past retired ones. */
export function withMoved(plan: PlanDocument, key: string, by: 1 | -1): PlanDocument {
  const used = stepsOf(plan);
  const place = used.findIndex((step) => step.key === key);
  const other = used[place + by];
  return other ? withPlaced(plan, key, other.key, by) : plan;
}

/** The step put just above (1) or below (-1) another one. */
export function withPlaced(
  plan: PlanDocument,
  key: string,
  other: string,
  side: 1 | -1,
): PlanDocument {
  const step = plan.approximations?.find((s) => s.key === key);
  if (!step || key === other) return plan;
  const rest = (plan.approximations ?? []).filter((s) => s.key !== key);
  const place = rest.findIndex((s) => s.key === other) + (side === 1 ? 1 : 0);
  const approximations = [...rest.slice(0, place), step, ...rest.slice(place)];
  return withFallbacks({ ...plan, approximations });
}

/** The plan without a step: those that fell back to it fall back to what it fell back to. */
export function withoutStep(plan: PlanDocument, key: string): PlanDocument {
  const gone = plan.approximations?.find((s) => s.key === key);
  const approximations = (plan.approximations ?? [])
    .filter((s) => s.key !== key)
    .map((s) => (s.fallback === key ? stripped<Step>({ ...s, fallback: gone?.fallback }) : s));
  const cue = plan.cue?.from_step === key ? { name: plan.cue.name } : plan.cue;
  const stages = plan.stages?.map((stage) =>
    stage.until === key ? stripped<Stage>({ ...stage, until: undefined }) : stage,
  );
  // Rungs that nothing is measured against any more could not be found again.
  const ladders = plan.ladders?.filter(
    ({ name }) =>
      gone?.quantity?.name !== name || approximations.some((s) => s.quantity?.name === name),
  );
  return withFallbacks(withValues(plan, { approximations, cue, stages, ladders }));
}

/** Fallbacks that lead nowhere or up now lead to the step below; the first step has none. */
function withFallbacks(plan: PlanDocument): PlanDocument {
  const used = stepsOf(plan);
  const approximations = (plan.approximations ?? []).map((step) => {
    const place = used.indexOf(step);
    if (place < 0 || step.fallback === undefined) return step;
    const back = used.findIndex((other) => other.key === step.fallback);
    if (back >= 0 && back < place) return step;
    return stripped<Step>({ ...step, fallback: used[place - 1]?.key });
  });
  return { ...plan, approximations };
}

/** Every step but the first falls back to the one below, where it says nothing better. */
export function withFallback(plan: PlanDocument, key: string): PlanDocument {
  const used = stepsOf(plan);
  const below = used[used.findIndex((step) => step.key === key) - 1];
  return below ? withStep(plan, key, { fallback: below.key }) : plan;
}

/** The cue begins at the first step after which the form does not change any more. */
export function withLaterCue(plan: PlanDocument): PlanDocument {
  const used = stepsOf(plan);
  const forming = used.findLastIndex((step) =>
    step.raises?.some((d) => d === "topography" || d === "precision"),
  );
  const from = used[Math.min(forming + 1, used.length - 1)];
  if (!plan.cue || !from) return plan;
  return { ...plan, cue: { ...plan.cue, from_step: from.key } };
}

/** The plan in one line: what a colleague would want to know first. */
export function inOneLine(plan: PlanDocument): string {
  const parts: string[] = [];
  if (plan.way) parts.push(WAYS.find((w) => w.way === plan.way)?.words ?? plan.way);
  const pays = plan.markers?.find((m) => m.meaning === "event");
  if (pays)
    parts.push(
      `${pays.name} ${plan.after_marker === "stay" ? "pays" : t("domain:plan_document.ends_the_rep")}`,
    );
  if (plan.placement)
    parts.push(
      t("domain:plan_document.reward_placement", {
        placement: Object.keys(plan.placement).join(" or "),
      }),
    );
  if (plan.rule) parts.push(ruleInWords(plan.rule));
  const caps = [
    plan.session_cap_s === undefined
      ? ""
      : t("domain:plan_document.value_min", { value: +(plan.session_cap_s / 60).toFixed(1) }),
    plan.rep_cap === undefined
      ? ""
      : t("domain:plan_document.rep_cap_reps", { rep_cap: plan.rep_cap }),
  ].filter(Boolean);
  if (caps.length > 0)
    parts.push(t("domain:plan_document.at_most_caps", { caps: caps.join(" or ") }));
  return parts.join(" · ");
}

/** The numbers of each school, with the usual ones. */
export const RULES: Record<
  Rule["kind"],
  { words: string; numbers: [Exclude<keyof Rule, "kind">, string, number][] }
> = {
  run: {
    words: t("domain:plan_document.a_run_in_a_row"),
    numbers: [
      ["need", t("domain:plan_document.up_after_this_many_in"), 5],
      ["miss", t("domain:plan_document.down_after_this_many_misses"), 3],
    ],
  },
  share: {
    words: t("domain:plan_document.a_share_of_the_last"),
    numbers: [
      ["window", t("domain:plan_document.of_the_last_reps"), 10],
      ["raise", t("domain:plan_document.up_from_this_share_0"), 0.8],
      ["lower", t("domain:plan_document.down_below_this_share"), 0.5],
    ],
  },
  block: {
    words: t("domain:plan_document.whole_blocks"),
    numbers: [
      ["size", t("domain:plan_document.reps_in_a_block"), 5],
      ["raise_at", t("domain:plan_document.up_from_this_many"), 5],
      ["lower_at", t("domain:plan_document.down_up_to_this_many_x"), 2],
    ],
  },
  percentile: {
    words: t("domain:plan_document.better_than_the_last_reps"),
    numbers: [
      ["window", t("domain:plan_document.of_the_last_measured_reps"), 9],
      ["w", t("domain:plan_document.share_to_be_paid_0"), 0.5],
    ],
  },
  comfort: {
    words: t("domain:plan_document.sessions_at_ease"),
    numbers: [["clean_sessions", t("domain:plan_document.sessions_in_a_row"), 3]],
  },
};

export function ruleInWords(rule: Rule): string {
  const n = (key: Exclude<keyof Rule, "kind">) =>
    rule[key] ?? RULES[rule.kind].numbers.find(([k]) => k === key)?.[2] ?? 0;
  switch (rule.kind) {
    case "run":
      return t("domain:plan_document.rule_run", { need: n("need"), miss: n("miss") });
    case "share":
      return t("domain:plan_document.rule_share", {
        raise: percent(n("raise")),
        window: n("window"),
      });
    case "block":
      return t("domain:plan_document.rule_block", { raise_at: n("raise_at"), size: n("size") });
    case "percentile":
      return t("domain:plan_document.rule_percentile", { window: n("window") });
    default:
      return t("domain:plan_document.rule_at_ease", {
        sessions: counted(n("clean_sessions"), "session"),
      });
  }
}

/** The same object without what is undefined. */
function stripped<T extends object>(value: Changes<T>): T {
  return Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as T;
}
