import { Link } from "react-router";

import type { Entry, MonthDay } from "../../domain/calendar-days";
import { day } from "../../domain/words";
import { language, t } from "../../words";

/** So many entries of a day are shown before the rest is only counted. */
const SHOWN = 4;

/** A month as a table of weeks: filled is done, open is planned. */
export function Month({
  weeks,
  today,
  name,
}: {
  weeks: MonthDay[][];
  today: string;
  name: string;
}) {
  return (
    <table className="w-full table-fixed border-collapse" aria-label={name}>
      <thead>
        <tr>
          {weeks[0]?.map((one) => (
            <th
              key={one.day}
              scope="col"
              className="border-b border-ink pb-1 text-left text-[13px] font-normal text-soft"
            >
              {new Date(`${one.day}T12:00:00`).toLocaleDateString(language().locale, {
                weekday: "short",
              })}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {weeks.map((week) => (
          <tr key={week[0]?.day} className="border-b border-line">
            {week.map((one) => (
              <OneDay key={one.day} one={one} isToday={one.day === today} />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function OneDay({ one, isToday }: { one: MonthDay; isToday: boolean }) {
  return (
    <td
      data-day={one.day}
      aria-current={isToday ? "date" : undefined}
      className={`h-[92px] border-l border-hair p-1 align-top first:border-l-0 ${
        isToday ? "bg-hair/70" : ""
      } ${one.isInMonth ? "" : "bg-hair/40"}`}
    >
      <span className={`num text-[13px] ${isToday ? "font-semibold" : "text-soft"}`}>
        {Number(one.day.slice(8))}
      </span>
      <ul className="space-y-0.5">
        {one.entries.slice(0, SHOWN).map((entry) => (
          <li key={entry.key}>
            <OneEntry entry={entry} on={one.day} />
          </li>
        ))}
        {one.entries.length > SHOWN && (
          <li
            className="text-[12px] text-soft"
            title={one.entries
              .slice(SHOWN)
              .map((entry) => `${whose(entry)}: ${entry.long}`)
              .join("\n")}
          >
            {t("calendar:month.and_more", { more: one.entries.length - SHOWN })}
          </li>
        )}
      </ul>
    </td>
  );
}

const LOOKS: Record<Entry["sort"], string> = {
  held: "bg-behaviour/20 border-behaviour",
  planned: "border-behaviour border-dashed",
  stage: "border-transparent font-semibold",
  rung: "border-transparent text-soft",
};

function OneEntry({ entry, on }: { entry: Entry; on: string }) {
  const said = `${day(on)}, ${whose(entry)}: ${entry.long}`;
  const look = `block truncate rounded-[3px] border px-1 text-[12px] leading-[17px] ${LOOKS[entry.sort]}`;
  const text = (
    <>
      {entry.sort === "stage" || entry.sort === "rung" ? (
        <>
          {entry.words} <span className="text-soft max-md:hidden">{entry.behaviour.learner}</span>
        </>
      ) : (
        <>
          <span className="max-md:hidden">{entry.behaviour.learner}</span>
          <span aria-hidden className="md:hidden">
            {entry.behaviour.learner.slice(0, 2)}
          </span>
          {entry.times > 1 && ` ×${entry.times}`}{" "}
          <span className="text-soft max-md:hidden">{entry.behaviour.behaviour}</span>
        </>
      )}
      <span className="sr-only">, {entry.long}</span>
    </>
  );
  const to = entry.session
    ? `/sessions/${entry.session}/findings`
    : entry.sort === "planned"
      ? `/logbook/${entry.behaviour.behaviour_id}`
      : `/plans/${entry.behaviour.behaviour_id}`;
  return (
    <Link to={to} title={said} className={`${look} hover:border-ink`}>
      {text}
    </Link>
  );
}

function whose({ behaviour }: Entry): string {
  return `${behaviour.learner} · ${behaviour.behaviour}`;
}
