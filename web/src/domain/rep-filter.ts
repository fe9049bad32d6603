/** Which reps stand behind a number. */

import type { Findings, Moment, Outcome, Rep } from "../api/findings";
import { HELP_WORDS } from "./help-levels";
import { t } from "../words";

export interface RepFilter {
  key: string;
  words: string;
  holds: (rep: Rep, findings: Findings) => boolean;
}

/** Every number's reps, by the key in the address. */
export const FILTERS: RepFilter[] = [
  { key: "all", words: t("domain:rep_filter.all_reps"), holds: () => true },
  { key: "marked", words: t("domain:rep_filter.marked_reps"), holds: (r) => r.marker_id !== null },
  {
    key: "early",
    words: t("domain:rep_filter.marked_before_the_behaviour"),
    holds: (r) => r.timing === "early",
  },
  {
    key: "on_time",
    words: t("domain:rep_filter.marked_on_time"),
    holds: (r) => r.timing === "on_time",
  },
  { key: "late", words: t("domain:rep_filter.marked_late"), holds: (r) => r.timing === "late" },
  {
    key: "over",
    words: t("domain:rep_filter.marked_after_it_was_over"),
    holds: (r) => r.behaviour_over === true,
  },
  {
    key: "rewarded",
    words: t("domain:rep_filter.rewarded_reps"),
    holds: (r) => r.reward_ids.length > 0,
  },
  {
    key: "slow",
    words: t("domain:rep_filter.rewarded_late"),
    holds: (r) => r.over_limit === true,
  },
  {
    key: "unpaid",
    words: t("domain:rep_filter.marked_and_not_rewarded"),
    holds: (r, f) => r.marker_id !== null && f.loose.unrewarded_markers.includes(r.marker_id),
  },
  {
    key: "hand_first",
    words: t("domain:rep_filter.the_hand_moved_before_the"),
    holds: (r) => r.hand_first === true,
  },
  {
    key: "hand",
    words: t("domain:rep_filter.reps_with_the_hand_coded"),
    holds: (r) => r.reach_lead_s !== null,
  },
  {
    key: "paused",
    words: t("domain:rep_filter.came_back_after_a_reward"),
    holds: (r) => r.pause_s !== null,
  },
  {
    key: "cued",
    words: t("domain:rep_filter.answers_to_a_cue"),
    holds: (r) => r.response_s !== null,
  },
  { key: "fits", words: t("domain:rep_filter.reps_that_fit"), holds: (r) => r.met === true },
  {
    key: "not_yet",
    words: t("domain:rep_filter.reps_that_did_not_fit"),
    holds: (r) => r.met === false,
  },
  {
    key: "tapped_otherwise",
    words: t("domain:rep_filter.judged_otherwise"),
    holds: (r) => thoughtOtherwise(r),
  },
  {
    key: "only_tapped",
    words: t("domain:rep_filter.only_tapped"),
    holds: (r) => r.tapped_met === true && r.met === false,
  },
  {
    key: "only_filmed",
    words: t("domain:rep_filter.only_filmed"),
    holds: (r) => r.tapped_met === false && r.met === true,
  },
  {
    key: "unjudged",
    words: t("domain:rep_filter.reps_not_judged_yet"),
    holds: (r) => r.met === null,
  },
];

/** Whether the trainer, leading it, thought otherwise of a rep than the film shows. */
export function thoughtOtherwise({ tapped_met, met }: Rep): boolean {
  return tapped_met !== null && met !== null && tapped_met !== met;
}

/** What the trainer thought of it, in words. */
export const thoughtWords = ({ tapped_met }: Rep): string =>
  tapped_met ? t("domain:rep_filter.you_fits") : t("domain:rep_filter.you_not_yet");

/** The key under which the reps of one step stand. */
export function stepKey(approximation: string | null): string {
  return `step:${approximation ?? ""}`;
}

/** What the marker caught, in words. */
export function caughtWords(caught: string): string {
  const words: Record<string, string> = {
    target: t("domain:rep_filter.on_the_behaviour"),
    before_onset: t("domain:rep_filter.before_it_began"),
    after_offset: t("domain:rep_filter.after_it_was_over"),
    nothing_coded: t("domain:rep_filter.on_nothing_that_is_coded"),
  };
  return (
    words[caught] ?? t("domain:rep_filter.on_caught", { caught: caught.replace(/^other:/, "") })
  );
}

type Titles = (approximation: string | null) => string;

