/** The core's findings as the API gives them; the names are those of docs/measures.md. */

export interface Summary {
  n: number;
  mean: number | null;
  sd: number | null;
  min: number | null;
  q1: number | null;
  median: number | null;
  q3: number | null;
  p90: number | null;
  max: number | null;
  median_low: number | null;
  median_high: number | null;
}

export interface Rate {
  value: number | null;
  low: number | null;
  high: number | null;
  count: number;
}

export type Timing = "early" | "on_time" | "late";

export interface Rep {
  id: string;
  approximation: string | null;
  onset_s: number;
  offset_s: number | null;
  target_s: number | null;
  marker_s: number | null;
  reward_s: number | null;
  marker_latency_s: number | null;
  timing_error_s: number | null;
  timing: Timing | null;
  behaviour_over: boolean | null;
  reward_latency_s: number | null;
  met: boolean | null;
  value: number | null;
  pieces: number | null;
  uncertainty_s: number | null;
  offset_id: string | null;
  marker_id: string | null;
  further_ids: string[];
  keep_going_ids: string[];
  reward_ids: string[];
  placements: string[];
  caught: string | null;
  reach_lead_s: number | null;
  hand_first: boolean | null;
  stretch: number | null;
  over_limit: boolean | null;
  pause_s: number | null;
  pays: number;
  stay: "kept" | "left_early" | null;
  broke_at: string | null;
  parts: { key: string; t_s: number }[];
  response_s: number | null;
  held_s: number | null;
  help: string | null;
  false_alarm: boolean;
  paid_directly: boolean;
  cue: string | null;
  said: number | null;
  answer: "hit" | "wrong" | null;
  missed: boolean | null;
  conditions: Record<string, string>;
}

/** What is no rep and yet is counted, with its instant. */
export interface Moment {
  id: string;
  kind: string;
  t_s: number;
  label: string | null;
  severity: number | null;
}

/** What came of a cue, a window, a sending away, a touch; `s` seconds until then. */
export interface Outcome {
  id: string;
  kind?: undefined;
  role: string;
  t_s: number;
  outcome: string | null;
  s: number | null;
}

/** One other behaviour, and how often in either half of the training time. */
export interface OfferedLabel extends Rate {
  first_half: number;
  second_half: number;
  p: number | null;
}

/** So many of so many, with the 95 % interval of the share. */
export interface CountOf extends ShareOf {
  count: number;
  of: number;
}

export interface ShareOf {
  share: number | null;
  low: number | null;
  high: number | null;
}

export interface Level {
  attempts: number;
  success: ShareOf & { count: number; of: number };
  marker_latency_s: number | null;
}

export interface SideDifference {
  first: string;
  second: string;
  value: number | null;
  low: number | null;
  high: number | null;
  p: number | null;
}

export interface Sign extends Rate {
  worst: number;
  first_third: number;
  last_third: number;
}

export interface Decision {
  decision: "raise" | "hold" | "lower";
  reason: string;
  numbers: Record<string, number>;
}

export interface Split {
  approximation: string | null;
  start_s: number | null;
  end_s: number | null;
  training_time_s: number;
  attempts: number;
  judged: number;
  met: number;
  share: number | null;
  low: number | null;
  high: number | null;
  longest_run: number;
  attempts_to_first_met: number | null;
  time_to_first_met_s: number | null;
  attempts_to_rule: number | null;
  time_to_rule_s: number | null;
  reinforcement_per_min: Rate;
  marker_latency_s: number | null;
  reward_latency_s: number | null;
  decision: Decision | null;
  change: { kind: "with_rule" | "early" | "late" | "none"; attempts: number | null };
}

