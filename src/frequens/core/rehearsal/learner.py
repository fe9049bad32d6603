"""The simulated learner: what each rep and each day does to how often a behaviour fits."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field


@dataclass(frozen=True, slots=True)
class Learner:
    """All that is assumed of the learner; shares from 0 to 1 unless the name says otherwise.

    `start`: how often the first step fits when it is begun. `learning`: which part of the way to
    `best` a rewarded rep covers; `loss`: which part of what is there a rep without a reward takes.
    `carry`: how much of one step is there at the next; `carries` the same of single steps, by
    their keys, where more is known of them. `forgetting`: lost per day without training.
    `fatigue`: lost by each rep of a session, back at the next. `frustration`: how far a rep without
    a reward goes towards being upset, which halves with each reward; upset it fits less often and
    shows signs. `side_bias`: how often a side is chosen for its own sake, of two.
    `rep_s`: seconds a rep takes with its reward and the way back.
    """

    start: float = 0.5
    learning: float = 0.1
    loss: float = 0.02
    carry: float = 0.7
    forgetting: float = 0.02
    best: float = 0.97
    fatigue: float = 0.004
    frustration: float = 0.1
    side_bias: float = 0.0
    rep_s: float = 9.0
    carries: Mapping[str, float] = field(default_factory=dict)


DEFAULT = Learner()
#: What each may be set to: assumptions of ours, for want of published ones for shaping.
RANGES: Mapping[str, tuple[float, float]] = {
    "start": (0.02, 0.98),
    "learning": (0.005, 0.6),
    "loss": (0.0, 0.4),
    "carry": (0.05, 1.0),
    "forgetting": (0.0, 0.5),
    "best": (0.5, 1.0),
    "fatigue": (0.0, 0.05),
    "frustration": (0.0, 0.8),
    "side_bias": (0.0, 0.9),
    "rep_s": (2.0, 120.0),
}


def checked(learner: Learner) -> Learner:
    """The learner itself. Raises ValueError naming the first assumption outside its range."""
    for name, (low, high) in RANGES.items():
        if not low <= getattr(learner, name) <= high:
            raise ValueError(f"{name} must lie from {low:g} to {high:g}")
    low, high = RANGES["carry"]
    for key, carry in learner.carries.items():
        if not low <= carry <= high:
            raise ValueError(f"carries: {key} must lie from {low:g} to {high:g}")
    return learner


@dataclass(slots=True)
class Mind:
    """The learner's state: the strength of each step from 0 to 1, and how the session goes.

    Strength grows by a constant part of what is missing and shrinks by a constant part of what is
    there: the linear operator model (Bush & Mosteller 1955, Stochastic Models for Learning).
    """

    of: Learner
    #: Of each step to come, how much of the one before is there when it is begun.
    carries: tuple[float, ...]
    strength: list[float] = field(init=False)
    reps: int = 0
    upset: float = 0.0

    def __post_init__(self) -> None:
        first = min(1.0, self.of.start / self.of.best)
        self.strength = [first] + [0.0] * len(self.carries)

    def begin_step(self, step: int) -> None:
        """The step after one that is known begins with part of that one's strength."""
        if step > 0:
            carried = self.strength[step - 1] * self.carries[step - 1]
            self.strength[step] = max(self.strength[step], carried)

    def begin_session(self, days: float) -> None:
        """Rested and calm, `days` after the session before."""
        self.reps, self.upset = 0, 0.0
        kept = (1 - self.of.forgetting) ** max(0.0, days)
        self.strength = [strength * kept for strength in self.strength]

    def chance(self, step: int) -> float:
        """How likely the next rep at this step fits."""
        of = self.of
        fresh = of.best * self.strength[step] * (1 - of.fatigue) ** self.reps
        fits = fresh * (1 - self.upset / 2)
        return (1 - of.side_bias) * fits + of.side_bias / 2

    def live(self, step: int, rewarded: bool) -> None:
        """What a rep leaves behind."""
        self.reps += 1
        strength = self.strength[step]
        if rewarded:
            self.strength[step] = strength + self.of.learning * (1 - strength)
            self.upset /= 2
        else:
            self.strength[step] = strength * (1 - self.of.loss)
            self.upset += self.of.frustration * (1 - self.upset)

    @property
    def sign_chance(self) -> float:
        """How likely a rep without a reward comes with a sign: rare while calm."""
        return self.upset**2 / 2
