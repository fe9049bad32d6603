import { useEffect, useState } from "react";

import { Button } from "../../components/button";
import { lineWords, payWords, type ScriptOut } from "../../domain/script";
import { levelWords } from "../../domain/variation";
import { t } from "../../words";

interface RepByRepProps {
  sessionId: string;
  script: ScriptOut;
  titleOf: (key: string | null) => string;
  onEnd: () => void;
}

/** One line of the script at a time, in type for an arm's length and a button for a thumb. */
export function RepByRep({ sessionId, script, titleOf, onEnd }: RepByRepProps) {
  const store = `frequens.script.${sessionId}.${script.seed}`;
  // Of a phone that was locked, or a page that was left.
  const [at, setAt] = useState(() =>
    Math.min(Number(localStorage.getItem(store) ?? 0) || 0, script.lines.length - 1),
  );
  useEffect(() => localStorage.setItem(store, String(at)), [store, at]);
  const go = (by: number) =>
    setAt((now) => Math.max(0, Math.min(script.lines.length - 1, now + by)));
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "ArrowRight" || event.key === " ") go(1);
      else if (event.key === "ArrowLeft") go(-1);
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
  const line = script.lines[at];
  const following = script.lines[at + 1];
  if (!line) return null;
  const number = script.lines.slice(0, at + 1).filter(({ sort }) => sort !== "break").length;
  const criterion = line.sort === "rep" && line.step !== null ? script.criteria[line.step] : null;
  const end = () => {
    localStorage.removeItem(store);
    onEnd();
  };
  return (
    <section
      aria-label={t("next:rep_by_rep.rep_by_rep")}
      className="mx-auto flex min-h-[calc(100dvh-9.5rem)] max-w-[560px] flex-col"
    >
      <p className="num flex justify-between text-soft">
        <span>{t("next:rep_by_rep.number_of_all", { number, all: script.reps })}</span>
        <span>{line.phase !== "work" && PHASES[line.phase]}</span>
      </p>
      <div aria-live="polite" className="flex flex-1 flex-col justify-center py-6">
        <p className={`text-[40px] leading-[1.1] ${line.sort === "rep" ? "" : "text-soft"}`}>
          {lineWords(line, titleOf)}
        </p>
        {line.sort === "rep" && Object.keys(line.levels).length > 0 && (
          <p className="mt-3 text-[24px]">{levelWords(line.levels)}</p>
        )}
        {criterion && <p className="mt-3 max-w-[48ch] text-[18px] text-soft">{criterion}</p>}
        {line.sort !== "break" && payWords(line) && (
          <p className="mt-4 text-[24px] text-reward">
            {t("next:rep_by_rep.reward", { pay: payWords(line) })}
          </p>
        )}
      </div>
      <p className="min-h-6 text-soft">
        {following && t("next:rep_by_rep.then", { what: lineWords(following, titleOf) })}
      </p>
      <div className="mt-3 grid grid-cols-[1fr_2fr] gap-3">
        <Button className="h-20 text-[18px]" disabled={at === 0} onClick={() => go(-1)}>
          {t("next:rep_by_rep.back")}
        </Button>
        {following ? (
          <Button look="main" className="h-20 text-[22px]" onClick={() => go(1)}>
            {t("next:rep_by_rep.done_next")}
          </Button>
        ) : (
          <Button look="main" className="h-20 text-[22px]" onClick={end}>
            {t("next:rep_by_rep.end_well")}
          </Button>
        )}
      </div>
      <Button look="quiet" className="mt-4 self-center" onClick={onEnd}>
        {t("next:rep_by_rep.whole_script")}
      </Button>
    </section>
  );
}

const PHASES = {
  warm_up: t("next:rep_by_rep.warm_up"),
  part: t("next:rep_by_rep.a_part_alone"),
  end: t("next:rep_by_rep.easy_end"),
};
