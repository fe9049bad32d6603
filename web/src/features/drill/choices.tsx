import { ToggleGroup } from "radix-ui";
import type { ReactNode } from "react";

import { Button } from "../../components/button";
import type { Drills } from "../../domain/drill";
import { crumbOf } from "../../domain/words";
import { t } from "../../words";
import { canHear } from "./clicker-ear";
import type { Choice } from "./use-choice";
import type { Drilling } from "./use-drilling";
import { useDrillSessions } from "./use-drills";

const INSTANTS = ["begins", "hold", "ends"] as const;
const SECONDS = [30, 60, 90];

interface ChoicesProps {
  drills: Drills;
  choice: Choice;
  choose: (values: Partial<Choice>) => void;
  drilling: Drilling;
  onBegin: () => void;
}

/** What to drill: the instant, whom, how hard, how long. */
export function Choices({ drills, choice, choose, drilling, onBegin }: ChoicesProps) {
  const advice = drills.advice[choice.instant];
  const sessions = useDrillSessions();
  return (
    <div className="mt-3 space-y-2.5">
      <Row label={t("drill:choices.press_when")}>
        <Several
          label={t("drill:choices.press_when")}
          value={choice.instant}
          options={INSTANTS.map((value) => ({ value, words: t(`drill:choices.it_${value}`) }))}
          onChange={(instant) => choose({ instant })}
        />
      </Row>
      <Row label={t("drill:choices.watch")}>
        <Several
          label={t("drill:choices.watch")}
          value={choice.sessionId ? "film" : choice.asked}
          options={[
            { value: "lift" as const, words: t("drill:choices.bramble") },
            { value: "touch" as const, words: t("drill:choices.thistle") },
          ]}
          onChange={(asked) => choose({ asked, sessionId: null })}
        />
        {(sessions.data?.length ?? 0) > 0 && (
          <select
            aria-label={t("drill:choices.your_own_film")}
            value={choice.sessionId ?? ""}
            onChange={(event) => choose({ sessionId: event.target.value || null })}
            className="h-8 max-w-56 rounded border border-line bg-raised px-2"
          >
            <option value="">{t("drill:choices.your_own_film")}</option>
            {sessions.data?.map((session) => (
              <option key={session.id} value={session.id}>
                {crumbOf(session)}
              </option>
            ))}
          </select>
        )}
      </Row>
      {!choice.sessionId && (
        <Row label={t("drill:choices.how_hard")}>
          <Several
            label={t("drill:choices.how_hard")}
            value={choice.level}
            options={drills.levels.map(({ key }, n) => ({
              value: key,
              words: `${n + 1} ${t(`drill:level.${key}`)}`,
            }))}
            onChange={(level) => choose({ level })}
          />
          {advice && advice.why !== "first" && (
            <span className="text-[13px] text-soft">
              {t(`drill:choices.advice_${advice.why}`, {
                level: t(`drill:level.${advice.level}`),
              })}
            </span>
          )}
        </Row>
      )}
      <Row label={t("drill:choices.how_long")}>
        <Several
          label={t("drill:choices.how_long")}
          value={String(choice.seconds)}
          options={SECONDS.filter((s) => s <= 60 || !choice.isByClicker).map((s) => ({
            value: String(s),
            words: t("drill:choices.seconds", { s }),
          }))}
          onChange={(seconds) => choose({ seconds: Number(seconds) })}
        />
      </Row>
      <Row label={t("drill:choices.press")}>
        <Several
          label={t("drill:choices.press")}
          value={choice.isByClicker ? "clicker" : "key"}
          options={[
            { value: "key" as const, words: t("drill:choices.a_key_or_finger") },
            ...(canHear()
              ? [{ value: "clicker" as const, words: t("drill:choices.your_clicker") }]
              : []),
          ]}
          onChange={(by) =>
            choose({
              isByClicker: by === "clicker",
              // So much sound is sent at once.
              seconds: by === "clicker" ? Math.min(60, choice.seconds) : choice.seconds,
            })
          }
        />
        {choice.isByClicker ? (
          <span className="text-[13px] text-soft">{t("drill:choices.through_the_microphone")}</span>
        ) : (
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4"
              checked={choice.hasClick}
              onChange={(event) => choose({ hasClick: event.target.checked })}
            />
            {t("drill:choices.hear_a_click")}
          </label>
        )}
      </Row>
      <div className="flex flex-wrap items-center gap-4 pt-1">
        <Button
          look="main"
          className="h-11 px-6 text-[17px]"
          disabled={drilling.isBusy || !drilling.isReady}
          onClick={(event) => {
            event.currentTarget.blur();
            onBegin();
          }}
        >
          {t("drill:choices.begin")}
        </Button>
        <span className="max-w-[56ch] text-[13px] text-soft">
          {choice.sessionId ? t("drill:choices.about_films") : t("drill:choices.about_drawn")}
        </span>
      </div>
    </div>
  );
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <span aria-hidden className="w-[5.5rem] text-soft">
        {label}
      </span>
      {children}
    </div>
  );
}

interface SeveralProps<Value extends string> {
  label: string;
  value: Value | "film";
  options: { value: Value; words: string }[];
  onChange: (value: Value) => void;
}

/** One of a few. */
function Several<Value extends string>({ label, value, options, onChange }: SeveralProps<Value>) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next as Value)}
      className="flex flex-wrap gap-1.5"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className="h-8 rounded border border-line bg-raised px-2.5 hover:border-ink data-[state=on]:border-ink data-[state=on]:bg-ink data-[state=on]:text-paper"
        >
          {option.words}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
