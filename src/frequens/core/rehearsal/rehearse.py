"""A plan gone through by a simulated learner many times: what it would ask, with its spread."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from statistics import NormalDist
from typing import Any

import numpy as np

from ..rules.schools import (
    Judged,
    SessionComfort,
    Verdict,
    decide,
    moving_criterion,
    recent,
    with_defaults,
)
from ..statistics.summaries import Share, wilson
from .learner import Learner, Mind, checked

#: A rehearsal that has not come to its end by then is left.
MOST_SESSIONS = 200
#: Signs of this severity are shown; after so many in a session it is over.
SEVERITY, MOST_SIGNS = 2, 2
#: Where a plan says nothing: seconds and reps of a session, days between sessions.
USUAL_CAP_S, USUAL_REPS, USUAL_DAYS = 300.0, 1000, 1.0
#: What is not in the model, by names that the screens put into words.
LEFT_OUT = (
    "which_school_is_better",
    *("the_trainers_own_mechanics", "help_and_its_fading", "places_people_and_distraction"),
    *("health_and_the_day", "partial_reinforcement_and_lasting", "sudden_insight"),
)
_NORMAL = NormalDist()
_FITS, _MISSES = Judged(True), Judged(False)
_MOVES: Mapping[Verdict, int] = {"raise": 1, "lower": -1, "hold": 0}


@dataclass(frozen=True)
class Course:
    """What of a plan is rehearsed: its steps in order, the rule, and the bounds of a session.

    `leaps` say how large a step is where it is not one leap: 2 asks as much at once as two steps
    one after the other. `like` names the step that one put in between was made from.
    """

    steps: tuple[str, ...]
    rule: Mapping[str, Any]
    cap_s: float = USUAL_CAP_S
    rep_cap: int = USUAL_REPS
    days_between: float = USUAL_DAYS
    leaps: Mapping[str, float] = field(default_factory=dict)
    like: Mapping[str, str] = field(default_factory=dict)

    def carries_of(self, learner: Learner) -> tuple[float, ...]:
        """How much of the step before is there at each step after the first."""
        return tuple(
            learner.carries.get(self.like.get(step, step), learner.carry) ** self.leaps.get(step, 1)
            for step in self.steps[1:]
        )


@dataclass(frozen=True, slots=True)
class Spread:
    """How something came out over the runs: the middle one, half of all, and nine of ten."""

    median: float
    q1: float
    q3: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class StepSpread:
    """What one step took: reps, and in which share of the runs the learner fell back from it.

    `carry` is how much of the step before was there, in the middle; None of the first step.
    """

    step: str
    carry: float | None
    reps: Spread
    fell_back: Share


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """What the runs came to. `reached` is the share of runs that came to the end of the plan;
    of the others what had gone by until they were left counts. `minutes` are training time,
    `failed_raises` steps up that had to be taken back. `steepest` took the most reps in the middle.
    """

    runs: int
    reached: Share
    sessions: Spread
    days: Spread
    minutes: Spread
    reps: Spread
    rewards: Spread
    failed_raises: Spread
    signs: Spread
    steps: tuple[StepSpread, ...]
    steepest: str


@dataclass(slots=True)
class _Run:
    """One learner's way through the plan."""

    reps_at: list[int]
    fell_from: list[bool]
    sessions: int = 0
    rewards: int = 0
    failed_raises: int = 0
    signs: int = 0
    reached: bool = False


def rehearse(
    course: Course,
    learners: Learner | Sequence[Learner],
    *,
    runs: int = 200,
    seed: int = 0,
    stop: Callable[[], bool] = lambda: False,
) -> Rehearsal:
    """Let simulated learners go through the course; the same seed gives the same runs.

    Of several learners (drawn from a fit) each run takes the next one. `stop` is asked before each
    run. Raises ValueError for a course without steps, an assumption outside its range, or where
    `stop` left no run; KeyError for an unknown school.
    """
    if not course.steps:
        raise ValueError("a plan without steps cannot be rehearsed")
    of = [learners] if isinstance(learners, Learner) else list(learners)
    for learner in of:
        checked(learner)
    word = _Word(with_defaults(course.rule))
    found: list[_Run] = []
    for number in range(runs):
        if stop():
            break
        # Each run has its own chances: one that takes longer does not change the next.
        chance = random.Random(f"{seed}:{number}")
        found.append(_run(course, word, of[number % len(of)], chance))
    if not found:
        raise ValueError("no run was made")
    return _summed(course, found, [of[number % len(of)] for number in range(len(found))])


def with_a_step_between(course: Course, step: str) -> Course:
    """The course with one more step before `step`; both together ask as much as that one did.

    Raises ValueError for the first step and for one that is not in the course.
    """
    at = course.steps.index(step)
    if at == 0:
        raise ValueError("before the first step there is none to begin from")
    between = f"{step} between"
    half = course.leaps.get(step, 1) / 2
    return replace(
        course,
        steps=(*course.steps[:at], between, *course.steps[at:]),
        leaps={**course.leaps, between: half, step: half},
        like={**course.like, between: step},
    )


