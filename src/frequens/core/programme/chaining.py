"""Chains: how far the parts are joined, where they break, and which link is next.

All of it is common practice and has no source but use: train the parts alone, then join them from
the end or from the start, one at a time; where a chain breaks, go back to the part that broke and
not to the start of it all.
"""

from __future__ import annotations

import datetime as dt
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any, Literal

from ..decisions.judging import Digest, Judgement
from ..measures.chains import LEAST_TRIES, STRONG
from ..planning.shaping import steps_in_use
from ..statistics.summaries import Share, wilson
from .asking import asks_of
from .grid import HOLDS, LEAST, LOOKED_AT

Direction = Literal["forward", "backward"]
#: Why these parts are next: `ease` before everything; a `part` to be sure alone first; the first
#: `begin`, or another one to `join`; a join to `mend`; too little or too weak to go on, `keep`; all
#: joined, `whole`.
ChainWhy = Literal["ease", "part", "begin", "join", "mend", "keep", "whole"]
#: Decisions after which another part may be joined.
GOES_ON = frozenset({"raise", "proof"})


@dataclass(frozen=True, slots=True)
class Linked:
    """One session's attempts at a chain: its day and `chains` as in its findings, by step."""

    day: dt.date | None
    chains: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Alone:
    """A judged rep of a step, and whether it fitted."""

    step: str | None
    met: bool


@dataclass(frozen=True, slots=True)
class ChainPartState:
    """A part by itself: the plan's step that trains it alone, None without one, and its success.

    `success` is that of the last `LOOKED_AT` judged reps there with its 95 % interval (Wilson).
    """

    key: str
    title: str
    step: str | None
    success: Share
    is_sure: bool


@dataclass(frozen=True, slots=True)
class Join:
    """Where one part leads to the next: reached among the attempts that had come so far.

    `reached` are those of the latest sessions that make up at least `LOOKED_AT` tries, with their
    95 % interval (Wilson). `holds` from LEAST_TRIES on at STRONG or better, `is_weak` below that.
    """

    first: str
    second: str
    reached: Share
    last_day: dt.date | None
    holds: bool
    is_weak: bool


@dataclass(frozen=True, slots=True)
class ChainNext:
    """The parts to work at next, in the order in which they are done.

    `part` is the one it is about: the new one, or the one that breaks; `step` is the plan's step
    that is just these parts, None where the plan has none yet. `beside` are parts to train alone
    in the same session.
    """

    why: ChainWhy
    parts: tuple[str, ...]
    part: str | None
    step: str | None
    beside: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Chaining:
    """A chain with its parts in order and the joins between them.

    `joined` are the parts that were worked as one so far, from the end or from the start.
    """

    direction: Direction
    parts: tuple[ChainPartState, ...]
    joins: tuple[Join, ...]
    joined: tuple[str, ...]
    next: ChainNext


def chaining(
    plan: Mapping[str, Any],
    sessions: Sequence[Linked],
    alone: Sequence[Alone],
    judgement: Judgement | None = None,
) -> Chaining | None:
    """How far a plan's chain is joined after its sessions, in the order of their days.

    None where the plan has no chain of at least two parts. `alone` are all judged reps in the
    order they were done; those at a step named like a part, or with its key, are that part alone.
    Nothing new is joined unless the judgement goes on, and nothing at all where it asks for ease.
    """
    titles = parts_of(plan)
    if len(titles) < 2:
        return None
    keys = list(titles)
    direction = plan.get("chain", {}).get("direction", "backward")
    steps = {key: _step_alone(plan, key, title) for key, title in titles.items()}
    parts = tuple(_part(key, titles[key], steps[key], alone) for key in keys)
    joins = tuple(_join(first, second, sessions) for first, second in pairwise(keys))
    joined = _joined(keys, direction, sessions)
    inside = [join for join in joins if join.first in joined and join.second in joined]
    if judgement is not None and asks_of(judgement) == "ease":
        following = ChainNext("ease", _easiest(parts, inside), None, None, ())
    else:
        following = _next(direction, parts, inside, joined)
    if following.why == "join" and judgement is not None and judgement.decision not in GOES_ON:
        following = ChainNext("keep", joined, None, None, ())
    return Chaining(direction, parts, joins, joined, _with_step(following, plan))


def alone_of(digests: Iterable[Digest]) -> list[Alone]:
    """All judged reps of sessions in short, in the order they were done."""
    return [Alone(trial.step, trial.met) for digest in digests for trial in digest.trials]


def parts_of(plan: Mapping[str, Any]) -> dict[str, str]:
    """The parts of a plan's chain in order, by key with their titles; empty without a chain.

    They are those of the step with most parts; where the plan's chain names more, those names, with
    the keys their steps give them, or else keys made from the names as plans make them.
    """
    of_steps = [step["parts"] for step in steps_in_use(plan) if step.get("parts")]
    longest: Sequence[Mapping[str, str]] = max(of_steps, key=len, default=[])
    titles = {part["key"]: part.get("title") or part["key"] for part in longest}
    names = plan.get("chain", {}).get("parts", [])
    if len(names) <= len(titles):
        return titles if len(titles) > 1 else {}
    known = {
        (part.get("title") or part["key"]).casefold(): part["key"]
        for parts in of_steps
        for part in parts
    }
    found = {known.get(name.casefold()) or _key_of(name): name for name in names}
    return found if len(found) > 1 else {}


