import { useCallback, useEffect, useMemo, useState, type RefObject } from "react";
import { Link, useParams, useSearchParams } from "react-router";

import type { FilmOut, SessionOut } from "../api/client";
import { useFrames, useSession } from "../api/queries";
import { StageLine } from "../films/stage-line";
import { useNotice } from "../ui/notice";
import { Shell } from "../ui/shell";
import { Fault, Wait } from "../ui/states";
import { clock, latency, uncertainty } from "../ui/times";
import { crumbOf } from "../ui/words";
import { BenchMenu } from "./bench-menu";
import { ContactStrip } from "./contact-strip";
import { EditLog } from "./edit-log";
import { FrameTimes } from "./frame-times";
import { KeyCard, useKeys } from "./keys";
import { MarkBar, MarkRow } from "./mark-bar";
import { wordsOf } from "./marks";
import { RepLadder } from "./rep-ladder";
import { SavedCorner } from "./saved-corner";
import { SessionRibbon } from "./session-ribbon";
import { StepBar } from "./step-bar";
import { useSoundOverview } from "./sound-overview";
import { useDesk, type Desk } from "./use-desk";
import { SPEEDS, useStage, type Stage } from "./use-stage";

/** A wide film fills the stage; an upright one stands in it. */
const STAGE_HEIGHT = 398;

