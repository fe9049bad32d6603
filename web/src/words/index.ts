/**
 * What the screens say, by language. English is complete and stands in for what another language
 * lacks. A language is loaded before the application (see `main.tsx`), so that words may be used
 * anywhere; choosing another one loads the page again.
 */

import i18next from "i18next";
import { initReactI18next } from "react-i18next";

import * as en from "./en";
import type { WordKey } from "./keys";

export { Trans } from "./trans";

export type LanguageCode = "en" | "de";

interface Language {
  code: LanguageCode;
  name: string;
  /** How it writes dates and numbers. */
  locale: string;
  bring: () => Promise<Record<string, object>>;
}

/** English first; the others as far as they have come. */
export const LANGUAGES: readonly Language[] = [
  { code: "en", name: "English", locale: "en-GB", bring: () => Promise.resolve(en) },
  { code: "de", name: "Deutsch (begonnen)", locale: "de-DE", bring: () => import("./de") },
];

const KEPT = "frequens.language";

void i18next.use(initReactI18next).init({
  lng: "en",
  fallbackLng: "en",
  ns: Object.keys(en),
  resources: { en },
  initAsync: false,
  // React escapes what it shows.
  interpolation: { escapeValue: false },
});

/** Words without numbers or names in them, as they were found: they are asked for in every frame. */
const found = new Map<string, string>();
i18next.on("languageChanged", () => found.clear());

/** The words behind a key, in the language in use. */
export function t(key: WordKey, values?: Record<string, unknown>): string {
  if (values !== undefined) return i18next.t(key, values);
  let words = found.get(key);
  if (words === undefined) found.set(key, (words = i18next.t(key)));
  return words;
}

/** The language in use. */
export function language(): Language {
  return LANGUAGES.find(({ code }) => code === i18next.language) ?? LANGUAGES[0]!;
}

/** Bring the language this browser has chosen; where it cannot be brought, English stays. */
export async function startWords(): Promise<void> {
  const chosen = LANGUAGES.find(({ code }) => code === localStorage.getItem(KEPT));
  if (!chosen || chosen.code === "en") return;
  const words = await chosen.bring().catch(() => null);
  if (!words) return;
  for (const [room, said] of Object.entries(words)) {
    i18next.addResourceBundle(chosen.code, room, said);
  }
  await i18next.changeLanguage(chosen.code);
  document.documentElement.lang = chosen.code;
}

/** Choose a language for this browser. */
export function chooseLanguage(code: LanguageCode): void {
  localStorage.setItem(KEPT, code);
  location.reload();
}
