"""Who can be filmed: an animal of Saltmarsh Steading, what it learns, and how well it goes.

Everything is invented.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from frequens.core import Approximation

from ..animals import Animal
from .voices import Word


@dataclass(frozen=True, slots=True)
class Skill:
    """How a step goes: the marker's latency, mean and spread in seconds, and the share of reps
    that fit. How far the animal comes (1 is all the way), and whether it then touches."""

    late_s: float
    spread_s: float
    fits: float
    comes: float
    touches: bool


@dataclass(frozen=True)
class Role:
    """One animal at work. A session goes through the steps at these shares of its length.

    `word`: what marks, by its sounds; None: a clicker. `pulls`: the step at which the touched
    thing gives way. `behaviour` and the steps' keys are those of the demo's plans.
    """

    learner: str
    behaviour: str
    steps: tuple[Approximation, ...]
    skills: Mapping[str, Skill]
    from_share: tuple[float, ...]
    rule: Mapping[str, object]
    word: Word | None = None
    pulls: str | None = None

    def step_at(self, share: float) -> Approximation:
        """What is worked on when this share of the session is over."""
        return self.steps[sum(share >= since for since in self.from_share) - 1]


# The harder a step is to see, the later the hand.
ROLES: Mapping[Animal, Role] = MappingProxyType(
    {
        "goat": Role(
            "Thistle",
            "Ring the ship's bell",
            (
                Approximation("look", "Looks at the rope", "onset"),
                Approximation("nose", "Nose on the rope", "onset"),
                Approximation("mouth", "Mouth on the rope", "onset"),
            ),
            {
                "look": Skill(0.22, 0.08, 0.95, 0.55, touches=False),
                "nose": Skill(0.30, 0.12, 0.85, 1.0, touches=True),
                "mouth": Skill(0.46, 0.22, 0.65, 1.0, touches=True),
            },
            (0.0, 0.28, 0.62),
            {"kind": "run", "need": 5, "miss": 3},
            pulls="mouth",
        ),
        "hen": Role(
            "Pepper",
            "Peck the striped disc",
            (
                Approximation("peck", "Pecks the disc", "onset"),
                Approximation("plain", "A plain disc beside it", "onset"),
            ),
            {
                "peck": Skill(0.20, 0.06, 0.95, 1.0, touches=True),
                "plain": Skill(0.24, 0.08, 0.85, 1.0, touches=True),
            },
            (0.0, 0.25),
            {"kind": "share", "window": 10, "raise": 0.8, "lower": 0.5},
        ),
        "pony": Role(
            "Bramble",
            "Hoof onto the stand",
            (
                Approximation("rest", "Hoof rests 1 s", "hold", hold_s=1.0),
                Approximation("hold3", "Hoof rests 3 s", "hold", hold_s=3.0),
            ),
            {
                "rest": Skill(0.3, 0.1, 0.95, 1.0, touches=True),
                "hold3": Skill(0.35, 0.15, 0.8, 1.0, touches=True),
            },
            (0.0, 0.25),
            {"kind": "run", "need": 4, "miss": 3},
            word=("y", "i", "p"),
        ),
    }
)
