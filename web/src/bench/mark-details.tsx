import { Popover } from "radix-ui";

import { LEVELS, SEVERITIES } from "./name-mark";
import type { PlanStep, StoredEvent } from "./marks";
import type { Desk } from "./use-desk";

const FIELD = "h-7 min-w-0 flex-1 rounded border border-line bg-paper px-2 text-[12.5px]";

interface DetailProps {
  mark: StoredEvent;
  say: (fields: Record<string, unknown>) => void;
}

/** What can be said of a mark beside where it stands; nothing for kinds that say nothing. */
export function MarkDetails({ desk, mark }: { desk: Desk; mark: StoredEvent }) {
  const say = (fields: Record<string, unknown>) => desk.say(mark.id, fields);
  const rows = rowsOf(desk, { mark, say });
  if (rows.length === 0) return null;
  return (
    <Popover.Root>
      <Popover.Trigger className="flex h-7 items-center gap-1 rounded border border-line bg-raised px-2 text-[12.5px] hover:border-ink">
        about it <span aria-hidden>▾</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          side="top"
          sideOffset={6}
          aria-label="About this mark"
          className="z-40 w-72 space-y-2 rounded border border-ink bg-raised p-3"
        >
          {rows.map(({ label, field }) => (
            <label key={label} className="flex items-center gap-2 text-[12.5px]">
              <span className="w-20 shrink-0 text-soft">{label}</span>
              {field}
            </label>
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function rowsOf(desk: Desk, { mark, say }: DetailProps) {
  const text = (key: string, list?: string[]) => (
    <>
      <input
        key={plain(mark[key])}
        defaultValue={typeof mark[key] === "string" ? mark[key] : ""}
        list={list ? `known-${key}` : undefined}
        maxLength={200}
        onBlur={(event) => {
          const said = event.target.value.trim();
          if (said !== (mark[key] ?? "")) say({ [key]: said || undefined });
        }}
        className={FIELD}
      />
      {list && (
        <datalist id={`known-${key}`}>
          {list.map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
      )}
    </>
  );
  const number = (key: string, step: number | "any", least?: number) => (
    <input
      type="number"
      min={least}
      step={step}
      key={plain(mark[key])}
      defaultValue={typeof mark[key] === "number" ? mark[key] : ""}
      onBlur={(event) => {
        const value = event.target.value === "" ? undefined : event.target.valueAsNumber;
        if (value !== mark[key]) say({ [key]: value });
      }}
      className={`${FIELD} num`}
    />
  );
  const select = (key: string, options: { value: string; words: string }[], isNumber = false) => (
    <select
      value={plain(mark[key])}
      onChange={(event) =>
        say({ [key]: isNumber ? Number(event.target.value) : event.target.value })
      }
      className={FIELD}
    >
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.words}
        </option>
      ))}
    </select>
  );
  switch (mark.kind) {
    case "onset":
      return [
        { label: "name", field: text("label", behaviours(desk)) },
        { label: quantityOf(desk, mark), field: number("value", "any") },
        ...desk.standing.conditions.map(({ name, levels }) => ({
          label: name,
          field: (
            <select
              value={plain((mark["conditions"] as Record<string, unknown> | undefined)?.[name])}
              onChange={(event) => {
                const conditions = { ...(mark["conditions"] as Record<string, unknown>) };
                if (event.target.value) conditions[name] = event.target.value;
                else delete conditions[name];
                say({ conditions: Object.keys(conditions).length ? conditions : undefined });
              }}
              className={FIELD}
            >
              <option value="">–</option>
              {levels.map((level) => (
                <option key={level}>{level}</option>
              ))}
            </select>
          ),
        })),
      ];
    case "reward":
      return [
        { label: "goes", field: text("placement", desk.standing.placements) },
        { label: "pieces", field: number("pieces", 1, 1) },
      ];
    case "marker":
      return [
        {
          label: "means",
          field: select("marker", [
            { value: "event", words: "that was it, it pays" },
            { value: "keep_going", words: "stay, more is coming" },
            { value: "no_reward", words: "not that, try again" },
          ]),
        },
      ];
    case "sign":
      return [
        { label: "what", field: text("label") },
        {
          label: "how strong",
          field: select(
            "severity",
            SEVERITIES.map((s) => ({ value: String(s.severity), words: s.words })),
            true,
          ),
        },
      ];
    case "prompt":
      return [
        {
          label: "which help",
          field: select(
            "level",
            LEVELS.map((l) => ({ value: l.level, words: l.words })),
          ),
        },
      ];
    case "part":
      return [
        {
          label: "which",
          field: select(
            "part",
            partsAround(desk, mark).map((part) => ({
              value: part.key,
              words: part.title ? part.title : part.key,
            })),
          ),
        },
      ];
    case "exposure":
      return [
        { label: "what", field: text("label") },
        { label: "how much", field: number("value", "any") },
        { label: "ends", field: <EndsAt desk={desk} mark={mark} say={say} /> },
      ];
    case "no_cue_window":
      return [{ label: "ends", field: <EndsAt desk={desk} mark={mark} say={say} /> }];
    case "cue":
      return [{ label: "what", field: text("label", desk.standing.cues) }];
    case "other_behaviour":
      return [{ label: "what", field: text("label") }];
    case "note":
      return [{ label: "text", field: text("text") }];
    default:
      return [];
  }
}

/** How long a touch or a wait lasts; its end can be put on the frame on the stage. */
function EndsAt({ desk, mark, say }: DetailProps & { desk: Desk }) {
  const begins = desk.timeline.us(mark) / 1e6;
  const end = typeof mark["end_s"] === "number" ? mark["end_s"] : null;
  const here = (desk.clip.startUs + desk.clip.times.us(desk.frame)) / 1e6;
  return (
    <span className="flex items-center gap-2">
      <span className="num">
        {end === null ? "not yet" : `after ${(end - begins).toFixed(2)} s`}
      </span>
      <button
        type="button"
        disabled={here <= begins}
        onClick={() => say({ end_s: Math.round(here * 1e6) / 1e6 })}
        className="underline underline-offset-3 disabled:opacity-40"
      >
        at this frame
      </button>
    </span>
  );
}

/** The names reps may have: what the plan's cues ask for, and what is named already. */
function behaviours(desk: Desk): string[] {
  const used = desk.events.flatMap((e) =>
    e.kind === "onset" && typeof e["label"] === "string" ? [e["label"]] : [],
  );
  return [...new Set([...(desk.plan.cues ?? []).map((cue) => cue.behaviour), ...used])];
}

/** What the number of a rep is, with its unit, where its step says so. */
function quantityOf(desk: Desk, mark: StoredEvent): string {
  const quantity = stepOf(desk, mark)?.quantity;
  return quantity ? [quantity.name, quantity.unit].filter(Boolean).join(", ") : "measured";
}

/** The step a mark stands under. */
function stepOf(desk: Desk, mark: StoredEvent): PlanStep | undefined {
  const at = desk.timeOf(mark);
  const before = desk.events.filter((e) => desk.timeOf(e) <= at);
  const key = mark.approximation ?? before.findLast((e) => e.kind === "criterion")?.approximation;
  return desk.plan.approximations?.find((step) => step.key === key);
}

function partsAround(desk: Desk, mark: StoredEvent) {
  const parts = stepOf(desk, mark)?.parts;
  return parts ?? (desk.plan.approximations ?? []).flatMap((step) => step.parts ?? []);
}

/** A text or number as a field shows it; anything else is empty. */
function plain(value: unknown): string {
  return typeof value === "string" || typeof value === "number" ? String(value) : "";
}
