"""What happens in a simulated session, second by second, and its truth as a session record.

Everything is invented: Thistle, a goat of Saltmarsh Steading, learns to ring a ship's bell.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from typing import Literal

from frequens.core import Approximation, Event, Plan, Recording, SessionFacts, SessionRecord
from frequens.core.events import MICROSECONDS

Step = Literal["look", "nose", "mouth"]
STEPS: tuple[Approximation, ...] = (
    Approximation("look", "Looks at the rope", "onset"),
    Approximation("nose", "Nose on the rope", "onset"),
    Approximation("mouth", "Mouth on the rope", "onset"),
)
#: Marker latency by step, mean and spread in seconds, and the share of reps that fit: the
#: harder the step is to see, the later the hand.
SKILL: dict[Step, tuple[float, float, float]] = {
    "look": (0.22, 0.08, 0.95),
    "nose": (0.30, 0.12, 0.85),
    "mouth": (0.46, 0.22, 0.65),
}
SHORTEST_S, LONGEST_S = 4.0, 600.0
EVENT_IDS = {"onset": "b", "offset": "e", "marker": "m", "reach": "h", "reward": "r"}


@dataclass(frozen=True, slots=True)
class Rep:
    """One attempt of the script; all instants in seconds of the recording, None: did not happen."""

    step: Step
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

    def truth(self, date: str | None = None) -> SessionRecord:
        """The script as a coded session: exact instants, width 0."""
        events: list[Event] = []
        for place, step in enumerate(STEPS):
            first = next((r for r in self.reps if r.step == step.key), None)
            if first is not None:
                at = 0.0 if place == 0 else max(0.0, first.onset - 1.0)
                events.append(Event(f"c{place + 1}", "criterion", _us(at), approximation=step.key))
        for number, rep in enumerate(self.reps, 1):
            events.extend(_events_of(rep, number))
        return SessionRecord(
            session=SessionFacts(date, "Thistle", "Ring the ship's bell", 0.0, self.length_s),
            recording=Recording(self.length_s),
            plan=Plan(STEPS, {"kind": "run", "need": 5, "miss": 3}, 6.0),
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


def script_session(length_s: float = 60.0, seed: int = 1, lateness_s: float = 0.0) -> Script:
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
        rep = _rep(chance, now, _step_at(now / length_s), lateness_s)
        end = max(rep.offset, rep.reward or 0.0)
        if end > length_s - 0.8:
            return Script(length_s, seed, tuple(reps))
        reps.append(rep)
        now = end + 1.6 + chance.expovariate(1 / 1.1)


def _step_at(share: float) -> Step:
    return "look" if share < 0.28 else "nose" if share < 0.62 else "mouth"


def _rep(chance: random.Random, onset: float, step: Step, lateness_s: float) -> Rep:
    mean, spread, fits = SKILL[step]
    held = 0.35 + 0.75 * chance.random()
    met = chance.random() < fits
    latency = max(-0.15, chance.gauss(mean + lateness_s, spread))
    if not met and chance.random() < 0.85:
        return Rep(step, onset, onset + held, met)
    marker = onset + latency
    hand_first = chance.random() < 0.1
    reach = marker - 0.2 if hand_first else marker + 0.15 + 0.25 * chance.random()
    reward = marker + 1.0 + 0.5 * chance.random() + chance.expovariate(1 / 0.35)
    return Rep(step, onset, onset + held, met, marker, reach, reward)
