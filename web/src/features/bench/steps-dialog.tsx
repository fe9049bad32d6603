import { Dialog } from "radix-ui";
import { useState, type FormEvent } from "react";

import { Button } from "../../components/button";
import { freshId, type PlanBody, type PlanStep } from "../../domain/marks";
import type { Marking } from "./use-marking";

interface Row extends PlanStep {
  title: string;
}

const FIELD = "h-8 rounded border border-line bg-paper px-2";
const MARK_AT = [
  { value: "onset", words: "when it begins" },
  { value: "hold", words: "after it is held for" },
  { value: "offset", words: "when it ends" },
] as const;
const RULES = [
  { kind: "", words: "no rule yet" },
  { kind: "run", words: "five in a row" },
  { kind: "share", words: "eight of the last ten" },
  { kind: "block", words: "a whole block of five" },
  { kind: "comfort", words: "three sessions at ease" },
];

/** The steps of a session: what counts at each, when the marker should fall, when to go on. */
export function StepsDialog({ marking, onClose }: { marking: Marking; onClose: () => void }) {
  const { plan } = marking;
  const [rows, setRows] = useState<Row[]>(() => {
    const steps = (plan.approximations ?? []).map((s) => ({ ...s, title: s.title ?? s.key }));
    return steps.length > 0 ? steps : [emptyRow()];
  });
  const [kind, setKind] = useState(plan.rule?.kind ?? "run");
  const used = new Set(marking.events.map((e) => e.approximation));
  const change = (key: string, to: Partial<Row>) =>
    setRows((all) => all.map((row) => (row.key === key ? { ...row, ...to } : row)));

  const save = (event: FormEvent) => {
    event.preventDefault();
    marking.setPlan(planOf(plan, rows, kind));
    onClose();
  };
  // The school's own numbers are kept; only another school begins with its usual ones.
  const known = RULES.some((rule) => rule.kind === kind);
  return (
    <Dialog.Root modal={false} open onOpenChange={onClose}>
      <Dialog.Portal>
        <div aria-hidden className="fixed inset-0 z-30 bg-ink/25" />
        <Dialog.Content
          onInteractOutside={(event) => event.preventDefault()}
          className="fixed top-16 left-1/2 z-40 max-h-[calc(100vh-6rem)] w-[46rem] max-w-[calc(100vw-2rem)] -translate-x-1/2 overflow-y-auto rounded border border-ink bg-raised p-6"
        >
          <Dialog.Title className="text-[18px] font-semibold">
            The steps of this session
          </Dialog.Title>
          <Dialog.Description className="mt-1 mb-4 text-soft">
            The easiest first. Say what another person could see on the film: “nose on the rope”,
            not “is interested”.
          </Dialog.Description>
          <form onSubmit={save}>
            <ol className="space-y-2">
              {rows.map((row, place) => (
                <li key={row.key} className="flex items-center gap-2">
                  <span className="num w-5 text-right text-soft">{place + 1}</span>
                  <input
                    aria-label={`Step ${place + 1}, what counts`}
                    value={row.title}
                    required
                    maxLength={400}
                    onChange={(event) => change(row.key, { title: event.target.value })}
                    className={`${FIELD} min-w-0 flex-1`}
                  />
                  <span className="text-soft">marker</span>
                  <select
                    aria-label={`Step ${place + 1}, when the marker should fall`}
                    value={row.mark_at ?? "onset"}
                    onChange={(event) =>
                      change(row.key, {
                        mark_at: event.target.value as PlanStep["mark_at"] & string,
                      })
                    }
                    className={FIELD}
                  >
                    {MARK_AT.map((at) => (
                      <option key={at.value} value={at.value}>
                        {at.words}
                      </option>
                    ))}
                  </select>
                  {row.mark_at === "hold" && (
                    <label className="flex items-center gap-1">
                      <input
                        aria-label={`Step ${place + 1}, held for seconds`}
                        type="number"
                        required
                        min={0.1}
                        max={3600}
                        step={0.1}
                        value={row.hold_s ?? ""}
                        onChange={(event) =>
                          change(row.key, { hold_s: event.target.valueAsNumber })
                        }
                        className={`${FIELD} num w-20`}
                      />
                      s
                    </label>
                  )}
                  <Button
                    look="quiet"
                    disabled={used.has(row.key) || rows.length === 1}
                    title={used.has(row.key) ? "Marks stand under this step" : undefined}
                    aria-label={`Take step ${place + 1} out`}
                    onClick={() => setRows((all) => all.filter((r) => r.key !== row.key))}
                  >
                    Take out
                  </Button>
                </li>
              ))}
            </ol>
            <p className="mt-3 flex items-center gap-4">
              <Button onClick={() => setRows((all) => [...all, emptyRow()])}>One more step</Button>
              <label className="flex items-center gap-2">
                Go on to the next step after
                <select
                  value={kind}
                  onChange={(event) => setKind(event.target.value)}
                  className={FIELD}
                >
                  {!known && <option value={kind}>as the plan says</option>}
                  {RULES.map((rule) => (
                    <option key={rule.kind} value={rule.kind}>
                      {rule.words}
                    </option>
                  ))}
                </select>
              </label>
            </p>
            <div className="mt-5 flex justify-end gap-2">
              <Button onClick={onClose}>Leave it</Button>
              <Button look="main" type="submit">
                Keep these steps
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function emptyRow(): Row {
  return { key: freshId().slice(0, 8), title: "" };
}

/** The plan with these steps and this school; what the dialog does not show stays as it was. */
export function planOf(before: PlanBody, rows: Row[], kind: string): PlanBody {
  const plan: PlanBody = { ...before };
  plan.approximations = rows.map(({ hold_s, ...row }) => ({
    ...row,
    title: row.title.trim(),
    ...(row.mark_at === "hold" && hold_s !== undefined ? { hold_s } : {}),
  }));
  if (kind === "") delete plan.rule;
  else if (before.rule?.kind !== kind) plan.rule = { kind };
  return plan;
}
