"""What a script's events make visible at an instant."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .script import Rep, Script

APPROACH_S, RETURN_S = 0.55, 0.7


@dataclass(frozen=True, slots=True)
class Pose:
    """What a scene looks like at one instant, all between 0 and 1; `sway` from -1 to 1.

    `lift` is how far the animal has come, `astray` that it comes for something else than was
    asked, `pull` how far the touched thing gives way.
    """

    lift: float = 0.0
    touch: float = 0.0
    astray: bool = False
    pull: float = 0.0
    press: bool = False
    hand: float = 0.0
    treat: bool = False
    chew: float = 0.0
    sway: float = 0.0


def ease(share: float) -> float:
    """Smooth start and stop between 0 and 1."""
    share = min(1.0, max(0.0, share))
    return share * share * (3 - 2 * share)


def pose_at(script: Script, t: float) -> Pose:
    """The pose at `t` seconds: what the script's events make visible at that instant."""
    lift = touch = pull = hand = chew = 0.0
    press = treat = astray = False
    for rep in script.reps:
        if not rep.onset - 2 < t < rep.offset + 6:
            continue
        astray = astray or (not rep.met and rep.onset - APPROACH_S < t < rep.offset + RETURN_S)
        lift = max(lift, _lift(rep, script.role.skills[rep.step].comes, t))
        if rep.onset <= t < rep.offset and script.role.skills[rep.step].touches:
            touch = 1.0
            pull = ease((t - rep.onset) / 0.3) if rep.step == script.role.pulls and rep.met else 0.0
        if rep.marker is not None:
            press = press or rep.marker <= t < rep.marker + 0.11
        if rep.reach is not None and rep.reward is not None:
            hand = max(hand, _hand(rep.reach, rep.reward, t))
            treat = treat or rep.reach <= t < rep.reward
            if rep.reward <= t < rep.reward + 1.1:
                chew = 0.5 + 0.5 * math.sin((t - rep.reward) * 21)
    sway = math.sin(t * 1.7) * 0.5 + math.sin(t * 0.9) * 0.5
    return Pose(lift, touch, astray, pull, press, hand, treat, chew, sway)


def _lift(rep: Rep, top: float, t: float) -> float:
    """How far it has come: most of the way before the onset, a visible jerk at it."""
    if t < rep.onset:
        return top * 0.8 * ease((t - rep.onset + APPROACH_S) / APPROACH_S)
    if t < rep.offset:
        return top
    return top * 0.86 * (1 - ease((t - rep.offset) / RETURN_S))


def _hand(reach: float, reward: float, t: float) -> float:
    if t < reach:
        return 0.0
    if t < reward:
        # A visible start on the very first frame, then smooth.
        return 0.06 + 0.94 * ease((t - reach) / (reward - reach))
    return 1 - ease((t - reward - 0.25) / 0.8)
