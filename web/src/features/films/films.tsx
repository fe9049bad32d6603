import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState, type DragEvent } from "react";
import { Link } from "react-router";

import { csrfToken, faultsOf, type FilmOut, type SessionRow } from "../../api/client";
import { sendFilm, useFilmUploads } from "../../domain/film-uploads";
import { useFilms, useLedAlone, useLooseSessions } from "../../api/queries";
import { Button } from "../../components/button";
import { FilmUploads } from "../../components/film-uploads";
import { ForTrainers } from "../../components/for-trainers";
import { useNotice } from "../../components/notice";
import { Shell } from "../../components/shell";
import { ToTheYard } from "../../components/to-the-yard";
import { Fault, Wait } from "../../components/states";
import { counted } from "../../domain/times";
import { crumbOf } from "../../domain/words";
import { CameraDialog } from "./camera-dialog";
import { FilmRow } from "./film-row";
import { PhoneDialog } from "./phone-dialog";
import { t } from "../../words";

/** How long a removed film can be had back, milliseconds. */
const UNDO_MS = 7000;

/** The films: what came in, what happens to it, and what to do next. */
export function Films() {
  const client = useQueryClient();
  const { films, sessions, error, more, isAsking } = useFilms();
  const loose = useLooseSessions();
  const ledAlone = useLedAlone().data ?? [];
  const tell = useNotice();
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);

  const refresh = useCallback(() => {
    void client.invalidateQueries({ queryKey: ["films"] });
    void client.invalidateQueries({ queryKey: ["films-under-way"] });
    void client.invalidateQueries({ queryKey: ["sessions"] });
    void client.invalidateQueries({ queryKey: ["session"] });
  }, [client]);
  const uploads = useFilmUploads();
  const { removed, remove } = useRemoval(refresh, tell);

  const take = async (files: Iterable<File>) => {
    for (const file of files) {
      if (file.name.toLowerCase().endsWith(".json")) await readSession(file, tell, refresh);
      else void sendFilm(file);
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void take([...event.dataTransfer.files]);
  };

  const shown = films?.filter((f) => !removed.has(f.id)) ?? [];
  const sessionOf = (film: FilmOut) => sessions.find((s) => s.id === film.session_id);
  const empty = films?.length === 0 && uploads.length === 0 && loose.data?.length === 0;

  return (
    <Shell title={t("films:films.films")}>
      <main
        className={`mx-auto w-full max-w-[1100px] flex-1 px-[18px] pt-7 pb-16 ${over ? "outline-2 -outline-offset-8 outline-reward outline-dashed" : ""}`}
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <div className="flex flex-wrap items-end gap-3 border-b border-ink pb-4">
          <div className="min-w-64 flex-1">
            <h1 className="text-[26px] leading-tight">{t("films:films.films")}</h1>
            <p className="text-soft">{t("films:films.drop_films_anywhere_on_this")}</p>
            <p className="mt-1 max-w-[70ch] text-[13px] text-soft">
              {t("films:films.whoever_can_be_seen_or")}
            </p>
          </div>
          <ForTrainers>
            <ToTheYard />
            <PhoneDialog />
            <CameraDialog onFilming={refresh} />
            <input
              ref={picker}
              type="file"
              multiple
              hidden
              aria-label={t("films:films.films_to_upload")}
              accept="video/*,.mp4,.mov,.m4v,.mkv,.webm,.mts,.m2ts,.ts,.3gp,.json"
              onChange={(event) => {
                const files = [...(event.target.files ?? [])];
                event.target.value = "";
                void take(files);
              }}
            />
            <Button look={empty ? "plain" : "main"} onClick={() => picker.current?.click()}>
              {t("films:films.choose_films")}
            </Button>
          </ForTrainers>
        </div>
        <FilmUploads onArrived={refresh} />
        {error && !films ? (
          <div className="pt-6">
            <Fault error={error} />
          </div>
        ) : !films ? (
          <Wait>{t("films:films.looking_for_your_films")}</Wait>
        ) : empty ? (
          <ForTrainers>
            <NoFilms onChoose={() => picker.current?.click()} />
          </ForTrainers>
        ) : (
          <ul aria-label={t("films:films.films")}>
            {shown.map((film) => (
              <FilmRow
                key={film.id}
                film={film}
                session={sessionOf(film)}
                others={[
                  ...sessions.filter((s) => s.films.length > 0 && s.id !== film.session_id),
                  ...ledAlone,
                ]}
                onChanged={refresh}
                onRemove={remove}
              />
            ))}
            {more && (
              <li className="border-b border-line py-4">
                <Button look="plain" onClick={more} disabled={isAsking}>
                  {isAsking
                    ? t("films:films.looking_for_older_films")
                    : t("films:films.show_older_films")}
                </Button>
              </li>
            )}
            {loose.data?.map((session) => (
              <FilmlessRow key={session.id} session={session} />
            ))}
          </ul>
        )}
      </main>
    </Shell>
  );
}

