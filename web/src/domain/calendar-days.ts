/** The calendar of what is taught: the days of a month, and what is to be said of it. */

import type { components } from "../api/schema";
import { language, t } from "../words";
import { counted } from "./times";
import { day } from "./words";

export type CalendarOut = components["schemas"]["CalendarOut"];
export type BehaviourDays = CalendarOut["behaviours"][number];
type StageSpan = BehaviourDays["calendar"]["stages"][number];
type Said = BehaviourDays["calendar"]["said"][number];

/** One thing on a day: a session held or planned, the end of a stage, or a rung that opens. */
export interface Entry {
  key: string;
  sort: "held" | "planned" | "stage" | "rung";
  behaviour: BehaviourDays;
  words: string;
  /** What it is in full, where the words are short. */
  long: string;
  /** The session that was held, the last where there were several. */
  session: string | null;
  times: number;
}

export interface MonthDay {
  day: string;
  isInMonth: boolean;
  entries: Entry[];
}

/** The weeks of a month (`2026-05`) from Monday on, whole weeks, each day with what is on it. */
export function monthWeeks(month: string, behaviours: BehaviourDays[]): MonthDay[][] {
  const entries = entriesByDay(behaviours);
  const first = new Date(`${month}-01T12:00:00`);
  const start = new Date(first);
  start.setDate(1 - ((first.getDay() + 6) % 7));
  const weeks: MonthDay[][] = [];
  for (const at = start; weeks.length === 0 || isoDay(at).slice(0, 7) <= month;) {
    const week: MonthDay[] = [];
    for (let n = 0; n < 7; n++) {
      const iso = isoDay(at);
      week.push({
        day: iso,
        isInMonth: iso.startsWith(month),
        entries: entries.get(iso) ?? [],
      });
      at.setDate(at.getDate() + 1);
    }
    weeks.push(week);
  }
  return weeks;
}

/** The month so many after (or before) this one. */
export function monthAfter(month: string, by: number): string {
  const at = new Date(`${month}-01T12:00:00`);
  at.setMonth(at.getMonth() + by);
  return isoDay(at).slice(0, 7);
}

/** A month as `May 2026`. */
export function monthName(month: string): string {
  return new Date(`${month}-01T12:00:00`).toLocaleDateString(language().locale, {
    month: "long",
    year: "numeric",
  });
}

function isoDay(at: Date): string {
  return at.toLocaleDateString("sv");
}

function entriesByDay(behaviours: BehaviourDays[]): Map<string, Entry[]> {
  const found = new Map<string, Entry[]>();
  const put = (
    on: string,
    made: Omit<Entry, "behaviour" | "times" | "long"> & { long?: string },
    behaviour: BehaviourDays,
  ) => {
    const entry = { long: made.words, ...made, behaviour, times: 1 };
    const others = found.get(on) ?? [];
    const same = others.find((one) => one.sort === "held" && one.behaviour === behaviour);
    if (entry.sort === "held" && same) {
      same.times += 1;
      same.session = entry.session;
      same.long = t("domain:calendar_days.times", { words: entry.words, times: same.times });
    } else found.set(on, [...others, entry]);
  };
  for (const behaviour of behaviours) {
    const { calendar, rungs, due, behaviour_id: id } = behaviour;
    for (const one of calendar.done)
      put(
        one.day,
        {
          key: one.id,
          sort: "held",
          words: t("domain:calendar_days.held"),
          session: one.id,
        },
        behaviour,
      );
    calendar.planned.forEach((one, place) =>
      put(
        one.day,
        {
          key: `${id} ${place}`,
          sort: "planned",
          words: plannedWords(one, calendar.stages, place === 0 ? due : null),
          session: null,
        },
        behaviour,
      ),
    );
    calendar.stages.forEach((span, place) =>
      put(
        span.ended ?? span.expected,
        {
          key: `${id} stage ${place}`,
          sort: "stage",
          words: span.ended
            ? t("domain:calendar_days.stage_ended", { name: span.name })
            : t("domain:calendar_days.stage_ends", { name: span.name }),
          session: null,
        },
        behaviour,
      ),
    );
    for (const rung of rungs)
      put(
        rung.day,
        {
          key: `${id} ${rung.name} ${rung.value}`,
          sort: "rung",
          words: t("domain:calendar_days.rung", {
            value: +rung.value.toFixed(2),
            unit: rung.unit,
          }),
          long: t("domain:calendar_days.rung_long", {
            name: rung.name,
            value: +rung.value.toFixed(2),
            unit: rung.unit,
          }),
          session: null,
        },
        behaviour,
      );
  }
  return found;
}

function plannedWords(
  planned: BehaviourDays["calendar"]["planned"][number],
  stages: StageSpan[],
  due: string | null,
): string {
  const stage = planned.stage === null ? undefined : stages[planned.stage];
  const which = !stage
    ? t("domain:calendar_days.planned")
    : planned.of === null
      ? stage.name
      : t("domain:calendar_days.go_of", { name: stage.name, go: planned.go, of: planned.of });
  return due && due.startsWith(planned.day) ? `${due.slice(11, 16)} · ${which}` : which;
}

/** Where a stage stands, in a sentence. */
export function stageWords(span: StageSpan): string {
  if (span.ended) return t("domain:calendar_days.over_since", { day: day(span.ended) });
  return t("domain:calendar_days.done_of_goes", {
    done: span.done,
    goes: counted(span.goes, "session"),
    day: day(span.expected),
  });
}

/** One thing there is to say today. */
export function saidWords(said: Said, calendar: BehaviourDays["calendar"]): string {
  const stage = said.stage === null ? "" : (calendar.stages[said.stage]?.name ?? "");
  const on = said.day ? day(said.day) : "";
  const days = counted(said.days ?? 0, "day");
  return {
    faded: t("domain:calendar_days.faded", { days }),
    too_long_ago: t("domain:calendar_days.too_long_ago", { days }),
    too_soon: t("domain:calendar_days.too_soon", { stage, day: on }),
    too_often: t("domain:calendar_days.too_often", {
      day: on,
      sessions: counted(said.days ?? 0, "session"),
      most: calendar.a_day,
    }),
    rest_day: t("domain:calendar_days.rest_day", { day: on }),
    enough_today: t("domain:calendar_days.enough_today"),
    enough_week: t("domain:calendar_days.enough_week", { day: on }),
    stage_long: t("domain:calendar_days.stage_long", { stage, days }),
    wait_for_judgement: t("domain:calendar_days.wait_for_judgement", { stage }),
    wait_for_weeks: t("domain:calendar_days.wait_for_weeks", { stage, day: on }),
    wait_for_goes: t("domain:calendar_days.wait_for_goes", {
      stage,
      sessions: counted(said.days ?? 0, "session"),
    }),
  }[said.code];
}
