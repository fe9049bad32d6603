/** Levels of help, the strongest first. */
export const HELP = [
  { level: "physical", words: "touch" },
  { level: "food_lure", words: "food in the hand" },
  { level: "target", words: "target" },
  { level: "empty_hand", words: "empty hand" },
  { level: "gesture", words: "gesture" },
] as const;

/** The same and none, as they stand in an order of strength. */
export const HELP_ORDER: string[] = [...HELP.map((h) => h.level), "none"];

/** How a level is called in a sentence. */
export const HELP_WORDS: Record<string, string> = {
  physical: "a hand on the animal",
  food_lure: "food in the hand",
  target: "a target",
  empty_hand: "an empty hand",
  gesture: "a gesture",
  none: "no help",
};

/** The most help to give. */
export function helpAtMost(level: string): string {
  const words = HELP_WORDS[level] ?? level;
  return level === "none" ? words : `${words} at most`;
}
