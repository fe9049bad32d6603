/** Which reps stand behind a number. */

import type { Findings, Moment, Outcome, Rep } from "../api/findings";
import { HELP_WORDS } from "./help-levels";

export interface RepFilter {
  key: string;
  words: string;
  holds: (rep: Rep, findings: Findings) => boolean;
}

/** Every number's reps, by the key in the address. */
export const FILTERS: RepFilter[] = [
  { key: "all", words: "All reps", holds: () => true },
  { key: "marked", words: "Marked reps", holds: (r) => r.marker_id !== null },
  { key: "early", words: "Marked before the behaviour", holds: (r) => r.timing === "early" },
  { key: "on_time", words: "Marked on time", holds: (r) => r.timing === "on_time" },
  { key: "late", words: "Marked late", holds: (r) => r.timing === "late" },
  { key: "over", words: "Marked after it was over", holds: (r) => r.behaviour_over === true },
  { key: "rewarded", words: "Rewarded reps", holds: (r) => r.reward_ids.length > 0 },
  {
    key: "slow",
    words: "Rewarded late",
    holds: (r) => r.over_limit === true,
  },
  {
    key: "unpaid",
    words: "Marked and not rewarded",
    holds: (r, f) => r.marker_id !== null && f.loose.unrewarded_markers.includes(r.marker_id),
  },
  {
    key: "hand_first",
    words: "The hand moved before the marker",
    holds: (r) => r.hand_first === true,
  },
  { key: "hand", words: "Reps with the hand coded", holds: (r) => r.reach_lead_s !== null },
  { key: "paused", words: "Came back after a reward", holds: (r) => r.pause_s !== null },
  { key: "cued", words: "Answers to a cue", holds: (r) => r.response_s !== null },
  { key: "fits", words: "Reps that fit", holds: (r) => r.met === true },
  { key: "not_yet", words: "Reps that did not fit yet", holds: (r) => r.met === false },
  { key: "unjudged", words: "Reps not judged yet", holds: (r) => r.met === null },
];

/** The key under which the reps of one step stand. */
export function stepKey(approximation: string | null): string {
  return `step:${approximation ?? ""}`;
}

/** What the marker caught, in words. */
export function caughtWords(caught: string): string {
  const words: Record<string, string> = {
    target: "on the behaviour",
    before_onset: "before it began",
    after_offset: "after it was over",
    nothing_coded: "on nothing that is coded",
  };
  return words[caught] ?? `on “${caught.replace(/^other:/, "")}”`;
}

type Titles = (approximation: string | null) => string;

/** Filters whose key names a value: the words and the test for what comes after the colon. */
const WITH_VALUE: Record<string, (value: string, titleOf: Titles) => Omit<RepFilter, "key">> = {
  step: (value, titleOf) => ({
    words: titleOf(value || null),
    holds: (r) => r.approximation === (value || null),
  }),
  stretch: (value) => ({
    words: `Stretch ${Number(value) + 1}`,
    holds: (r) => r.stretch === Number(value),
  }),
  caught: (value) => ({
    words: `Marked ${caughtWords(value)}`,
    holds: (r) => r.caught === value,
  }),
  placement: (value) => ({
    words: `Rewarded ${value}`,
    holds: (r) => r.placements.includes(value),
  }),
  help: (value) => ({
    words: `After ${HELP_WORDS[value] ?? value}`,
    holds: (r) => r.help === value,
  }),
  stay: (value) => ({
    words: value === "kept" ? "Stayed until let go" : "Left before",
    holds: (r) => r.stay === value,
  }),
  chain: (value, titleOf) => ({
    words: `Chains: ${titleOf(value || null)}`,
    holds: (r) => r.parts.length > 0 && (r.approximation ?? "") === value,
  }),
  broke: (value) => ({
    words: `Broke at ${value}`,
    holds: (r) => r.broke_at === value,
  }),
  answer: (value) => {
    const [cue, came] = value.split("→");
    return {
      words: `“${cue}” answered ${came === "wrong" ? "with something else" : ""}`.trim(),
      holds: (r) => (r.cue ?? "unlabelled") === cue && (came === "" || r.answer === came),
    };
  },
  measured: (value, titleOf) => ({
    words: `Measured: ${titleOf(value || null)}`,
    holds: (r) => r.value !== null && (r.approximation ?? "") === value,
  }),
  between: (value) => {
    const [from, to] = value.split("~").map(Number);
    return {
      words: "Reps of this stretch of work",
      holds: (r) => r.onset_s >= (from ?? 0) && r.onset_s <= (to ?? Infinity),
    };
  },
  paid_times: (value) => ({
    words: `Paid ${value} times`,
    holds: (r) => r.pays === Number(value),
  }),
  held: (value, titleOf) => ({
    words: `Held: ${titleOf(value || null)}`,
    holds: (r) => r.held_s !== null && (r.approximation ?? "") === value,
  }),
  where: (value) => {
    const at = value.indexOf("=");
    const [name, level] = [value.slice(0, at), value.slice(at + 1)];
    return { words: `${name}: ${level}`, holds: (r) => r.conditions[name] === level };
  },
};

