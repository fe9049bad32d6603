import { useState } from "react";
import { Link } from "react-router";

import { api, faultsOf, whyNot, type FilmOut, type SessionRow } from "../../api/client";
import { useBehaviours, useLearners } from "../../api/queries";
import { freshId } from "../../domain/marks";
import { Button } from "../../components/button";
import { ForTrainers } from "../../components/for-trainers";
import { FilmedLine } from "../../components/filmed-line";
import { useNotice } from "../../components/notice";
import { Poster } from "../../components/poster";
import { counted, shortClock } from "../../domain/times";
import { crumbOf, day } from "../../domain/words";
import { IntakeStages } from "../../components/intake-stages";
import { t } from "../../words";

interface FilmRowProps {
  film: FilmOut;
  session: SessionRow | undefined;
  /** Sessions this film could be a clip more of. */
  others: SessionRow[];
  onChanged: () => void;
  onRemove: (film: FilmOut) => void;
}

/** One film: its picture, whose session it shows, how far it has come, and the next thing to do. */
export function FilmRow({ film, session, others, onChanged, onRemove }: FilmRowProps) {
  const tell = useNotice();
  const act = async (what: "cancel" | "resume" | "drop_copy") => {
    const path = { film_id: film.id };
    const answer = await api.POST(`/api/films/{film_id}/${what}`, { params: { path } });
    if (!answer.response.ok) tell(faultsOf(answer.error, answer.response.status).join(" "));
    onChanged();
  };
  const isDropped = film.stages.some((stage) => stage.state === "dropped");
  const busy = film.state === "waiting" || film.state === "working";
  return (
    <li
      className="grid grid-cols-[178px_1fr_auto] gap-x-5 gap-y-3 border-b border-line py-4 max-md:grid-cols-[104px_1fr] max-md:gap-x-3"
      data-film={film.id}
    >
      <PosterOf film={film} />
      <div className="min-w-0">
        <h2 className="truncate text-[16px] font-semibold">{film.name}</h2>
        {session && <SessionFacts session={session} onChanged={onChanged} />}
        {session && film.usable && (
          <p className="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-[13px]">
            <FilmedFor session={session} onChanged={onChanged} />
            <ClipOf film={film} session={session} others={others} onChanged={onChanged} />
          </p>
        )}
        <FilmedLine film={film} />
        {session?.is_led && <p className="mt-1 text-[13px]">{t("films:film_row.led_by_phone")}</p>}
        {session && <NextClip film={film} others={others} onChanged={onChanged} />}
        <p className="num mt-1 text-[12.5px] text-soft">{factsOf(film)}</p>
        {film.usable && !busy && session && (
          <Slowed film={film} session={session} onChanged={onChanged} />
        )}
        <div className="mt-2">
          {film.state === "failed" ? (
            <p role="alert" className="text-fault">
              {film.fault_text}
            </p>
          ) : film.state === "ready" && film.stages.every((s) => s.state === "done") ? null : (
            <IntakeStages film={film} />
          )}
          {film.state === "cancelled" && (
            <p className="mt-1">{t("films:film_row.stopped_what_was_done_is")}</p>
          )}
          {film.sound_late && (
            <p className="mt-1 text-[13px] text-soft">
              {t("films:film_row.the_sound_of_this_kind")}
            </p>
          )}
        </div>
      </div>
      <div className="flex flex-col items-end gap-2 max-md:col-span-2 max-md:flex-row max-md:items-center">
        {film.usable && session && (
          <>
            <Link
              to={`/sessions/${session.id}/bench`}
              className="rounded border border-ink bg-ink px-3 py-1 leading-6 text-paper hover:opacity-90"
            >
              {session.marks === 0 ? t("films:film_row.code_it") : t("films:film_row.go_on_coding")}
            </Link>
            {session.marks > 0 && (
              <Link
                className="underline underline-offset-3"
                to={`/sessions/${session.id}/findings`}
              >
                {t("films:film_row.findings_of_marks", { marks: counted(session.marks, "mark") })}
              </Link>
            )}
          </>
        )}
        <span className="flex-1" />
        <span className="flex">
          {busy && (
            <Button look="quiet" onClick={() => void act("cancel")}>
              {t("common:stop")}
            </Button>
          )}
          <ForTrainers>
            {canGoOn(film) && (
              <Button look="quiet" onClick={() => void act("resume")}>
                {film.state === "cancelled"
                  ? t("films:film_row.go_on")
                  : isDropped
                    ? t("films:film_row.make_it_again")
                    : t("films:film_row.try_again")}
              </Button>
            )}
            {film.state === "ready" && film.review_ready && (
              <Button
                look="quiet"
                onClick={() => void act("drop_copy")}
                title={t("films:film_row.saves_room_on_the_disk")}
                aria-label={t("films:film_row.drop_the_copy_of_name", { name: film.name })}
              >
                {t("films:film_row.drop_the_copy")}
              </Button>
            )}
            <Button
              look="quiet"
              onClick={() => onRemove(film)}
              aria-label={t("films:film_row.remove_name", { name: film.name })}
            >
              {t("common:remove")}
            </Button>
          </ForTrainers>
        </span>
      </div>
    </li>
  );
}

