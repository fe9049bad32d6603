import { useQuery } from "@tanstack/react-query";
import { Link, Navigate } from "react-router";

import { api, given } from "../../api/client";
import { useMe } from "../../api/queries";
import type { components } from "../../api/schema";
import { Poster } from "../../components/poster";
import { Shell } from "../../components/shell";
import { ToTheYard } from "../../components/to-the-yard";
import { Fault, Wait } from "../../components/states";
import { crumbOf, day } from "../../domain/words";
import { Trans, t } from "../../words";

type TodayOut = components["schemas"]["TodayOut"];
type Line = TodayOut["lines"][number];

const MAIN =
  "rounded border border-ink bg-ink px-3 py-1 leading-6 whitespace-nowrap text-paper hover:opacity-90";
const PLAIN =
  "rounded border border-line bg-raised px-3 py-1 leading-6 whitespace-nowrap hover:border-ink";

/** What waits: films to code, sessions due, and one line for each thing being taught. */
export function TodayPage() {
  const isReader = useMe().data?.role === "reader";
  const today = useQuery({
    queryKey: ["today"],
    enabled: !isReader,
    queryFn: async () => given(await api.GET("/api/today")),
  });
  if (isReader) return <Navigate to="/reports" replace />;
  return (
    <Shell title={t("today:today_page.today")}>
      <main className="mx-auto w-full max-w-[1000px] flex-1 px-[18px] pt-7 pb-16">
        <ToTheYard />
        {today.error ? (
          <Fault error={today.error} />
        ) : today.data ? (
          <Waiting today={today.data} />
        ) : (
          <Wait>{t("today:today_page.looking_what_waits")}</Wait>
        )}
      </main>
    </Shell>
  );
}

function Waiting({ today }: { today: TodayOut }) {
  const { to_code, to_code_again, lines } = today;
  const due = lines.filter((line) => line.is_due).length;
  if (to_code.length + to_code_again.length + lines.length === 0) {
    return (
      <div className="max-w-xl pt-6">
        <h1 className="text-[26px]">{t("today:today_page.nothing_waits_yet")}</h1>
        <p className="mt-2">{t("today:today_page.write_down_what_you_want")}</p>
        <p className="mt-4 flex gap-2">
          <Link to="/plans" className={MAIN}>
            {t("today:today_page.make_a_plan")}
          </Link>
          <Link to="/films" className={PLAIN}>
            {t("today:today_page.bring_a_film")}
          </Link>
        </p>
        <SpareMinute />
      </div>
    );
  }
  return (
    <>
      <h1 className="text-[30px] leading-tight">{headline(to_code.length, due)}</h1>
      {to_code.length > 0 && (
        <section aria-labelledby="to-code" className="mt-7 border-t border-ink pt-3">
          <h2 id="to-code" className="text-[16px] font-semibold">
            {t("today:today_page.films_to_code")}
          </h2>
          <ul>
            {to_code.map((film) => (
              <li
                key={film.session_id}
                className="flex items-center gap-4 border-b border-hair py-3"
              >
                <Poster
                  filmId={film.film_id}
                  className="h-14 w-24 rounded-[3px] bg-hair"
                  fit="cover"
                />
                <span className="min-w-0 flex-1">
                  {film.name}
                  {film.date && (
                    <span className="block text-[13px] text-soft">{day(film.date)}</span>
                  )}
                </span>
                <Link to={`/sessions/${film.session_id}/bench`} className={MAIN}>
                  {t("today:today_page.code_it")}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      {to_code_again.length > 0 && (
        <section aria-labelledby="again" className="mt-7 border-t border-ink pt-3">
          <h2 id="again" className="text-[16px] font-semibold">
            {t("today:today_page.code_again")}
          </h2>
          <ul>
            {to_code_again.map((look) => (
              <li key={look.id} className="flex items-center gap-4 border-b border-hair py-3">
                <span className="min-w-0 flex-1">
                  {crumbOf(look)}
                  <span className="block text-[13px] text-soft">
                    {t("today:today_page.asked_by", { name: look.asked_by })}
                  </span>
                </span>
                <Link to={`/second-looks/${look.id}`} className={MAIN}>
                  {t("today:today_page.code_it_again")}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      {lines.length > 0 && (
        <section aria-labelledby="lines" className="mt-9 border-t border-ink pt-3">
          <h2 id="lines" className="text-[16px] font-semibold">
            {t("today:today_page.what_is_being_taught")}
          </h2>
          <ul>
            {lines.map((line) => (
              <LineRow key={line.behaviour_id} line={line} />
            ))}
          </ul>
        </section>
      )}
      <SpareMinute />
    </>
  );
}

/** What one can do without a film, and without an animal. */
function SpareMinute() {
  return (
    <p className="mt-9 text-soft">
      <Trans
        i18nKey="today:today_page.a_spare_minute"
        components={{ go: <Link to="/drill" className="text-ink underline underline-offset-3" /> }}
      />
    </p>
  );
}

function headline(films: number, due: number): string {
  const parts = [];
  if (films > 0) parts.push(t("today:today_page.films_wait", { count: films }));
  if (due > 0) parts.push(t("today:today_page.sessions_are_due", { count: due }));
  return parts.length > 0 ? `${parts.join(", ")}.` : t("today:today_page.nothing_is_due_today");
}

function LineRow({ line }: { line: Line }) {
  return (
    <li className="grid grid-cols-[12rem_1fr_auto] items-center gap-4 border-b border-hair py-3 max-md:grid-cols-1 max-md:gap-1">
      <Link to={`/plans/${line.behaviour_id}`} className="leading-snug">
        <span className="font-semibold">{line.learner}</span>
        <span className="block text-soft">{line.behaviour}</span>
      </Link>
      <p className="leading-snug">
        {line.sentence ?? (
          <span className="text-soft">{t("today:today_page.no_session_coded_yet")}</span>
        )}
        <span className="block text-[13px] text-soft">
          {line.date && t("today:today_page.last_on_date", { date: day(line.date) })}
          {line.due &&
            t("today:today_page.next_day_due", {
              day: day(line.due.slice(0, 10)),
              due: line.due.slice(11, 16),
            })}
          {!line.due &&
            line.planned &&
            t("today:today_page.next_planned", { day: day(line.planned) })}
        </span>
      </p>
      {line.session_id ? (
        <span className="flex items-center gap-4">
          <Link to={`/logbook/${line.behaviour_id}`} className="underline underline-offset-3">
            {t("common:logbook")}
          </Link>
          <Link to={`/sessions/${line.session_id}/next`} className={line.is_due ? MAIN : PLAIN}>
            {t("today:today_page.next_session")}
          </Link>
        </span>
      ) : (
        <Link to="/films" className={PLAIN}>
          {t("today:today_page.bring_a_film")}
        </Link>
      )}
    </li>
  );
}
