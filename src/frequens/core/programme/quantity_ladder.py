"""A ladder of quantity: the rungs of a height, span, duration, distance or count beside what was
measured, and the rung that is next by the plan's school.

The rungs are those the plan lists for a quantity; without a list they are the aims of its steps.
What the cautions rest on is common practice and has no source but use.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from ..decisions.judging import Digest, Judgement, Judging
from ..decisions.judging.rising import has_risen
from ..planning.calculators.ladders import CM_AN_INCH
from ..planning.shaping import Learner, steps_in_use
from ..rules.schools import Judged, School, SessionComfort, decide, moving_criterion, with_defaults
from ..statistics.summaries import Share, wilson
from .asking import asks_of
from .grid import HOLDS, LOOKED_AT

#: Where the plan names no school: so many of the last so many, as the share school does.
USUAL_RULE: Mapping[str, Any] = {"kind": "share"}
#: Common practice: a bar goes up over weeks; other rungs wait for no day unless the plan says so.
JUMP_LEAST_DAYS = 7
CM: Mapping[str, float] = {
    "mm": 0.1,
    "cm": 1.0,
    "m": 100.0,
    "in": CM_AN_INCH,
    "ft": 12 * CM_AN_INCH,
}
#: Work whose rungs strain: full ones are for grown animals, on a floor that does not slip.
STRAINING = frozenset({"jumping", "speed_height_turning"})

Better = Literal["more", "less"]
#: `few` values yet, `up` or `down` a rung, `stay`, `wait` for the day, the `top`, or `ease` first.
LadderWhy = Literal["few", "up", "down", "stay", "wait", "top", "ease"]
RungCaution = Literal["limit", "withers", "growing", "surface"]


@dataclass(frozen=True, slots=True)
class Rung:
    """One rung: how much, the plan's step that aims at it, and what came of it.

    `reached` are the values at it or beyond among the last `LOOKED_AT` of all, with their 95 %
    interval (Wilson). `since` is the day on which it first was the one to work at. Of a rung
    above the present one `not_before` is the first day on which it may be worked at. `cautions`
    belong to the rung because it passes a limit.
    """

    value: float
    step: str | None
    reached: Share
    since: dt.date | None
    not_before: dt.date | None
    cautions: tuple[RungCaution, ...]


@dataclass(frozen=True, slots=True)
class QuantityLadder:
    """A ladder with what was measured of it.

    `at` and `next` are places among the rungs: where it stands, and what to work at next, for the
    reason `why`. `criterion` is what the percentile school pays beyond, in the quantity's unit.
    `middle` is the median of the last `LOOKED_AT` values, `best` the best of all.
    """

    name: str
    unit: str
    better: Better
    school: School
    rungs: tuple[Rung, ...]
    at: int
    next: int
    why: LadderWhy
    criterion: float | None
    values: int
    middle: float | None
    best: float | None


@dataclass(frozen=True, slots=True)
class _Quantity:
    """One quantity of a plan, with its steps and the plan's own ladder of it."""

    name: str
    unit: str
    better: Better
    steps: Mapping[str, float | None]
    own: Mapping[str, Any]

    def is_reached(self, value: float, rung: float) -> bool:
        return value >= rung if self.better == "more" else value <= rung

    def signed(self, value: float) -> float:
        """More is always better on this scale."""
        return value if self.better == "more" else -value


def quantity_ladders(
    plan: Mapping[str, Any],
    history: Sequence[Digest],
    judgement: Judgement | None,
    today: dt.date,
    learner: Learner | None = None,
) -> tuple[QuantityLadder, ...]:
    """The ladders of a plan's quantities after its sessions in short, in order of their days.

    A quantity of fewer than two rungs is none. A session that was not at ease goes back a rung,
    whatever was measured.
    """
    found = []
    for quantity in _quantities(plan):
        values = _rungs(quantity)
        if len(values) > 1:
            climb = _climb(quantity, values, history, plan)
            found.append(_ladder(quantity, climb, plan, judgement, today, learner or Learner()))
    return tuple(found)


def _quantities(plan: Mapping[str, Any]) -> list[_Quantity]:
    lists = {one["name"]: one for one in plan.get("ladders", [])}
    steps: dict[tuple[str, str, Better], dict[str, float | None]] = {}
    for step in steps_in_use(plan):
        if (own := step.get("quantity")) is not None:
            key = (own["name"], own["unit"], own["better"])
            steps.setdefault(key, {})[step["key"]] = own.get("target")
    return [
        _Quantity(name, unit, better, own, lists.get(name, {}))
        for (name, unit, better), own in steps.items()
    ]