/** The filter of a key, all reps for an unknown one. */
export function filterOf(key: string | null, titleOf: Titles): RepFilter {
  const colon = key?.indexOf(":") ?? -1;
  const made = key && colon > 0 ? WITH_VALUE[key.slice(0, colon)] : undefined;
  if (key && made) return { key, ...made(key.slice(colon + 1), titleOf) };
  return FILTERS.find((f) => f.key === key) ?? (FILTERS[0] as RepFilter);
}

const ROLES: Record<string, string> = {
  presentation: "Asked",
  window: "Nothing asked",
  paid_wait: "Waits that were paid",
  free_reward: "Rewards for nothing in particular",
  return: "Sent away and back",
  opt_out: "Left the work",
  exposure: "Touches and the like",
  food_first: "Food before the touch",
};
const OUTCOMES: Record<string, string> = {
  hit: "answered",
  wrong: "answered with something else",
  miss: "not answered",
  false_alarm: "shown all the same",
  correct_rejection: "left alone",
  back: "came back",
  lost: "did not come back by itself",
  cut: "sent away again, or the work ended",
  paid: "paid",
  unpaid: "not paid",
};

/** What came of things of one role, as moments: `came:ROLE`, or with an outcome behind it. */
function outcomesOf(key: string | null, findings: Findings) {
  const [, role, outcome] = /^came:([a-z_]+):?(.*)$/.exec(key ?? "") ?? [];
  if (!role) return null;
  const moments = findings.moments
    .filter((m): m is Outcome => "role" in m && m.role === role)
    .filter((m) => !outcome || m.outcome === outcome)
    .map((m): Moment => {
      const words = OUTCOMES[m.outcome ?? ""] ?? ROLES[role] ?? role;
      const after = m.s === null || m.s === 0 ? "" : ` after ${m.s.toFixed(1)} s`;
      const said = role === "opt_out" ? `away for ${(m.s ?? 0).toFixed(1)} s` : words + after;
      return { id: m.id, kind: role, t_s: m.t_s, label: said, severity: null };
    });
  return { words: ROLES[role] ?? role, moments };
}

/** The moments behind a key that names no reps, and what they are called. */
export function momentsOf(
  key: string | null,
  findings: Findings,
): { words: string; moments: Moment[] } | null {
  const came = outcomesOf(key, findings);
  if (came) return came;
  const [, kind, label] = /^at:([a-z_]+):?(.*)$/.exec(key ?? "") ?? [];
  if (!kind) return null;
  const moments = findings.moments.filter(
    (moment): moment is Moment =>
      "kind" in moment && moment.kind === kind && (!label || (moment.label ?? "") === label),
  );
  const words: Record<string, string> = {
    other_behaviour: "Offered",
    sign: "Signs",
    marker: "Markers on no rep",
    reward: "Rewards without a marker",
    cue: "Cues",
    no_cue_window: "Stretches without a cue",
  };
  return { words: label ? `“${label}”` : (words[kind] ?? kind), moments };
}
