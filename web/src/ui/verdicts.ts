/** The core's verdicts in a word or two. */
export const VERDICTS: Record<string, string> = {
  nothing_coded: "Not coded",
  not_judged: "Not judged",
  timing: "Timing first",
  raise: "Raise",
  hold: "Hold",
  lower: "One step back",
  split: "A smaller step",
  end: "End here",
};
