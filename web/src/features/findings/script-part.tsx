import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { api, given } from "../../api/client";
import type { components } from "../../api/schema";
import { Numbers } from "../../components/numbers-behind";
import { keptWords, lineWords, type FollowedLine } from "../../domain/script";
import { counted, percent } from "../../domain/times";
import { levelWords } from "../../domain/variation";
import { t } from "../../words";
import { Part } from "./part";
import type { PartOf } from "./parts";

type FollowedOut = components["schemas"]["FollowedOut"];

/** The script that was taken along beside what was done: skipped, swapped, repeated. */
export function ScriptPart({ findings, session, titleOf }: PartOf) {
  const found = useQuery({
    queryKey: ["followed", session.id],
    queryFn: async () =>
      given(
        await api.GET("/api/plans/followed/{session_id}", {
          params: { path: { session_id: session.id } },
        }),
      ),
  });
  if (!found.data) return null;
  const { script, followed, titles } = found.data;
  const title = (key: string | null) => (key !== null && titles[key]) || titleOf(key);
  const planned = script.filter(({ sort }) => sort !== "break").length;
  const asPlanned = followed.lines.filter(({ kept }) => kept === "as_planned").length;
  const onsets = new Map(findings.reps.map((rep) => [rep.id, rep.onset_s]));
  /** What was done another way, each once with how often. */
  const other = new Map<string, number>();
  for (const line of followed.lines) {
    if (line.kept === "as_planned") continue;
    const words = wordsOf(line, script, findings, title);
    other.set(words, (other.get(words) ?? 0) + 1);
  }
  return (
    <Part
      id="script"
      session={session}
      about={t("findings:script_part.script_and_session")}
      title={t("findings:script_part.as_the_script_said")}
      value={t("findings:script_part.of_planned", { asPlanned, planned })}
      wide
    >
      <ol
        aria-label={t("findings:script_part.script_and_session")}
        className="mt-2 flex flex-wrap gap-1"
      >
        {followed.lines.map((line, place) => (
          <li key={`${line.planned ?? "-"} ${line.done ?? "-"}`}>
            <Tick
              line={line}
              number={place + 1}
              words={wordsOf(line, script, findings, title)}
              to={
                line.done !== null && onsets.has(line.done)
                  ? `/sessions/${session.id}/bench?t=${(onsets.get(line.done) ?? 0).toFixed(6)}`
                  : null
              }
            />
          </li>
        ))}
      </ol>
      <p className="mt-2 max-w-[72ch]">
        {other.size > 0 ? matterWords(followed) : t("findings:script_part.every_line")}
      </p>
      {other.size > 0 && (
        <ul className="mt-2 grid gap-x-8 gap-y-0.5 text-soft md:grid-cols-2">
          {[...other].map(([words, times]) => (
            <li key={words}>
              {times > 1 ? t("findings:script_part.times", { words, times }) : words}
            </li>
          ))}
        </ul>
      )}
      <Numbers
        caption={t("findings:script_part.script_and_session")}
        heads={[
          t("findings:script_part.line"),
          t("findings:script_part.planned"),
          t("findings:script_part.kept"),
          t("findings:script_part.fits"),
        ]}
        rows={followed.lines.map((line) => {
          const own = line.planned === null ? undefined : script[line.planned];
          return [
            line.planned === null ? "–" : line.planned + 1,
            own ? lineWords(own, title) : "–",
            keptWords(line),
            line.met === null
              ? "–"
              : line.met
                ? t("findings:script_part.fits_it")
                : t("common:not_yet"),
          ];
        })}
      />
    </Part>
  );
}

function wordsOf(
  line: FollowedLine,
  script: FollowedOut["script"],
  findings: PartOf["findings"],
  title: (key: string | null) => string,
): string {
  const own = line.planned === null ? undefined : script[line.planned];
  const rep = findings.reps.find(({ id }) => id === line.done);
  const done = rep
    ? [title(rep.approximation), levelWords(rep.conditions)].filter(Boolean).join(", ")
    : t("domain:script.wait_short");
  const wanted = own
    ? [lineWords(own, title), levelWords(own.levels)].filter(Boolean).join(", ")
    : "";
  switch (line.kept) {
    case "skipped":
      return t("findings:script_part.skipped", { wanted });
    case "swapped":
      return t("findings:script_part.swapped", { wanted, done });
    case "as_planned":
      return wanted;
    default:
      return t("findings:script_part.added", { kept: keptWords(line), done });
  }
}

/** Whether it mattered, with how far a few reps can tell. */
function matterWords({
  as_planned,
  otherwise,
  difference,
  better,
}: FollowedOut["followed"]): string {
  if (as_planned.of === 0 || otherwise.of === 0)
    return t("findings:script_part.nothing_to_compare");
  const fits = t("findings:script_part.fits_of_both", {
    met: as_planned.count,
    judged: counted(as_planned.of, "rep"),
    met_otherwise: otherwise.count,
    judged_otherwise: otherwise.of,
  });
  const says =
    better === "as_planned"
      ? t("findings:script_part.the_script_helped")
      : better === "otherwise"
        ? t("findings:script_part.the_script_hindered")
        : t("findings:script_part.cannot_be_told");
  const { low, high } = difference;
  // Of fewer the interval promises more than a handful of reps can hold.
  const isEnough = Math.min(as_planned.of, otherwise.of) >= 5 && low !== null && high !== null;
  const between =
    isEnough &&
    t("findings:script_part.could_differ_by", { low: percent(low), high: percent(high) });
  return [fits, between, says].filter(Boolean).join(" ");
}

const LOOKS: Record<FollowedLine["kept"], string> = {
  as_planned: "border-behaviour",
  swapped: "border-marker border-2",
  skipped: "border-dashed border-soft",
  extra: "border-ink border-2",
  repeated: "border-ink border-2",
};

function Tick({
  line,
  number,
  words,
  to,
}: {
  line: FollowedLine;
  number: number;
  words: string;
  to: string | null;
}) {
  const look = `num flex h-8 min-w-8 items-center justify-center rounded border px-1 text-[13px] ${LOOKS[line.kept]} ${
    line.met === true ? "bg-behaviour/20" : ""
  }`;
  const said = `${keptWords(line)}: ${words}`;
  const inside = line.kept === "skipped" ? "–" : number;
  return to ? (
    <Link to={to} title={said} aria-label={said} className={look}>
      {inside}
    </Link>
  ) : (
    <span title={said} aria-label={said} role="img" className={look}>
      {inside}
    </span>
  );
}
