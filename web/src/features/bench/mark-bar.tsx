import { DropdownMenu } from "radix-ui";

import { InlineGlyph } from "../../components/glyphs";
import { clock, counted, latency } from "../../domain/times";
import { KeyCap } from "../../components/key-cap";
import { capOf, type KeyMap } from "../../domain/key-map";
import { MarkDetails } from "./mark-details";
import {
  KINDS,
  markInWords,
  wordsOf,
  type MarkKind,
  type PlanStep,
  type StoredEvent,
} from "../../domain/marks";
import { NameMark } from "./name-mark";
import type { Marking } from "./use-marking";
import { Trans, t } from "../../words";

const BUTTON =
  "flex h-7 items-center gap-1.5 rounded border bg-raised pr-1.5 pl-1 text-[12.5px] whitespace-nowrap hover:border-ink";

/** The marks one can place here; the one that is due next stands out. */
export function MarkBar({ marking, keys }: { marking: Marking; keys: KeyMap }) {
  const next = dueNext(marking);
  const shown = onBar(marking);
  const met = marking.current?.met ?? null;
  const judged =
    met === null ? t("bench:mark_bar.judge") : met ? t("bench:mark_bar.fits") : t("common:not_yet");
  return (
    <div role="toolbar" aria-label={t("bench:mark_bar.marks")} className="flex gap-1">
      {KINDS.filter((k) => shown.has(k.kind)).map(({ kind, words, short }) => (
        <button
          key={kind}
          type="button"
          aria-label={`${capOf(keys.keyOf(kind))} ${words}`}
          onClick={() => marking.place(kind)}
          className={`${BUTTON} ${kind === next ? "border-ink" : "border-line"}`}
        >
          <KeyCap>{capOf(keys.keyOf(kind))}</KeyCap>
          {short ?? words}
        </button>
      ))}
      <button
        type="button"
        aria-label={`${capOf(keys.keyOf("judge"))} ${met === null ? t("bench:mark_bar.judge_fits_the_criterion") : judged}`}
        onClick={marking.judge}
        disabled={!marking.current}
        className={`${BUTTON} border-line disabled:opacity-50`}
      >
        <KeyCap>{capOf(keys.keyOf("judge"))}</KeyCap>
        {judged}
      </button>
      <RareMarks marking={marking} keys={keys} shown={shown} />
    </div>
  );
}

/** No more than so many stand on the bar. */
const MOST_ON_BAR = 8;

/** What the marks on the bar depend on. */
type OnBar = Pick<Marking, "rep" | "stepInForce" | "plan" | "planned" | "events">;

/** The marks that stand on the bar: what this step asks for first, then the usual ones. */
export function onBar(marking: OnBar): ReadonlySet<MarkKind> {
  const step = stepHere(marking);
  const isCoded = (kind: string) => marking.events.some((e) => e.kind === kind);
  const wanted: (MarkKind | false)[] = [
    ...(["onset", "offset", "marker", "reward"] as const),
    (step?.parts ?? []).length > 1 && "part",
    step?.until_release === true && "release",
    ...(step?.answers ? (["cue", "no_cue_window"] as const) : []),
    "sign",
    (marking.planned?.reset === "toss" || isCoded("reset")) && "reset",
    isCoded("exposure") && "exposure",
    ...(["reach", "cue", "other_behaviour"] as const),
  ];
  const kinds = new Set(wanted.filter((kind) => kind !== false));
  return new Set([...kinds].slice(0, MOST_ON_BAR));
}

/** The step of the current rep, else the one in force here. */
function stepHere(marking: Pick<OnBar, "rep" | "stepInForce" | "plan">): PlanStep | undefined {
  const key = marking.rep?.approximation ?? marking.stepInForce;
  return marking.plan.approximations?.find((step) => step.key === key);
}

/** Marks needed now and then. */
function RareMarks({
  marking,
  keys,
  shown,
}: {
  marking: Marking;
  keys: KeyMap;
  shown: ReadonlySet<MarkKind>;
}) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        className={`${BUTTON} border-line`}
        aria-label={t("bench:mark_bar.more_marks")}
      >
        <span aria-hidden>⋯</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        side="top"
        sideOffset={6}
        className="z-40 rounded border border-ink bg-raised p-1"
      >
        {KINDS.filter((k) => !shown.has(k.kind)).map(({ kind, words }) => (
          <DropdownMenu.Item
            key={kind}
            className="flex cursor-pointer items-center gap-3 rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair"
            onSelect={() => marking.place(kind)}
          >
            <KeyCap>{capOf(keys.keyOf(kind))}</KeyCap>
            {words}
          </DropdownMenu.Item>
        ))}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}

