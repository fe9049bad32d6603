import { Popover } from "radix-ui";
import { useState } from "react";

import { counted, latency, nounFor, shortClock } from "../../domain/times";
import { KeyCap } from "../../components/key-cap";
import { capOf, type KeyMap } from "../../domain/key-map";
import { LagDialog } from "./lag-dialog";
import { isSeed } from "../../domain/seeds";
import { tapsOn } from "../../domain/taps-on-film";
import type { Suggestion } from "../../domain/suggestions";
import type { Clicks } from "./use-clicks";
import { FEWEST_EXAMPLES, type Places } from "./use-places";
import type { Lag } from "../../domain/reaction";
import type { Marking } from "./use-marking";
import type { FixPass } from "./use-fix-pass";
import { Trans, t } from "../../words";

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
  /** Where the lag comes from. */
  lagBy: "drill" | "hand" | null;
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
        aria-label={t("bench:pass_bar.passes")}
        className="flex min-h-8 flex-wrap items-center gap-1.5 text-[12.5px]"
      >
        <Listening {...props} />
        <span className="flex-1" />
        <LagButton {...props} />
        <FixButton {...props} />
        <HoldsNow marking={props.marking} />
      </div>
      {props.marksBy === "click" && props.clicks.alone && <AloneRow {...props.clicks.alone} />}
      <TapsRow {...props} />
    </>
  );
}

/** Taps of the yard that are still to be looked at, and whether film and phone agree on the time. */
function TapsRow({ marking, fix }: PassBarProps) {
  const { events, state, timeline } = marking;
  const on = tapsOn(state.folded.facts);
  const seeds = events.filter(isSeed).length;
  if (on === null || seeds === 0) return null;
  const unseen = [...state.folded.events.values()].filter(
    (event) => event.kind === "onset" && !timeline.shows(event),
  ).length;
  const taps = counted(seeds, "tap");
  return (
    <p
      role="status"
      className="flex flex-wrap items-center gap-x-2 text-[12.5px]"
      data-testid="taps"
    >
      {on.moved_s === null ? (
        t("bench:pass_bar.taps_by_the_clocks", { taps })
      ) : (
        <>
          {t("bench:pass_bar.taps_to_look_at", { taps })}
          <button type="button" className="underline" onClick={fix.share}>
            {t("bench:pass_bar.find_again")}
          </button>
        </>
      )}
      {unseen > 0 && (
        <span className="text-soft">
          {t("bench:pass_bar.off_camera", { reps: counted(unseen, "rep") })}
        </span>
      )}
    </p>
  );
}

/** A taken click that none of the others sounds like: perhaps it was none. */
function AloneRow({ pictureS, takeBack }: NonNullable<Clicks["alone"]>) {
  return (
    <p role="status" className="flex min-h-8 flex-wrap items-center gap-2 text-[12.5px]">
      <Trans
        i18nKey="bench:pass_bar.nothing_else_in_this_film"
        components={{ part: <span className="num" /> }}
        values={{ pictureS: shortClock(pictureS) }}
      />
      <button type="button" className={BUTTON} onClick={takeBack}>
        {t("bench:pass_bar.take_it_back")}
      </button>
    </p>
  );
}