const isLacking = ({ state }: FilmOut["stages"][number]) =>
  state === "failed" || state === "dropped";

/** Whether there is something left to do: a film, or a stage it can do without. */
function canGoOn(film: FilmOut): boolean {
  if (film.state === "failed") return film.fault_code !== "broke_off";
  const lacks = film.state === "ready" && film.stages.some(isLacking);
  return film.state === "cancelled" || lacks;
}

const SLOWED = [1, 2, 4, 5, 8, 10, 16];

/** Slow motion: as the film says or as somebody knows. Changed only before anything is marked. */
function Slowed({ film, session, onChanged }: AssignProps & { film: FilmOut }) {
  const tell = useNotice();
  const slowed = film.slowed ?? 1;
  if (session.marks > 0) {
    return slowed > 1 ? (
      <p className="mt-1 text-[12.5px] text-soft">
        {t("films:film_row.slow_motion_slowed_times_measured", { slowed })}
      </p>
    ) : null;
  }
  const say = async (by: number) => {
    const answer = await api.POST("/api/films/{film_id}/slowed", {
      params: { path: { film_id: film.id } },
      body: { slowed: by },
    });
    if (!answer.response.ok) tell(faultsOf(answer.error, answer.response.status).join(" "));
    onChanged();
  };
  return (
    <label className="mt-1 flex flex-wrap items-center gap-1 text-[12.5px] text-soft">
      {t("films:film_row.plays")}
      <select
        aria-label={t("films:film_row.how_fast_it_plays")}
        value={slowed}
        onChange={(event) => void say(Number(event.target.value))}
        className={`${SELECT} text-ink`}
      >
        {[...new Set([...SLOWED, slowed])].map((by) => (
          <option key={by} value={by}>
            {by === 1
              ? t("films:film_row.as_fast_as_life")
              : t("films:film_row.by_times_slower_than_life", { by })}
          </option>
        ))}
      </select>
      {slowed > 1 && t("films:film_row.and_is_measured_in_the")}
    </label>
  );
}

function factsOf(film: FilmOut): string {
  const facts = [];
  if (film.duration_us !== null) facts.push(shortClock(film.duration_us / 1e6));
  if (film.frames !== null) facts.push(counted(film.frames, "frame"));
  if (film.width !== null && film.height !== null) facts.push(`${film.width} × ${film.height}`);
  if (film.bytes !== null)
    facts.push(t("films:film_row.bytes_mb", { bytes: (film.bytes / 1e6).toFixed(1) }));
  if (film.review_ready && film.copy_bytes !== null) {
    facts.push(
      t("films:film_row.copy_copy_bytes_mb", { copy_bytes: (film.copy_bytes / 1e6).toFixed(1) }),
    );
  }
  if (film.sha256)
    facts.push(t("films:film_row.sha_256_sha256", { sha256: film.sha256.slice(0, 12) }));
  return facts.join(" · ");
}

