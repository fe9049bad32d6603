import { useState } from "react";

import { Button } from "../../components/button";
import { FIELD } from "./fields";

interface PlannedCue {
  label: string;
  behaviour: string;
}

/** Which behaviour each cue asks for: then an answer with another one is a wrong answer. */
export function Cues({
  cues,
  onChange,
}: {
  cues: PlannedCue[];
  onChange: (cues: PlannedCue[] | undefined) => void;
}) {
  // A row that is not whole yet stays on the screen and out of the plan.
  const [draft, setDraft] = useState<PlannedCue[] | null>(null);
  const rows = draft ?? cues;
  const change = (next: PlannedCue[]) => {
    const whole = next.filter(
      (cue, n) =>
        cue.label !== "" &&
        cue.behaviour !== "" &&
        next.findIndex((other) => other.label === cue.label) === n,
    );
    setDraft(whole.length === next.length ? null : next);
    onChange(whole.length > 0 ? whole : undefined);
  };
  const put = (n: number, values: Partial<PlannedCue>) =>
    change(rows.map((cue, i) => (i === n ? { ...cue, ...values } : cue)));
  const labels = rows.map((cue) => cue.label);
  const twice = labels.find((label, n) => label !== "" && labels.indexOf(label) < n);
  return (
    <div className="mt-2 space-y-1.5">
      {rows.length > 0 && (
        <p className="text-[13px] text-soft">
          What each cue asks for, by the names reps are given at the bench:
        </p>
      )}
      {rows.map((cue, n) => (
        <div key={n} className="flex items-center gap-1.5">
          <input
            aria-label={`Cue ${n + 1}`}
            placeholder="cue"
            value={cue.label}
            maxLength={200}
            onChange={(event) => put(n, { label: event.target.value })}
            className={`${FIELD} w-24`}
          />
          <span className="text-soft">asks for</span>
          <input
            aria-label={`Behaviour that cue ${n + 1} asks for`}
            placeholder="behaviour"
            value={cue.behaviour}
            maxLength={200}
            onChange={(event) => put(n, { behaviour: event.target.value })}
            className={`${FIELD} min-w-0 flex-1`}
          />
          <button
            type="button"
            aria-label={`Take cue ${cue.label || n + 1} out`}
            className="px-1 text-soft hover:text-ink"
            onClick={() => change(rows.filter((_, i) => i !== n))}
          >
            ×
          </button>
        </div>
      ))}
      {twice !== undefined && (
        <p role="alert" className="text-[13px] text-fault">
          “{twice}” stands twice; one cue asks for one thing.
        </p>
      )}
      <Button className="h-7" onClick={() => setDraft([...rows, { label: "", behaviour: "" }])}>
        {rows.length === 0 ? "Say what each cue asks for" : "One more cue"}
      </Button>
    </div>
  );
}
