"""The learner's assumptions from a logbook: the most likely ones, and how sure they are."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.special import expit, logit

from ..statistics.summaries import Z
from .learner import DEFAULT, RANGES, Learner, Mind
from .rehearse import Course

#: What a logbook can tell. The others stay as they are assumed.
FITTED = ("start", "learning", "loss", "carry", "forgetting")
#: How far before any data an assumption may be off, on the logit scale of its range: one standard
#: deviation. It keeps what the data do not tell where it was, and as unsure as it was.
PRIOR_SD = 1.2
#: How far a step's own leap may be off what is common to all, on the same scale.
LEAP_SD = 0.8
#: Fewer judged reps tell nothing that the assumptions do not.
LEAST_REPS = 20
_STEP = 1e-2


@dataclass(frozen=True)
class Practice:
    """One session as it went: days since the one before, and its judged reps in order.

    `trials` are (place of the step in the plan, whether it fitted and was rewarded).
    """

    days: float
    trials: tuple[tuple[int, bool], ...]


@dataclass(frozen=True)
class Fitted:
    """The most likely learner, with the 95 % interval of each assumption the logbook tells.

    Each step has a leap of its own (`carries`), drawn towards what is common to all. `draws` gives
    learners as likely as the logbook leaves them.
    """

    learner: Learner
    low: Learner
    high: Learner
    reps: int
    _course: Course
    _at: NDArray[np.float64]
    _root: NDArray[np.float64]

    def draws(self, count: int, seed: int) -> list[Learner]:
        """Learners drawn from what the logbook leaves open; the same seed draws the same."""
        drawn = np.random.default_rng(seed).standard_normal((count, len(self._at)))
        return [_learner(self.learner, self._course, self._at + self._root @ row) for row in drawn]


def fit(sessions: Sequence[Practice], course: Course, assumed: Learner = DEFAULT) -> Fitted | None:
    """The learner that makes these sessions most likely, starting from what is assumed.

    Largest posterior density on the logit scale with normal priors, its spread by the curvature
    there (Laplace's approximation; Tierney & Kadane 1986, JASA 81:82-86). None below LEAST_REPS
    judged reps. Raises ValueError for a step outside the plan.
    """
    reps, steps = sum(len(session.trials) for session in sessions), len(course.steps)
    if any(not 0 <= step < steps for session in sessions for step, _ in session.trials):
        raise ValueError("a rep at a step that is not in the plan")
    if reps < LEAST_REPS:
        return None
    prior = np.concatenate([_place(assumed), np.zeros(steps - 1)])
    widths = np.array([PRIOR_SD] * len(FITTED) + [LEAP_SD] * (steps - 1))

    def cost(at: NDArray[np.float64]) -> float:
        away = (at - prior) / widths
        return float(away @ away) / 2 - _log_likelihood(
            _learner(assumed, course, at), sessions, course
        )

    # Takes longer to import than to use; a start does without it.
    from scipy.optimize import minimize

    best = minimize(cost, prior, method="L-BFGS-B", bounds=[(-7.0, 7.0)] * len(prior)).x
    covariance = np.linalg.inv(_curvature(cost, best))
    sd = np.sqrt(np.diag(covariance))
    return Fitted(
        learner=_learner(assumed, course, best),
        low=_learner(assumed, course, best - Z * sd),
        high=_learner(assumed, course, best + Z * sd),
        reps=reps,
        _course=course,
        _at=best,
        _root=np.linalg.cholesky(covariance),
    )


def _place(learner: Learner) -> NDArray[np.float64]:
    """The fitted assumptions on the logit scale of their ranges."""
    shares = []
    for name in FITTED:
        low, high = RANGES[name]
        shares.append(min(max((getattr(learner, name) - low) / (high - low), 1e-3), 1 - 1e-3))
    return np.asarray(logit(shares), dtype=np.float64)


def _learner(assumed: Learner, course: Course, at: NDArray[np.float64]) -> Learner:
    found = {
        name: _within(name, share) for name, share in zip(FITTED, at[: len(FITTED)], strict=True)
    }
    common = at[FITTED.index("carry")]
    own = {
        step: _within("carry", common + off)
        for step, off in zip(course.steps[1:], at[len(FITTED) :], strict=True)
    }
    return replace(assumed, **found, carries=own)


def _within(name: str, place: float) -> float:
    low, high = RANGES[name]
    return float(low + expit(place) * (high - low))


def _log_likelihood(learner: Learner, sessions: Sequence[Practice], course: Course) -> float:
    """What happened is known, so the learner's state at each rep follows from what came before."""
    mind = Mind(learner, course.carries_of(learner))
    total, met_before = 0.0, [False] * len(course.steps)
    met_before[0] = True
    for number, session in enumerate(sessions):
        if number:
            mind.begin_session(session.days)
        for step, fits in session.trials:
            if not met_before[step]:
                mind.begin_step(step)
                met_before[step] = True
            chance = min(max(mind.chance(step), 1e-6), 1 - 1e-6)
            total += math.log(chance if fits else 1 - chance)
            mind.live(step, fits)
    return total


def _curvature(
    cost: Callable[[NDArray[np.float64]], float], at: NDArray[np.float64]
) -> NDArray[np.float64]:
    """The second derivatives of the cost, by central differences."""
    count = len(at)
    found = np.zeros((count, count))
    for i in range(count):
        for j in range(i, count):
            a, b = np.zeros(count), np.zeros(count)
            a[i], b[j] = _STEP, _STEP
            corners = cost(at + a + b) - cost(at + a - b) - cost(at - a + b) + cost(at - a - b)
            found[i, j] = found[j, i] = corners / (4 * _STEP**2)
    # Where rounding leaves a direction without curvature, the prior's own is there at least.
    values, vectors = np.linalg.eigh(found)
    least = 1 / max(PRIOR_SD, LEAP_SD) ** 2
    return np.asarray(vectors @ np.diag(np.maximum(values, least)) @ vectors.T)
