"""The script of a session: every rep, wait and break in its order, before anybody is in the yard.

What it rests on is common practice and has no source but use: begin easy, a few reps before the
first break and more before the next, paid waiting among asked reps, the easy side first and more
on the weak one, rewards in place that grow, and an easy end. The same seed gives the same script.
"""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import cycle, islice
from typing import Literal

from ..planning.calculators.preparing import placement_budget
from ..planning.next_session import MOST_REPS
from .mixing import mixed_order

#: Reps before the first breaks; later blocks are drawn from LATER, so that none can be foreseen.
FIRST_BLOCKS, LATER = (2, 4), (3, 4, 5)
#: Reps on a side before it is changed; the weak one takes the larger part.
SIDE_BLOCK, WEAK_SIDE_BLOCK = 3, 5
#: Where a level is new this share of the reps is at it, the others at the one that holds.
NEW_SHARE = 0.7
#: Reps of a part of a chain alone, before it is done with the others.
PART_REPS = 3
#: Rewards in place, block by block, where the learner shall stay.
IN_PLACE = (3, 4, 5)

Sort = Literal["rep", "wait", "break"]
Phase = Literal["warm_up", "part", "work", "end"]


@dataclass(frozen=True, slots=True)
class Sides:
    """The two or more sides of a condition that are changed by blocks, the easy one first.

    `weak` is the one that takes more reps, None where none lags.
    """

    condition: str
    levels: tuple[str, ...]
    weak: str | None = None


@dataclass(frozen=True, slots=True)
class ScriptOrder:
    """What a script is made of.

    `reps` counts all of them, warm-up, waits and the easy end with it. `levels` is where the work
    is done, `easier` where it begins and ends, and `new_share` the share of the work at `levels`
    where these two differ. `part` is the step that trains one part of the chain alone, done before
    the work. `wait_share` is the share of the work in which nothing is asked (0 to 1), `cues` the
    names of what is asked, `placement` shares that add up to 1. With `in_place` the learner stays
    and its rewards grow block by block.
    """

    reps: int
    criterion: str | None
    warm_up: str | None = None
    warm_up_reps: int = 3
    levels: Mapping[str, str] = field(default_factory=dict)
    easier: Mapping[str, str] = field(default_factory=dict)
    new_share: float = NEW_SHARE
    part: str | None = None
    sides: Sides | None = None
    cues: tuple[str, ...] = ()
    wait_share: float = 0.0
    placement: Mapping[str, float] = field(default_factory=dict)
    in_place: bool = False


@dataclass(frozen=True, slots=True)
class ScriptLine:
    """One line of a script: a rep, a paid wait in which nothing is asked, or a break.

    `cue` is what to ask; None where nothing is asked or there is only one thing to ask. `pays`
    counts rewards. A break has none of these.
    """

    sort: Sort
    phase: Phase
    step: str | None
    levels: Mapping[str, str]
    cue: str | None
    placement: str | None
    pays: int


@dataclass(frozen=True, slots=True)
class Script:
    """A whole script, and the seed that gives it again."""

    seed: int
    lines: tuple[ScriptLine, ...]