/** The mark that usually follows the ones the current rep has. */
function dueNext(marking: Marking): MarkKind {
  const { rep } = marking;
  if (!rep) return "onset";
  const step = stepHere(marking);
  if (rep.parts.length > 0 && rep.parts.length < (step?.parts?.length ?? 0) && !rep.broke_at) {
    return "part";
  }
  if (step?.until_release) {
    if (rep.stay !== null) return "onset";
    if (rep.pays === 0) return rep.marker_id === null ? "marker" : "reward";
    return "release";
  }
  if (rep.marker_id === null && rep.met !== false) return "marker";
  if (rep.offset_id === null) return "offset";
  if (rep.marker_id !== null && rep.reward_ids.length === 0) return "reward";
  return "onset";
}

interface MarkRowProps {
  marking: Marking;
  keys: KeyMap;
}

/** The chosen mark, or the current rep's marks to choose from. */
export function MarkRow({ marking, keys }: MarkRowProps) {
  const { chosen, state, pointing } = marking;
  const mark = chosen === null ? undefined : state.folded.events.get(chosen);
  if (mark) return <ChosenMark marking={marking} mark={mark} />;
  if (pointing.does === "place") {
    return (
      <p className="flex min-h-8 items-center gap-3">
        <span>
          <Trans
            i18nKey="bench:mark_bar.point_at_the_frame_below"
            components={{ b: <b /> }}
            values={{ kind: wordsOf(pointing.kind) }}
          />
        </span>
        <button
          type="button"
          className="underline underline-offset-3"
          onClick={() => marking.setPointing({ does: "go" })}
        >
          {t("bench:mark_bar.let_go")}
        </button>
      </p>
    );
  }
  if (pointing.does === "name") {
    return <NameMark marking={marking} kind={pointing.kind} frame={pointing.frame} />;
  }
  return <RepMarks marking={marking} keys={keys} />;
}

function ChosenMark({ marking, mark }: { marking: Marking; mark: StoredEvent }) {
  return (
    <div
      role="group"
      aria-label={t("bench:mark_bar.chosen_mark")}
      className="flex h-8 items-center gap-1.5"
    >
      <span className="mr-1 max-w-56 truncate font-semibold">
        {markInWords(mark, marking.plan)}
      </span>
      <span className="num text-soft">{clock(marking.timeline.us(mark))}</span>
      <button
        type="button"
        aria-label={t("bench:mark_bar.a_frame_earlier")}
        title={t("bench:mark_bar.a_frame_earlier")}
        className={`${BUTTON} border-line`}
        onClick={() => marking.nudge(-1)}
      >
        {t("bench:mark_bar.frame")}
      </button>
      <button
        type="button"
        aria-label={t("bench:mark_bar.a_frame_later")}
        title={t("bench:mark_bar.a_frame_later")}
        className={`${BUTTON} border-line`}
        onClick={() => marking.nudge(1)}
      >
        {t("bench:mark_bar.frame_2")}
      </button>
      {mark.id === marking.current?.id && (
        <>
          <RepValue marking={marking} />
          <RepName marking={marking} />
        </>
      )}
      <MarkDetails marking={marking} mark={mark} />
      <button type="button" className={`${BUTTON} border-line`} onClick={marking.remove}>
        {t("common:remove")}
      </button>
      <button type="button" className={`${BUTTON} border-line`} onClick={marking.letGo}>
        {t("bench:mark_bar.done")}
      </button>
    </div>
  );
}

/** How long the current behaviour was held, up to its offset. */
function heldOf({ current, state, timeOf }: Marking, offsetId: string | null): string {
  const offset = offsetId === null ? undefined : state.folded.events.get(offsetId);
  return current && offset ? latency(timeOf(offset) - timeOf(current)) : "";
}

