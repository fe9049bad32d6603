import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState, useSyncExternalStore } from "react";
import { Link, useLocation, useParams, useSearchParams } from "react-router";

import type { FilmOut, SessionOut } from "../../api/client";
import type { Rep } from "../../api/findings";
import { findingsKey, keepFindings, useFrames, usePlanned, useSession } from "../../api/queries";
import { IntakeStages } from "../../components/intake-stages";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import type { PlanDocument } from "../../domain/plan-document";
import { clock, counted, latency, uncertainty } from "../../domain/times";
import { usePageWidth, useWide } from "../../components/use-width";
import { crumbOf } from "../../domain/words";
import { AboutDialog } from "./about-dialog";
import { BenchMenu } from "./bench-menu";
import { CompareDialog } from "./compare-dialog";
import {
  ContactStrip,
  phoneStrip,
  rowStart,
  STRIP_ROW,
  uprightStrip,
  wideStrip,
  type StripRows,
} from "./contact-strip";
import { EVERYTHING, type Region } from "../../domain/picture-view";
import { WIDTH as LADDER_WIDTH } from "../../domain/ladder-axis";
import { LANE_HEIGHT, SoundLane } from "./sound-lane";
import { EditLog } from "../../domain/edit-log";
import { FrameTimes } from "../../domain/frame-times";
import { isOnPhoneClock, tapsOn, type TapsOn } from "../../domain/taps-on-film";
import { useKeyMap, usePreferences } from "../../domain/key-map";
import { KeyCard, useKeys } from "./keys";
import { MarkBar, MarkRow } from "./mark-bar";
import { wordsOf, type Folded, type StoredEvent } from "../../domain/marks";
import { PassBar } from "./pass-bar";
import { Picture } from "./picture";
import { USUAL_LAG } from "../../domain/reaction";
import { RepLadder, type Missing } from "./rep-ladder";
import { SavedCorner } from "./saved-corner";
import { SecondLookCorner } from "./second-look-corner";
import { SessionRibbon } from "./session-ribbon";
import { StepBar } from "./step-bar";
import { Timeline, type Clip } from "../../domain/timeline";
import { useClicks } from "./use-clicks";
import { usePlaces } from "./use-places";
import { useMarking, type Marking } from "./use-marking";
import { useFixPass } from "./use-fix-pass";
import { SPEEDS, usePlayback, type Playback } from "./use-playback";
import { Trans, t } from "../../words";

/** A wide film fills the stage; an upright one stands in it. */
const STAGE_HEIGHT = 384;
/** A picture so much higher than wide has its strip and marks beside it, not under it. */
const UPRIGHT_FROM = 1.2;
const UPRIGHT_HEIGHT = 590;
/** On a phone: room left at either side, and how much of the height an upright picture takes. */
const PHONE_MARGIN = 10;
const PHONE_SHARE = 0.4;
/** What stands beside an upright picture has half the room: rows go on in the next line. */
const BESIDE =
  "min-w-0 [&_[role=group]]:h-auto [&_[role=group]]:flex-wrap [&_[role=toolbar]]:flex-wrap";
/** On a phone, with a thumb: nothing is told by keys, and what is pressed most is large. */
const BY_THUMB = `${BESIDE} [&_kbd]:hidden [&_[aria-label=Marks]_button]:h-11 [&_[aria-label=Marks]_button]:px-2.5 [&_[aria-label=Steps]_button]:h-9`;

/** A word is placed by the reviewer; where it may be is shown on the ribbon alone. */
const NOTHING: never[] = [];

