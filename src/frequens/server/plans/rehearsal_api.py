"""Rehearsals over HTTP: a plan gone through by a simulated learner, one school at a time."""

from __future__ import annotations

import time
import uuid
from dataclasses import asdict, replace
from functools import lru_cache
from typing import Any, get_args

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from frequens.core.formats.session_document.plan_types import PlanRule
from frequens.core.reading.document_values import fault_at
from frequens.core.rehearsal import (
    DEFAULT,
    LEFT_OUT,
    RANGES,
    Course,
    Fitted,
    Learner,
    Practice,
    Rehearsal,
    fit,
    rehearse,
    with_a_step_between,
)
from frequens.core.rehearsal.from_plan import course_of, practice_of
from frequens.core.rules.schools import School
from frequens.words import fill
from frequens.words.spoken import refusals as words

from ..findings.judgements import digests_of
from ..sessions.schemas import Faults
from .models import Behaviour

router = Router()

#: A rehearsal takes no longer; what was run by then is what it says.
MOST_S = 10.0
MOST_RUNS = 1000


class CourseOut(Schema):
    """What of the plan is rehearsed: its steps in order, its school, and a session's bounds."""

    steps: list[str]
    rule: PlanRule
    cap_s: float
    rep_cap: int
    days_between: float


class FittedOut(Schema):
    """The assumptions the logbook tells, from so many judged reps, with their 95 % intervals."""

    learner: Learner
    low: Learner
    high: Learner
    reps: int


class AssumptionsOut(Schema):
    """All that a rehearsal of this behaviour assumes, and what it leaves out."""

    course: CourseOut
    titles: dict[str, str]
    learner: Learner
    ranges: dict[str, tuple[float, float]]
    fitted: FittedOut | None
    left_out: list[str]
    schools: list[School]


class RehearseIn(Schema):
    """A rehearsal: everything left out is the plan's, or as it is assumed.

    `from_logbook`: learners as the logbook leaves them, where it tells enough; `learner` then
    counts for what it does not tell. `between`: one more step before the one with this key.
    """

    rule: PlanRule | None = None
    learner: dict[str, float] = {}
    from_logbook: bool = False
    cap_s: float | None = Field(None, ge=10, le=24 * 3600)
    rep_cap: int | None = Field(None, ge=1, le=100_000)
    days_between: float | None = Field(None, gt=0, le=60)
    between: str | None = None
    runs: int = Field(200, ge=1, le=MOST_RUNS)
    seed: int = 0


class RehearsedOut(Schema):
    """What came of it, of which course, and with which assumptions in the middle."""

    rehearsal: Rehearsal
    course: CourseOut
    learner: Learner


@router.get("/{behaviour_id}/rehearsal", response=AssumptionsOut, operation_id="rehearsal")
def rehearsal(request: HttpRequest, behaviour_id: uuid.UUID) -> AssumptionsOut:
    """What a rehearsal would assume."""
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    document = found.current.document
    course = course_of(document)
    fitted = _fitted(found, course, DEFAULT)
    return AssumptionsOut(
        course=_course(course),
        titles={s["key"]: s.get("title") or s["key"] for s in document.get("approximations", [])},
        learner=DEFAULT,
        ranges=dict(RANGES),
        fitted=FittedOut(learner=fitted.learner, low=fitted.low, high=fitted.high, reps=fitted.reps)
        if fitted
        else None,
        left_out=list(LEFT_OUT),
        schools=list(get_args(School)),
    )


@router.post(
    "/{behaviour_id}/rehearsal",
    response={200: RehearsedOut, 422: Faults},
    operation_id="rehearse",
)
def rehearse_(request: HttpRequest, behaviour_id: uuid.UUID, sent: RehearseIn) -> Any:
    """Let simulated learners go through the plan."""
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    try:
        learner = _assumed(sent.learner)
        course = _asked(course_of(found.current.document), sent)
        fitted = _fitted(found, course_of(found.current.document), learner)
        of: Learner | list[Learner] = learner
        if sent.from_logbook and fitted is not None:
            learner, of = fitted.learner, fitted.draws(sent.runs, sent.seed)
        if sent.between is not None:
            course = with_a_step_between(course, sent.between)
        until = time.monotonic() + MOST_S
        made = rehearse(
            course, of, runs=sent.runs, seed=sent.seed, stop=lambda: time.monotonic() > until
        )
    except (ValueError, KeyError) as fault:
        said = (
            fill(words.NO_SCHOOL_OR_STEP, {}, name=str(fault))
            if isinstance(fault, KeyError)
            else str(fault)
        )
        return Status(422, Faults(faults=[said]))
    return Status(200, RehearsedOut(rehearsal=made, course=_course(course), learner=learner))


def _assumed(sent: dict[str, float]) -> Learner:
    """Raises ValueError for an assumption there is not."""
    for name in sent:
        if name not in RANGES:
            raise ValueError(fault_at(f"learner.{name}", "no_assumption"))
    values: dict[str, Any] = dict(sent)
    return replace(DEFAULT, **values)


def _asked(course: Course, sent: RehearseIn) -> Course:
    given = {"cap_s": sent.cap_s, "rep_cap": sent.rep_cap, "days_between": sent.days_between}
    changes: dict[str, Any] = {name: value for name, value in given.items() if value is not None}
    if sent.rule is not None:
        changes["rule"] = dict(sent.rule)
    return replace(course, **changes)


def _fitted(behaviour: Behaviour, course: Course, assumed: Learner) -> Fitted | None:
    if not course.steps:
        return None
    values = asdict(assumed)
    values.pop("carries")
    practice = tuple(practice_of(digests_of(behaviour.pk), course.steps))
    leaps = tuple(sorted(course.leaps.items()))
    return _fit(practice, course.steps, leaps, tuple(sorted(values.items())))


@lru_cache(maxsize=32)
def _fit(
    practice: tuple[Practice, ...],
    steps: tuple[str, ...],
    leaps: tuple[tuple[str, float], ...],
    assumed: tuple[tuple[str, float], ...],
) -> Fitted | None:
    """Kept under all it depends on: five schools ask for the same one after another."""
    values: dict[str, Any] = dict(assumed)
    course = Course(steps=steps, rule={}, leaps=dict(leaps))
    return fit(practice, course, replace(DEFAULT, **values))


def _course(course: Course) -> CourseOut:
    values = asdict(course)
    return CourseOut(**{name: values[name] for name in CourseOut.model_fields})
