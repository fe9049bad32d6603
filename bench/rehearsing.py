"""The rehearsal: 200 runs under each school, an easy learner and a slow one, and the fit."""

from __future__ import annotations

import random
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from tests.core.test_rehearsal import logbook

from frequens.core.rehearsal import DEFAULT, Course, fit, rehearse
from frequens.core.rules.schools import RULES

from .timing import compared, in_turn

#: What 200 runs may take, seconds.
AIM_S = 5.0
RUNS = 200
STEPS = tuple(f"step {n}" for n in range(8))
SLOW = replace(DEFAULT, start=0.2, learning=0.03, carry=0.45)


def run(folder: Path) -> Iterator[str]:
    for kind in RULES:
        course = Course(STEPS, {"kind": kind})

        def rehearsed(of, course=course):
            return lambda: rehearse(course, of, runs=RUNS)

        easy, slow = in_turn(rehearsed(DEFAULT), rehearsed(SLOW), rounds=3)
        said = f"{easy:.2f} s, a slow learner {slow:.2f} s (aim {AIM_S:g})"
        yield f"{kind}, {RUNS} runs of 8 steps: {said}"
    course = Course(STEPS[:5], {"kind": "run"})
    small, large = (logbook(DEFAULT, random.Random(1), sessions=n) for n in (15, 150))
    many, few = in_turn(lambda: fit(large, course), lambda: fit(small, course), rounds=3)
    yield compared("fit, 3 000 reps against 300", many, few, 15)
