import { Link } from "react-router";

import { HELP_ORDER, HELP_WORDS } from "../../domain/help-levels";
import { counted, latency } from "../../domain/times";
import { behind } from "./behind";
import { Numbers } from "../../components/numbers-behind";
import { Part } from "./part";
import type { PartOf } from "./parts";
import { Trans, t } from "../../words";

/** Help given before the reps, and whether the new cue came before the old one. */
export function HelpPart({ findings, session }: PartOf) {
  const { attempts, last_food_lure: lure, cue_lead_s: lead } = findings.prompts;
  const levels = Object.entries(attempts);
  if (levels.length === 0) return null;
  const { helped, fading } = findings;
  const all = helped?.of ?? 1;
  return (
    <Part
      id="prompts"
      session={session}
      about={t("findings:help_part.the_help")}
      title={t("findings:help_part.help_before_the_rep")}
      value={
        helped && t("findings:help_part.number_of_of", { number: helped.count, of: helped.of })
      }
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
              <Trans
                i18nKey="findings:help_part.n_after_help_words"
                components={{ part: <span className="num" /> }}
                values={{ n, HELP_WORDS: HELP_WORDS[level] ?? level }}
              />
            </Link>
          </li>
        ))}
      </ul>
      {fading && fading.reps.length > 1 && <HelpOverReps reps={fading.reps} />}
      {fading && (
        <p className="mt-1">
          {fading.longest_run > 0
            ? t("findings:help_part.the_longest_run_that_fitted", {
                longest_run: counted(fading.longest_run, "rep"),
              })
            : t("findings:help_part.nothing_fitted_without_help_yet")}
          {fading.cue_only.of > 0 && (
            <>
              {" "}
              {t("findings:help_part.asked_by_the_cue_alone", {
                of: counted(fading.cue_only.of, "time"),
                number: fading.cue_only.count,
              })}
            </>
          )}
        </p>
      )}
      {lure !== null && (
        <p className="mt-1">
          {t("findings:help_part.food_was_last_in_the", {
            lure,
            which: lure > 5 ? t("findings:help_part.beyond_a_handful_it_becomes") : ".",
          })}
        </p>
      )}
      {lead.n > 0 && lead.median !== null && (
        <p className="mt-1">
          {t("findings:help_part.the_cue_came_latency_which", {
            latency: latency(Math.abs(lead.median), 2).slice(1),
            which: lead.median < 0 ? t("common:after") : t("common:before"),
            n: counted(lead.n, "rep"),
            which2:
              lead.overlapped > 0
                ? t("findings:help_part.on_overlapped_too_close_to", {
                    overlapped: lead.overlapped,
                  })
                : ".",
          })}
        </p>
      )}
      <Numbers
        caption={t("findings:help_part.reps_by_the_strongest_help")}
        heads={[t("findings:help_part.help"), t("findings:help_part.reps")]}
        rows={levels.map(([level, n]) => [HELP_WORDS[level] ?? level, n])}
      />
    </Part>
  );
}

/** Each rep in its order: how much help it had, and whether it fitted. */
function HelpOverReps({ reps }: { reps: { id: string; help: string; met: boolean | null }[] }) {
  const rows = HELP_ORDER.filter((level) => reps.some((rep) => rep.help === level));
  const step = 600 / reps.length;
  const height = rows.length * 18;
  return (
    <div className="mt-2 grid grid-cols-[8.5rem_1fr] gap-2">
      <ul className="text-[12px] leading-[18px] text-soft">
        {rows.map((level) => (
          <li key={level} className="truncate">
            {HELP_WORDS[level] ?? level}
          </li>
        ))}
      </ul>
      <svg
        viewBox={`0 0 600 ${height}`}
        className="w-full"
        style={{ height }}
        preserveAspectRatio="none"
        role="img"
        aria-label={t("findings:help_part.help_from_rep_to_rep")}
      >
        {rows.map((level, n) => (
          <path key={level} d={`M0 ${n * 18 + 9}H600`} stroke="var(--hair)" />
        ))}
        {reps.map((rep, n) => (
          <rect
            key={rep.id}
            x={n * step + step * 0.15}
            width={step * 0.7}
            y={rows.indexOf(rep.help) * 18 + 3}
            height={12}
            fill={rep.met ? "var(--behaviour)" : "none"}
            stroke="var(--behaviour)"
            strokeWidth={1.4}
            strokeDasharray={rep.met === null ? "2 2" : undefined}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
    </div>
  );
}