export interface Findings {
  training_time_s: number;
  counts: Record<
    | "attempts"
    | "markers"
    | "repeat_markers"
    | "orphan_markers"
    | "unrewarded_markers"
    | "rewards"
    | "pieces"
    | "unmarked_rewards"
    | "reinforcements"
    | "further_markers"
    | "paid_waits"
    | "false_alarms"
    | "direct_rewards"
    | "exposure_rewards"
    | "free_rewards",
    number
  >;
  marker_latency_s: Summary;
  /** Pairs of seconds and height, the highest 1. */
  marker_density: { bell_s: number; points: [number, number][] };
  timing_error_s: Summary;
  timing: { early: number; on_time: number; late: number; behaviour_over: number | null };
  caught: Record<string, number>;
  reward_latency_s: Summary & { over_limit: number; before_marker: number };
  reach_lead_s: Summary & { before_marker: number };
  rates: Record<
    "reinforcement_per_min" | "pieces_per_min" | "attempts_per_min" | "markers_per_min",
    Rate
  >;
  rate_curve: { t_s: number; training_s: number; per_min: number }[];
  cumulative: { t_s: number; training_s: number; count: number }[];
  success: {
    met: number;
    judged: number;
    share: number | null;
    low: number | null;
    high: number | null;
    longest_run: number;
  };
  fidelity: {
    met_marked: number;
    met_unmarked: number;
    unmet_marked: number;
    unmet_unmarked: number;
    share: number | null;
    low: number | null;
    high: number | null;
  };
  dry_spells: {
    longest_s: number | null;
    spells: { start_s: number; end_s: number; length_s: number }[];
  };
  response_latency_s: {
    n: number;
    responded: number;
    censored: number;
    median: number | null;
    median_low: number | null;
    median_high: number | null;
  };
  pause_s: Summary & {
    trend: { slope_per_min: number | null; tau: number | null; p: number | null };
  };
  offered: {
    labels: Record<string, OfferedLabel>;
    in_dry_spells: ShareOf & { count: number; of: number };
  };
  signs: { labels: Record<string, Sign>; first_third: number; last_third: number };
  placement: Record<
    string,
    ShareOf & {
      count: number;
      of: number;
      target: number | null;
      next_n: number;
      next_s: number | null;
      next_met: CountOf;
    }
  >;
  prompts: {
    attempts: Record<string, number>;
    last_food_lure: number | null;
    cue_lead_s: Summary & { overlapped: number };
  };
  conditions: Record<string, { levels: Record<string, Level>; difference: SideDifference | null }>;
  stimulus_control: {
    hit: number;
    wrong: number;
    miss: number;
    false_alarm: number;
    correct_rejection: number;
    d_prime: number | null;
    c: number | null;
  };
  cues: Record<
    string,
    {
      presentations: number;
      hits: number;
      wrong: number;
      misses: number;
      said_once: number;
      said: Summary;
    }
  >;
  /** Counts by the cue's label, then by what came: a behaviour's label, `unlabelled` or `none`. */
  confusion: Record<string, Record<string, number>>;
  asked_share: CountOf;
  /** Attempts with some help; null where no help is coded. */
  helped: CountOf | null;
  certainty: {
    pay: {
      per_min: number | null;
      low: number | null;
      high: number | null;
      dispersion: number | null;
      way: "gaps" | "chance";
    };
    fits: { low: number | null; high: number | null; lag1: number | null; effective: number };
    d_prime: { low: number | null; high: number | null };
    signs_p: number | null;
    dry_by_chance: number | null;
  };
  /** The step worked last, and its markers from the instant the plan wants. */
  in_force: {
    approximation: string | null;
    mark_at: "onset" | "hold" | "offset" | null;
    hold_s: number | null;
    marker_latency_s: Summary;
    timing_error_s: Summary;
  } | null;
  values: Record<
    string,
    Summary & {
      first_third: number | null;
      last_third: number | null;
      target: number | null;
      reached: CountOf | null;
      conditions: Record<string, Record<string, { n: number; median: number | null }>>;
    }
  >;
  bouts: {
    start_s: number;
    end_s: number;
    attempts: number;
    judged: number;
    met: number;
    pays: number;
    signs: number;
    opt_outs: number;
    break_before_s: number | null;
  }[];
  fading: {
    reps: { id: string; help: string; met: boolean | null }[];
    longest_run: number;
    last_met: Record<string, string>;
    cue_only: CountOf;
  } | null;
  pays_per_rep: Summary;
  pay_gap_s: Summary;
  paid_directly: CountOf;
  held_s: Record<string, Summary & { rewards_per_attempt: number }>;
  stays: Record<
    string,
    {
      attempts: number;
      kept: CountOf;
      left_early: number;
      open: number;
      pays_per_rep: Summary;
      held_s: Summary;
    }
  >;
  returns: {
    n: number;
    back_s: Summary;
    km_median_s: number | null;
    lost: number;
    cut: number;
    trend: { slope_per_min: number | null; tau: number | null; p: number | null };
  };
  opt_outs: { count: number; per_10_attempts: number | null; away_min: number };
  chains: Record<
    string,
    {
      attempts: number;
      completed: CountOf;
      parts: { key: string; reached: CountOf; gap_s: number | null; helped: number }[];
      out_of_order: number;
      weakest: string | null;
    }
  >;
  exposures: Record<
    string,
    {
      n: number;
      paid: CountOf;
      latency_s: Summary;
      food_first: number;
      signs: Record<"1" | "2" | "3", number>;
      value: Summary;
      opt_outs: number;
    }
  >;
  sources: Record<
    | "marker_latency_s"
    | "timing_error_s"
    | "reward_latency_s"
    | "reach_lead_s"
    | "response_latency_s"
    | "pause_s"
    | "cue_lead_s"
    | "held_s",
    number | null
  >;
  splits: { segments: Split[]; approximations: Split[] };
  reps: Rep[];
  loose: Record<
    "orphan_markers" | "repeat_markers" | "unrewarded_markers" | "unmarked_rewards",
    string[]
  >;
  moments: (Moment | Outcome)[];
}
