/** A reviewer's reaction lag, as their drills have measured it. */

/** The reviewer's own reaction lag and its spread, seconds. */
export interface Lag {
  lagS: number;
  sdS: number;
}

/** Before anybody was measured: a usual lag, and a spread wide enough to be honest. */
export const USUAL_LAG: Lag = { lagS: 0.25, sdS: 0.08 };
