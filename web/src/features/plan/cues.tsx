import { useState } from "react";

import { Button } from "../../components/button";
import { FIELD } from "./fields";
import { t } from "../../words";

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
        <p className="text-[13px] text-soft">{t("plan:cues.what_each_cue_asks_for")}</p>
      )}
      {rows.map((cue, n) => (
        <div key={n} className="flex items-center gap-1.5">
          <input
            aria-label={t("plan:cues.cue_n", { n: n + 1 })}
            placeholder={t("common:cue")}
            value={cue.label}
            maxLength={200}
            onChange={(event) => put(n, { label: event.target.value })}
            className={`${FIELD} w-24`}
          />
          <span className="text-soft">{t("plan:cues.asks_for")}</span>
          <input
            aria-label={t("plan:cues.behaviour_that_cue_n_asks", { n: n + 1 })}
            placeholder={t("plan:cues.behaviour")}
            value={cue.behaviour}
            maxLength={200}
            onChange={(event) => put(n, { behaviour: event.target.value })}
            className={`${FIELD} min-w-0 flex-1`}
          />
          <button
            type="button"
            aria-label={t("plan:cues.take_cue_label_out", { label: cue.label || n + 1 })}
            className="px-1 text-soft hover:text-ink"
            onClick={() => change(rows.filter((_, i) => i !== n))}
          >
            ×
          </button>
        </div>
      ))}
      {twice !== undefined && (
        <p role="alert" className="text-[13px] text-fault">
          {t("plan:cues.twice_stands_twice_one_cue", { twice })}
        </p>
      )}
      <Button className="h-7" onClick={() => setDraft([...rows, { label: "", behaviour: "" }])}>
        {rows.length === 0 ? t("plan:cues.say_what_each_cue_asks") : t("plan:cues.one_more_cue")}
      </Button>
    </div>
  );
}