/** The bench: a session's films, frame by frame, and its reps. */
export function Bench() {
  const sessionId = useParams()["sessionId"] ?? "";
  const session = useSession(sessionId);
  const films = useMemo(() => session.data?.films.filter((f) => f.usable) ?? [], [session.data]);
  const frames = useFrames(films);
  const planned = usePlanned(session.data);
  const crumb = session.data ? crumbOf(session.data) : "";
  const title = t("bench:bench.bench_of", { which: crumb ? ` · ${crumb}` : "" });
  const times = useMemo(
    () => frames.data && new Map(frames.data.map((f) => [f.id, new FrameTimes(f.frames)])),
    [frames.data],
  );

  if (session.data && films.length > 0 && times) {
    return (
      <BenchSession
        session={session.data}
        films={films}
        times={times}
        planned={planned}
        title={title}
      />
    );
  }
  const fault = session.error ?? frames.error;
  return (
    <Shell title={title} crumb={crumb} sessionId={sessionId}>
      <main className="p-[18px]">
        {fault ? (
          <Fault error={fault} />
        ) : session.data && films.length === 0 ? (
          <NoFilmYet session={session.data} />
        ) : (
          <Wait>{t("bench:bench.fetching_the_films_frame_times")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function NoFilmYet({ session }: { session: SessionOut }) {
  const film = session.films[0];
  return (
    <div className="max-w-xl">
      <h1 className="mb-2 text-[22px]">
        {film ? t("bench:bench.this_film_is_not_ready") : t("bench:bench.this_session_has_no_film")}
      </h1>
      {film ? (
        <IntakeStages film={film} />
      ) : (
        <p>
          <Trans
            i18nKey="bench:bench.its_marks_marks_came_from"
            components={{
              go: <Link className="underline" to={`/sessions/${session.id}/findings`} />,
            }}
            values={{ marks: session.marks }}
          />
        </p>
      )}
    </div>
  );
}

interface SessionProps {
  session: SessionOut;
  films: FilmOut[];
  times: Map<string, FrameTimes>;
  planned: PlanDocument | undefined;
  title: string;
}

/** The session's edits and its clips; marking is done in one clip at a time. */
function BenchSession({ session, films, times, planned, title }: SessionProps) {
  const tell = useNotice();
  const [search] = useSearchParams();
  const client = useQueryClient();
  const [log] = useState(
    () =>
      new EditLog(
        session.id,
        (faults) =>
          tell(t("bench:bench.the_server_refused_a_change", { faults: faults.join("; ") })),
        (measured) => keepFindings(client, session.id, measured),
        (changes) => {
          // Numbers begin anew: what was measured under the old ones is no measure any more.
          void client.resetQueries({ queryKey: findingsKey(session.id) });
          tell(
            t("bench:bench.the_server_has_gone_back", { changes: counted(changes, "change") }) +
              t("bench:bench.not_know_any_more_were"),
          );
        },
      ),
  );
  useEffect(() => log.start(), [log]);
  const state = useSyncExternalStore(log.subscribe, log.snapshot);
  const offset = state.folded.facts["av_offset_s"];
  const soundOffsetS = typeof offset === "number" ? offset : 0;
  const taps = useTaps(state.folded);
  const timeline = useMemo(
    () => new Timeline(films, times, soundOffsetS, taps.events, taps.on),
    [films, times, soundOffsetS, taps],
  );
  const [at, setAt] = useState(() => Math.round(Number(search.get("t") ?? 0) * 1e6));
  const { clip, frame } = timeline.at(at);
  if (!clip) return null;
  return (
    <ClipBench
      key={clip.film.id}
      session={session}
      log={log}
      timeline={timeline}
      clip={clip}
      first={frame}
      planned={planned}
      title={title}
      onOtherClip={setAt}
    />
  );
}

/** What lies on the clock of the phone that led the session; the same until any of it changes. */
function useTaps({ events, facts }: Folded): { events: StoredEvent[]; on: TapsOn | null } {
  const said = JSON.stringify({
    events: [...events.values()].filter(isOnPhoneClock),
    on: tapsOn(facts),
  });
  return useMemo(() => JSON.parse(said) as { events: StoredEvent[]; on: TapsOn | null }, [said]);
}

interface ClipBenchProps extends Pick<SessionProps, "session" | "planned" | "title"> {
  log: EditLog;
  timeline: Timeline;
  clip: Clip;
  /** The frame to begin with. */
  first: number;
  /** Go to a time of the session in another clip, microseconds. */
  onOtherClip: (us: number) => void;
}

function ClipBench(props: ClipBenchProps) {
  const { session, log, timeline, clip, planned, title, onOtherClip } = props;
  const { film, times } = clip;
  const [first] = useState(props.first);
  const { playback, canvas, video } = usePlayback(film, times, first);
  const { preferences, change } = usePreferences();
  // Kept before it was said by what: by drills is what changes it next.
  const lagBy = typeof preferences.lag_s === "number" ? (preferences.lag_by ?? "drill") : null;
  const lag = useMemo(
    () => ({
      lagS: preferences.lag_s ?? USUAL_LAG.lagS,
      sdS: preferences.lag_sd_s ?? USUAL_LAG.sdS,
    }),
    [preferences.lag_s, preferences.lag_sd_s],
  );
  const { goTo } = playback;
  const goToUs = useCallback(
    (us: number) => {
      const there = timeline.at(us);
      if (there.clip === clip) goTo(there.frame);
      else onOtherClip(us);
    },
    [clip, goTo, onOtherClip, timeline],
  );
  const marking = useMarking({
    log,
    sessionId: session.id,
    sessionPlan: session.plan,
    planned,
    timeline,
    clip,
    playback,
    lag,
    goToUs,
  });
  const marksBy = preferences.marks_by;
  const clicks = useClicks(marking);
  const places = usePlaces(marking, marksBy === "word");
  const heard = marksBy === "word" ? places : clicks;
  const fix = useFixPass(marking);
  const keys = useKeyMap();
  const [keysOpen, setKeysOpen] = useState(false);
  const [comparing, setComparing] = useState(false);
  const [about, setAbout] = useState(false);
  const [loupe, setLoupe] = useState(false);
  const [region, setRegion] = useState<Region>(EVERYTHING);
  const [rows, setRows] = useState<StripRows>(1);
  const showKeys = useCallback(() => setKeysOpen(true), []);
  // An uncertain mark may lie further off than nine frames reach.
  const shownRows: StripRows = fix.isOn && rows === 1 ? 2 : rows;
  const hasLane = film.has_sound && film.sound_ready;
  const stageHeight = STAGE_HEIGHT - (hasLane ? LANE_HEIGHT : 0);
  const isUpright = (film.height ?? 0) > (film.width ?? 0) * UPRIGHT_FROM;
  const isPhone = !useWide();
  const room = usePageWidth() - 2 * PHONE_MARGIN;
  const isBeside = isUpright && !isPhone;
  const isNarrow = isUpright || isPhone;
  const layout = isPhone
    ? phoneStrip(shownRows, isUpright)
    : isUpright
      ? uprightStrip(shownRows)
      : wideStrip(shownRows);
  const acts = {
    judge: fix.tapped ? fix.judge : marking.judge,
    play: playback.toggle,
    accept: () => {
      const click = clicks.at(marking.here);
      if (fix.isOn) playback.whenShown(fix.settle);
      else if (click && marksBy === "click") clicks.accept(click);
    },
    next_click: () => {
      const next = heard.nextAfter(marking.here);
      if (next) goToUs(Math.round(next.pictureS * 1e6));
    },
    fix: fix.isOn ? fix.stop : fix.start,
    loop: () => loopRep(marking, playback),
    compare: () => setComparing(true),
    rows: () => setRows((n) => (n === 3 ? 1 : ((n + 1) as StripRows))),
    loupe: () => setLoupe((on) => !on),
    show_keys: showKeys,
  };
  useKeys({ marking, playback, log, keys, acts });
  useInstantInAddress(playback, clip);
  const crumb = useMemo(() => crumbOf(session), [session]);

  const passes = (
    <div className="mt-1">
      <PassBar
        marking={marking}
        clicks={clicks}
        places={places}
        marksBy={marksBy}
        onMarksBy={(by) => change({ marks_by: by })}
        fix={fix}
        lag={lag}
        lagBy={lagBy}
        keys={keys}
        onLag={({ lagS, sdS }) => change({ lag_s: lagS, lag_sd_s: sdS, lag_by: "hand" })}
      />
    </div>
  );
  const row = (
    <div className={isNarrow ? "mt-1" : "contents"}>
      <MarkRow marking={marking} keys={keys} />
    </div>
  );
  const marks = (
    <div className="mt-1">
      <MarkBar marking={marking} keys={keys} />
    </div>
  );

  return (
    <Shell
      title={title}
      crumb={crumb}
      {...(session.second_look ? {} : { sessionId: session.id })}
      corner={
        <>
          {session.second_look && (
            <SecondLookCorner
              sessionId={session.id}
              look={session.second_look}
              state={marking.state}
            />
          )}
          <SavedCorner state={marking.state} onRetry={log.retry} />
          <BenchMenu
            sessionId={session.id}
            isSecond={session.second_look !== null}
            marking={marking}
            log={log}
            clicks={clicks}
            showKeys={showKeys}
            compare={acts.compare}
            about={() => setAbout(true)}
          />
        </>
      }
    >
      <main className="flex min-h-0 flex-1 flex-col">
        <h1 className="sr-only">{title}</h1>
        <SessionRibbon
          timeline={timeline}
          clip={clip}
          frame={marking.frame}
          events={marking.events}
          findings={marking.findings}
          heard={heard.open}
          titleOf={marking.titleOf}
          onGo={goToUs}
        />
        <div className="mx-auto flex min-h-0 w-full max-w-[1400px] flex-1 flex-col items-center gap-5 px-2.5 pt-2.5 pb-1.5 md:px-[18px] min-[1280px]:max-h-[calc(100vh-7.5rem)] min-[1280px]:flex-row min-[1280px]:items-stretch min-[1280px]:justify-between">
          <section
            aria-label={t("bench:bench.film")}
            className={`w-full max-w-[708px] shrink-0 ${
              isBeside ? "grid grid-cols-[332px_minmax(0,1fr)] content-start gap-x-3" : ""
            }`}
          >
            <div className={isBeside ? BESIDE : "contents"}>
              <Picture
                film={film}
                playback={playback}
                canvas={canvas}
                video={video}
                height={
                  isPhone
                    ? phoneHeight(film, room)
                    : isUpright
                      ? UPRIGHT_HEIGHT
                      : stageHeight - (shownRows - 1) * STRIP_ROW
                }
                loupe={loupe}
                onLoupe={setLoupe}
                onRegion={setRegion}
              />
              {isBeside && passes}
            </div>
            <div className={isPhone ? BY_THUMB : isUpright ? BESIDE : "contents"}>
              <Readout
                marking={marking}
                playback={playback}
                onLoop={acts.loop}
                isNarrow={isNarrow}
              />
              <ContactStrip
                playback={playback}
                times={times}
                layout={layout}
                region={region}
                purpose={
                  fix.isOn
                    ? t("bench:bench.point_where_it_shows_first", { words: fix.words })
                    : purposeOf(marking)
                }
                onPoint={fix.isOn ? fix.settle : marking.point}
              />
              {hasLane && (
                <SoundLane
                  marking={marking}
                  playback={playback}
                  heard={marksBy === "word" ? NOTHING : clicks.ranked}
                  quiet={
                    marksBy === "word"
                      ? t("bench:bench.point_where_it_begins")
                      : t("bench:bench.no_click_heard_here")
                  }
                  first={rowStart(layout, playback.wanted)}
                  count={layout.across}
                  isNarrow={isNarrow}
                />
              )}
              {isPhone ? (
                // What is pressed most stands next to the film.
                <>
                  {marks}
                  {row}
                  {passes}
                </>
              ) : (
                <>
                  {!isBeside && passes}
                  {row}
                  {marks}
                </>
              )}
              <div className="mt-1">
                <StepBar marking={marking} />
              </div>
            </div>
          </section>
          <Ladder
            session={session}
            marking={marking}
            playback={playback}
            width={isPhone ? room : LADDER_WIDTH}
            isByKeys={!isPhone}
          />
        </div>
      </main>
      <KeyCard open={keysOpen} onOpenChange={setKeysOpen} />
      {about && <AboutDialog session={session} log={log} onClose={() => setAbout(false)} />}
      {comparing && <CompareDialog marking={marking} onClose={() => setComparing(false)} />}
    </Shell>
  );
}

/** As high as the picture is at this width, pixels, and never most of a phone's height. */
function phoneHeight({ width, height }: FilmOut, room: number): number {
  const whole = (room * (height ?? 9)) / (width ?? 16);
  return Math.round(Math.min(whole, window.innerHeight * PHONE_SHARE));
}

/** Round and round: from half a second before the onset to the reward, the offset or a second on. */
function loopRep({ current, rep, timeline, clip, events }: Marking, playback: Playback) {
  if (playback.looping) {
    playback.toggle();
    return;
  }
  if (!current || timeline.clipOf(current) !== clip) return;
  const onsetS = timeline.bestS(current);
  const ids = [rep?.offset_id, rep?.marker_id, ...(rep?.reward_ids ?? [])];
  const ends = events.filter((e) => ids.includes(e.id)).map((e) => timeline.bestS(e));
  const startS = clip.startUs / 1e6;
  const at = (s: number) => clip.times.atUs(Math.round((s - startS) * 1e6));
  playback.loop(at(onsetS - 0.5), at(Math.max(onsetS + 1, ...ends) + 0.3));
}

/**
 * The address always names the instant on the stage, so that it can be shared. It is written past
 * the router: to the router that is a way of its own, and one that waits for its page's code
 * ends where another begins.
 */
function useInstantInAddress(playback: Playback, clip: Clip) {
  const { shown, playing } = playback;
  const { pathname } = useLocation();
  useEffect(() => {
    if (shown === null || playing) return;
    const timer = window.setTimeout(() => {
      const address = new URL(location.href);
      // On the way back the address is the other page's before that is shown.
      if (address.pathname !== pathname) return;
      address.searchParams.set("t", ((clip.startUs + clip.times.us(shown)) / 1e6).toFixed(6));
      history.replaceState(history.state, "", address);
    }, 400);
    return () => window.clearTimeout(timer);
  }, [shown, playing, clip, pathname]);
}

function purposeOf({ pointing, chosen, state }: Marking): string {
  if (pointing.does === "place")
    return t("bench:bench.point_to_place_kind", { kind: wordsOf(pointing.kind) });
  const mark = chosen === null ? undefined : state.folded.events.get(chosen);
  if (pointing.does === "move" && mark)
    return t("bench:bench.point_to_move_kind", { kind: wordsOf(mark.kind) });
  return t("bench:bench.point_to_go_there");
}

interface ReadoutProps {
  marking: Marking;
  playback: Playback;
  onLoop: () => void;
  isNarrow: boolean;
}

function Readout({ marking, playback, onLoop, isNarrow }: ReadoutProps) {
  const { frame, current, here, timeOf, currentNumber, clip, timeline } = marking;
  const { times } = clip;
  const away = current ? here - timeOf(current) : null;
  const late = !playback.certain && !playback.playing;
  const us = clip.startUs + times.us(frame);
  return (
    <div
      className={`flex items-center gap-x-3 whitespace-nowrap ${
        isNarrow ? "mb-1 flex-wrap" : "h-[42px]"
      }`}
      data-testid="readout"
      data-certain={playback.certain}
    >
      <span className={`num text-[27px] tracking-tight ${late ? "text-soft" : ""}`}>
        {away === null ? clock(us) : latency(away)}
      </span>
      <span className="text-soft">
        {away === null
          ? t("bench:bench.no_rep_begun_yet")
          : away === 0
            ? t("bench:bench.it_begins_rep_currentnumber", { currentNumber })
            : t("bench:bench.which_it_begins_rep_currentnumber", {
                which: away < 0 ? t("common:before") : t("common:after"),
                currentNumber,
              })}
      </span>
      <span className="flex-1" />
      {timeline.clips.length > 1 && (
        <span className="text-[12.5px] text-soft">
          {t("bench:bench.clip_clip_of_clipscount", {
            clip: timeline.clips.indexOf(clip) + 1,
            clipsCount: timeline.clips.length,
          })}
        </span>
      )}
      <span className="num" data-testid="time" data-us={us}>
        {clock(us)}
      </span>
      <span className="num text-[12.5px] text-soft">
        <Trans
          i18nKey="bench:bench.frame_frame_uncertainty"
          components={{ part: <span data-testid="frame" /> }}
          values={{ frame, uncertainty: uncertainty(times.uncertaintyS(frame)) }}
        />
      </span>
      <PlayControls playback={playback} canLoop={current !== null} onLoop={onLoop} />
    </div>
  );
}

function PlayControls({
  playback,
  canLoop,
  onLoop,
}: {
  playback: Playback;
  canLoop: boolean;
  onLoop: () => void;
}) {
  const ready = playback.way !== "server" && playback.way !== null;
  return (
    <span className="flex items-center gap-1.5">
      <button
        type="button"
        onClick={playback.toggle}
        disabled={!ready}
        title={ready ? undefined : t("bench:bench.plays_once_the_review_copy")}
        className="h-7 w-14 rounded border border-line bg-raised text-[12.5px] hover:border-ink disabled:opacity-50"
      >
        {playback.playing ? t("common:stop") : t("bench:bench.play")}
      </button>
      <button
        type="button"
        aria-label={t("bench:bench.round_and_round_this_rep")}
        title={t("bench:bench.round_and_round_this_rep")}
        aria-pressed={playback.looping}
        onClick={onLoop}
        disabled={!ready || !canLoop}
        className={`h-7 rounded border px-1.5 text-[12.5px] hover:border-ink disabled:opacity-50 ${
          playback.looping ? "border-ink bg-ink text-paper" : "border-line bg-raised"
        }`}
      >
        ⟳
      </button>
      <select
        aria-label={t("bench:bench.speed")}
        value={playback.speed}
        onChange={(event) => playback.setSpeed(Number(event.target.value))}
        className="num h-7 rounded border border-line bg-raised px-1 text-[12.5px]"
      >
        {SPEEDS.map((speed) => (
          <option key={speed} value={speed}>
            {speed}×
          </option>
        ))}
      </select>
    </span>
  );
}

interface LadderProps {
  session: SessionOut;
  marking: Marking;
  playback: Playback;
  width: number;
  isByKeys: boolean;
}

function Ladder({ session, marking, playback, width, isByKeys }: LadderProps) {
  const { findings, titleOf } = marking;
  // The ladder itself stays as it is while the film is stepped through.
  const latest = useRef({ marking, playback });
  useEffect(() => {
    latest.current = { marking, playback };
  });
  const [onRep, onMark, onMissing] = useMemo(
    () => [
      (rep: Rep) => {
        const { marking } = latest.current;
        const onset = marking.state.folded.events.get(rep.id);
        marking.letGo();
        if (onset) marking.goToMark(onset);
      },
      (id: string) => latest.current.marking.choose(id),
      ({ rep, kind }: Missing) => {
        const { marking } = latest.current;
        const onset = marking.state.folded.events.get(rep.marker_id ?? rep.id);
        marking.setChosen(null);
        marking.setPointing({ does: "place", kind });
        if (onset) marking.goToMark(onset);
      },
    ],
    [],
  );
  if (!findings) return <Wait>{t("bench:bench.measuring")}</Wait>;
  if (findings.reps.length === 0) return <FirstSteps width={width} isByKeys={isByKeys} />;
  return (
    <RepLadder
      findings={findings}
      events={marking.events}
      timeOf={marking.timeOf}
      onTimeS={session.settings.on_time_s}
      rewardLimitS={session.settings.reward_limit_s}
      selected={marking.current?.id ?? null}
      width={width}
      titleOf={titleOf}
      onRep={onRep}
      onMark={onMark}
      onMissing={onMissing}
    />
  );
}

/** An empty bench says how one begins. */
function FirstSteps({ width, isByKeys }: { width: number; isByKeys: boolean }) {
  const press = (key: string, button: string) => (isByKeys ? key : <b>{button}</b>);
  return (
    <section className="pt-2" style={{ width }}>
      <h2 className="mb-3 text-[20px]">{t("bench:bench.the_first_rep_in_three")}</h2>
      <ol className="list-decimal space-y-2 pl-5">
        <li>
          {t("bench:bench.play_or_step_to_where")} {press("b", "behaviour")}{" "}
          {t("bench:bench.on_the_first_frame_that")}
        </li>
        <li>
          {t("bench:bench.go_on_to_the_marker")} {press("m", "marker")}.
        </li>
        <li>
          {t("bench:bench.where_the_reward_reaches_the")} {press("r", "reward")}
          {t("bench:bench.the_rep_appears_here_with")}
        </li>
      </ol>
      <h2 className="mt-6 mb-3 text-[20px]">{t("bench:bench.quicker_for_a_whole_session")}</h2>
      <ol className="list-decimal space-y-2 pl-5">
        <li>{t("bench:bench.take_all_heard_clicks_under")}</li>
        <li>
          {t("bench:bench.or_press")} {press(t("bench:bench.space"), t("bench:bench.play"))}{" "}
          {t("bench:bench.and_tap")} {press("b", "behaviour")}, {press("m", "marker")}{" "}
          {t("bench:bench.and")} {press("r", "reward")} {t("bench:bench.as_it_happens_your_own")}{" "}
          {press("f", "judge")} {t("bench:bench.says_that_a_rep_fits")}
        </li>
        <li>
          {press("x", "fix")} {t("bench:bench.walks_from_uncertain_mark_to")}
        </li>
      </ol>
      <p className="mt-4 text-soft">
        {t("bench:bench.the_small_pictures_under_the")}
        {isByKeys && t("bench:bench.press_for_all_keys")}
      </p>
    </section>
  );
}
