/** A number that leads to what stands behind it. */

export interface BehindLink {
  to: string;
  onClick: () => void;
}

export type Behind = (key: string) => BehindLink;

/** Where the list of reps shows those of a filter's key. */
export const behind: Behind = (key) => ({
  to: `?reps=${encodeURIComponent(key)}#reps`,
  onClick: () => window.setTimeout(() => document.getElementById("reps")?.scrollIntoView()),
});
