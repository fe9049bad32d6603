import { t } from "../words";

/** Levels of help, the strongest first. */
export const HELP = [
  { level: "physical", words: t("common:touch") },
  { level: "food_lure", words: t("domain:help_levels.food_in_the_hand") },
  { level: "target", words: t("domain:help_levels.target") },
  { level: "empty_hand", words: t("domain:help_levels.empty_hand") },
  { level: "gesture", words: t("domain:help_levels.gesture") },
] as const;

/** The same and none, as they stand in an order of strength. */
export const HELP_ORDER: string[] = [...HELP.map((h) => h.level), "none"];

/** How a level is called in a sentence. */
export const HELP_WORDS: Record<string, string> = {
  physical: t("domain:help_levels.a_hand_on_the_animal"),
  food_lure: t("domain:help_levels.food_in_the_hand"),
  target: t("domain:help_levels.a_target"),
  empty_hand: t("domain:help_levels.an_empty_hand"),
  gesture: t("domain:help_levels.a_gesture"),
  none: t("domain:help_levels.no_help"),
};

/** The most help to give. */
export function helpAtMost(level: string): string {
  const words = HELP_WORDS[level] ?? level;
  return level === "none" ? words : t("domain:help_levels.words_at_most", { words });
}