/** Removing can be undone for a while; only then is anything deleted. */
function useRemoval(refresh: () => void, tell: ReturnType<typeof useNotice>) {
  const [removed, setRemoved] = useState<ReadonlySet<string>>(new Set());
  const timers = useRef(new Map<string, number>());

  const reallyRemove = useCallback((id: string) => {
    timers.current.delete(id);
    return fetch(`/api/films/${id}`, {
      method: "DELETE",
      credentials: "same-origin",
      keepalive: true,
      headers: { "X-CSRFToken": csrfToken() },
    });
  }, []);

  useEffect(() => {
    const pending = timers.current;
    const leave = () => {
      for (const [id, timer] of pending) {
        window.clearTimeout(timer);
        void reallyRemove(id);
      }
    };
    window.addEventListener("pagehide", leave);
    return () => {
      window.removeEventListener("pagehide", leave);
      leave();
    };
  }, [reallyRemove]);

  const bringBack = useCallback((id: string) => {
    window.clearTimeout(timers.current.get(id));
    timers.current.delete(id);
    setRemoved((all) => new Set([...all].filter((one) => one !== id)));
  }, []);

  const remove = useCallback(
    (film: FilmOut) => {
      setRemoved((all) => new Set(all).add(film.id));
      timers.current.set(
        film.id,
        window.setTimeout(() => {
          void reallyRemove(film.id)
            .then((response) => {
              if (!response.ok) throw new Error(String(response.status));
              refresh();
            })
            .catch(() => {
              bringBack(film.id);
              tell(t("films:films.name_could_not_be_removed", { name: film.name }));
            });
        }, UNDO_MS),
      );
      tell(t("films:films.name_is_removed_with_its", { name: film.name }), {
        label: t("common:undo"),
        run: () => bringBack(film.id),
      });
    },
    [bringBack, reallyRemove, refresh, tell],
  );
  return { removed, remove };
}

async function readSession(file: File, tell: ReturnType<typeof useNotice>, refresh: () => void) {
  const response = await fetch("/api/sessions/import", {
    method: "POST",
    credentials: "same-origin",
    headers: { "X-CSRFToken": csrfToken(), "Content-Type": "application/octet-stream" },
    body: file,
  });
  const answer: unknown = await response.json().catch(() => null);
  if (response.ok) {
    tell(
      t("films:films.name_marks_read", {
        name: file.name,
        marks: counted((answer as { marks: number }).marks, "mark"),
      }),
    );
    refresh();
  } else {
    tell(
      t("films:films.name_was_not_read_answer", {
        name: file.name,
        answer: faultsOf(answer, response.status).slice(0, 3).join("; "),
      }),
    );
  }
}

function FilmlessRow({ session }: { session: SessionRow }) {
  return (
    <li className="grid grid-cols-[178px_1fr_auto] items-center gap-x-5 gap-y-3 border-b border-line py-4 max-md:grid-cols-1">
      <div className="flex h-14 items-center justify-center rounded-[3px] bg-hair text-soft">
        {t("films:films.no_film")}
      </div>
      <div>
        <h2 className="text-[16px] font-semibold">
          {crumbOf(session) || t("films:films.session_from_a_file")}
        </h2>
        <p className="text-soft">
          {t("films:films.marks_read_from_a_file", { marks: counted(session.marks, "mark") })}
        </p>
      </div>
      <Link className="underline underline-offset-3" to={`/sessions/${session.id}/findings`}>
        {t("films:films.findings")}
      </Link>
    </li>
  );
}

function NoFilms({ onChoose }: { onChoose: () => void }) {
  return (
    <div className="max-w-xl pt-12">
      <h2 className="text-[22px]">{t("films:films.begin_with_a_film_of")}</h2>
      <p className="mt-2">{t("films:films.phone_on_a_stand_the")}</p>
      <p className="mt-4">
        <Button look="main" onClick={onChoose}>
          {t("films:films.choose_a_film")}
        </Button>
      </p>
      <p className="mt-3 text-soft">{t("films:films.no_film_at_hand_the")}</p>
    </div>
  );
}
