import { Popover } from "radix-ui";
import { useState } from "react";

import { latency, shortClock } from "../../domain/times";
import { Key } from "./keys";
import { capOf, type KeyMap } from "../../domain/key-map";
import { TapTest } from "./tap-test";
import type { Suggestion } from "../../domain/suggestions";
import type { Clicks } from "./use-clicks";
import { FEWEST_EXAMPLES, type Places } from "./use-places";
import type { Lag } from "../../domain/reaction";
import type { Marking } from "./use-marking";
import type { FixPass } from "./use-fix-pass";

const BUTTON =
  "flex h-7 items-center gap-1.5 rounded border border-line bg-raised px-2 text-[12.5px] whitespace-nowrap hover:border-ink disabled:opacity-50";

export type MarksBy = "click" | "word";

interface PassBarProps {
  marking: Marking;
  clicks: Clicks;
  places: Places;
  /** What is listened for, as the reviewer chose. */
  marksBy: MarksBy;
  onMarksBy: (by: MarksBy) => void;
  fix: FixPass;
  lag: Lag;
  isMeasured: boolean;
  keys: KeyMap;
  onLag: (lag: Lag) => void;
}

/** What speeds the work up: heard clicks, the taps' lag, the fix pass, what holds until changed. */
export function PassBar(props: PassBarProps) {
  if (props.fix.isOn) return <FixRow {...props} />;
  return (
    <>
      <div
        role="group"
        aria-label="Passes"
        className="flex min-h-8 flex-wrap items-center gap-1.5 text-[12.5px]"
      >
        <Listening {...props} />
        <span className="flex-1" />
        <LagButton {...props} />
        <FixButton {...props} />
        <HoldsNow marking={props.marking} />
      </div>
      {props.marksBy === "click" && props.clicks.alone && <AloneRow {...props.clicks.alone} />}
    </>
  );
}

/** A taken click that none of the others sounds like: perhaps it was none. */
function AloneRow({ pictureS, takeBack }: NonNullable<Clicks["alone"]>) {
  return (
    <p role="status" className="flex min-h-8 flex-wrap items-center gap-2 text-[12.5px]">
      Nothing else in this film sounds like the click at{" "}
      <span className="num">{shortClock(pictureS)}</span>: it teaches the others nothing.
      <button type="button" className={BUTTON} onClick={takeBack}>
        take it back
      </button>
    </p>
  );
}

/** What the sound is asked for: clicks, or a word the reviewer has marked a few times. */
function Listening(props: PassBarProps) {
  const { clip } = props.marking;
  if (!clip.film.has_sound) return <span className="text-soft">no sound in this film</span>;
  return (
    <>
      <select
        aria-label="Listen for"
        value={props.marksBy}
        onChange={(event) => props.onMarksBy(event.target.value as MarksBy)}
        // As wide as what is chosen: the other one is longer.
        className={`h-7 rounded border border-line bg-raised hover:border-ink ${
          props.marksBy === "click" ? "w-[4.25rem]" : ""
        }`}
      >
        <option value="click">clicks</option>
        <option value="word">word (experimental)</option>
      </select>
      {props.marksBy === "word" ? <WordPlaces {...props} /> : <HeardClicks {...props} />}
    </>
  );
}

/** Places that sound like the marked word. There is no taking: each is looked at and placed. */
function WordPlaces({ places, marking, keys }: PassBarProps) {
  if (places.examples < FEWEST_EXAMPLES) {
    return (
      <span className="text-soft">
        mark the word {FEWEST_EXAMPLES - places.examples === 1 ? "once more" : "twice"}: the rest is
        looked for
      </span>
    );
  }
  if (places.isLooking && places.most === 0) return <span className="text-soft">listening …</span>;
  if (places.isFault && places.most === 0) {
    return <span className="text-fault">not looked for: the server does not answer</span>;
  }
  if (!places.learned) return <span className="text-soft">no voice is heard at your marks</span>;
  const next = places.nextAfter(marking.here);
  const at = places.at(marking.here);
  return (
    <div
      role="group"
      aria-label="Places to look at"
      className="flex flex-wrap items-center gap-1.5"
    >
      <span
        className="whitespace-nowrap text-soft"
        title="Experimental, tried on made-up voices only: look and listen at each, then place the marker yourself. Rhymes and sentences that hold the word may be among them."
      >
        <span className="num text-ink">{places.open.length}</span>{" "}
        {places.open.length === 1 ? "place" : "places"}
      </span>
      <HowMany of="places" {...places} />
      <Next to={next} marking={marking} keys={keys} words="look" />
      {at && (
        <button
          type="button"
          className={BUTTON}
          onClick={() => places.refuse(at)}
          title="What sounds like it falls behind"
        >
          not the word
        </button>
      )}
    </div>
  );
}