function RepMarks({ marking, keys }: MarkRowProps) {
  const { rep, currentNumber, beside } = marking;
  if (!rep) {
    return (
      <div className="flex h-8 items-center gap-1.5 text-soft">
        <span>
          {t("bench:mark_bar.go_to_the_frame_on")} <KeyCap>{capOf(keys.keyOf("onset"))}</KeyCap>{" "}
          {t("bench:mark_bar.behaviour")}
        </span>
        {beside.length > 0 && (
          <MarkMenu
            marking={marking}
            ids={beside.map((e) => e.id)}
            words={t("bench:mark_bar.more")}
          />
        )}
      </div>
    );
  }
  const marks = [
    { id: rep.id, glyph: "behaviour", words: t("bench:mark_bar.begins"), value: "" },
    {
      id: rep.offset_id,
      glyph: "behaviour",
      words: t("common:ends"),
      value: heldOf(marking, rep.offset_id),
    },
    {
      id: rep.marker_id,
      glyph: "marker",
      words: t("common:marker"),
      value: rep.marker_latency_s === null ? "" : latency(rep.marker_latency_s),
    },
    {
      id: rep.reward_ids[0] ?? null,
      glyph: "reward",
      words: t("bench:mark_bar.reward"),
      value: rep.reward_latency_s === null ? "" : latency(rep.reward_latency_s),
    },
  ] as const;
  const named: (string | null)[] = marks.map((mark) => mark.id);
  // In the order in which they came: a marker, its reward, the next marker.
  const pays = new Set([...rep.further_ids, ...rep.keep_going_ids, ...rep.reward_ids]);
  const further = marking.events.filter((e) => pays.has(e.id) && !named.includes(e.id));
  return (
    <div
      role="group"
      aria-label={t("bench:mark_bar.marks_of_this_rep")}
      className="flex h-8 items-center gap-1.5"
    >
      <span className="mr-1 whitespace-nowrap text-soft">
        {t("bench:mark_bar.rep_currentnumber", { currentNumber })}
      </span>
      {marks.map(({ id, glyph, words, value }) =>
        id === null ? null : (
          <button
            key={words}
            type="button"
            onClick={() => marking.choose(id)}
            className={`${BUTTON} border-line`}
          >
            <InlineGlyph kind={glyph} />
            {words} <span className="num text-soft">{value}</span>
          </button>
        ),
      )}
      {further.length > 0 && (
        <MarkMenu
          marking={marking}
          ids={further.map((e) => e.id)}
          words={t("bench:mark_bar.paid_pays", { pays: counted(rep.pays, "time") })}
        />
      )}
      <RepValue marking={marking} />
      <RepName marking={marking} />
      {beside.length > 0 && (
        <MarkMenu
          marking={marking}
          ids={beside.map((e) => e.id)}
          words={t("bench:mark_bar.more")}
        />
      )}
    </div>
  );
}

/** The number of the current rep, typed where its step measures one. */
function RepValue({ marking }: { marking: Marking }) {
  const { current } = marking;
  const quantity = stepHere(marking)?.quantity;
  if (!current || !quantity) return null;
  const value = typeof current["value"] === "number" ? current["value"] : undefined;
  return (
    <label className="flex items-center gap-1 text-[12.5px] whitespace-nowrap">
      {quantity.name}
      <input
        key={`${current.id}${value ?? ""}`}
        type="number"
        step="any"
        aria-label={t("bench:mark_bar.name_of_this_rep_unit", {
          name: quantity.name,
          unit: quantity.unit && `, ${quantity.unit}`,
        })}
        defaultValue={value ?? ""}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
        }}
        onBlur={(event) => {
          const typed = event.target.value === "" ? undefined : event.target.valueAsNumber;
          if (typed !== value) marking.say(current.id, { value: typed });
        }}
        className="num h-7 w-16 rounded border border-line bg-paper px-1.5"
      />
      <span className="text-soft">{quantity.unit}</span>
    </label>
  );
}

/** Which behaviour the current rep was, where the plan's cues ask for different ones. */
function RepName({ marking }: { marking: Marking }) {
  const { current } = marking;
  const planned = (marking.plan.cues ?? []).map((cue) => cue.behaviour);
  const isAsked = marking.rep?.cue != null || stepHere(marking)?.answers === true;
  if (!current || planned.length === 0 || !(isAsked || current["label"])) return null;
  const used = marking.events.flatMap((e) =>
    e.kind === "onset" && typeof e["label"] === "string" ? [e["label"]] : [],
  );
  const label = typeof current["label"] === "string" ? current["label"] : "";
  return (
    <select
      aria-label={t("bench:mark_bar.which_behaviour_this_rep_was")}
      value={label}
      onChange={(event) => marking.say(current.id, { label: event.target.value || undefined })}
      className="h-7 max-w-28 rounded border border-line bg-paper px-1 text-[12.5px]"
    >
      <option value="">{t("bench:mark_bar.which")}</option>
      {[...new Set([...planned, ...used])].map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
}

/** Several marks to choose one from: further pays of the rep, or what else stands here. */
function MarkMenu({ marking, ids, words }: { marking: Marking; ids: string[]; words: string }) {
  const marks = marking.events.filter((event) => ids.includes(event.id));
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className={`${BUTTON} border-line pl-1.5`}>
        {words === "more"
          ? t("bench:mark_bar.markscount_more", { marksCount: marks.length })
          : words}{" "}
        <span aria-hidden>▾</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        sideOffset={6}
        className="z-40 max-h-80 overflow-y-auto rounded border border-ink bg-raised p-1"
      >
        {marks.map((mark) => (
          <DropdownMenu.Item
            key={mark.id}
            className="flex cursor-pointer justify-between gap-6 rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair"
            onSelect={() => marking.choose(mark.id)}
          >
            {markInWords(mark, marking.plan)}
            <span className="num text-soft">{clock(marking.timeline.us(mark))}</span>
          </DropdownMenu.Item>
        ))}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}
