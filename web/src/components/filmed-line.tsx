import type { FilmOut } from "../api/client";
import { day } from "../domain/words";
import { t } from "../words";

/** When a film was filmed, with what, and what says so; nothing where nothing does. */
export function FilmedLine({ film }: { film: FilmOut }) {
  const from = film.filmed_from;
  if (from === "") return null;
  const [date = "", rest = ""] = film.filmed_at.split("T");
  return (
    <p className="mt-1 text-[12.5px] text-soft">
      {t(`films:filmed_line.${from}`, {
        date: day(date),
        time: rest.slice(0, 5),
        zone: film.zone.replaceAll("_", " "),
      })}
      {film.device && ` ${t("films:filmed_line.with_device", { device: film.device })}`}
    </p>
  );
}
