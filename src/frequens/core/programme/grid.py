"""The variation grid: every condition of a plan by its levels, tried and untried, and what is next.

All of it is common practice and has no source but use: one condition is raised at a time, what
was not tried for two weeks counts as untried, and a new place takes everything else a level back.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

from ..statistics.summaries import Share, wilson

#: A level not tried for so long counts as untried, days; the plan may say otherwise.
FADES_DAYS = 14
#: Of the last so many judged reps at a level, at least LEAST tell anything.
LOOKED_AT, LEAST = 10, 5
#: Shares of them from which on a level holds, and under which it is weak.
HOLDS, WEAK = 0.8, 0.5
#: Conditions that are places: a new one takes the others a level back.
PLACES = frozenset({"place", "location", "surface"})
#: Conditions that are people: with another one everything begins steps below.
PEOPLE = frozenset({"handler", "person"})
#: How many steps below a new person begins, and a new place where no other level can go back.
STEPS_BACK_PERSON, STEPS_BACK_PLACE = 2, 1

State = Literal["untried", "few", "weak", "building", "holds"]
Asks = Literal["ease", "step", "steady", "more"]
Mind = Literal["apart", "child"]
Why = Literal[
    "ease", "step", "weak", "due", "building", "next", "steady", "all_hold", "no_conditions"
]


@dataclass(frozen=True, slots=True)
class Tried:
    """A judged rep: its day, its conditions by name, and whether it fitted."""

    day: dt.date | None
    conditions: Mapping[str, str]
    met: bool


@dataclass(frozen=True, slots=True)
class Cell:
    """How it went at a level, or where two levels meet.

    `success` is that of the last `LOOKED_AT` judged reps with its 95 % interval (Wilson),
    `judged` counts all. `is_due`: it held or was being built, and was not tried for too long.
    """

    judged: int
    success: Share
    last_day: dt.date | None
    days_since: int | None
    state: State
    is_due: bool


@dataclass(frozen=True, slots=True)
class LevelCell:
    """One level of a condition; `in_plan` is false for one that was coded and not planned."""

    level: str
    in_plan: bool
    cell: Cell


@dataclass(frozen=True, slots=True)
class ConditionRow:
    """A condition with its levels from the easiest to the hardest.

    `stands_at` is the last level up to which all hold and none is due; None where the first does
    not.
    """

    name: str
    levels: tuple[LevelCell, ...]
    stands_at: str | None


@dataclass(frozen=True, slots=True)
class Crossing:
    """Two conditions against each other: `cells` by the first's levels, then the second's."""

    first: str
    second: str
    cells: tuple[tuple[Cell, ...], ...]


@dataclass(frozen=True, slots=True)
class NextLevels:
    """What to work at next: a level for each condition, and which one of them is above its stand.

    `condition` and `level` are what it is about; None where nothing is. `stands` are the levels to
    begin and end at: where each condition stands, or its first. `steps_back` is how far below the
    plan's step one begins there. `minds` is what to keep in mind: a second place lies well "apart"
    from the first, and a new person who is a "child" works beside an adult.
    """

    why: Why
    condition: str | None
    level: str | None
    levels: Mapping[str, str]
    raised: str | None
    stands: Mapping[str, str]
    steps_back: int
    minds: tuple[Mind, ...]


@dataclass(frozen=True, slots=True)
class Grid:
    """The whole variation grid as of a day."""

    rows: tuple[ConditionRow, ...]
    crossings: tuple[Crossing, ...]
    next: NextLevels


def variation_grid(
    planned: Sequence[tuple[str, Sequence[str]]],
    tried: Iterable[Tried],
    today: dt.date,
    fades_days: int = FADES_DAYS,
    asks: Asks = "more",
    weak: tuple[str, str] | None = None,
) -> Grid:
    """The grid of a plan's conditions and of those that were coded without being planned.

    `planned` are names with their levels from the easiest to the hardest, `tried` the judged reps
    in the order they were done. A name or a level that stands there twice counts once. `asks` and
    `weak` as `next_levels` takes them.
    """
    reps = list(tried)
    orders = _orders(planned, reps)
    in_plan = _orders(planned, ())
    rows = tuple(
        _row(name, levels, set(in_plan.get(name, ())), reps, today, fades_days)
        for name, levels in orders.items()
    )
    crossings = tuple(
        Crossing(
            first,
            second,
            tuple(
                tuple(
                    _cell(_at(_at(reps, first, one), second, other), today, fades_days)
                    for other in orders[second]
                )
                for one in orders[first]
            ),
        )
        for first, second in combinations(orders, 2)
    )
    return Grid(rows, crossings, next_levels(rows, asks, weak))


def next_levels(
    rows: Sequence[ConditionRow], asks: Asks = "more", weak: tuple[str, str] | None = None
) -> NextLevels:
    """What to work at in the next session: at most one condition above where it stands.

    `asks` is how much may be asked: nothing but what holds while the learner is not at ease
    ("ease") or the step itself changes ("step"), no new level while the step is worked on
    ("steady"), else all ("more"). What is weak comes first, `weak` (a condition and its level)
    before others, then what is due again, then what is being built, and only then a new level: of
    the first condition in the plan's order that has one.
    """
    rows = [row for row in rows if any(level.in_plan for level in row.levels)]
    if not rows:
        return NextLevels("no_conditions", None, None, {}, None, {}, 0, ())
    stands = {row.name: row.stands_at or row.levels[0].level for row in rows}
    if asks in ("ease", "step"):
        return NextLevels(asks, None, None, stands, None, stands, 0, ())
    for row in rows:
        if weak is not None and row.name == weak[0] and _is_planned(row, weak[1]):
            return _working_at(row, weak[1], "weak", rows, stands)
    for why, is_wanted in _WANTED:
        if why == "next" and asks == "steady":
            return NextLevels("steady", None, None, stands, None, stands, 0, ())
        for row in rows:
            for level in row.levels:
                if level.in_plan and is_wanted(level.cell):
                    return _working_at(row, level.level, why, rows, stands)
    return NextLevels("all_hold", None, None, stands, None, stands, 0, ())


_WANTED: tuple[tuple[Why, Callable[[Cell], bool]], ...] = (
    ("weak", lambda cell: cell.state == "weak"),
    ("due", lambda cell: cell.is_due),
    ("building", lambda cell: cell.state in ("building", "few")),
    ("next", lambda cell: cell.state == "untried"),
)


def _is_planned(row: ConditionRow, level: str) -> bool:
    return any(one.in_plan and one.level == level for one in row.levels)


def _working_at(
    row: ConditionRow,
    level: str,
    why: Why,
    rows: Sequence[ConditionRow],
    stands: Mapping[str, str],
) -> NextLevels:
    levels = {**stands, row.name: level}
    is_raised = level != stands[row.name] and _above(row, level)
    steps_back = 0
    if why == "next" and is_raised and row.name in PEOPLE:
        steps_back = STEPS_BACK_PERSON
    elif why == "next" and row.name in PLACES:
        back = {other.name: _one_back(other, stands[other.name]) for other in rows} | {
            row.name: level
        }
        # Where nothing else can be made easier, the step is.
        if is_raised and all(back[name] == levels[name] for name in back):
            steps_back = STEPS_BACK_PLACE
        levels = back
    return NextLevels(
        why,
        row.name,
        level,
        levels,
        row.name if is_raised else None,
        stands,
        steps_back,
        _minds(row, level) if why == "next" and is_raised else (),
    )


def _minds(row: ConditionRow, level: str) -> tuple[Mind, ...]:
    if row.name in PEOPLE:
        return ("child",)
    planned = [one.level for one in row.levels if one.in_plan]
    # Nobody can be apart from a ground one stands on.
    is_second = row.name in PLACES - {"surface"} and planned.index(level) == 1
    return ("apart",) if is_second else ()


def _one_back(row: ConditionRow, level: str) -> str:
    order = [one.level for one in row.levels if one.in_plan]
    return order[max(0, order.index(level) - 1)] if level in order else level


def _above(row: ConditionRow, level: str) -> bool:
    order = [one.level for one in row.levels]
    return row.stands_at is None or order.index(level) > order.index(row.stands_at)


def _orders(
    planned: Sequence[tuple[str, Sequence[str]]], reps: Iterable[Tried]
) -> dict[str, list[str]]:
    orders: dict[str, dict[str, None]] = {}
    for name, levels in planned:
        orders.setdefault(name, {}).update(dict.fromkeys(levels))
    for rep in reps:
        for name, level in rep.conditions.items():
            orders.setdefault(name, {}).setdefault(level)
    return {name: list(levels) for name, levels in orders.items()}


def _row(
    name: str,
    levels: Sequence[str],
    planned: set[str],
    reps: Sequence[Tried],
    today: dt.date,
    fades_days: int,
) -> ConditionRow:
    cells = tuple(
        LevelCell(level, level in planned, _cell(_at(reps, name, level), today, fades_days))
        for level in levels
    )
    stands_at = None
    for one in cells:
        if one.cell.state != "holds" or one.cell.is_due:
            break
        stands_at = one.level
    return ConditionRow(name, cells, stands_at)


def _at(reps: Iterable[Tried], name: str, level: str) -> list[Tried]:
    return [rep for rep in reps if rep.conditions.get(name) == level]


def _cell(reps: Sequence[Tried], today: dt.date, fades_days: int) -> Cell:
    last = [rep.met for rep in reps[-LOOKED_AT:]]
    days = [rep.day for rep in reps if rep.day is not None]
    last_day = max(days, default=None)
    since = (today - last_day).days if last_day is not None else None
    state = _state(last)
    is_due = state in ("holds", "building") and since is not None and since >= fades_days
    return Cell(len(reps), wilson(sum(last), len(last)), last_day, since, state, is_due)


def _state(last: Sequence[bool]) -> State:
    if not last:
        return "untried"
    if len(last) < LEAST:
        return "few"
    share = sum(last) / len(last)
    if share >= HOLDS - 1e-9:
        return "holds"
    return "weak" if share < WEAK - 1e-9 else "building"