function PosterOf({ film }: { film: FilmOut }) {
  const isUpright = (film.height ?? 0) > (film.width ?? 0);
  return (
    <div className="h-[100px] overflow-hidden rounded-[3px] bg-hair max-md:h-16">
      {film.usable && (
        <Poster filmId={film.id} className="h-full w-full" fit={isUpright ? "contain" : "cover"} />
      )}
    </div>
  );
}

const SELECT = "max-w-64 rounded border border-transparent bg-transparent hover:border-line";

interface AssignProps {
  session: SessionRow;
  onChanged: () => void;
}

/** Under which plan the session was filmed; it keeps the steps as they are now. */
function FilmedFor({ session, onChanged }: AssignProps) {
  const learners = useLearners();
  const behaviours = useBehaviours();
  const tell = useNotice();
  if (!behaviours.data?.length) return null;
  const nameOf = (learner: string) => learners.data?.find((l) => l.id === learner)?.name ?? "";
  const put = async (behaviour: string) => {
    const answer = await api.POST("/api/behaviours/{behaviour_id}/sessions", {
      params: { path: { behaviour_id: behaviour } },
      body: { session_id: session.id },
    });
    if (!answer.response.ok) tell(faultsOf(answer.error, answer.response.status).join(" "));
    onChanged();
  };
  return (
    <label className="flex flex-wrap items-center gap-1 text-soft">
      {t("films:film_row.plan")}
      <select
        aria-label={t("films:film_row.plan_it_was_filmed_under")}
        value={session.behaviour_id ?? ""}
        onChange={(event) => void put(event.target.value)}
        className={`${SELECT} text-ink`}
      >
        <option value="" disabled>
          {t("films:film_row.none_yet")}
        </option>
        {behaviours.data.map((b) => (
          <option key={b.id} value={b.id}>
            {nameOf(b.learner_id)} · {b.name}
          </option>
        ))}
      </select>
      {session.behaviour_id && (
        <Link className="underline underline-offset-3" to={`/plans/${session.behaviour_id}`}>
          {t("films:film_row.to_the_plan")}
        </Link>
      )}
    </label>
  );
}

/** A film that began soon after another one ended is offered as the next clip of that session. */
function NextClip({
  film,
  others,
  onChanged,
}: {
  film: FilmOut;
  others: SessionRow[];
  onChanged: () => void;
}) {
  const tell = useNotice();
  const [isBusy, setIsBusy] = useState(false);
  const near = others.find(({ id }) => id === film.near_session_id);
  if (!near || film.near_off_s === null) return null;
  const other = crumbOf(near) || (near.films.at(-1)?.name ?? "");
  const join = async () => {
    setIsBusy(true);
    const refusal = await joinTo(film, near.id);
    if (refusal) tell(refusal);
    setIsBusy(false);
    onChanged();
  };
  return (
    <p className="mt-1 flex flex-wrap items-center gap-x-3 text-[13px]">
      {film.near_off_s < 10
        ? t("films:film_row.filmed_right_after", { other })
        : t("films:film_row.filmed_soon_after", { off: shortClock(film.near_off_s), other })}
      <Button look="plain" disabled={isBusy} onClick={() => void join()}>
        {t("films:film_row.make_it_one_session")}
      </Button>
    </p>
  );
}

/** Make a film a clip of a session; a sentence where that was refused. */
async function joinTo(film: FilmOut, session_id: string): Promise<string | null> {
  const answer = await api.POST("/api/films/{film_id}/join", {
    params: { path: { film_id: film.id } },
    body: { session_id },
  });
  return answer.response.ok ? null : whyNot(answer);
}