/** What the sound is asked for: clicks, or a word the reviewer has marked a few times. */
function Listening(props: PassBarProps) {
  const { clip } = props.marking;
  if (!clip.film.has_sound)
    return <span className="text-soft">{t("bench:pass_bar.no_sound_in_this_film")}</span>;
  return (
    <>
      <select
        aria-label={t("bench:pass_bar.listen_for")}
        value={props.marksBy}
        onChange={(event) => props.onMarksBy(event.target.value as MarksBy)}
        // As wide as what is chosen: the other one is longer.
        className={`h-7 rounded border border-line bg-raised hover:border-ink ${
          props.marksBy === "click" ? "w-[4.25rem]" : ""
        }`}
      >
        <option value="click">{t("bench:pass_bar.clicks")}</option>
        <option value="word">{t("bench:pass_bar.word_experimental")}</option>
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
        {t("bench:pass_bar.mark_the_word", { count: FEWEST_EXAMPLES - places.examples })}
      </span>
    );
  }
  if (places.isLooking && places.most === 0)
    return <span className="text-soft">{t("bench:pass_bar.listening")}</span>;
  if (places.isFault && places.most === 0) {
    return <span className="text-fault">{t("bench:pass_bar.not_looked_for_the_server")}</span>;
  }
  if (!places.learned)
    return <span className="text-soft">{t("bench:pass_bar.no_voice_is_heard_at")}</span>;
  const next = places.nextAfter(marking.here);
  const at = places.at(marking.here);
  return (
    <div
      role="group"
      aria-label={t("bench:pass_bar.places_to_look_at")}
      className="flex flex-wrap items-center gap-1.5"
    >
      <span
        className="whitespace-nowrap text-soft"
        title={t("bench:pass_bar.experimental_tried_on_made_up")}
      >
        <span className="num text-ink">{places.open.length}</span>{" "}
        {nounFor(places.open.length, "place")}
      </span>
      <HowMany of={t("bench:pass_bar.places")} {...places} />
      <Next to={next} marking={marking} keys={keys} words={t("bench:pass_bar.look")} />
      {at && (
        <button
          type="button"
          className={BUTTON}
          onClick={() => places.refuse(at)}
          title={t("bench:pass_bar.what_sounds_like_it_falls")}
        >
          {t("bench:pass_bar.not_the_word")}
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
      aria-label={t("bench:pass_bar.fewer_or_more_of", { of })}
      title={t("bench:pass_bar.fewer_or_more_the_likeliest")}
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
      <KeyCap>{capOf(keys.keyOf("next_click"))}</KeyCap> {words}
    </button>
  );
}

function HeardClicks({ clicks, marking, keys }: PassBarProps) {
  const { here } = marking;
  if (!clicks.isHeard)
    return <span className="text-soft">{t("bench:pass_bar.listening_for_clicks")}</span>;
  const next = clicks.nextAfter(here);
  const at = clicks.at(here);
  return (
    <div
      role="group"
      aria-label={t("bench:pass_bar.heard_clicks")}
      className="flex items-center gap-1.5"
    >
      <span className="num" title={t("bench:pass_bar.so_many_heard_clicks")}>
        {clicks.count}
      </span>
      <HowMany of={t("bench:pass_bar.heard_clicks_2")} {...clicks} />
      {at ? (
        <>
          <button
            type="button"
            aria-label={t("bench:pass_bar.capof_take_this_click", {
              capOf: capOf(keys.keyOf("accept")),
            })}
            className={BUTTON}
            onClick={() => clicks.accept(at)}
          >
            <KeyCap>{capOf(keys.keyOf("accept"))}</KeyCap> {t("bench:pass_bar.take_this")}
          </button>
          <button
            type="button"
            className={BUTTON}
            onClick={() => clicks.refuse(at)}
            title={t("bench:pass_bar.what_sounds_like_it_falls")}
          >
            {t("bench:pass_bar.no_click")}
          </button>
        </>
      ) : (
        <Next to={next} marking={marking} keys={keys} words={t("bench:pass_bar.next_click")} />
      )}
      <button
        type="button"
        className={BUTTON}
        disabled={clicks.open.length === 0}
        onClick={clicks.acceptAll}
      >
        {t("bench:pass_bar.take_all_opencount", { openCount: clicks.open.length })}
      </button>
    </div>
  );
}

function LagButton({ lag, lagBy, onLag }: PassBarProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className={BUTTON}
        aria-label={t("bench:pass_bar.which_lag_lags", {
          which: lagBy ? t("bench:pass_bar.own") : t("bench:pass_bar.usual"),
          lagS: latency(lag.lagS, 2),
        })}
        onClick={() => setOpen(true)}
        title={t("bench:pass_bar.reaction_lag_taken_off_marks", {
          which: lagBy
            ? t("bench:pass_bar.yours_as_measured")
            : t("bench:pass_bar.not_measured_yet_measure_yours"),
        })}
      >
        <Trans
          i18nKey="bench:pass_bar.lag_lags"
          components={{ part: <span className="num" /> }}
          values={{ lagS: latency(lag.lagS, 2) }}
        />
      </button>
      {open && <LagDialog lag={lag} by={lagBy} onLag={onLag} onClose={() => setOpen(false)} />}
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
      title={t("bench:pass_bar.from_uncertain_mark_to_uncertain")}
    >
      <KeyCap>{capOf(keys.keyOf("fix"))}</KeyCap> {t("bench:pass_bar.fix_left", { left: fix.left })}
    </button>
  );
}