def _key_of(name: str) -> str:
    return re.sub(r"\s+", "_", name.strip().lower())


def _step_alone(plan: Mapping[str, Any], key: str, title: str) -> str | None:
    """The step that trains one part alone: one of no parts with its key or its name."""
    single = [step for step in steps_in_use(plan) if len(step.get("parts", [])) < 2]
    own = (s["key"] for s in single if s["key"] == key)
    named = (s["key"] for s in single if s.get("title", "").casefold() == title.casefold())
    return next(own, None) or next(named, None)


def _part(key: str, title: str, step: str | None, alone: Sequence[Alone]) -> ChainPartState:
    last = [rep.met for rep in alone if step is not None and rep.step == step][-LOOKED_AT:]
    success = wilson(sum(last), len(last))
    is_sure = len(last) >= LEAST and success.share is not None and success.share >= HOLDS
    return ChainPartState(key, title, step, success, is_sure)


def _join(first: str, second: str, sessions: Sequence[Linked]) -> Join:
    """The latest sessions in which the first part was come to, as many as it takes."""
    count = of = 0
    last_day = None
    for session in reversed(sessions):
        own = [
            two["reached"]
            for chain in session.chains.values()
            for one, two in pairwise(chain["parts"])
            if (one["key"], two["key"]) == (first, second) and two["reached"]["of"]
        ]
        if own and last_day is None:
            last_day = session.day
        count += sum(reached["count"] for reached in own)
        of += sum(reached["of"] for reached in own)
        if of >= LOOKED_AT:
            break
    reached = wilson(count, of)
    known = of >= LEAST_TRIES and reached.share is not None
    is_strong = known and (reached.share or 0.0) >= STRONG
    return Join(first, second, reached, last_day, is_strong, known and not is_strong)


def _joined(keys: list[str], direction: Direction, sessions: Sequence[Linked]) -> tuple[str, ...]:
    """The longest run of parts, from the end or the start, that was worked as one chain."""
    worked = {
        tuple(part["key"] for part in chain["parts"])
        for session in sessions
        for chain in session.chains.values()
        if chain["attempts"]
    }
    for size in range(len(keys), 1, -1):
        run = _run(keys, direction, size)
        if run in worked:
            return run
    return ()


def _run(keys: Sequence[str], direction: Direction, size: int) -> tuple[str, ...]:
    return tuple(keys[:size]) if direction == "forward" else tuple(keys[-size:])


def _next(
    direction: Direction,
    parts: Sequence[ChainPartState],
    inside: Sequence[Join],
    joined: tuple[str, ...],
) -> ChainNext:
    keys = [part.key for part in parts]
    weak = [join for join in inside if join.is_weak]
    if weak:
        # The earlier of two that are equally weak: what follows it was not even tried.
        worst = min(weak, key=lambda join: join.reached.share or 0.0)
        return ChainNext("mend", (worst.first, worst.second), worst.second, None, (worst.second,))
    if joined and not all(join.holds for join in inside):
        return ChainNext("keep", joined, None, None, ())
    if len(joined) == len(keys):
        return ChainNext("whole", joined, None, None, ())
    wanted = _run(keys, direction, max(2, len(joined) + 1))
    new = [part for part in parts if part.key in wanted and part.key not in joined]
    # Where the plan trains a part alone, it is sure before it is joined; the inner one first.
    inner = new if direction == "forward" else new[::-1]
    unsure = next((p for p in inner if p.step is not None and not p.is_sure), None)
    if unsure is not None:
        return ChainNext("part", (unsure.key,), unsure.key, None, ())
    return ChainNext(
        "join" if joined else "begin", wanted, inner[-1].key, None, _beside(parts, wanted)
    )


def _easiest(parts: Sequence[ChainPartState], inside: Sequence[Join]) -> tuple[str, ...]:
    """What goes best: a part that is sure alone, else two that hold, else the surest there is."""
    sure = [part for part in parts if part.is_sure]
    if sure:
        return (max(sure, key=lambda part: part.success.low or 0.0).key,)
    held = [join for join in inside if join.holds]
    if held:
        best = max(held, key=lambda join: join.reached.low or 0.0)
        return (best.first, best.second)
    return (max(parts, key=lambda part: part.success.low or 0.0).key,)


def _beside(parts: Sequence[ChainPartState], wanted: Sequence[str]) -> tuple[str, ...]:
    """Parts not joined yet that the plan trains alone and that are not sure: one at a time."""
    return tuple(
        part.key
        for part in parts
        if part.key not in wanted and part.step is not None and not part.is_sure
    )[:1]


def _with_step(following: ChainNext, plan: Mapping[str, Any]) -> ChainNext:
    titles = parts_of(plan)
    if len(following.parts) == 1:
        key = following.parts[0]
        step = _step_alone(plan, key, titles[key])
    else:
        step = next(
            (
                step["key"]
                for step in steps_in_use(plan)
                if tuple(part["key"] for part in step.get("parts", [])) == following.parts
            ),
            None,
        )
    return ChainNext(following.why, following.parts, following.part, step, following.beside)