interface HowManyProps {
  of: string;
  most: number;
  count: number;
  ask: (count: number) => void;
}

function HowMany({ of, most, count, ask }: HowManyProps) {
  return (
    <input
      type="range"
      aria-label={`Fewer or more ${of}`}
      title="Fewer or more: the likeliest are kept"
      min={0}
      max={most}
      value={count}
      onChange={(event) => ask(event.target.valueAsNumber)}
      className="w-12 accent-(--marker)"
    />
  );
}

interface NextProps {
  to: Suggestion | undefined;
  marking: Marking;
  keys: KeyMap;
  words: string;
}

function Next({ to, marking, keys, words }: NextProps) {
  return (
    <button
      type="button"
      className={BUTTON}
      disabled={!to}
      onClick={() => {
        if (to) marking.goToUs(Math.round(to.pictureS * 1e6));
      }}
    >
      <Key>{capOf(keys.keyOf("next_click"))}</Key> {words}
    </button>
  );
}

function HeardClicks({ clicks, marking, keys }: PassBarProps) {
  const { here } = marking;
  if (!clicks.isHeard) return <span className="text-soft">listening for clicks …</span>;
  const next = clicks.nextAfter(here);
  const at = clicks.at(here);
  return (
    <div role="group" aria-label="Heard clicks" className="flex items-center gap-1.5">
      <span className="num" title="So many heard clicks">
        {clicks.count}
      </span>
      <HowMany of="heard clicks" {...clicks} />
      {at ? (
        <>
          <button
            type="button"
            aria-label={`${capOf(keys.keyOf("accept"))} take this click`}
            className={BUTTON}
            onClick={() => clicks.accept(at)}
          >
            <Key>{capOf(keys.keyOf("accept"))}</Key> take this
          </button>
          <button
            type="button"
            className={BUTTON}
            onClick={() => clicks.refuse(at)}
            title="What sounds like it falls behind"
          >
            no click
          </button>
        </>
      ) : (
        <Next to={next} marking={marking} keys={keys} words="next click" />
      )}
      <button
        type="button"
        className={BUTTON}
        disabled={clicks.open.length === 0}
        onClick={clicks.acceptAll}
      >
        take all {clicks.open.length}
      </button>
    </div>
  );
}

function LagButton({ lag, isMeasured, onLag }: PassBarProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className={BUTTON}
        aria-label={`${isMeasured ? "own" : "usual"} lag ${latency(lag.lagS, 2)}`}
        onClick={() => setOpen(true)}
        title={`Reaction lag, taken off marks that are tapped while the film plays. ${
          isMeasured ? "Yours, as measured." : "Not measured yet: measure yours in half a minute."
        }`}
      >
        lag <span className="num">{latency(lag.lagS, 2)}</span>
      </button>
      {open && <TapTest lag={lag} onLag={onLag} onClose={() => setOpen(false)} />}
    </>
  );
}

function FixButton({ fix, keys }: PassBarProps) {
  return (
    <button
      type="button"
      className={BUTTON}
      disabled={fix.left === 0}
      onClick={fix.start}
      title="From uncertain mark to uncertain mark, and to where one is missing"
    >
      <Key>{capOf(keys.keyOf("fix"))}</Key> fix {fix.left}
    </button>
  );
}