/** In the fix pass: which mark, what to do, and how many are left. */
function FixRow({ marking, fix, keys }: PassBarProps) {
  return (
    <div
      role="group"
      aria-label={t("bench:pass_bar.fix_pass")}
      className="flex min-h-8 flex-wrap items-center gap-x-2 gap-y-1 text-[12.5px]"
    >
      <span role="status" className="min-w-0 truncate">
        <Trans
          i18nKey="bench:pass_bar.on_which_frame_does_words"
          components={{ b: <b />, part: <span className="text-soft" /> }}
          values={{ words: fix.words, left: fix.left }}
        />
      </span>
      {fix.isShared && (
        <span className="whitespace-nowrap">{t("bench:pass_bar.all_taps_move_along")}</span>
      )}
      <span className="flex-1" />
      {fix.tapped && !fix.isShared && <Thought {...fix.tapped} fix={fix} keys={keys} />}
      <button type="button" className={BUTTON} onClick={() => fix.settle(marking.frame)}>
        <KeyCap>{capOf(keys.keyOf("accept"))}</KeyCap> {t("bench:pass_bar.this_frame")}
      </button>
      <button type="button" className={BUTTON} onClick={fix.skip}>
        {t("bench:pass_bar.skip")}
      </button>
      <button type="button" className={BUTTON} onClick={fix.stop}>
        {t("bench:pass_bar.stop")}
      </button>
    </div>
  );
}

/** What the trainer thought of the rep, and what the film shows: pressed where it shows otherwise. */
function Thought({
  thought,
  met,
  fix,
  keys,
}: NonNullable<FixPass["tapped"]> & Pick<PassBarProps, "fix" | "keys">) {
  const words = thought
    ? met
      ? t("bench:pass_bar.you_fits")
      : t("bench:pass_bar.you_fits_now_not")
    : met
      ? t("bench:pass_bar.you_not_yet_now_fits")
      : t("bench:pass_bar.you_not_yet");
  const about = t("bench:pass_bar.you_judged", { words });
  return (
    <button
      type="button"
      className={BUTTON}
      aria-label={about}
      title={about}
      data-met={met}
      onClick={fix.judge}
    >
      <KeyCap>{capOf(keys.keyOf("judge"))}</KeyCap> {words}
    </button>
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
      <Popover.Trigger className={BUTTON} aria-label={t("bench:pass_bar.what_holds_until_it_is")}>
        <span className="max-w-24 truncate">
          {now.join(", ") || t("bench:pass_bar.holds_nothing")}
        </span>
        <span aria-hidden>▾</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          side="top"
          sideOffset={6}
          aria-label={t("bench:pass_bar.what_holds_until_it_is")}
          className="z-40 w-80 space-y-3 rounded border border-ink bg-raised p-4"
        >
          <p className="text-soft">{t("bench:pass_bar.set_it_once_it_goes")}</p>
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              checked={held.isFitting}
              onChange={(event) => held.setFitting(event.target.checked)}
              className="size-4"
            />
            {t("bench:pass_bar.a_new_rep_fits_until")}
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
          <div role="group" aria-label={t("bench:pass_bar.reward_goes")}>
            <div className="mb-1 text-soft">{t("bench:pass_bar.reward_goes")}</div>
            <div className="flex flex-wrap gap-1.5">
              {[
                ...new Set([
                  ...held.placements,
                  t("bench:pass_bar.in_place"),
                  t("bench:pass_bar.tossed_away"),
                ]),
              ].map((place) => {
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
            <div role="group" aria-label={t("bench:pass_bar.cue_said")}>
              <div className="mb-1 text-soft">{t("bench:pass_bar.cue_said")}</div>
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
              aria-label={t("bench:pass_bar.another_condition")}
              placeholder={t("bench:pass_bar.side_distance")}
              value={name}
              maxLength={100}
              onChange={(event) => setName(event.target.value)}
              className="h-7 w-28 rounded border border-line bg-paper px-2"
            />
            <input
              aria-label={t("bench:pass_bar.its_level_now")}
              placeholder={t("bench:pass_bar.left_2_m")}
              value={level}
              maxLength={100}
              onChange={(event) => setLevel(event.target.value)}
              className="h-7 w-24 rounded border border-line bg-paper px-2"
            />
            <button type="submit" className={BUTTON}>
              {t("bench:pass_bar.set")}
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