def session_script(order: ScriptOrder, seed: int) -> Script:
    """The script of a session.

    Raises ValueError for fewer than 1 or more than MOST_REPS reps, and for shares that cannot be.
    """
    if not 1 <= order.reps <= MOST_REPS:
        raise ValueError(f"reps must be from 1 to {MOST_REPS}, not {order.reps}")
    if not 0 < order.new_share <= 1:
        raise ValueError(f"new_share must be above 0, up to 1, not {order.new_share:g}")
    if not 0 <= order.wait_share < 1:
        raise ValueError(f"wait_share must be from 0 to below 1, not {order.wait_share:g}")
    chance = random.Random(seed)
    end = 1 if order.reps > 1 else 0
    warm_up = min(order.warm_up_reps, max(0, (order.reps - end) // 3))
    if order.warm_up is None:
        warm_up = end = 0
    work = order.reps - warm_up - end
    # In a session of a few reps the chain itself has no room for a part alone.
    alone = PART_REPS if order.part is not None and work >= 2 * PART_REPS else 0
    easy = ScriptLine("rep", "warm_up", order.warm_up, order.easier, None, None, 1)
    blocks = [[easy] * warm_up] if warm_up else []
    if alone:
        blocks.append([replace(easy, phase="part", step=order.part)] * alone)
    blocks += _work(order, work - alone, chance)
    lines: list[ScriptLine] = []
    for block in blocks:
        if lines:
            lines.append(ScriptLine("break", block[0].phase, None, {}, None, None, 0))
        lines += block
    if end:
        # The last thing of a session is one it does with ease.
        lines.append(replace(easy, phase="end"))
    return Script(seed, tuple(_placed(lines, order.placement, chance)))


def _work(order: ScriptOrder, reps: int, chance: random.Random) -> list[list[ScriptLine]]:
    """The work in blocks, each rep with its level, cue and rewards."""
    sizes, sides = _blocks(order, reps, chance)
    asked = _asked(order, reps, chance)
    levels = _levels(order, reps, chance)
    pays = cycle(IN_PLACE) if order.in_place else cycle((1,))
    found, place = [], 0
    for size, side, pay in zip(sizes, sides, pays, strict=False):
        block = []
        for n in range(place, place + size):
            own = dict(levels[n])
            if side is not None and order.sides is not None:
                own[order.sides.condition] = side
            sort, cue = asked[n]
            # Waiting is paid once: to pay it more would teach it to wait instead.
            paid = 1 if sort == "wait" else pay
            block.append(ScriptLine(sort, "work", order.criterion, own, cue, None, paid))
        found.append(block)
        place += size
    return found


def _blocks(
    order: ScriptOrder, reps: int, chance: random.Random
) -> tuple[list[int], list[str | None]]:
    """Sizes of the blocks of work, and the side of each; a last block of one joins another."""
    sizes: list[int] = []
    sides: list[str | None] = []
    left, names = reps, order.sides.levels if order.sides else (None,)
    for number, side in enumerate(islice(cycle(names), reps)):
        if left <= 0:
            break
        if order.sides is not None:
            size = WEAK_SIDE_BLOCK if side == order.sides.weak else SIDE_BLOCK
        else:
            size = FIRST_BLOCKS[number] if number < len(FIRST_BLOCKS) else chance.choice(LATER)
        size = left if left - size in (0, 1) else min(size, left)
        sizes.append(size)
        sides.append(side)
        left -= size
    return sizes, sides


def _asked(
    order: ScriptOrder, reps: int, chance: random.Random
) -> list[tuple[Literal["rep", "wait"], str | None]]:
    """For each place in the work whether it is asked, and what."""
    waits = min(round(reps * order.wait_share), max(0, reps - 1))
    # What is asked comes before what is not: the first wait is no surprise.
    sorts = mixed_order({"rep": reps - waits, "wait": waits}, chance.getrandbits(32), first="rep")
    names = order.cues if len(order.cues) > 1 else ()
    shares = {name: len(range(n, reps - waits, len(names))) for n, name in enumerate(names)}
    cues = iter(mixed_order(shares, chance.getrandbits(32)))
    return [("rep", next(cues, None)) if sort == "rep" else ("wait", None) for sort in sorts]


def _levels(order: ScriptOrder, reps: int, chance: random.Random) -> list[Mapping[str, str]]:
    """For each place in the work its levels: where a new one is worked on, some stay easier."""
    if order.levels == order.easier or not order.easier or reps < 2:
        return [order.levels] * reps
    easier = round(reps * (1 - order.new_share))
    if order.new_share < 1:
        easier = min(reps - 1, max(1, easier))
    which = {"new": order.levels, "easier": order.easier}
    # Into the new level from what holds.
    kinds = mixed_order(
        {"new": reps - easier, "easier": easier}, chance.getrandbits(32), first="easier"
    )
    return [which[kind] for kind in kinds]


def _placed(
    lines: Sequence[ScriptLine], mix: Mapping[str, float], chance: random.Random
) -> list[ScriptLine]:
    """The lines with a place for the rewards of each, by the plan's mix as nearly as it goes."""
    paid = sum(line.sort != "break" for line in lines)
    if not mix or not paid:
        return list(lines)
    places = iter(mixed_order(placement_budget(paid, mix).rewards, chance.getrandbits(32)))
    return [
        line if line.sort == "break" else replace(line, placement=next(places)) for line in lines
    ]
