/** Light or dark: the user's choice, or the system's where none was made. */

const KEY = "frequens.theme";
const dark = window.matchMedia("(prefers-color-scheme: dark)");

function wanted(): "light" | "dark" {
  const chosen = localStorage.getItem(KEY);
  if (chosen === "light" || chosen === "dark") return chosen;
  return dark.matches ? "dark" : "light";
}

function apply(): void {
  document.documentElement.dataset["theme"] = wanted();
}

/** Follow the choice from now on. */
export function startTheme(): void {
  apply();
  dark.addEventListener("change", apply);
}

/** Turn to the other theme and remember it. */
export function switchTheme(): void {
  localStorage.setItem(KEY, wanted() === "dark" ? "light" : "dark");
  apply();
}
