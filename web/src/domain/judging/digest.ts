/**
 * One session in short, as the core writes it (`decisions/judging/digest`): all that the judgement of
 * a later one, or of itself, asks of it. Times in seconds unless the name says minutes.
 */

import type { components } from "../../api/schema";

/** One judged attempt at the step in force. */
export interface Trial {
  step: string | null;
  /** The place of its stretch in the session, from 0. */
  stretch: number;
  met: boolean;
  value: number | null;
  /** Null where nobody knows (counted by hand). */
  help: string | null;
  conditions: Readonly<Record<string, string>>;
  id: string | null;
}

/** A trend of pauses or returns: how many, chance's p, medians of the first and last third. */
export interface Rise {
  n: number;
  p: number | null;
  first_s: number | null;
  last_s: number | null;
}

/** When the animal was worked, on a clock that stops while nobody works. */
export interface Worked {
  stretches: readonly (readonly [string | null, number, number])[];
  paid: readonly number[];
  total: number;
}

export interface Digest {
  date: string | null;
  time: string | null;
  by_hand: boolean;
  trials: readonly Trial[];
  at_work: Readonly<Record<string, number>>;
  in_force: string | null;
  attempts: number;
  minutes: number;
  rewards: number | null;
  signs: readonly [number, number, number];
  signs_first: number;
  signs_last: number;
  opt_outs: number;
  pauses: Rise | null;
  returns: Rise | null;
  back_s: Readonly<Record<string, readonly number[]>>;
  presentations: number;
  repeated: number;
  wrong: number;
  windows: number;
  alarms: number;
  cued: number;
  overlapped: number;
  exposures: number;
  food_first: number;
  missed: readonly [number, number];
  missed_kinds: Readonly<Record<string, number>>;
  unpaid: readonly [number, number];
  hand_first: readonly [number, number];
  stays: Readonly<Record<string, readonly boolean[]>>;
  worked: Worked | null;
  limit_s: number;
}

/** A digest as it is sent: its rows and pairs are arrays. */
export type SentDigest = components["schemas"]["Digest"];

/** The digest that was sent. */
export function readDigest(sent: SentDigest): Digest {
  const { signs, worked } = sent;
  return {
    ...sent,
    trials: sent.trials.map(readTrial),
    signs: [signs[0] ?? 0, signs[1] ?? 0, signs[2] ?? 0],
    missed: pairOf(sent.missed),
    unpaid: pairOf(sent.unpaid),
    hand_first: pairOf(sent.hand_first),
    worked: worked && { ...worked, stretches: worked.stretches.map(readStretch) },
  };
}

const pairOf = ([count = 0, of = 0]: readonly number[]): readonly [number, number] => [count, of];

const readStretch = (row: readonly unknown[]) => row as [string | null, number, number];

function readTrial(row: readonly unknown[]): Trial {
  const [step, stretch, met, value, help, conditions, id] = row as [
    Trial["step"],
    number,
    boolean,
    Trial["value"],
    Trial["help"],
    Trial["conditions"],
    Trial["id"],
  ];
  return { step, stretch, met, value, help, conditions, id };
}