/** Whether the film is one of several clips of a session; one without marks can join another. */
function ClipOf({
  film,
  session,
  others,
  onChanged,
}: AssignProps & { film: FilmOut; others: SessionRow[] }) {
  const tell = useNotice();
  if (session.films.length > 1) {
    const place = session.films.findIndex((clip) => clip.id === film.id) + 1;
    return (
      <span className="text-soft">
        {t("films:film_row.clip_place_of_filmscount", { place, filmsCount: session.films.length })}
      </span>
    );
  }
  if (session.marks > 0 || others.length === 0) return null;
  const join = async (to: string) => {
    const refusal = await joinTo(film, to);
    if (refusal) tell(refusal);
    onChanged();
  };
  // One whose camera had another time, or that somebody else shot.
  const led = others.filter((other) => other.films.length === 0);
  return (
    <label className="flex items-center gap-1 text-soft">
      {t("films:film_row.one_more_clip_of")}
      <select
        aria-label={t("films:film_row.one_more_clip_of_2")}
        value=""
        onChange={(event) => void join(event.target.value)}
        className={SELECT}
      >
        <option value="">{t("films:film_row.no_other_session")}</option>
        {others
          .filter((other) => other.films.length > 0)
          .map((other) => (
            <option key={other.id} value={other.id}>
              {crumbOf(other) || other.films[0]?.name} · {counted(other.marks, "mark")}
            </option>
          ))}
        {led.length > 0 && (
          <optgroup label={t("films:film_row.led_without_a_film")}>
            {led.map((other) => (
              <option key={other.id} value={other.id}>
                {crumbOf(other)} · {other.time}
              </option>
            ))}
          </optgroup>
        )}
      </select>
    </label>
  );
}

const FACTS = [
  { key: "learner", label: t("films:film_row.learner"), width: "w-32" },
  { key: "behaviour", label: t("films:film_row.behaviour"), width: "w-56" },
] as const;

/** Learner, behaviour and day, changed in place. */
function SessionFacts({ session, onChanged }: { session: SessionRow; onChanged: () => void }) {
  const [fault, setFault] = useState<string | null>(null);
  const save = async (key: string, value: string) => {
    const answer = await api.POST("/api/sessions/{session_id}/edits", {
      params: { path: { session_id: session.id } },
      body: {
        findings: false,
        after: 0,
        edits: [
          {
            client_id: freshId(),
            body: { op: "facts", set: { [key]: value || null } },
          },
        ],
      },
    });
    const refused = Object.values(answer.data?.refused ?? {}).flat();
    setFault(answer.data ? (refused[0] ?? null) : t("films:film_row.this_could_not_be_saved"));
    onChanged();
  };
  const field =
    "rounded border border-transparent bg-transparent px-1 hover:border-line focus:border-ink focus:bg-raised";
  return (
    <p className="-ml-1 flex flex-wrap items-center gap-x-1">
      {FACTS.map(({ key, label, width }) => (
        <input
          key={`${key} ${session[key]}`}
          aria-label={label}
          placeholder={`${label} …`}
          defaultValue={session[key]}
          onBlur={(event) => {
            if (event.target.value !== session[key]) void save(key, event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") event.currentTarget.blur();
          }}
          className={`${field} ${width} placeholder:text-soft`}
        />
      ))}
      <input
        key={`date ${session.date}`}
        type="date"
        aria-label={t("films:film_row.day_which", {
          which: session.date ? `, ${day(session.date)}` : "",
        })}
        defaultValue={session.date ?? ""}
        onBlur={(event) => {
          if (event.target.value && event.target.value !== session.date) {
            void save("date", event.target.value);
          }
        }}
        className={field}
      />
      {session.time && (
        <input
          key={`time ${session.time}`}
          type="time"
          aria-label={t("films:film_row.time")}
          defaultValue={session.time}
          onBlur={(event) => {
            if (event.target.value !== session.time) void save("time", event.target.value);
          }}
          className={field}
        />
      )}
      {fault && (
        <span role="alert" className="text-fault">
          {fault}
        </span>
      )}
    </p>
  );
}
