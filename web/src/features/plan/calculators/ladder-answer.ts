/** The rungs of a ladder, from the lowest. */
export interface LadderAnswer {
  values: number[];
}
