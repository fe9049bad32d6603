import { useState, type FormEvent } from "react";

import { KINDS, wordsOf, type MarkKind } from "../../domain/marks";
import type { Marking } from "./use-marking";
import { t } from "../../words";

export const SEVERITIES = [
  { severity: 1, words: t("bench:name_mark.slight") },
  { severity: 2, words: t("bench:name_mark.marked") },
  { severity: 3, words: t("bench:name_mark.severe") },
];
export const LEVELS = [
  { level: "food_lure", words: t("bench:name_mark.food_in_the_hand") },
  { level: "empty_hand", words: t("bench:name_mark.empty_hand") },
  { level: "gesture", words: t("bench:name_mark.gesture") },
  { level: "target", words: t("bench:name_mark.target") },
  { level: "physical", words: t("common:touch") },
];
const PLACEHOLDERS: Partial<Record<MarkKind, string>> = {
  sign: t("bench:name_mark.yawns_freezes"),
  other_behaviour: t("bench:name_mark.paws_turns_away"),
  note: t("bench:name_mark.what_there_is_to_say"),
};
const FIELD = "h-7 rounded border border-line bg-raised px-2 text-[12.5px]";

/** Says what a mark is of, before it stands: a name, how strong, which help, or a text. */
export function NameMark({
  marking,
  kind,
  frame,
}: {
  marking: Marking;
  kind: MarkKind;
  frame: number;
}) {
  const asks = KINDS.find((k) => k.kind === kind)?.asks;
  const field = asks === "text" ? "text" : "label";
  const known = [
    ...new Set(marking.events.filter((e) => e.kind === kind).map((e) => e[field])),
  ].filter((name) => typeof name === "string");
  const lastLevel = marking.events.findLast((e) => e.kind === "prompt")?.["level"];
  const [said, setSaid] = useState(asks === "text" ? "" : (known.at(-1) ?? ""));
  const [severity, setSeverity] = useState(1);
  const [level, setLevel] = useState(typeof lastLevel === "string" ? lastLevel : "gesture");

  const stand = (event: FormEvent) => {
    event.preventDefault();
    const name = said.trim();
    if (asks === "level") marking.put(kind, frame, { level });
    else if (name) {
      marking.put(kind, frame, asks === "severity" ? { label: name, severity } : { [field]: name });
    }
  };
  const leave = () => marking.setPointing({ does: "go" });
  return (
    <form
      onSubmit={stand}
      className="flex h-8 items-center gap-2"
      aria-label={t("bench:name_mark.name_kind", { kind: wordsOf(kind) })}
    >
      <label className="flex items-center gap-2">
        <span className="font-semibold">{wordsOf(kind)}</span>
        {asks === "level" ? (
          <select
            // The reviewer has just pressed the key for it and goes on choosing.
            // eslint-disable-next-line jsx-a11y/no-autofocus
            autoFocus
            aria-label={t("bench:name_mark.which_help")}
            value={level}
            onChange={(event) => setLevel(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape") leave();
              if (event.key === "Enter") event.currentTarget.form?.requestSubmit();
            }}
            className={FIELD}
          >
            {LEVELS.map((l) => (
              <option key={l.level} value={l.level}>
                {l.words}
              </option>
            ))}
          </select>
        ) : (
          <input
            // The reviewer has just pressed the key for it and goes on typing.
            // eslint-disable-next-line jsx-a11y/no-autofocus
            autoFocus
            list="known-names"
            value={said}
            onFocus={(event) => event.target.select()}
            onChange={(event) => setSaid(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape") leave();
            }}
            placeholder={PLACEHOLDERS[kind] ?? ""}
            maxLength={asks === "text" ? 4000 : 200}
            className={`${FIELD} ${asks === "text" ? "w-80" : "w-44"}`}
          />
        )}
      </label>
      <datalist id="known-names">
        {asks !== "text" && known.map((name) => <option key={name} value={name} />)}
      </datalist>
      {asks === "severity" && (
        <select
          aria-label={t("bench:name_mark.how_strong")}
          value={severity}
          onChange={(event) => setSeverity(Number(event.target.value))}
          className={FIELD}
        >
          {SEVERITIES.map((s) => (
            <option key={s.severity} value={s.severity}>
              {s.words}
            </option>
          ))}
        </select>
      )}
      <button
        type="submit"
        disabled={asks !== "level" && !said.trim()}
        className={`${FIELD} hover:border-ink disabled:opacity-50`}
      >
        {t("bench:name_mark.mark_it")}
      </button>
      <button type="button" onClick={leave} className="text-[12.5px] underline underline-offset-3">
        {t("common:leave_it")}
      </button>
    </form>
  );
}
