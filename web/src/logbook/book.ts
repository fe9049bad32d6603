/** The core's logbook as the API gives it; the names are those of `core/logbook.py`. */

import type { components } from "../api/schema";
import type { Rate } from "../api/findings";

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
  weeks: Week[];
}

/** The verdicts as one word each. */
export const VERDICT_WORDS: Record<string, string> = {
  raise: "raise",
  hold: "hold",
  lower: "a step back",
  split: "a smaller step",
  timing: "mend the timing",
  end: "end",
  not_judged: "not judged",
  nothing_coded: "nothing coded",
};

/** The word for a session: after an end at a limit, what the rule said. */
export function verdictOf(session: Logged): string | null {
  return session.then ?? session.verdict ?? null;
}

/** What was written beside counts entered by hand. */
export function noteOf(session: Logged): string {
  const note = session.counts?.["note"];
  return typeof note === "string" ? note : "";
}