/** In the fix pass: which mark, what to do, and how many are left. */
function FixRow({ marking, fix, keys }: PassBarProps) {
  return (
    <div role="group" aria-label="Fix pass" className="flex h-8 items-center gap-2 text-[12.5px]">
      <span role="status" className="min-w-0 truncate">
        On which frame does <b>{fix.words}</b> show first?{" "}
        <span className="text-soft">{fix.left} left</span>
      </span>
      <span className="flex-1" />
      <button type="button" className={BUTTON} onClick={() => fix.settle(marking.frame)}>
        <Key>{capOf(keys.keyOf("accept"))}</Key> this frame
      </button>
      <button type="button" className={BUTTON} onClick={fix.skip}>
        skip
      </button>
      <button type="button" className={BUTTON} onClick={fix.stop}>
        stop
      </button>
    </div>
  );
}

/** Conditions and the reward's place: set once, they go with every new mark until changed. */
function HoldsNow({ marking }: { marking: Marking }) {
  const { held } = marking;
  const [name, setName] = useState("");
  const [level, setLevel] = useState("");
  const now = [
    ...(held.isFitting ? ["fits"] : []),
    ...Object.values(held.inForce),
    ...(held.placement ? [held.placement] : []),
    ...(held.cue ? [`“${held.cue}”`] : []),
  ];
  const choice = (isOn: boolean) =>
    `h-7 rounded border px-2 text-[12.5px] ${isOn ? "border-ink bg-ink text-paper" : "border-line bg-paper hover:border-ink"}`;
  return (
    <Popover.Root>
      <Popover.Trigger className={BUTTON} aria-label="What holds until it is changed">
        <span className="max-w-24 truncate">{now.join(", ") || "holds –"}</span>
        <span aria-hidden>▾</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          side="top"
          sideOffset={6}
          aria-label="What holds until it is changed"
          className="z-40 w-80 space-y-3 rounded border border-ink bg-raised p-4"
        >
          <p className="text-soft">
            Set it once: it goes with every new rep and reward until you change it.
          </p>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={held.isFitting}
              onChange={(event) => held.setFitting(event.target.checked)}
              className="size-4"
            />
            a new rep fits, until I judge it otherwise
          </label>
          {held.conditions.map((condition) => (
            <div key={condition.name} role="group" aria-label={condition.name}>
              <div className="mb-1 text-soft">{condition.name}</div>
              <div className="flex flex-wrap gap-1.5">
                {condition.levels.map((one) => {
                  const isOn = held.inForce[condition.name] === one;
                  return (
                    <button
                      key={one}
                      type="button"
                      aria-pressed={isOn}
                      className={choice(isOn)}
                      onClick={() => held.setCondition(condition.name, isOn ? null : one)}
                    >
                      {one}
                    </button>
                  );
                })}
              </div>
            </div>
          ))}
          <div role="group" aria-label="reward goes">
            <div className="mb-1 text-soft">reward goes</div>
            <div className="flex flex-wrap gap-1.5">
              {[...new Set([...held.placements, "in place", "tossed away"])].map((place) => {
                const isOn = held.placement === place;
                return (
                  <button
                    key={place}
                    type="button"
                    aria-pressed={isOn}
                    className={choice(isOn)}
                    onClick={() => held.setPlacement(isOn ? null : place)}
                  >
                    {place}
                  </button>
                );
              })}
            </div>
          </div>
          {held.cues.length > 0 && (
            <div role="group" aria-label="cue said">
              <div className="mb-1 text-soft">cue said</div>
              <div className="flex flex-wrap gap-1.5">
                {held.cues.map((cue) => (
                  <button
                    key={cue}
                    type="button"
                    aria-pressed={held.cue === cue}
                    className={choice(held.cue === cue)}
                    onClick={() => held.setCue(held.cue === cue ? null : cue)}
                  >
                    {cue}
                  </button>
                ))}
              </div>
            </div>
          )}
          <form
            className="flex items-center gap-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              if (!name.trim() || !level.trim()) return;
              held.setCondition(name.trim(), level.trim());
              setName("");
              setLevel("");
            }}
          >
            <input
              aria-label="Another condition"
              placeholder="side, distance …"
              value={name}
              maxLength={100}
              onChange={(event) => setName(event.target.value)}
              className="h-7 w-28 rounded border border-line bg-paper px-2"
            />
            <input
              aria-label="Its level now"
              placeholder="left, 2 m …"
              value={level}
              maxLength={100}
              onChange={(event) => setLevel(event.target.value)}
              className="h-7 w-24 rounded border border-line bg-paper px-2"
            />
            <button type="submit" className={BUTTON}>
              set
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
