"""A simulated animal and a simulated hand: sessions as a careful reviewer would code them.

Nothing here is a claim about animals. A step that is paid is learnt a little; a step far above
what is known fails, and waiting without pay brings signs and slower returns.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from frequens.core import Event
from frequens.core.model.events import MICROSECONDS

from .ways import asked, chained, paused, stayed, touched
from .world import Animal, Hand, Marks, Outing, Step


def session(animal: Animal, hand: Hand, outing: Outing, chance: random.Random) -> list[Event]:
    """The marks of one session, in time order. The animal learns from it."""
    marks = Marks()
    animal.strain *= 0.25
    if outing.lines:
        return _led(animal, hand, outing, chance)
    now, paid = 1.0 + chance.random(), 0.0
    rep = 0
    for step, reps in outing.steps:
        marks.add("criterion", max(0.0, now - 0.8), approximation=step.key)
        for conditions in _rounds(outing.conditions, reps, rep, chance):
            if outing.reps_a_bout and rep and rep % outing.reps_a_bout == 0:
                now = paused(marks, animal, now, chance)
            now = _one(marks, animal, hand, outing, step, conditions, rep, now, chance)
            rep += 1
            if marks.events[-1].kind == "reward":
                paid = now
            animal.strain = min(1.5, animal.strain + 0.03 * max(0.0, now - paid - 9))
            if now > outing.most_s:
                return sorted(marks.events, key=lambda e: e.t_us)
        if outing.cue is not None:
            now = _wait_uncued(marks, animal, step, now, chance)
    # A chance of its own: what is done at the end changes nothing of what came before.
    touched(marks, animal, hand, outing, now, random.Random(len(marks.events)))
    return sorted(marks.events, key=lambda e: e.t_us)


#: Of the lines of a script, so many are left out, done once more, or with the one before's levels.
LEFT_OUT = ONCE_MORE = ANOTHER_WAY = 0.1


def _led(animal: Animal, hand: Hand, outing: Outing, chance: random.Random) -> list[Event]:
    """A session led by a script, as people follow one: here and there a line goes wrong."""
    marks = Marks()
    now, step, before, rep, rested = 1.0 + chance.random(), None, None, 0, 0.0
    for line in outing.lines:
        if now - rested > outing.most_s:
            break
        if line.sort == "break":
            again = paused(marks, animal, now, chance)
            now, rested = again, rested + again - now
        elif line.sort == "wait" and line.step is not None:
            now = _wait_uncued(marks, animal, line.step, now, chance, times=1)
        elif line.step is not None and chance.random() >= LEFT_OUT:
            if line.step != step:
                step = line.step
                marks.add("criterion", max(0.0, now - 0.4), approximation=step.key)
            is_other = before is not None and chance.random() < ANOTHER_WAY
            conditions = dict(before if is_other and before is not None else line.conditions)
            for _ in range(1 + (chance.random() < ONCE_MORE)):
                now = _one(marks, animal, hand, outing, step, conditions, rep, now, chance)
                rep += 1
            before = line.conditions
    return sorted(marks.events, key=lambda e: e.t_us)


def _one(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    conditions: dict[str, str],
    number: int,
    now: float,
    chance: random.Random,
) -> float:
    """One rep in the way its step is worked; returns when it is over."""
    if step.until_release:
        return stayed(marks, animal, hand, outing, step, conditions, now, chance)
    if step.parts:
        return chained(marks, animal, hand, outing, step, now, chance)
    if step.cues:
        return asked(marks, animal, hand, outing, step, now, chance)
    return _rep(marks, animal, hand, outing, step, conditions, number, now, chance)


def _rounds(
    conditions: Mapping[str, Sequence[str]], reps: int, before: int, chance: random.Random
) -> Iterator[dict[str, str]]:
    """The conditions of each rep: every level in turn, in blocks of two."""
    for rep in range(before, before + reps):
        yield {name: levels[rep // 2 % len(levels)] for name, levels in conditions.items()}


def _rep(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    conditions: dict[str, str],
    number: int,
    now: float,
    chance: random.Random,
) -> float:
    """One attempt with what leads up to it; returns when it is over."""
    waited = animal.pause_s * (1 + 1.6 * animal.strain) * chance.uniform(0.6, 1.5)
    if animal.offers and chance.random() < 0.08 + 0.3 * animal.strain:
        marks.add("other_behaviour", now + waited * 0.5, label=chance.choice(animal.offers))
    if animal.shows and chance.random() < animal.strain:
        severity = 2 if animal.strain > 0.6 and chance.random() < 0.3 else 1
        label = chance.choice(animal.shows)
        marks.add("sign", now + waited * 0.7, label=label, severity=severity)
    if outing.cue is not None:
        marks.add("cue", now + waited - 0.9 - 0.6 * chance.random(), label=outing.cue)
    if outing.help:
        level = outing.help[min(number // 2, len(outing.help) - 1)]
        marks.add("prompt", now + waited - 0.35, level=level)
    onset = now + waited
    fits = chance.random() < animal.chance(step.key, conditions)
    held = chance.uniform(0.4, 1.1)
    if step.mark_at == "hold":
        held = step.hold_s * (1 + chance.uniform(0.15, 0.6) if fits else chance.uniform(0.2, 0.9))
    more: dict[str, Any] = {"conditions": conditions} if conditions else {}
    if step.measured is not None:
        # Of its own chance, so that measuring changes nothing else.
        own = random.Random(round(onset * 1000))
        reach = step.measured * (0.55 + 0.5 * animal.knows(step.key)) * own.uniform(0.8, 1.2)
        more["value"] = round(reach, 1)
    marks.add("onset", onset, approximation=step.key, met=fits, **more)
    over = onset + held
    marked = fits or chance.random() < hand.marks_misses
    if not marked:
        marks.add("offset", over)
        return over + 0.4
    aim = onset + (step.hold_s if step.mark_at == "hold" and fits else 0.0)
    marker = max(onset - 0.1, aim + chance.gauss(hand.late_s, hand.spread_s))
    marks.add("offset", max(over, marker + 0.05) if chance.random() < 0.8 else over)
    marks.add("marker", marker, marker="event")
    if chance.random() < hand.forgets:
        animal.strain += 0.2
        return max(over, marker) + 1.5
    first = chance.random() < hand.hand_first
    marks.add("reach", marker + (-0.35 if first else 0.2) + 0.1 * chance.random())
    reward = marker + hand.reward_s * chance.uniform(0.75, 1.35)
    pieces = 3 if fits and animal.knows(step.key) < 0.5 and chance.random() < 0.12 else 1
    places, weights = list(outing.placement), list(outing.placement.values())
    where = {"placement": chance.choices(places, weights)[0]} if places else {}
    marks.add("reward", reward, pieces=pieces, **where)
    animal.strain = max(0.0, animal.strain - 0.12)
    if fits:
        animal.learn(step.key, step.following)
    return reward + 0.5


def _wait_uncued(
    marks: Marks, animal: Animal, step: Step, now: float, chance: random.Random, times: int = 2
) -> float:
    """Stretches in which nothing was asked; sometimes it is done all the same."""
    for _ in range(times):
        start = now + 0.5
        end = start + 4.0
        marks.add("no_cue_window", start, end_us=round(end * MICROSECONDS))
        if chance.random() < 0.25:
            onset = start + chance.uniform(1.0, 3.0)
            marks.add("onset", onset, approximation=step.key)
            marks.add("offset", onset + 0.6)
        now = end + 0.5
    return now
