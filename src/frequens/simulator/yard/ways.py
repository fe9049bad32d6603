"""Other ways of working, simulated: stays paid in place, chains, asking and not asking, touches.

Nothing here is a claim about animals.
"""

from __future__ import annotations

import random

from frequens.core.model.events import MICROSECONDS

from .world import Animal, Hand, Marks, Outing, Step


def paused(marks: Marks, animal: Animal, now: float, chance: random.Random) -> float:
    """A break of half a minute or so; it is less strained after it."""
    if not any(event.kind == "bout_start" for event in marks.events):
        marks.add("bout_start", 0.05)
    marks.add("bout_end", now + 0.6)
    again = now + chance.uniform(22, 40)
    marks.add("bout_start", again)
    animal.strain *= 0.5
    return again + 0.5


def stayed(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    conditions: dict[str, str],
    now: float,
    chance: random.Random,
) -> float:
    """Sent off, back on its place, paid there several times, and let go."""
    marks.add("reset", now + 0.3)
    back = now + 0.3 + animal.pause_s * (1 + animal.strain) * chance.uniform(0.8, 1.7)
    sure = animal.chance(step.key, conditions)
    wanted = 1 + min(4, int(5 * animal.knows(step.key)))
    fits = chance.random() < sure
    pays = wanted if fits else chance.randrange(wanted)
    more = {"conditions": conditions} if conditions else {}
    marks.add("onset", back, approximation=step.key, met=fits, **more)
    at = back
    for number in range(pays):
        hold = step.hold_s if number == 0 else step.hold_s * chance.uniform(0.6, 1.6)
        at += hold + max(0.05, chance.gauss(hand.late_s, hand.spread_s))
        marks.add("marker", at, marker="event" if number == 0 else "keep_going")
        food = at + hand.reward_s * chance.uniform(0.75, 1.2)
        marks.add("reward", food, placement=_place(outing, chance))
        at = food
    if not fits:
        # It is gone before it was let go.
        marks.add("offset", at + chance.uniform(0.3, 1.4))
        animal.strain = min(1.5, animal.strain + 0.08)
        return at + 1.6
    marks.add("release", at + 0.7)
    marks.add("offset", at + 1.1)
    animal.strain = max(0.0, animal.strain - 0.12)
    animal.learn(step.key, step.following)
    return at + 1.4


def chained(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    now: float,
    chance: random.Random,
) -> float:
    """From part to part, each as sure as it is known by itself; paid at the end."""
    onset = now + animal.pause_s * (1 + animal.strain) * chance.uniform(0.7, 1.4)
    reached = 1
    at, when = onset, []
    for part in step.parts[1:]:
        if chance.random() > animal.knows(part):
            break
        at += chance.uniform(0.9, 1.9)
        when.append((part, at))
        reached += 1
    whole = reached == len(step.parts)
    if chance.random() < 0.25 * (1 - animal.knows(step.key)):
        marks.add("prompt", onset - 0.4, level="gesture")
    marks.add("onset", onset, approximation=step.key, met=whole)
    for part, instant in when:
        marks.add("part", instant, part=part)
    over = at + chance.uniform(0.5, 1.0)
    if not whole:
        marks.add("offset", over)
        animal.strain = min(1.5, animal.strain + 0.05)
        return over + 0.5
    marks.add("offset", over)
    marker = over + max(0.02, chance.gauss(hand.late_s, hand.spread_s))
    marks.add("marker", marker, marker="event")
    reward = marker + hand.reward_s * chance.uniform(0.75, 1.3)
    marks.add("reward", reward, placement=_place(outing, chance))
    for part in step.parts:
        animal.learn(part, None)
    animal.learn(step.key, step.following)
    return reward + 0.5


def asked(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    now: float,
    chance: random.Random,
) -> float:
    """One of the cues, or none: then it is the waiting that is paid."""
    knows = animal.chance(step.key, {})
    if chance.random() < 0.35:
        return _waited(marks, animal, hand, outing, step, now, chance)
    cue = chance.choice(list(step.cues))
    said = now + chance.uniform(1.0, 2.0)
    marks.add("cue", said, label=cue)
    if chance.random() < 0.18 * (1.2 - knows):
        said += 1.6
        marks.add("cue", said, label=cue)
    if chance.random() > 0.5 + 0.5 * knows:
        return said + 10.4
    right = chance.random() < 0.3 + 0.7 * knows
    others = [behaviour for label, behaviour in step.cues.items() if label != cue]
    came = step.cues[cue] if right or not others else chance.choice(others)
    onset = said + chance.uniform(0.5, 1.6) * (1.6 - 0.6 * knows)
    marks.add("onset", onset, approximation=step.key, label=came, met=right)
    over = onset + chance.uniform(0.5, 0.9)
    marks.add("offset", over)
    if not right:
        return over + 0.8
    return _paid(marks, animal, hand, outing, step, onset, chance)


def _waited(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    now: float,
    chance: random.Random,
) -> float:
    start, length = now + 0.6, chance.uniform(4.0, 6.0)
    end = start + length
    marks.add("no_cue_window", start, end_us=round(end * MICROSECONDS))
    if chance.random() < 0.55 * (1.05 - animal.knows(step.key)):
        onset = start + chance.uniform(1.0, length - 1.5)
        came = chance.choice(list(step.cues.values()))
        marks.add("onset", onset, approximation=step.key, label=came)
        marks.add("offset", onset + 0.6)
        return end + 0.5
    marker = end - 0.3
    marks.add("marker", marker, marker="event")
    reward = marker + hand.reward_s * chance.uniform(0.75, 1.2)
    marks.add("reward", reward, placement=_place(outing, chance))
    animal.learn(step.key, step.following)
    return reward + 0.5


def _paid(
    marks: Marks,
    animal: Animal,
    hand: Hand,
    outing: Outing,
    step: Step,
    onset: float,
    chance: random.Random,
) -> float:
    marker = onset + max(0.05, chance.gauss(hand.late_s, hand.spread_s))
    marks.add("marker", marker, marker="event")
    reward = marker + hand.reward_s * chance.uniform(0.75, 1.3)
    marks.add("reward", reward, placement=_place(outing, chance))
    animal.learn(step.key, step.following)
    return reward + 0.5


def touched(
    marks: Marks, animal: Animal, hand: Hand, outing: Outing, now: float, chance: random.Random
) -> None:
    """Touch, then food, a few times at the end; a hasty hand has the food out first."""
    for label in outing.touches:
        for _ in range(3):
            start = now + chance.uniform(2.0, 3.5)
            end = start + chance.uniform(0.8, 1.8)
            is_first = chance.random() < 2 * hand.hand_first
            if is_first:
                marks.add("reach", start - 0.5)
            marks.add("exposure", start, label=label, end_us=round(end * MICROSECONDS))
            if animal.shows and chance.random() < 0.6 * animal.strain:
                marks.add("sign", end + 0.4, label=animal.shows[0], severity=1)
            if animal.strain > 0.9 and chance.random() < 0.3:
                marks.add("off_task_start", end + 1.0)
                marks.add("off_task_end", end + 6.0)
                now = end + 7.0
                continue
            marks.add("reward", end + hand.reward_s * chance.uniform(0.5, 1.0))
            now = end + hand.reward_s + 0.6


def _place(outing: Outing, chance: random.Random) -> str | None:
    places, weights = list(outing.placement), list(outing.placement.values())
    return chance.choices(places, weights)[0] if places else None