/** Filters whose key names a value: the words and the test for what comes after the colon. */
const WITH_VALUE: Record<string, (value: string, titleOf: Titles) => Omit<RepFilter, "key">> = {
  step: (value, titleOf) => ({
    words: titleOf(value || null),
    holds: (r) => r.approximation === (value || null),
  }),
  stretch: (value) => ({
    words: t("domain:rep_filter.stretch_value", { value: Number(value) + 1 }),
    holds: (r) => r.stretch === Number(value),
  }),
  caught: (value) => ({
    words: t("domain:rep_filter.marked_on", { what: caughtWords(value) }),
    holds: (r) => r.caught === value,
  }),
  placement: (value) => ({
    words: t("domain:rep_filter.rewarded_value", { value }),
    holds: (r) => r.placements.includes(value),
  }),
  help: (value) => ({
    words: t("domain:rep_filter.after_help_words", { HELP_WORDS: HELP_WORDS[value] ?? value }),
    holds: (r) => r.help === value,
  }),
  stay: (value) => ({
    words:
      value === "kept"
        ? t("domain:rep_filter.stayed_until_let_go")
        : t("domain:rep_filter.left_before"),
    holds: (r) => r.stay === value,
  }),
  chain: (value, titleOf) => ({
    words: t("domain:rep_filter.chains_titleof", { titleOf: titleOf(value || null) }),
    holds: (r) => r.parts.length > 0 && (r.approximation ?? "") === value,
  }),
  broke: (value) => ({
    words: t("domain:rep_filter.broke_at_value", { value }),
    holds: (r) => r.broke_at === value,
  }),
  answer: (value) => {
    const [cue, came] = value.split("→");
    return {
      words:
        came === "wrong"
          ? t("domain:rep_filter.cue_answered_wrong", { cue })
          : t("domain:rep_filter.cue_answered", { cue }),
      holds: (r) => (r.cue ?? "unlabelled") === cue && (came === "" || r.answer === came),
    };
  },
  measured: (value, titleOf) => ({
    words: t("domain:rep_filter.measured", { title: titleOf(value || null) }),
    holds: (r) => r.value !== null && (r.approximation ?? "") === value,
  }),
  between: (value) => {
    const [from, to] = value.split("~").map(Number);
    return {
      words: t("domain:rep_filter.reps_of_this_stretch_of"),
      holds: (r) => r.onset_s >= (from ?? 0) && r.onset_s <= (to ?? Infinity),
    };
  },
  paid_times: (value) => ({
    words: t("domain:rep_filter.paid_value_times", { value }),
    holds: (r) => r.pays === Number(value),
  }),
  held: (value, titleOf) => ({
    words: t("domain:rep_filter.held_titleof", { titleOf: titleOf(value || null) }),
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
  presentation: t("domain:rep_filter.asked"),
  window: t("domain:rep_filter.nothing_asked"),
  paid_wait: t("domain:rep_filter.waits_that_were_paid"),
  free_reward: t("domain:rep_filter.rewards_for_nothing_in_particular"),
  return: t("domain:rep_filter.sent_away_and_back"),
  opt_out: t("domain:rep_filter.left_the_work"),
  exposure: t("domain:rep_filter.touches_and_the_like"),
  food_first: t("domain:rep_filter.food_before_the_touch"),
};
const OUTCOMES: Record<string, string> = {
  hit: t("domain:rep_filter.answered"),
  wrong: t("domain:rep_filter.answered_with_something_else"),
  miss: t("domain:rep_filter.not_answered"),
  false_alarm: t("domain:rep_filter.shown_all_the_same"),
  correct_rejection: t("domain:rep_filter.left_alone"),
  back: t("domain:rep_filter.came_back"),
  lost: t("domain:rep_filter.did_not_come_back_by"),
  cut: t("domain:rep_filter.sent_away_again_or_the"),
  paid: t("domain:rep_filter.paid"),
  unpaid: t("domain:rep_filter.not_paid"),
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
      const after =
        m.s === null || m.s === 0 ? "" : t("domain:rep_filter.after_s_s", { s: m.s.toFixed(1) });
      const said =
        role === "opt_out"
          ? t("domain:rep_filter.away_for_s_s", { s: (m.s ?? 0).toFixed(1) })
          : words + after;
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
    other_behaviour: t("domain:rep_filter.offered"),
    sign: t("domain:rep_filter.signs"),
    marker: t("domain:rep_filter.markers_on_no_rep"),
    reward: t("domain:rep_filter.rewards_without_a_marker"),
    cue: t("domain:rep_filter.cues"),
    no_cue_window: t("domain:rep_filter.stretches_without_a_cue"),
  };
  return { words: label ? `“${label}”` : (words[kind] ?? kind), moments };
}