def _run(course: Course, word: _Word, of: Learner, chance: random.Random) -> _Run:
    rule = word.rule
    count = len(course.steps)
    mind, run = Mind(of, course.carries_of(of)), _Run([0] * count, [False] * count)
    most = max(1, min(course.rep_cap, int(course.cap_s / of.rep_s)))
    step = 0
    #: Judged reps since the step was taken up, and its sessions as the comfort school sees them.
    tried: list[Judged] = []
    comfort: list[SessionComfort] = []
    while run.sessions < MOST_SESSIONS:
        if run.sessions:
            mind.begin_session(course.days_between)
        run.sessions += 1
        severities: list[int] = []
        for _ in range(most):
            judged, rewarded = _rep(mind, step, rule, tried, chance)
            run.reps_at[step] += 1
            run.rewards += rewarded
            tried.append(judged)
            if not rewarded and chance.random() < mind.sign_chance:
                severities.append(SEVERITY)
            if rule["kind"] != "comfort":
                moved = word.moves(tried)
                if moved:
                    step, is_done = _to(step, moved, mind, run, count)
                    if is_done:
                        run.signs += len(severities)
                        return run
                    tried, comfort = [], []
            if len(severities) >= MOST_SIGNS:
                break
        run.signs += len(severities)
        comfort.append(SessionComfort(tuple(severities)))
        if rule["kind"] == "comfort":
            said = decide(rule, (), comfort).decision
            if said != "hold":
                step, is_done = _to(step, 1 if said == "raise" else -1, mind, run, count)
                if is_done:
                    return run
                tried, comfort = [], []
    return run


def _rep(
    mind: Mind, step: int, rule: Mapping[str, Any], tried: Sequence[Judged], chance: random.Random
) -> tuple[Judged, bool]:
    """One rep: what the rule sees of it, and whether it was rewarded."""
    fits = mind.chance(step)
    if rule["kind"] != "percentile":
        met = chance.random() < fits
        mind.live(step, met)
        return _FITS if met else _MISSES, met
    # How good it was, on a scale on which what fits begins at 0.
    middle = _NORMAL.inv_cdf(min(max(fits, 1e-6), 1 - 1e-6))
    value = middle + chance.gauss(0, 1)
    criterion = _criterion(rule, tried)
    rewarded = value > (0.0 if criterion is None else criterion)
    mind.live(step, rewarded)
    return Judged(value > 0, value), rewarded


class _Word:
    """Where the rule goes, remembered by the reps its word can depend on: few patterns of them."""

    def __init__(self, rule: Mapping[str, Any]):
        self.rule = rule
        self._known: dict[tuple[bool, ...], int] = {}

    def moves(self, tried: Sequence[Judged]) -> int:
        """After these reps 1 a step on, -1 a step back, 0 nowhere."""
        if self.rule["kind"] == "percentile":
            criterion = _criterion(self.rule, tried)
            return int(criterion is not None and criterion > 0)
        last = recent(self.rule, tried, len(tried))
        pattern = tuple([judged.met for judged in last])
        if pattern not in self._known:
            self._known[pattern] = _MOVES[decide(self.rule, last).decision]
        return self._known[pattern]


def _criterion(rule: Mapping[str, Any], tried: Sequence[Judged]) -> float | None:
    """What the next rep must exceed, or what the last ones have come to."""
    last = tried[-rule["window"] :]
    return moving_criterion([j.value or 0.0 for j in last], rule["window"], rule["w"])


def _to(step: int, moved: int, mind: Mind, run: _Run, count: int) -> tuple[int, bool]:
    """The step after a word of the rule, and whether the plan is at its end."""
    if moved > 0:
        if step == count - 1:
            run.reached = True
            return step, True
        mind.begin_step(step + 1)
        return step + 1, False
    if step > 0:
        run.failed_raises += 1
        run.fell_from[step] = True
    return max(0, step - 1), False


def _summed(course: Course, found: Sequence[_Run], of: Sequence[Learner]) -> Rehearsal:
    def spread(values: Sequence[float]) -> Spread:
        return Spread(*np.quantile(values, (0.5, 0.25, 0.75, 0.05, 0.95)).tolist())

    reps = [float(sum(run.reps_at)) for run in found]
    carries = [course.carries_of(learner) for learner in of]
    steps = tuple(
        StepSpread(
            key,
            float(np.median([each[n - 1] for each in carries])) if n else None,
            spread([float(run.reps_at[n]) for run in found]),
            wilson(sum(run.fell_from[n] for run in found), len(found)),
        )
        for n, key in enumerate(course.steps)
    )
    steepest = max(steps, key=lambda step: (step.reps.median, step.reps.q3))
    return Rehearsal(
        runs=len(found),
        reached=wilson(sum(run.reached for run in found), len(found)),
        sessions=spread([float(run.sessions) for run in found]),
        days=spread([1 + (run.sessions - 1) * course.days_between for run in found]),
        minutes=spread([n * who.rep_s / 60 for n, who in zip(reps, of, strict=True)]),
        reps=spread(reps),
        rewards=spread([float(run.rewards) for run in found]),
        failed_raises=spread([float(run.failed_raises) for run in found]),
        signs=spread([float(run.signs) for run in found]),
        steps=steps,
        steepest=steepest.step,
    )
