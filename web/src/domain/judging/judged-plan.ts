/** What the judgement asks of a plan, every default written out by the server. */

import type { components } from "../../api/schema";

export type JudgedPlan = components["schemas"]["YardPlan"];
export type JudgedStep = components["schemas"]["YardStep"];
export type Rule = JudgedPlan["rule"];

/** A parameter of the rule. */
export const parameter = (rule: Rule, name: string): number => Number(rule[name]);

/** A number of the rules. Throws for one the server did not send. */
export function numberOf(plan: JudgedPlan, name: string): number {
  const value = plan.numbers[name];
  if (value === undefined) throw new Error(`the plan says no ${name}`);
  return value;
}

/** Where a step stands in the plan, from 0; -1 where it does not. */
export function placeOf(plan: JudgedPlan, key: string | null): number {
  return plan.approximations.findIndex((step) => step.key === key);
}

export function stepOf(plan: JudgedPlan, key: string | null): JudgedStep | null {
  return plan.approximations[placeOf(plan, key)] ?? null;
}

/** The step to go back to: the plan's own way back where that is easier, else the one below. */
export function stepBelow(plan: JudgedPlan, step: JudgedStep | null): string | null {
  const place = step ? placeOf(plan, step.key) : -1;
  if (step === null || place <= 0) return null;
  const back = placeOf(plan, step.fallback);
  return plan.approximations[back >= 0 && back < place ? back : place - 1]?.key ?? null;
}

/** The next step of the plan; null at the last and for one that is not in it. */
export function stepAbove(plan: JudgedPlan, key: string | null): string | null {
  const place = placeOf(plan, key);
  return place < 0 ? null : (plan.approximations[place + 1]?.key ?? null);
}
