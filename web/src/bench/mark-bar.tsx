import { DropdownMenu } from "radix-ui";

import { InlineGlyph } from "../ui/glyphs";
import { clock, latency } from "../ui/times";
import { Key } from "./keys";
import { capOf, type KeyMap } from "./key-map";
import { MarkDetails } from "./mark-details";
import { KINDS, markInWords, wordsOf, type MarkKind, type StoredEvent } from "./marks";
import { NameMark } from "./name-mark";
import type { Desk } from "./use-desk";

const BUTTON =
  "flex h-7 items-center gap-1.5 rounded border bg-raised pr-1.5 pl-1 text-[12.5px] whitespace-nowrap hover:border-ink";

/** The marks one can place here; the one that is due next stands out. */
export function MarkBar({ desk, keys }: { desk: Desk; keys: KeyMap }) {
  const next = dueNext(desk);
  const met = desk.current?.met;
  const judged = met === true ? "fits" : met === false ? "not yet" : "judge";
  return (
    <div role="toolbar" aria-label="Marks" className="flex gap-1">
      {KINDS.filter((k) => !k.rare).map(({ kind, words, short }) => (
        <button
          key={kind}
          type="button"
          aria-label={`${capOf(keys.keyOf(kind))} ${words}`}
          onClick={() => desk.place(kind)}
          className={`${BUTTON} ${kind === next ? "border-ink" : "border-line"}`}
        >
          <Key>{capOf(keys.keyOf(kind))}</Key>
          {short ?? words}
        </button>
      ))}
      <button
        type="button"
        aria-label={`${capOf(keys.keyOf("judge"))} ${judged === "judge" ? "judge: fits the criterion?" : judged}`}
        onClick={desk.judge}
        disabled={!desk.current}
        className={`${BUTTON} border-line disabled:opacity-50`}
      >
        <Key>{capOf(keys.keyOf("judge"))}</Key>
        {judged}
      </button>
      <RareMarks desk={desk} keys={keys} />
    </div>
  );
}

/** Marks needed now and then. */
function RareMarks({ desk, keys }: { desk: Desk; keys: KeyMap }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className={`${BUTTON} border-line`} aria-label="More marks">
        <span aria-hidden>⋯</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        side="top"
        sideOffset={6}
        className="z-40 rounded border border-ink bg-raised p-1"
      >
        {KINDS.filter((k) => k.rare).map(({ kind, words }) => (
          <DropdownMenu.Item
            key={kind}
            className="flex cursor-pointer items-center gap-3 rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair"
            onSelect={() => desk.place(kind)}
          >
            <Key>{capOf(keys.keyOf(kind))}</Key>
            {words}
          </DropdownMenu.Item>
        ))}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}

/** The mark that usually follows the ones the current rep has. */
function dueNext({ rep }: Desk): MarkKind {
  if (!rep) return "onset";
  if (rep.marker_id === null && rep.met !== false) return "marker";
  if (rep.offset_id === null) return "offset";
  if (rep.marker_id !== null && rep.reward_ids.length === 0) return "reward";
  return "onset";
}

/** The chosen mark, or the current rep's marks to choose from. */
export function MarkRow({ desk }: { desk: Desk }) {
  const { chosen, state, pointing } = desk;
  const mark = chosen === null ? undefined : state.folded.events.get(chosen);
  if (mark) return <ChosenMark desk={desk} mark={mark} />;
  if (pointing.does === "place") {
    return (
      <p className="flex h-8 items-center gap-3">
        <span>
          Point at the frame below the picture on which <b>{wordsOf(pointing.kind)}</b> shows first.
        </span>
        <button
          type="button"
          className="underline underline-offset-3"
          onClick={() => desk.setPointing({ does: "go" })}
        >
          Let go
        </button>
      </p>
    );
  }
  if (pointing.does === "name") {
    return <NameMark desk={desk} kind={pointing.kind} frame={pointing.frame} />;
  }
  return <RepMarks desk={desk} />;
}

