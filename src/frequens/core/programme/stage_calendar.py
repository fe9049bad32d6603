"""The calendar of stages: what was done, on which days the next sessions lie, and when a stage may
end.

All of it is common practice and has no source but use. A stage ends by the judgement and not by
the date alone; a missed day moves what comes after it, and nothing is caught up by training more.
"""

from __future__ import annotations

import datetime as dt
import math
from collections import Counter, deque
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import islice, takewhile
from typing import Any, Literal

from ..planning.calculators.schedules import StageKind, StageNumbers, stage_numbers
from ..planning.shaping import steps_in_use
from .chaining import GOES_ON
from .grid import FADES_DAYS

#: Sessions a day and a week where the plan says nothing.
A_DAY, A_WEEK = 1, 4
#: Nobody looks further ahead: two years, and so many sessions of one behaviour.
FARTHEST = dt.timedelta(days=730)
MOST_PLANNED = 400
#: Without stages the next sessions are planned for so many weeks.
WEEKS_AHEAD = 4
#: What was too much is said for so many days.
SAID_DAYS = 7

SaidCode = Literal[
    "faded", "too_long_ago", "too_soon", "too_often", "rest_day", "enough_today", "enough_week",
    "stage_long", "wait_for_judgement", "wait_for_weeks", "wait_for_goes",
]  # fmt: skip


@dataclass(frozen=True, slots=True)
class Trained:
    """A session that was held: its day, the step it was judged at, and what was decided."""

    id: str
    day: dt.date
    step: str | None
    decision: str | None


@dataclass(frozen=True, slots=True)
class PlannedDay:
    """A session to come: its day, the place of its stage (None without stages), which of how many
    it is there. `of` is None where the stage waits for the judgement and not for a number.
    """

    day: dt.date
    stage: int | None
    go: int
    of: int | None


@dataclass(frozen=True, slots=True)
class StageSpan:
    """A stage on the calendar.

    `ended` is the day on which all it asked for had come together; None before. `not_before` is
    the last day of its least weeks, `expected` its last day as far as can be told.
    `done` counts its sessions, `goes` what it asks for. `is_judged` says whether the judgement has
    gone on from its step; always true without one.
    """

    name: str
    kind: StageKind
    until: str | None
    first: dt.date
    not_before: dt.date
    expected: dt.date
    ended: dt.date | None
    done: int
    goes: int
    is_judged: bool
    most_weeks: float | None


@dataclass(frozen=True, slots=True)
class CalendarSaid:
    """One thing to say: about which stage by its place, which day, and with how many days."""

    code: SaidCode
    stage: int | None
    day: dt.date | None
    days: int | None


@dataclass(frozen=True, slots=True)
class StageCalendar:
    """A behaviour's days. `now` is the place of the stage it is in, None without or after them."""

    done: tuple[Trained, ...]
    planned: tuple[PlannedDay, ...]
    stages: tuple[StageSpan, ...]
    now: int | None
    a_day: int
    a_week: int
    rest: tuple[int, ...]
    said: tuple[CalendarSaid, ...]


@dataclass(frozen=True, slots=True)
class _Pace:
    """How often one trains: sessions a day and a week, and weekdays of rest (0 is Monday)."""

    a_day: int
    a_week: int
    rest: frozenset[int]

    @property
    def days_a_week(self) -> int:
        return min(7 - len(self.rest), math.ceil(self.a_week / self.a_day))

    @property
    def long_days(self) -> int:
        """More days than this since the last session are twice the usual gap."""
        return math.ceil(2 * 7 / self.days_a_week)


