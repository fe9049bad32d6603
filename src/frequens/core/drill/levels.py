"""How hard a drill is: how long the animal stays, how often it only seems to, what must hold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

#: The instant the marker is asked for: as it begins, once it was held, as it ends.
Instant = Literal["begins", "hold", "ends"]
INSTANTS: tuple[Instant, ...] = get_args(Instant)
LevelKey = Literal["clear", "fakes", "short", "short_fakes", "both"]


@dataclass(frozen=True, slots=True)
class Difficulty:
    """One level of the drill; pairs are the least and the most, seconds.

    `lasts_s`: the behaviour asked for; `approach_s`: the movement towards it, in which it can be
    seen coming. `fakes`: so large a share of what the animal does only seems to become it;
    `others`: so large a share is another behaviour. `both`: a second thing has to hold at the
    same time (`acts.SECOND`), and `others` are then one of the two alone.
    """

    key: LevelKey
    lasts_s: tuple[float, float]
    approach_s: tuple[float, float]
    fakes: float
    others: float
    both: bool = False


#: In the order of skill: what makes timing harder comes one thing at a time, then together.
LEVELS: tuple[Difficulty, ...] = (
    Difficulty("clear", (0.8, 1.4), (0.35, 0.7), fakes=0.0, others=0.15),
    Difficulty("fakes", (0.6, 1.2), (0.3, 0.7), fakes=0.25, others=0.15),
    Difficulty("short", (0.3, 0.6), (0.2, 0.5), fakes=0.0, others=0.15),
    Difficulty("short_fakes", (0.25, 0.5), (0.15, 0.6), fakes=0.3, others=0.15),
    Difficulty("both", (0.7, 1.3), (0.2, 0.6), fakes=0.15, others=0.35, both=True),
)
#: "After a hold" means this long, and some stays are shorter.
HOLD_S = 1.0

#: Two drills in a row with so many caught and so few wrong, and the next level is worth a try
#: (common practice: eight of ten, twice); with fewer than half caught, the one before.
CAUGHT_TO_RAISE, WRONG_TO_RAISE, IN_A_ROW = 0.8, 0.1, 2
CAUGHT_TO_LOWER = 0.5


@dataclass(frozen=True, slots=True)
class Ran:
    """How one drill went: of `due` instants so many caught, and so many wrong marks."""

    level: LevelKey
    due: int
    caught: int
    wrong: int


@dataclass(frozen=True, slots=True)
class Advice:
    """Which level next, and why: "first", "raise", "lower" or "stay"."""

    level: LevelKey
    why: Literal["first", "raise", "lower", "stay"]


def level_of(key: LevelKey) -> Difficulty:
    """The level of that name."""
    return next(level for level in LEVELS if level.key == key)


def advise(runs: Sequence[Ran]) -> Advice:
    """The next level, from the drills of one instant so far, the latest last."""
    told = [run for run in runs if run.due]
    if not told:
        return Advice(LEVELS[0].key, "first")
    last = told[-1]
    place = [level.key for level in LEVELS].index(last.level)
    if last.caught < CAUGHT_TO_LOWER * last.due and place > 0:
        return Advice(LEVELS[place - 1].key, "lower")
    lately = told[-IN_A_ROW:]
    if (
        len(lately) == IN_A_ROW
        and all(run.level == last.level and _is_sure(run) for run in lately)
        and place + 1 < len(LEVELS)
    ):
        return Advice(LEVELS[place + 1].key, "raise")
    return Advice(last.level, "stay")


def _is_sure(run: Ran) -> bool:
    return run.caught >= CAUGHT_TO_RAISE * run.due and run.wrong <= WRONG_TO_RAISE * run.due
