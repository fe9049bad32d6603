import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";

import { api, given } from "../../api/client";
import { Button } from "../../components/button";
import { Shell } from "../../components/shell";
import { Fault, Wait } from "../../components/states";
import {
  monthAfter,
  monthName,
  monthWeeks,
  saidWords,
  stageWords,
  type BehaviourDays,
  type CalendarOut,
} from "../../domain/calendar-days";
import { t } from "../../words";
import { Month } from "./month";
import { Subscription } from "./subscription";

/** What was done and what is planned, month by month. */
export function CalendarPage() {
  const calendar = useQuery({
    queryKey: ["calendar"],
    queryFn: async () => given(await api.GET("/api/calendar")),
  });
  return (
    <Shell title={t("calendar:calendar_page.calendar")}>
      <main className="mx-auto w-full max-w-[1240px] flex-1 px-[18px] pt-6 pb-16">
        {calendar.error ? (
          <Fault error={calendar.error} />
        ) : !calendar.data ? (
          <Wait>{t("calendar:calendar_page.laying_out_the_days")}</Wait>
        ) : calendar.data.behaviours.length === 0 ? (
          <Nothing />
        ) : (
          <Days calendar={calendar.data} />
        )}
      </main>
    </Shell>
  );
}

function Nothing() {
  return (
    <div className="max-w-xl pt-6">
      <h1 className="text-[26px]">{t("calendar:calendar_page.no_days_yet")}</h1>
      <p className="mt-2">{t("calendar:calendar_page.a_plan_with_days_fills")}</p>
      <p className="mt-4">
        <Link to="/plans" className="underline">
          {t("calendar:calendar_page.make_a_plan")}
        </Link>
      </p>
    </div>
  );
}

function Days({ calendar }: { calendar: CalendarOut }) {
  const [search, setSearch] = useSearchParams();
  const now = calendar.today.slice(0, 7);
  const month = /^\d{4}-\d{2}$/.test(search.get("month") ?? "") ? search.get("month")! : now;
  const [hidden, setHidden] = useState<ReadonlySet<string>>(new Set());
  const shown = calendar.behaviours.filter((one) => !hidden.has(one.behaviour_id));
  const go = (to: string) => setSearch(to === now ? {} : { month: to }, { replace: true });
  const toggle = (id: string) => {
    const next = new Set(hidden);
    if (!next.delete(id)) next.add(id);
    setHidden(next);
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_330px] gap-8 max-lg:grid-cols-1">
      <div className="min-w-0">
        <div className="flex flex-wrap items-center gap-2 pb-3">
          <h1 className="mr-auto text-[29px] leading-tight">{monthName(month)}</h1>
          <Button
            aria-label={t("calendar:calendar_page.month_before")}
            onClick={() => go(monthAfter(month, -1))}
          >
            ←
          </Button>
          <Button disabled={month === now} onClick={() => go(now)}>
            {t("calendar:calendar_page.this_month")}
          </Button>
          <Button
            aria-label={t("calendar:calendar_page.month_after")}
            onClick={() => go(monthAfter(month, 1))}
          >
            →
          </Button>
        </div>
        <Month weeks={monthWeeks(month, shown)} today={calendar.today} name={monthName(month)} />
      </div>
      <aside aria-label={t("calendar:calendar_page.what_is_taught")} className="min-w-0">
        <h2 className="pb-1 text-[16px] font-semibold">
          {t("calendar:calendar_page.what_is_taught")}
        </h2>
        <ul>
          {calendar.behaviours.map((one) => (
            <Taught
              key={one.behaviour_id}
              one={one}
              isShown={!hidden.has(one.behaviour_id)}
              onToggle={() => toggle(one.behaviour_id)}
            />
          ))}
        </ul>
        <Subscription since={calendar.subscribed} />
      </aside>
    </div>
  );
}

function Taught({
  one,
  isShown,
  onToggle,
}: {
  one: BehaviourDays;
  isShown: boolean;
  onToggle: () => void;
}) {
  const { calendar } = one;
  const stage = calendar.now === null ? undefined : calendar.stages[calendar.now];
  const isPlanned = calendar.planned.length > 0 || calendar.stages.length > 0;
  return (
    <li className="border-t border-line py-2.5">
      <label className="flex items-start gap-2">
        <input type="checkbox" className="mt-1" checked={isShown} onChange={onToggle} />
        <span className="font-semibold">
          {one.learner} · {one.behaviour}
        </span>
      </label>
      <div className="space-y-1 pl-6 text-[13.5px]">
        {stage && (
          <p>
            {stage.name} <span className="text-soft">· {stageWords(stage)}</span>
          </p>
        )}
        {calendar.said.map((said) => (
          <p key={`${said.code} ${said.day}`}>{saidWords(said, calendar)}</p>
        ))}
        {!isPlanned && (
          <p className="text-soft">
            {t("calendar:calendar_page.no_days_in_its_plan")}{" "}
            <Link to={`/plans/${one.behaviour_id}`} className="underline underline-offset-3">
              {t("calendar:calendar_page.give_it_some")}
            </Link>
          </p>
        )}
      </div>
    </li>
  );
}
