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
  pieces: number | null;
  uncertainty_s: number | null;
  offset_id: string | null;
  marker_id: string | null;
  reward_ids: string[];
  placements: string[];
  caught: string | null;
  reach_lead_s: number | null;
  hand_first: boolean | null;
  stretch: number | null;
  over_limit: boolean | null;
  pause_s: number | null;
  response_s: number | null;
  held_s: number | null;
  help: string | null;
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

export type School = "run" | "share" | "block" | "percentile" | "comfort";

export interface Advice {
  decision: "raise" | "hold" | "lower" | "split" | "end";
  rule: { kind: School } & Record<string, unknown>;
  reasons: { code: string; text: string; numbers: Record<string, number> }[];
  other_rules: Partial<Record<School, Decision>>;
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
    | "reinforcements",
    number
  >;
  marker_latency_s: Summary;
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
  offered: { labels: Record<string, Rate>; in_dry_spells: ShareOf & { count: number; of: number } };
  signs: { labels: Record<string, Sign>; first_third: number; last_third: number };
  placement: Record<string, ShareOf & { count: number; of: number; target: number | null }>;
  prompts: {
    attempts: Record<string, number>;
    last_food_lure: number | null;
    cue_lead_s: Summary & { overlapped: number };
  };
  conditions: Record<string, { levels: Record<string, Level>; difference: SideDifference | null }>;
  stimulus_control: {
    hit: number;
    miss: number;
    false_alarm: number;
    correct_rejection: number;
    d_prime: number | null;
    c: number | null;
  };
  held_s: Record<string, Summary & { rewards_per_attempt: number }>;
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
  advice: Advice | null;
  reps: Rep[];
  loose: Record<
    "orphan_markers" | "repeat_markers" | "unrewarded_markers" | "unmarked_rewards",
    string[]
  >;
  moments: Moment[];
}