function ChosenMark({ desk, mark }: { desk: Desk; mark: StoredEvent }) {
  return (
    <div role="group" aria-label="Chosen mark" className="flex h-8 items-center gap-1.5">
      <span className="mr-1 max-w-56 truncate font-semibold">
        {markInWords(mark, desk.titleOf)}
      </span>
      <span className="num text-soft">{clock(desk.timeline.us(mark))}</span>
      <button
        type="button"
        aria-label="a frame earlier"
        title="a frame earlier"
        className={`${BUTTON} border-line`}
        onClick={() => desk.nudge(-1)}
      >
        ← frame
      </button>
      <button
        type="button"
        aria-label="a frame later"
        title="a frame later"
        className={`${BUTTON} border-line`}
        onClick={() => desk.nudge(1)}
      >
        frame →
      </button>
      <MarkDetails desk={desk} mark={mark} />
      <button type="button" className={`${BUTTON} border-line`} onClick={desk.remove}>
        Remove
      </button>
      <button type="button" className={`${BUTTON} border-line`} onClick={desk.letGo}>
        Done
      </button>
    </div>
  );
}

/** How long the current behaviour was held, up to its offset. */
function heldOf({ current, state, timeOf }: Desk, offsetId: string | null): string {
  const offset = offsetId === null ? undefined : state.folded.events.get(offsetId);
  return current && offset ? latency(timeOf(offset) - timeOf(current)) : "";
}

function RepMarks({ desk }: { desk: Desk }) {
  const { rep, currentNumber, beside } = desk;
  if (!rep) {
    return (
      <div className="flex h-8 items-center gap-1.5 text-soft">
        Go to the frame on which the behaviour first shows and press b.
        {beside.length > 0 && <BesideMarks desk={desk} />}
      </div>
    );
  }
  const marks = [
    { id: rep.id, glyph: "behaviour", words: "begins", value: "" },
    {
      id: rep.offset_id,
      glyph: "behaviour",
      words: "ends",
      value: heldOf(desk, rep.offset_id),
    },
    {
      id: rep.marker_id,
      glyph: "marker",
      words: "marker",
      value: rep.marker_latency_s === null ? "" : latency(rep.marker_latency_s),
    },
    {
      id: rep.reward_ids[0] ?? null,
      glyph: "reward",
      words: "reward",
      value: rep.reward_latency_s === null ? "" : latency(rep.reward_latency_s),
    },
  ] as const;
  return (
    <div role="group" aria-label="Marks of this rep" className="flex h-8 items-center gap-1.5">
      <span className="mr-1 whitespace-nowrap text-soft">Rep {currentNumber}</span>
      {marks.map(({ id, glyph, words, value }) =>
        id === null ? null : (
          <button
            key={words}
            type="button"
            onClick={() => desk.choose(id)}
            className={`${BUTTON} border-line`}
          >
            <InlineGlyph kind={glyph} />
            {words} <span className="num text-soft">{value}</span>
          </button>
        ),
      )}
      {beside.length > 0 && <BesideMarks desk={desk} />}
    </div>
  );
}

/** What else stands here: cues, signs, other behaviours, changes of step. */
function BesideMarks({ desk }: { desk: Desk }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className={`${BUTTON} border-line`}>
        {desk.beside.length} more <span aria-hidden>▾</span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Content
        align="end"
        sideOffset={6}
        className="z-40 rounded border border-ink bg-raised p-1"
      >
        {desk.beside.map((mark) => (
          <DropdownMenu.Item
            key={mark.id}
            className="flex cursor-pointer justify-between gap-6 rounded px-3 py-1.5 outline-none data-[highlighted]:bg-hair"
            onSelect={() => desk.choose(mark.id)}
          >
            {markInWords(mark, desk.titleOf)}
            <span className="num text-soft">{clock(desk.timeline.us(mark))}</span>
          </DropdownMenu.Item>
        ))}
      </DropdownMenu.Content>
    </DropdownMenu.Root>
  );
}
