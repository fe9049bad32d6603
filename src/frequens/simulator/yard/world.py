"""The imagined yard: an animal, a hand, a step, what a session is to be, and the marks of it.

Nothing here is a claim about animals.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from frequens.core import Event
from frequens.core.model.events import MICROSECONDS

#: The frames of the imagined camera.
FRAME_US = 33_333


@dataclass(slots=True)
class Animal:
    """What an animal knows and how it is, by the keys of its steps.

    `known` is the chance that a rep fits (0 to 1). `quick` is how much of what is missing one
    paid rep brings; `pause_s` how soon it comes back. `strain` grows with time without pay.
    """

    quick: float
    pause_s: float
    known: dict[str, float] = field(default_factory=dict)
    offers: tuple[str, ...] = ()
    shows: tuple[str, ...] = ()
    weak: Mapping[tuple[str, str], float] = field(default_factory=dict)
    #: Pairs of steps so far apart that knowing the first does not help with the second.
    leaps: frozenset[tuple[str, str]] = frozenset()
    strain: float = 0.0

    def knows(self, key: str) -> float:
        """How sure a step is; one never worked on is hardly there."""
        return self.known.get(key, 0.1)

    def chance(self, key: str, conditions: Mapping[str, str]) -> float:
        """The chance that a rep at a step fits, here and now."""
        weakness = math.prod(self.weak.get(item, 1.0) for item in conditions.items())
        return self.knows(key) * weakness * (1 - 0.35 * min(1.0, self.strain))

    def learn(self, key: str, following: str | None) -> None:
        """A paid rep: the step is surer, and the one above it begins to be possible."""
        self.known[key] = self.knows(key) + self.quick * (0.97 - self.knows(key))
        if following is not None and (key, following) not in self.leaps:
            ceiling = 0.75 * self.known[key]
            above = self.knows(following)
            self.known[following] = max(above, above + 0.5 * self.quick * (ceiling - above))


@dataclass(frozen=True, slots=True)
class Hand:
    """A trainer's timing in seconds and habits as shares from 0 to 1."""

    late_s: float
    spread_s: float
    reward_s: float
    hand_first: float = 0.05
    forgets: float = 0.0
    marks_misses: float = 0.02


@dataclass(frozen=True, slots=True)
class Step:
    """One step of the plan as a session works it."""

    key: str
    following: str | None
    mark_at: str = "onset"
    hold_s: float = 0.0
    #: It ends when the trainer lets go; longer stays are paid more often.
    until_release: bool = False
    parts: Sequence[str] = ()
    #: Cues by the behaviour each asks for; they are asked and not asked in turn.
    cues: Mapping[str, str] = field(default_factory=dict)
    #: The middle of what is measured, once the step is known.
    measured: float | None = None


@dataclass(frozen=True, slots=True)
class Line:
    """One line a session is led by: a rep of a step, or a wait or break where that is None."""

    sort: Literal["rep", "wait", "break"]
    step: Step | None
    conditions: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Outing:
    """What a session is to be: steps with the reps at each, and how long at most, seconds.

    Where it is led by `lines`, those say the reps instead.
    """

    steps: Sequence[tuple[Step, int]]
    most_s: float
    conditions: Mapping[str, Sequence[str]] = field(default_factory=dict)
    placement: Mapping[str, float] = field(default_factory=dict)
    cue: str | None = None
    #: Strongest help on the first reps, then the next weaker one.
    help: Sequence[str] = ()
    #: What is done to the animal at the end, each time with food after it.
    touches: Sequence[str] = ()
    #: A break after so many reps; None for none.
    reps_a_bout: int | None = None
    lines: Sequence[Line] = ()


class Marks:
    """Collects marks as they stand on frames: each on the first that can show it."""

    def __init__(self) -> None:
        self.events: list[Event] = []

    def add(self, kind: Any, at: float, **fields: Any) -> None:
        frame = max(1, math.ceil(at * MICROSECONDS / FRAME_US))
        self.events.append(
            Event(
                id=f"{kind}-{len(self.events)}",
                kind=kind,
                t_us=frame * FRAME_US,
                width_us=FRAME_US,
                source="video",
                **fields,
            )
        )
