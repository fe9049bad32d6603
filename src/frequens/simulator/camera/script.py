"""What happens in a simulated session, second by second, and its truth as a session record.

Everything is invented; who does what stands in `roles`.
"""

from __future__ import annotations

import random
from dataclasses import dataclass

from frequens.core import Event, Plan, Recording, SessionFacts, SessionRecord
from frequens.core.model.events import MICROSECONDS

from ..animals import Animal
from .roles import ROLES, Role

SHORTEST_S, LONGEST_S = 4.0, 600.0
EVENT_IDS = {"onset": "b", "offset": "e", "marker": "m", "reach": "h", "reward": "r"}


@dataclass(frozen=True, slots=True)
class Rep:
    """One attempt of the script; all instants in seconds of the recording, None: did not happen."""

    step: str
    onset: float
    offset: float
    met: bool
    marker: float | None = None
    reach: float | None = None
    reward: float | None = None


@dataclass(frozen=True, slots=True)
class Script:
    """A whole scripted session of `length_s` seconds."""

    length_s: float
    seed: int
    reps: tuple[Rep, ...]
    animal: Animal = "goat"

    @property
    def role(self) -> Role:
        return ROLES[self.animal]

    def truth(self, date: str | None = None) -> SessionRecord:
        """The script as a coded session: exact instants, width 0."""
        events: list[Event] = []
        for place, step in enumerate(self.role.steps):
            first = next((r for r in self.reps if r.step == step.key), None)
            if first is not None:
                at = 0.0 if place == 0 else max(0.0, first.onset - 1.0)
                events.append(Event(f"c{place + 1}", "criterion", _us(at), approximation=step.key))
        for number, rep in enumerate(self.reps, 1):
            events.extend(_events_of(rep, number))
        return SessionRecord(
            session=SessionFacts(date, self.role.learner, self.role.behaviour, 0.0, self.length_s),
            recording=Recording(self.length_s),
            plan=Plan(self.role.steps, self.role.rule, 6.0),
            events=tuple(events),
        )


def _us(at: float) -> int:
    return round(at * MICROSECONDS)


def _events_of(rep: Rep, number: int) -> list[Event]:
    events = [
        Event(f"b{number}", "onset", _us(rep.onset), approximation=rep.step, met=rep.met),
        Event(f"e{number}", "offset", _us(rep.offset)),
    ]
    if rep.marker is not None:
        events.append(Event(f"m{number}", "marker", _us(rep.marker), marker="event"))
    if rep.reach is not None:
        events.append(Event(f"h{number}", "reach", _us(rep.reach)))
    if rep.reward is not None:
        events.append(Event(f"r{number}", "reward", _us(rep.reward)))
    return sorted(events, key=lambda e: e.t_us)


def script_session(
    length_s: float = 60.0, seed: int = 1, lateness_s: float = 0.0, animal: Animal = "goat"
) -> Script:
    """A session of `length_s` seconds, the same for the same seed.

    `lateness_s` is added to every marker latency: a trainer whose hand is slow. Raises
    ValueError for a length outside 4 to 600 s.
    """
    if not SHORTEST_S <= length_s <= LONGEST_S:
        raise ValueError(
            f"length must lie from {SHORTEST_S:g} to {LONGEST_S:g} s, not {length_s:g}"
        )
    chance = random.Random(seed)
    reps: list[Rep] = []
    now = 1.2 + chance.random()
    while True:
        rep = _rep(chance, now, ROLES[animal], now / length_s, lateness_s)
        end = max(rep.offset, rep.reward or 0.0)
        if end > length_s - 0.8:
            return Script(length_s, seed, tuple(reps), animal)
        reps.append(rep)
        now = end + 1.6 + chance.expovariate(1 / 1.1)


def _rep(chance: random.Random, onset: float, role: Role, share: float, lateness_s: float) -> Rep:
    approximation = role.step_at(share)
    step, hold_s = approximation.key, approximation.hold_s or 0.0
    skill = role.skills[step]
    held = 0.35 + 0.75 * chance.random()
    met = chance.random() < skill.fits
    if hold_s:
        # Long enough and a little, or down again before its time.
        held = hold_s + held if met else 0.7 * hold_s * held
    latency = max(-0.15, chance.gauss(skill.late_s + lateness_s, skill.spread_s))
    if not met and chance.random() < 0.85:
        return Rep(step, onset, onset + held, met)
    marker = onset + hold_s + latency
    hand_first = chance.random() < 0.1
    reach = marker - 0.2 if hand_first else marker + 0.15 + 0.25 * chance.random()
    reward = marker + 1.0 + 0.5 * chance.random() + chance.expovariate(1 / 0.35)
    return Rep(step, onset, onset + held, met, marker, reach, reward)
