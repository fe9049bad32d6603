import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, type ReactNode } from "react";

import { sendFilm } from "../../domain/film-uploads";
import { useFilms } from "../../api/queries";
import { ToLead } from "./to-lead";
import { WaitingHere } from "./waiting-here";
import { FilmUploads } from "../../components/film-uploads";
import { Shell } from "../../components/shell";
import { Fault } from "../../components/states";
import { t } from "../../words";

/** How many of the films that arrived are worth a line on a phone. */
const LATELY = 5;

/** The phone's own page: films go from here to the large screen. */
export function YardPage() {
  const client = useQueryClient();
  const refresh = useCallback(() => {
    void client.invalidateQueries({ queryKey: ["films"] });
    void client.invalidateQueries({ queryKey: ["films-under-way"] });
  }, [client]);
  const { films, error } = useFilms();
  return (
    <Shell title={t("yard:yard_page.in_the_yard")}>
      <main className="mx-auto w-full max-w-xl flex-1 px-[18px] pt-5 pb-16 max-md:px-4">
        <h1 className="text-[26px] leading-tight">{t("yard:yard_page.in_the_yard")}</h1>
        <div className="mt-4 grid grid-cols-2 gap-3">
          <FilmPicker isCamera>{t("yard:yard_page.film_now")}</FilmPicker>
          <FilmPicker>{t("yard:yard_page.from_the_gallery")}</FilmPicker>
        </div>
        <p className="mt-3 text-[13.5px] text-soft">
          {t("yard:yard_page.they_go_to_the_large_screen")}
        </p>
        <FilmUploads onArrived={refresh} />
        <WaitingHere />
        <ToLead />
        {error && !films ? (
          <Fault error={error} />
        ) : films ? (
          <section aria-labelledby="arrived" className="mt-6 border-t border-ink pt-3">
            <h2 id="arrived" className="text-[16px] font-semibold">
              {t("yard:yard_page.arrived")}
            </h2>
            {films.length === 0 ? (
              <p className="mt-1 text-soft">{t("yard:yard_page.nothing_yet")}</p>
            ) : (
              <>
                <ul>
                  {films.slice(0, LATELY).map((film) => (
                    <li key={film.id} className="border-b border-hair py-2">
                      <span className="block truncate">{film.name}</span>
                      <span className="text-[13px] text-soft">
                        {film.state === "failed"
                          ? film.fault_text
                          : t("yard:yard_page.whole_and_safe")}
                      </span>
                    </li>
                  ))}
                </ul>
                <p className="mt-2 text-[13.5px] text-soft">
                  {t("yard:yard_page.stays_on_the_phone")}
                </p>
              </>
            )}
          </section>
        ) : null}
      </main>
    </Shell>
  );
}

/** A thumb-sized button that opens the phone's camera or its gallery. */
function FilmPicker({ isCamera = false, children }: { isCamera?: boolean; children: ReactNode }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        hidden
        accept="video/*"
        multiple={!isCamera}
        capture={isCamera ? "environment" : undefined}
        aria-label={isCamera ? t("yard:yard_page.film_now") : t("yard:yard_page.films_to_send")}
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = "";
          for (const file of files) void sendFilm(file);
        }}
      />
      <button
        type="button"
        onClick={() => input.current?.click()}
        className={`min-h-16 rounded border border-ink px-3 text-[17px] ${
          isCamera ? "bg-ink text-paper" : "bg-raised"
        }`}
      >
        {children}
      </button>
    </>
  );
}
