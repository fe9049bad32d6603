import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import {
  arrivingFilms,
  giveUpFilm,
  goOnSending,
  stopSending,
  useArrivals,
  useFilmUploads,
  type FilmUpload,
} from "../domain/film-uploads";
import { percent } from "../domain/times";
import { t } from "../words";
import { Button } from "./button";
import { Progress } from "./progress";
import { useWakeLock } from "./use-wake-lock";

/** The films on their way from this browser, and those that broke off on an earlier day. */
export function FilmUploads({ onArrived }: { onArrived: () => void }) {
  const client = useQueryClient();
  const uploads = useFilmUploads();
  const arrivals = useArrivals();
  const arriving = useQuery({ queryKey: ["arriving"], queryFn: arrivingFilms });
  useWakeLock(uploads.some((upload) => upload.state === "sending"));
  useEffect(() => {
    if (arrivals > 0) onArrived();
  }, [arrivals, onArrived]);
  useEffect(() => {
    void client.invalidateQueries({ queryKey: ["arriving"] });
  }, [client, uploads.length]);

  const here = new Set(uploads.map(({ name, bytes }) => `${bytes} ${name}`));
  const elsewhere = arriving.data?.filter(({ name, bytes }) => !here.has(`${bytes} ${name}`)) ?? [];
  if (uploads.length === 0 && elsewhere.length === 0) return null;
  return (
    <ul aria-label={t("films:uploads.films_on_their_way")}>
      {uploads.map((upload) => (
        <UploadRow key={upload.id} upload={upload} />
      ))}
      {elsewhere.map((film) => (
        <li
          key={film.id}
          className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b border-line py-3"
          data-arriving={film.id}
        >
          <div className="min-w-0 flex-1">
            <h2 className="truncate text-[16px] font-semibold">{film.name}</h2>
            <p className="text-[13.5px] text-soft">
              {t("films:uploads.broke_off_at", { share: percent(film.received / film.bytes) })}
            </p>
          </div>
          <Button
            look="quiet"
            aria-label={t("films:uploads.give_up_name", { name: film.name })}
            onClick={() =>
              void giveUpFilm(film.id).finally(() =>
                client.invalidateQueries({ queryKey: ["arriving"] }),
              )
            }
          >
            {t("films:uploads.give_up")}
          </Button>
        </li>
      ))}
    </ul>
  );
}

function UploadRow({ upload }: { upload: FilmUpload }) {
  const { id, name, share, state, fault } = upload;
  return (
    <li
      className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b border-line py-3"
      data-upload={state}
    >
      <div className="min-w-0 flex-1 basis-56">
        <h2 className="truncate text-[16px] font-semibold">{name}</h2>
        {fault && (
          <p role="alert" className="mt-1 text-fault">
            {fault}
          </p>
        )}
        {state !== "refused" && (
          <>
            <Progress
              label={t("films:films.sending_name", { name })}
              share={share}
              className="mt-2"
            />
            <p className="num mt-1 text-[13px] text-soft">
              {state === "waiting"
                ? t("films:uploads.waits_for_its_turn")
                : t("films:uploads.received_share", { share: percent(share) })}
            </p>
          </>
        )}
      </div>
      {state === "broken" && (
        <Button look="main" onClick={() => goOnSending(id)}>
          {t("films:film_row.go_on")}
        </Button>
      )}
      <Button look="quiet" onClick={() => void stopSending(id)}>
        {state === "refused" ? t("films:films.put_away") : t("common:stop")}
      </Button>
    </li>
  );
}
