/** The core's logbook as the API gives it; the names are those of `core/history/logbook.py`. */

import type { components } from "../api/schema";
import type { CountOf, Rate } from "../api/findings";

export type LogbookOut = components["schemas"]["LogbookOut"];
export type Logged = components["schemas"]["LoggedOut"];

export interface SessionRate {
  id: string;
  date: string;
  rate: Rate;
  minutes: number;
}

export interface Landing {
  id: string;
  date: string;
  approximation: string;
  judged: number;
  met: number;
  share: number | null;
  low: number | null;
  high: number | null;
}

export interface StepSuccess {
  approximation: string;
  judged: number;
  met: number;
  share: number | null;
  low: number | null;
  high: number | null;
}

export interface SessionTiming {
  id: string;
  skill: {
    date: string;
    n: number;
    median: number;
    median_low: number | null;
    median_high: number | null;
    q1: number;
    q3: number;
  };
}

export interface Week {
  monday: string;
  sessions: number;
  minutes: number;
  reps: number;
  minutes_cap: number;
  reps_cap: number | null;
  over_cap: number;
}

export interface Book {
  rates: SessionRate[];
  growth: {
    days: number;
    per_week: number | null;
    low: number | null;
    high: number | null;
    dispersion: number | null;
    first_per_min: number | null;
    last_per_min: number | null;
  };
  landings: Landing[];
  success: StepSuccess[];
  steps: {
    steps: {
      approximation: string;
      first_day: string;
      last_day: string;
      sessions: number;
      attempts: number;
      minutes: number;
    }[];
    days_since_last: number | null;
  };
  marker_latency_s: SessionTiming[];
  timing_error_s: SessionTiming[];
  reward_latency_s: SessionTiming[];
  /** What the middle of the markers is told from. */
  instant: "plan" | "onset";
  weeks: Week[];
  over_cap: number;
  trends: Trend[];
  in_short: InShort;
}

/** A whole logbook in a few numbers. */
export interface InShort {
  sessions: number;
  filmed: number;
  days: number;
  minutes: number;
  reps: number;
  signs: number;
  opt_outs: number;
  per_min: Rate;
  per_week: number | null;
  step: string | null;
  judged: number;
  met: number;
  share: number | null;
  low: number | null;
  high: number | null;
  marker_s: number | null;
  reward_s: number | null;
}

/** What one session adds beside rate, steps and timing; null where it holds nothing of it. */
export interface Trend {
  id: string;
  date: string;
  signs: number;
  worst: number;
  opt_outs: number;
  d_prime: number | null;
  hits: CountOf | null;
  alarms: CountOf | null;
  said_per_cue: number | null;
  kept: CountOf | null;
  stay_s: number | null;
  pays_in_place: number | null;
  return_s: number | null;
  lost: number | null;
  completed: CountOf | null;
  weakest: string | null;
  alone: CountOf | null;
}

/** The decisions as they stand in lists. */
export const VERDICT_WORDS: Record<string, string> = {
  raise: "raise",
  hold: "hold",
  lower: "a step back",
  split: "a smaller step",
  fade: "less help",
  proof: "elsewhere",
  end: "stop",
  none: "not judged",
};

/** What was written beside counts entered by hand. */
export function noteOf(session: Logged): string {
  const note = session.counts?.["note"];
  return typeof note === "string" ? note : "";
}
