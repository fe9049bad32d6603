import { Link } from "react-router";

import { counted, latency } from "../ui/times";
import { behind } from "./behind";
import { Numbers } from "./numbers";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { HELP_WORDS } from "./rep-filter";

/** Help given before the reps, and whether the new cue came before the old one. */
export function HelpPart({ findings, session }: PartOf) {
  const { attempts, last_food_lure: lure, cue_lead_s: lead } = findings.prompts;
  const levels = Object.entries(attempts);
  if (levels.length === 0) return null;
  const all = levels.reduce((sum, [, n]) => sum + n, 0);
  return (
    <Part
      id="prompts"
      session={session}
      about="the help"
      title="Help before the rep"
      value={`${all - (attempts["none"] ?? 0)} of ${all}`}
    >
      <ul className="space-y-1">
        {levels.map(([level, n]) => (
          <li key={level} className="flex items-center gap-3">
            <svg viewBox="0 0 100 12" className="h-3 w-28" preserveAspectRatio="none" aria-hidden>
              <rect width={(100 * n) / all} height={12} fill="var(--behaviour)" opacity={0.55} />
            </svg>
            <Link
              {...behind(`help:${level}`)}
              preventScrollReset
              className="underline decoration-line underline-offset-3"
            >
              <span className="num">{n}</span> after {HELP_WORDS[level] ?? level}
            </Link>
          </li>
        ))}
      </ul>
      {lure !== null && (
        <p className="mt-1">
          Food was last in the hand on rep {lure}
          {lure > 5 ? ": beyond a handful it becomes what the animal follows." : "."}
        </p>
      )}
      {lead.n > 0 && lead.median !== null && (
        <p className="mt-1">
          The cue came {latency(lead.median, 2).slice(1)} before the help, in the middle of{" "}
          {counted(lead.n, "rep")}
          {lead.overlapped > 0
            ? `; on ${lead.overlapped} too close to it, or after: the cue first, then a clear pause.`
            : "."}
        </p>
      )}
      <Numbers
        caption="Reps by the strongest help before them"
        heads={["Help", "reps"]}
        rows={levels.map(([level, n]) => [HELP_WORDS[level] ?? level, n])}
      />
    </Part>
  );
}
