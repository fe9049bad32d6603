"""What of a drill a press may answer: stretches of its time, each with its instant or without.

No two of them overlap. All times are seconds from the drill's beginning.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from .acts import SECOND, Act, Moved
from .levels import HOLD_S, Instant
from .scoring import AHEAD_S, LATE_S, On, Window


def windows_of(acts: Sequence[Act], instant: Instant, asked: Moved, both: bool) -> list[Window]:
    """The stretches of a drawn drill. `both`: a second thing has to hold at the same time."""
    found: list[Window] = []
    part_of_it: list[Act] = []
    for act in acts:
        if act.moved != asked or not act.whole:
            continue
        seconds = _seconds_during(act, acts) if both else []
        if both and not seconds:
            continue
        held = [act, *seconds]
        part_of_it += held
        stretch = Stretch(
            approach_s=min(one.approach_s for one in held),
            begins_s=max(one.begins_s for one in held),
            ends_s=min(one.ends_s for one in held),
            rests_s=max(one.rests_s for one in held),
        )
        found += stretch.windows(instant)
    for act in acts:
        if act not in part_of_it:
            on: On = "fake" if not act.whole else "one_of_two" if both else _ELSE[act.moved]
            found.append(Window(on, act.approach_s, None, act.rests_s))
    return without_overlap(found)


#: What something is that was not asked for.
_ELSE: dict[Moved, On] = {"look": "look", "touch": "other", "lift": "other"}


def _seconds_during(act: Act, acts: Sequence[Act]) -> list[Act]:
    return [
        one
        for one in acts
        if one.moved == SECOND[act.moved]
        and one.begins_s < act.ends_s
        and act.begins_s < one.ends_s
    ]


@dataclass(frozen=True, slots=True)
class Stretch:
    """One time the behaviour was there, with when it could be seen coming and was gone."""

    approach_s: float
    begins_s: float
    ends_s: float | None
    rests_s: float

    def windows(self, instant: Instant) -> list[Window]:
        """Its instant with what belongs to it, and what of it lies too long before."""
        due = self._due_s(instant)
        if due is None:
            return [Window("too_short", self.approach_s, None, self.rests_s)]
        opens = max(self.approach_s, due - AHEAD_S)
        since = self.begins_s if instant == "hold" else None
        made = [Window(instant, opens, due, due + LATE_S, since)]
        if opens > self.approach_s:
            made.insert(0, Window("not_yet", self.approach_s, None, opens))
        return made

    def _due_s(self, instant: Instant) -> float | None:
        if instant == "begins":
            return self.begins_s
        if instant == "ends":
            return self.ends_s
        held = self.begins_s + HOLD_S
        return held if self.ends_s is None or self.ends_s >= held else None


def without_overlap(windows: Iterable[Window]) -> list[Window]:
    """In their order; one that would reach into the next ends where that begins."""
    ordered = sorted(windows, key=lambda w: w.opens_s)
    kept: list[Window] = []
    for window in ordered:
        if kept and kept[-1].closes_s > window.opens_s:
            kept[-1] = replace(kept[-1], closes_s=window.opens_s)
        kept.append(window)
    return [w for w in kept if w.closes_s > (w.opens_s if w.due_s is None else w.due_s)]