def _rungs(quantity: _Quantity) -> list[float]:
    """The rungs from the easiest: the plan's list, else the aims of the steps."""
    listed = quantity.own.get("rungs") or [v for v in quantity.steps.values() if v is not None]
    return sorted(set(listed), key=quantity.signed)


@dataclass
class _Climb:
    """How the values so far went up and down the rungs."""

    rungs: Sequence[float]
    at: int = 0
    since: dict[int, dt.date | None] = field(default_factory=dict)
    arrived: dt.date | None = None
    #: What the school said last.
    said: Literal["raise", "hold", "lower"] = "hold"
    #: It would go up, but not before it has been on its rung for so many days.
    has_waited: bool = False
    values: list[float] = field(default_factory=list)
    here: list[float] = field(default_factory=list)


def _climb(
    quantity: _Quantity,
    rungs: Sequence[float],
    history: Sequence[Digest],
    plan: Mapping[str, Any],
) -> _Climb:
    """All values in order, the school asked after each: never more than one rung at a time."""
    rule = with_defaults(plan.get("rule") or USUAL_RULE)
    least = _least_days(quantity, plan)
    climb = _Climb(rungs)
    comfort: list[SessionComfort] = []
    for digest in history:
        day = dt.date.fromisoformat(digest.date) if digest.date else None
        own = [t.value for t in digest.trials if t.value is not None and t.step in quantity.steps]
        if not own:
            continue
        if not climb.values:
            _begin(climb, quantity, own[0], day)
        for value in own:
            climb.values.append(value)
            climb.here.append(value)
            if rule["kind"] != "comfort":
                _ask(climb, quantity, rule, (), day, least)
        if rule["kind"] == "comfort":
            comfort.append(_comfort_of(digest, plan))
            if _ask(climb, quantity, rule, comfort, day, least):
                comfort.clear()
    return climb


def _begin(climb: _Climb, quantity: _Quantity, first: float, day: dt.date | None) -> None:
    """The ladder begins at the highest rung that the first value reaches."""
    held = [n for n, rung in enumerate(climb.rungs) if quantity.is_reached(first, rung)]
    climb.at = max(held, default=0)
    climb.arrived = day
    for place in range(climb.at + 1):
        climb.since[place] = day


def _ask(
    climb: _Climb,
    quantity: _Quantity,
    rule: Mapping[str, Any],
    comfort: Sequence[SessionComfort],
    day: dt.date | None,
    least: int,
) -> bool:
    """What the school says now, and the rung that follows; true where it changed."""
    climb.said = _says(climb, quantity, rule, comfort)
    climb.has_waited = False
    step = {"raise": 1, "lower": -1, "hold": 0}[climb.said]
    to = climb.at + step
    if step == 0 or not 0 <= to < len(climb.rungs):
        return False
    if step > 0 and not _is_time(climb.arrived, day, least):
        climb.has_waited = True
        return False
    climb.at, climb.here = to, []
    climb.arrived = day
    climb.since.setdefault(to, day)
    return True


def _says(
    climb: _Climb,
    quantity: _Quantity,
    rule: Mapping[str, Any],
    comfort: Sequence[SessionComfort],
) -> Literal["raise", "hold", "lower"]:
    rung = climb.rungs[climb.at]
    if rule["kind"] == "percentile":
        criterion = _criterion(climb, quantity, rule)
        return "raise" if criterion is not None and quantity.is_reached(criterion, rung) else "hold"
    met = [Judged(quantity.is_reached(value, rung)) for value in climb.here]
    said = decide(rule, met, comfort).decision
    if rule["kind"] == "comfort" and said == "raise":
        # At ease is not enough: it has to do it as well.
        last = met[-LOOKED_AT:]
        return "raise" if sum(one.met for one in last) >= HOLDS * len(last) > 0 else "hold"
    return said


def _criterion(climb: _Climb, quantity: _Quantity, rule: Mapping[str, Any]) -> float | None:
    """What the percentile school pays beyond, of all values so far."""
    signed = [quantity.signed(value) for value in climb.values]
    found = moving_criterion(signed, int(rule["window"]), rule["w"])
    return None if found is None else quantity.signed(found)