/** The bench: a session's film, frame by frame, and its reps. */
export function Bench() {
  const sessionId = useParams()["sessionId"] ?? "";
  const session = useSession(sessionId);
  const film = session.data?.films.find((f) => f.usable);
  const frames = useFrames(film?.id);
  const times = useMemo(() => (frames.data ? new FrameTimes(frames.data) : null), [frames.data]);
  const crumb = session.data ? crumbOf(session.data) : "";
  const title = `Bench${crumb ? ` · ${crumb}` : ""}`;

  if (session.data && film && times) {
    return (
      <BenchDesk key={film.id} session={session.data} film={film} times={times} title={title} />
    );
  }
  const fault = session.error ?? frames.error;
  return (
    <Shell title={title} crumb={crumb} sessionId={sessionId}>
      <main className="p-[18px]">
        {fault ? (
          <Fault error={fault} />
        ) : session.data && !film ? (
          <NoFilmYet session={session.data} />
        ) : (
          <Wait>Fetching the film's frame times</Wait>
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
        {film ? "This film is not ready to look at yet" : "This session has no film"}
      </h1>
      {film ? (
        <StageLine film={film} />
      ) : (
        <p>
          Its {session.marks} marks came from a file. See what they amount to on the{" "}
          <Link className="underline" to={`/sessions/${session.id}/findings`}>
            Findings page
          </Link>
          .
        </p>
      )}
    </div>
  );
}

interface DeskProps {
  session: SessionOut;
  film: FilmOut;
  times: FrameTimes;
  title: string;
}

function BenchDesk({ session, film, times, title }: DeskProps) {
  const tell = useNotice();
  const [search, setSearch] = useSearchParams();
  const [log] = useState(
    () =>
      new EditLog(session.id, (faults) =>
        tell(`The server refused a change: ${faults.join("; ")}`),
      ),
  );
  useEffect(() => log.start(), [log]);

  const [first] = useState(() => times.atUs(Math.round(Number(search.get("t") ?? 0) * 1e6)));
  const { stage, canvas, video } = useStage(film, times, first);
  const desk = useDesk(log, session.id, session.plan, times, stage);
  const sound = useSoundOverview(film.id, film.sound_ready).data ?? null;
  const [keysOpen, setKeysOpen] = useState(false);
  const showKeys = useCallback(() => setKeysOpen(true), []);
  useKeys(desk, stage, log, showKeys);
  useInstantInAddress(stage, times, setSearch);

  return (
    <Shell
      title={title}
      crumb={crumbOf(session)}
      sessionId={session.id}
      corner={
        <>
          <SavedCorner state={desk.state} />
          <BenchMenu
            sessionId={session.id}
            desk={desk}
            log={log}
            times={times}
            showKeys={showKeys}
          />
        </>
      }
    >
      <main className="flex min-h-0 flex-1 flex-col">
        <h1 className="sr-only">{title}</h1>
        <SessionRibbon
          times={times}
          frame={desk.frame}
          events={desk.events}
          timeOf={desk.timeOf}
          findings={desk.findings}
          sound={sound}
          titleOf={desk.titleOf}
          onGo={stage.goTo}
        />
        <div className="mx-auto flex min-h-0 w-full max-w-[1400px] flex-1 justify-between gap-5 px-[18px] pt-3 pb-2 lg:max-h-[calc(100vh-7.5rem)]">
          <section aria-label="Film" className="w-[708px] shrink-0">
            <Picture film={film} stage={stage} canvas={canvas} video={video} />
            <Readout desk={desk} times={times} stage={stage} />
            <ContactStrip
              stage={stage}
              times={times}
              purpose={purposeOf(desk)}
              onPoint={desk.point}
            />
            <div className="mt-1.5">
              <MarkRow desk={desk} />
            </div>
            <div className="mt-1.5">
              <MarkBar desk={desk} />
            </div>
            <div className="mt-1">
              <StepBar desk={desk} />
            </div>
          </section>
          <Ladder session={session} desk={desk} stage={stage} />
        </div>
      </main>
      <KeyCard open={keysOpen} onOpenChange={setKeysOpen} />
    </Shell>
  );
}

/** The address always names the instant on the stage, so that it can be shared. */
function useInstantInAddress(
  stage: Stage,
  times: FrameTimes,
  setSearch: ReturnType<typeof useSearchParams>[1],
) {
  const { shown, playing } = stage;
  useEffect(() => {
    if (shown === null || playing) return;
    const timer = window.setTimeout(() => {
      setSearch(
        (search) => {
          search.set("t", (times.us(shown) / 1e6).toFixed(6));
          return search;
        },
        { replace: true, preventScrollReset: true },
      );
    }, 400);
    return () => window.clearTimeout(timer);
  }, [shown, playing, times, setSearch]);
}

function purposeOf({ pointing, chosen, state }: Desk): string {
  if (pointing.does === "place") return `Point to place: ${wordsOf(pointing.kind)}.`;
  const mark = chosen === null ? undefined : state.folded.events.get(chosen);
  if (pointing.does === "move" && mark) return `Point to move: ${wordsOf(mark.kind)}.`;
  return "Point to go there.";
}

interface PictureProps {
  film: FilmOut;
  stage: Stage;
  canvas: RefObject<HTMLCanvasElement | null>;
  video: RefObject<HTMLVideoElement | null>;
}

function Picture({ film, stage, canvas, video }: PictureProps) {
  return (
    <div
      className="relative flex items-center justify-center overflow-hidden rounded-[3px] bg-hair"
      style={{ height: STAGE_HEIGHT }}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`The film, frame ${stage.shown ?? "not there yet"}`}
        className="max-h-full max-w-full"
      />
      {film.review_ready && (
        // The sound is what is needed of it; the picture is drawn on the canvas. No captions exist.
        // eslint-disable-next-line jsx-a11y/media-has-caption
        <video
          ref={video}
          src={`/api/films/${film.id}/review.mp4`}
          preload="auto"
          playsInline
          className="pointer-events-none absolute h-px w-px opacity-0"
        />
      )}
      {stage.shown === null && !stage.fault && (
        <span className="absolute text-soft">Fetching the frame …</span>
      )}
      {stage.fault && (
        <p
          role="alert"
          className="absolute inset-x-4 bottom-4 rounded border border-fault bg-raised px-3 py-2"
        >
          {stage.fault}. The marks are safe; go to another frame or load the page again.
        </p>
      )}
    </div>
  );
}

function Readout({ desk, times, stage }: { desk: Desk; times: FrameTimes; stage: Stage }) {
  const { frame, current, here, timeOf, currentNumber } = desk;
  const away = current ? here - timeOf(current) : null;
  const late = stage.shown !== stage.wanted;
  return (
    <div className="flex h-[46px] items-center gap-3 whitespace-nowrap" data-testid="readout">
      <span className={`num text-[27px] tracking-tight ${late ? "text-soft" : ""}`}>
        {away === null ? clock(times.us(frame)) : latency(away)}
      </span>
      <span className="text-soft">
        {away === null
          ? "no rep begun yet"
          : away === 0
            ? `it begins, rep ${currentNumber}`
            : `${away < 0 ? "before" : "after"} it begins, rep ${currentNumber}`}
      </span>
      <span className="flex-1" />
      <span className="num" data-testid="time" data-us={times.us(frame)}>
        {clock(times.us(frame))}
      </span>
      <span className="num text-[12.5px] text-soft">
        frame <span data-testid="frame">{frame}</span> · {uncertainty(times.uncertaintyS(frame))}
      </span>
      <PlayControls stage={stage} />
    </div>
  );
}

function PlayControls({ stage }: { stage: Stage }) {
  const ready = stage.way !== "server" && stage.way !== null;
  return (
    <span className="flex items-center gap-1.5">
      <button
        type="button"
        onClick={stage.toggle}
        disabled={!ready}
        title={ready ? undefined : "Plays once the review copy is there"}
        className="h-7 w-14 rounded border border-line bg-raised text-[12.5px] hover:border-ink disabled:opacity-50"
      >
        {stage.playing ? "Stop" : "Play"}
      </button>
      <select
        aria-label="Speed"
        value={stage.speed}
        onChange={(event) => stage.setSpeed(Number(event.target.value))}
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

function Ladder({ session, desk, stage }: { session: SessionOut; desk: Desk; stage: Stage }) {
  const { findings } = desk;
  if (!findings) return <Wait>Measuring</Wait>;
  if (findings.reps.length === 0) return <FirstSteps />;
  const onTime = session.settings["on_time_s"];
  return (
    <RepLadder
      findings={findings}
      onTimeS={typeof onTime === "number" ? onTime : 0.5}
      selected={desk.current?.id ?? null}
      titleOf={desk.titleOf}
      onRep={(rep) => {
        const onset = desk.state.folded.events.get(rep.id);
        desk.setChosen(null);
        desk.setPointing({ does: "go" });
        if (onset) stage.goTo(desk.frameOf(onset));
      }}
      onMark={desk.choose}
      onMissing={({ rep, kind }) => {
        const onset = desk.state.folded.events.get(rep.marker_id ?? rep.id);
        desk.setChosen(null);
        desk.setPointing({ does: "place", kind });
        if (onset) stage.goTo(desk.frameOf(onset));
      }}
    />
  );
}

/** An empty bench says how one begins. */
function FirstSteps() {
  return (
    <section className="w-[516px] pt-2">
      <h2 className="mb-3 text-[20px]">The first rep in three marks</h2>
      <ol className="list-decimal space-y-2 pl-5">
        <li>
          Play or step to where the animal first does it, and press b on the first frame that shows
          it.
        </li>
        <li>Go on to the marker: the frame on which the thumb presses, or the sound. Press m.</li>
        <li>
          Where the reward reaches the animal, press r. The rep appears here, with its latencies.
        </li>
      </ol>
      <p className="mt-4 text-soft">
        The small pictures under the film are its neighbours: point at one to go there. Press ? for
        all keys.
      </p>
    </section>
  );
}
