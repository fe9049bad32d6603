import { useState, type FormEvent } from "react";

import { wordsOf, type MarkKind } from "./marks";
import type { Desk } from "./use-desk";

const SEVERITIES = [
  { severity: 1, words: "slight" },
  { severity: 2, words: "marked" },
  { severity: 3, words: "severe" },
];
const FIELD = "h-7 rounded border border-line bg-raised px-2 text-[12.5px]";

/** Says what a mark is of, before it stands: a name, for a sign also how strong. */
export function NameMark({ desk, kind, frame }: { desk: Desk; kind: MarkKind; frame: number }) {
  const known = [
    ...new Set(desk.events.filter((e) => e.kind === kind).map((e) => e["label"])),
  ].filter((name) => typeof name === "string");
  const [label, setLabel] = useState(known.at(-1) ?? "");
  const [severity, setSeverity] = useState(1);

  const stand = (event: FormEvent) => {
    event.preventDefault();
    const name = label.trim();
    if (name) desk.put(kind, frame, kind === "sign" ? { label: name, severity } : { label: name });
  };
  return (
    <form
      onSubmit={stand}
      className="flex h-8 items-center gap-2"
      aria-label={`Name: ${wordsOf(kind)}`}
    >
      <label className="flex items-center gap-2">
        <span className="font-semibold">{wordsOf(kind)}</span>
        <input
          // The reviewer has just pressed the key for it and goes on typing.
          // eslint-disable-next-line jsx-a11y/no-autofocus
          autoFocus
          list="known-names"
          value={label}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setLabel(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Escape") desk.setPointing({ does: "go" });
          }}
          placeholder={kind === "sign" ? "yawns, freezes …" : "paws, turns away …"}
          maxLength={200}
          className={`${FIELD} w-44`}
        />
      </label>
      <datalist id="known-names">
        {known.map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {kind === "sign" && (
        <select
          aria-label="How strong"
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
        disabled={!label.trim()}
        className={`${FIELD} hover:border-ink disabled:opacity-50`}
      >
        Mark it
      </button>
      <button
        type="button"
        onClick={() => desk.setPointing({ does: "go" })}
        className="text-[12.5px] underline underline-offset-3"
      >
        Leave it
      </button>
    </form>
  );
}