def _comfort_of(digest: Digest, plan: Mapping[str, Any]) -> SessionComfort:
    numbers = Judging(**plan.get("judging", {}))
    severities = tuple(n for n, count in enumerate(digest.signs, 1) for _ in range(count))
    rose = has_risen(digest.pauses, numbers) or has_risen(digest.returns, numbers)
    return SessionComfort(severities, digest.opt_outs, rose)


def _is_time(arrived: dt.date | None, day: dt.date | None, least: int) -> bool:
    return arrived is None or day is None or (day - arrived).days >= least


def _least_days(quantity: _Quantity, plan: Mapping[str, Any]) -> int:
    usual = JUMP_LEAST_DAYS if "jumping" in plan.get("hazards", []) else 0
    return int(quantity.own.get("least_days", usual))


def _ladder(
    quantity: _Quantity,
    climb: _Climb,
    plan: Mapping[str, Any],
    judgement: Judgement | None,
    today: dt.date,
    learner: Learner,
) -> QuantityLadder:
    rule = with_defaults(plan.get("rule") or USUAL_RULE)
    least = _least_days(quantity, plan)
    why, following = _why(climb, judgement, _is_time(climb.arrived, today, least))
    last = sorted(climb.values[-LOOKED_AT:])
    half = len(last) // 2
    return QuantityLadder(
        name=quantity.name,
        unit=quantity.unit,
        better=quantity.better,
        school=rule["kind"],
        rungs=tuple(
            Rung(
                value=rung,
                step=next((key for key, aim in quantity.steps.items() if aim == rung), None),
                reached=wilson(sum(quantity.is_reached(v, rung) for v in last), len(last)),
                since=climb.since.get(place) if place <= climb.at else None,
                not_before=_not_before(climb, place, today, least),
                cautions=_cautions(quantity, climb.rungs, place, plan, learner),
            )
            for place, rung in enumerate(climb.rungs)
        ),
        at=climb.at,
        next=following,
        why=why,
        criterion=_criterion(climb, quantity, rule) if rule["kind"] == "percentile" else None,
        values=len(climb.values),
        middle=(last[half] + last[-half - 1]) / 2 if last else None,
        best=max(climb.values, key=quantity.signed, default=None),
    )


def _why(climb: _Climb, judgement: Judgement | None, is_time: bool) -> tuple[LadderWhy, int]:
    """The reason and the rung to work at next; the judgement of the step itself comes first."""
    if judgement is not None and asks_of(judgement) == "ease":
        return "ease", max(0, climb.at - 1)
    if not climb.values:
        return "few", climb.at
    if judgement is not None and judgement.decision == "lower":
        return "down", max(0, climb.at - 1)
    if climb.has_waited:
        return ("up", climb.at + 1) if is_time else ("wait", climb.at)
    if climb.at == len(climb.rungs) - 1 and climb.said == "raise":
        return "top", climb.at
    if not climb.here and climb.said != "hold":
        return ("up" if climb.said == "raise" else "down"), climb.at
    return "stay", climb.at


def _not_before(climb: _Climb, place: int, today: dt.date, least: int) -> dt.date | None:
    """Rungs above the present one, each so many days after the one before it."""
    if place <= climb.at:
        return None
    first = (climb.arrived or today) + dt.timedelta(days=least)
    return max(today, first) + dt.timedelta(days=least * (place - climb.at - 1))


def _cautions(
    quantity: _Quantity,
    rungs: Sequence[float],
    place: int,
    plan: Mapping[str, Any],
    learner: Learner,
) -> tuple[RungCaution, ...]:
    value, found = rungs[place], list[RungCaution]()
    limit = quantity.own.get("limit")
    if limit is not None and quantity.signed(value) > quantity.signed(limit):
        found.append("limit")
    strains = STRAINING & set(plan.get("hazards", []))
    if not strains:
        return tuple(found)
    in_cm = value * CM[quantity.unit] if quantity.unit in CM else None
    if learner.withers_cm is not None and in_cm is not None and in_cm > learner.withers_cm:
        found.append("withers")
    if "growing" in learner.health and value > rungs[-1] / 2:
        found.append("growing")
    if place > 0:
        found.append("surface")
    return tuple(found)