def stage_calendar(
    plan: Mapping[str, Any],
    trained: Sequence[Trained],
    today: dt.date,
    fixed: dt.date | None = None,
) -> StageCalendar:
    """The calendar of a plan's stages after its sessions, as of `today`.

    `trained` in any order. `fixed` is the day the trainer set for the next session; the others come
    after it. Without stages and without days in the plan nothing is planned but that day.
    """
    done = tuple(sorted(trained, key=lambda one: one.day))
    pace = _pace(plan)
    order = [step["key"] for step in steps_in_use(plan)]
    begins = plan.get("calendar", {}).get("begins")
    first = dt.date.fromisoformat(begins) if begins else done[0].day if done else today
    stages: list[StageSpan] = []
    planned: list[PlannedDay] = []
    ahead = _days_ahead(pace, done, max(today, first), fixed)
    near = takewhile(lambda day: day <= today + FARTHEST, ahead)
    days = deque(islice(near, MOST_PLANNED))
    now: int | None = None
    for place, stage in enumerate(plan.get("stages", [])):
        span = _past(stage, first, done, order, pace, today)
        if span.ended is None:
            now = place if now is None else now
            own = _take(days, place, span)
            planned += own
            last = max([span.not_before, today, *(one.day for one in own)])
            span = replace(span, expected=last)
        stages.append(span)
        first = (span.ended or span.expected) + dt.timedelta(days=1)
    if not plan.get("stages"):
        planned += _without_stages(plan, days, today, fixed)
    is_paced = bool(plan.get("calendar") or plan.get("stages"))
    said = (*_said_of_days(done, pace if is_paced else None, today),)
    if now is not None:
        said += (*_said_of_stage(done, stages[now], now, order, today),)
    rest = tuple(sorted(pace.rest))
    return StageCalendar(
        done, tuple(planned), tuple(stages), now, pace.a_day, pace.a_week, rest, said
    )


def _pace(plan: Mapping[str, Any]) -> _Pace:
    calendar = plan.get("calendar", {})
    a_day = calendar.get("a_day", A_DAY)
    rest = frozenset(calendar.get("rest", ()))
    return _Pace(a_day, min(calendar.get("a_week", A_WEEK), a_day * (7 - len(rest))), rest)


def _past(
    stage: Mapping[str, Any],
    first: dt.date,
    done: Sequence[Trained],
    order: Sequence[str],
    pace: _Pace,
    today: dt.date,
) -> StageSpan:
    """A stage with what was done of it so far; `expected` is its earliest end."""
    numbers = stage_numbers(stage)
    goes = _goes(numbers, pace)
    not_before = first + dt.timedelta(days=max(0, math.ceil(7 * numbers.least_weeks) - 1))
    own = [one.day for one in done if one.day >= first]
    until = stage.get("until")
    passed = [one.day for one in done if one.day >= first and _goes_past(one, until, order)]
    is_judged = until is None or bool(passed)
    ended = None
    if is_judged and len(own) >= goes:
        ended = max([not_before, own[goes - 1], *passed[:1]])
    if ended is not None and ended > today:
        ended = None
    # What was done after it ended is the next one's.
    held = [day for day in own if ended is None or day <= ended]
    return StageSpan(
        name=stage["name"],
        kind=stage.get("kind", "own"),
        until=until,
        first=first,
        not_before=not_before,
        expected=ended or not_before,
        ended=ended,
        done=len(held),
        goes=goes,
        is_judged=is_judged,
        most_weeks=numbers.most_weeks,
    )


def _goes(numbers: StageNumbers, pace: _Pace) -> int:
    """Sessions a stage asks for: its own number, else as many as its weeks hold."""
    if numbers.goes is not None:
        return numbers.goes
    return max(1, round(numbers.least_weeks * pace.a_week))


def _goes_past(one: Trained, until: str | None, order: Sequence[str]) -> bool:
    """Whether the judgement went on from this step, or from one above it."""
    if until is None or one.decision not in GOES_ON or one.step not in order:
        return False
    return until not in order or order.index(one.step) >= order.index(until)


