import { Popover } from "radix-ui";

import { LEVELS, SEVERITIES } from "./name-mark";
import type { PlanStep, StoredEvent } from "../../domain/marks";
import { round6 } from "../../domain/times";
import type { Marking } from "./use-marking";
import { Trans, t } from "../../words";

const FIELD = "h-7 min-w-0 flex-1 rounded border border-line bg-paper px-2 text-[12.5px]";

interface DetailProps {
  mark: StoredEvent;
  say: (fields: Record<string, unknown>) => void;
}

/** What can be said of a mark beside where it stands; nothing for kinds that say nothing. */
export function MarkDetails({ marking, mark }: { marking: Marking; mark: StoredEvent }) {
  const say = (fields: Record<string, unknown>) => marking.say(mark.id, fields);
  const rows = rowsOf(marking, { mark, say });
  if (rows.length === 0) return null;
  return (
    <Popover.Root>
      <Popover.Trigger className="flex h-7 items-center gap-1 rounded border border-line bg-raised px-2 text-[12.5px] hover:border-ink">
        <Trans i18nKey="bench:mark_details.about_it" components={{ part: <span aria-hidden /> }} />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          side="top"
          sideOffset={6}
          aria-label={t("bench:mark_details.about_this_mark")}
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

function rowsOf(marking: Marking, { mark, say }: DetailProps) {
  const text = (key: string, list?: string[]) => (
    <>
      <input
        key={asText(mark[key])}
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
      key={asText(mark[key])}
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
      value={asText(mark[key])}
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
        { label: t("bench:mark_details.name"), field: text("label", behaviours(marking)) },
        { label: quantityOf(marking, mark), field: number("value", "any") },
        ...marking.held.conditions.map(({ name, levels }) => ({
          label: name,
          field: (
            <select
              value={asText((mark["conditions"] as Record<string, unknown> | undefined)?.[name])}
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
        { label: t("bench:mark_details.goes"), field: text("placement", marking.held.placements) },
        { label: t("bench:mark_details.pieces"), field: number("pieces", 1, 1) },
      ];
    case "marker":
      return [
        {
          label: t("bench:mark_details.means"),
          field: select("marker", [
            { value: "event", words: t("bench:mark_details.that_was_it_it_pays") },
            { value: "keep_going", words: t("bench:mark_details.stay_more_is_coming") },
            { value: "no_reward", words: t("bench:mark_details.not_that_try_again") },
          ]),
        },
      ];
    case "sign":
      return [
        { label: t("bench:mark_details.what"), field: text("label") },
        {
          label: t("bench:mark_details.how_strong"),
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
          label: t("bench:mark_details.which_help"),
          field: select(
            "level",
            LEVELS.map((l) => ({ value: l.level, words: l.words })),
          ),
        },
      ];
    case "part":
      return [
        {
          label: t("bench:mark_details.which"),
          field: select(
            "part",
            partsAround(marking, mark).map((part) => ({
              value: part.key,
              words: part.title ? part.title : part.key,
            })),
          ),
        },
      ];
    case "exposure":
      return [
        { label: t("bench:mark_details.what"), field: text("label") },
        { label: t("bench:mark_details.how_much"), field: number("value", "any") },
        { label: t("common:ends"), field: <EndsAt marking={marking} mark={mark} say={say} /> },
      ];
    case "no_cue_window":
      return [
        { label: t("common:ends"), field: <EndsAt marking={marking} mark={mark} say={say} /> },
      ];
    case "cue":
      return [{ label: t("bench:mark_details.what"), field: text("label", marking.held.cues) }];
    case "other_behaviour":
      return [{ label: t("bench:mark_details.what"), field: text("label") }];
    case "note":
      return [{ label: t("bench:mark_details.text"), field: text("text") }];
    default:
      return [];
  }
}

/** How long a touch or a wait lasts; its end can be put on the frame on the stage. */
function EndsAt({ marking, mark, say }: DetailProps & { marking: Marking }) {
  const begins = marking.timeline.us(mark) / 1e6;
  const end = typeof mark["end_s"] === "number" ? mark["end_s"] : null;
  const here = (marking.clip.startUs + marking.clip.times.us(marking.frame)) / 1e6;
  return (
    <span className="flex items-center gap-2">
      <span className="num">
        {end === null
          ? t("common:not_yet")
          : t("bench:mark_details.after_end_s", { end: (end - begins).toFixed(2) })}
      </span>
      <button
        type="button"
        disabled={here <= begins}
        onClick={() => say({ end_s: round6(here) })}
        className="underline underline-offset-3 disabled:opacity-40"
      >
        {t("bench:mark_details.at_this_frame")}
      </button>
    </span>
  );
}

/** The names reps may have: what the plan's cues ask for, and what is named already. */
function behaviours(marking: Marking): string[] {
  const used = marking.events.flatMap((e) =>
    e.kind === "onset" && typeof e["label"] === "string" ? [e["label"]] : [],
  );
  return [...new Set([...(marking.plan.cues ?? []).map((cue) => cue.behaviour), ...used])];
}

/** What the number of a rep is, with its unit, where its step says so. */
function quantityOf(marking: Marking, mark: StoredEvent): string {
  const quantity = stepOf(marking, mark)?.quantity;
  return quantity
    ? [quantity.name, quantity.unit].filter(Boolean).join(", ")
    : t("bench:mark_details.measured");
}

/** The step a mark stands under. */
function stepOf(marking: Marking, mark: StoredEvent): PlanStep | undefined {
  const at = marking.timeOf(mark);
  const before = marking.events.filter((e) => marking.timeOf(e) <= at);
  const key = mark.approximation ?? before.findLast((e) => e.kind === "criterion")?.approximation;
  return marking.plan.approximations?.find((step) => step.key === key);
}

function partsAround(marking: Marking, mark: StoredEvent) {
  const parts = stepOf(marking, mark)?.parts;
  return parts ?? (marking.plan.approximations ?? []).flatMap((step) => step.parts ?? []);
}

/** A text or number as a field shows it; anything else is empty. */
function asText(value: unknown): string {
  return typeof value === "string" || typeof value === "number" ? String(value) : "";
}