def _days_ahead(
    pace: _Pace, done: Sequence[Trained], first: dt.date, fixed: dt.date | None
) -> Iterator[dt.date]:
    """The days of the sessions to come, each as often as it has sessions, without end.

    They lie evenly over the days of each week that are no days of rest. What was done this week
    counts into it; what was missed in weeks before is not caught up.
    """
    if fixed is not None and fixed >= first:
        yield fixed
        first = fixed + dt.timedelta(days=1)
    counts = Counter(one.day for one in done)
    monday = first - dt.timedelta(days=first.weekday())
    while True:
        week = [monday + dt.timedelta(days=n) for n in range(7)]
        left = pace.a_week - sum(counts[day] for day in week) - (fixed in week and fixed < first)
        free = [
            day
            for day in week
            if day >= first and day.weekday() not in pace.rest and counts[day] < pace.a_day
        ]
        wanted = min(len(free), math.ceil(max(0, left) / pace.a_day))
        for n in range(wanted):
            day = free[n * len(free) // wanted]
            for _ in range(min(pace.a_day - counts[day], left)):
                left -= 1
                yield day
        monday += dt.timedelta(days=7)


def _take(days: deque[dt.date], place: int, span: StageSpan) -> list[PlannedDay]:
    """The next days for what a stage still asks for, and on until its weeks are over."""
    found: list[PlannedDay] = []
    # Where only the judgement is missing, one more session may bring it.
    wanted = max(span.goes - span.done, 0 if span.is_judged else 1)
    while days and (len(found) < wanted or days[0] <= span.not_before):
        day = days.popleft()
        if day >= span.first:
            go = span.done + len(found) + 1
            found.append(PlannedDay(day, place, go, span.goes if go <= span.goes else None))
    return found


def _without_stages(
    plan: Mapping[str, Any], days: Sequence[dt.date], today: dt.date, fixed: dt.date | None
) -> list[PlannedDay]:
    if not plan.get("calendar"):
        ahead = [fixed] if fixed is not None and fixed >= today else []
        return [PlannedDay(day, None, 1, None) for day in ahead]
    last = today + dt.timedelta(weeks=WEEKS_AHEAD)
    ahead = [day for day in days if day <= last]
    return [PlannedDay(day, None, n, None) for n, day in enumerate(ahead, 1)]


def _say(
    code: SaidCode,
    stage: int | None = None,
    day: dt.date | None = None,
    days: int | None = None,
) -> CalendarSaid:
    return CalendarSaid(code, stage, day, days)


def _said_of_days(
    done: Sequence[Trained], pace: _Pace | None, today: dt.date
) -> Iterator[CalendarSaid]:
    """What there is to say today of rest and of too long a pause; without a pace only the latter.

    What concerns the animal's rest comes first.
    """
    counts = Counter(one.day for one in done)
    last = max((day for day in counts if day <= today), default=None)
    gap = (today - last).days if last is not None else 0
    if pace is not None:
        for day in sorted(day for day in counts if 0 <= (today - day).days < SAID_DAYS):
            if counts[day] > pace.a_day:
                yield _say("too_often", day=day, days=counts[day])
            if day.weekday() in pace.rest:
                yield _say("rest_day", day=day)
        monday = today - dt.timedelta(days=today.weekday())
        if counts[today] >= pace.a_day:
            yield _say("enough_today", day=today)
        elif sum(n for day, n in counts.items() if monday <= day <= today) >= pace.a_week:
            yield _say("enough_week", day=monday + dt.timedelta(days=7))
    if gap >= FADES_DAYS:
        yield _say("faded", day=last, days=gap)
    elif pace is not None and gap > pace.long_days:
        yield _say("too_long_ago", day=last, days=gap)


def _said_of_stage(
    done: Sequence[Trained], span: StageSpan, place: int, order: Sequence[str], today: dt.date
) -> Iterator[CalendarSaid]:
    own = [one for one in done if one.day >= span.first]
    if span.until in order:
        above = set(order[order.index(span.until) + 1 :])
        early = [one for one in own if one.step in above and (today - one.day).days < SAID_DAYS]
        if early:
            left = max(0, (span.not_before - today).days)
            yield _say("too_soon", place, early[-1].day, left)
    if span.most_weeks is not None:
        over = (today - span.first).days - round(7 * span.most_weeks)
        if over > 0:
            yield _say("stage_long", place, span.first, over)
    if not own:
        return
    if not span.is_judged:
        yield _say("wait_for_judgement", place)
    elif span.done < span.goes:
        yield _say("wait_for_goes", place, days=span.goes - span.done)
    elif today < span.not_before:
        yield _say("wait_for_weeks", place, span.not_before, (span.not_before - today).days)
