"""The numbers the rules of the judgement work with: settings of a plan, each with its reason."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any

from frequens.words.spoken import judgement_numbers as said

from ..reading.document_values import Reader, Reading, number, read_fields


@dataclass(frozen=True, slots=True)
class Judging:
    """Numbers of the rules; shares from 0 to 1, times in seconds unless the name says days."""

    memory_days: int = 14
    try_reps: int = 3
    try_share: float = 0.5
    sure_reps: int = 5
    sure_share: float = 0.8
    unease_signs: int = 3
    unease_opt_outs: int = 2
    opt_out_share: float = 0.2
    misses: int = 5
    low_reps: int = 10
    low_share: float = 0.4
    good_share: float = 0.8
    last_reps: int = 10
    cycle_s: float = 10.0
    two_signs: int = 2
    mild_signs: int = 4
    mild_per_min: float = 1.0
    missed: int = 3
    missed_share: float = 1 / 3
    unpaid: int = 2
    unpaid_share: float = 0.2
    hand: int = 3
    hand_share: float = 1 / 3
    lure_reps: int = 5
    lure_recent: int = 5
    cue: int = 3
    cue_share: float = 1 / 3
    windows: int = 5
    alarms: int = 2
    alarm_share: float = 0.2
    wrong: int = 2
    wrong_share: float = 0.2
    level_reps: int = 5
    level_last: int = 10
    level_share: float = 0.5
    pauses: int = 8
    pause_p: float = 0.05
    pause_rise_s: float = 1.0
    more_signs: int = 2
    stays: int = 5
    kept_share: float = 0.8
    plateau_reps: int = 30
    plateau_sessions: int = 3
    plateau_low: float = 0.5
    plateau_high: float = 0.8
    plateau_gain: float = 0.15
    over: float = 1.2
    easy_end: int = 3


@dataclass(frozen=True, slots=True)
class NumberOf:
    """One number: what it is about, its default and the reason, and which lines use it."""

    name: str
    words: str
    default: float
    why: str


#: Every number there is, in the order of the rules.
NUMBERS: tuple[NumberOf, ...] = tuple(
    NumberOf(name, words, float(getattr(Judging(), name)), why)
    for name, (words, why) in said.NUMBERS.items()
)
_SHARES = ("share", "plateau_low", "plateau_high", "plateau_gain", "pause_p")
#: Whole numbers are read as such; a day, a rep and a sign have no halves.
_WHOLE = frozenset(f.name for f in fields(Judging) if f.type == "int")


def read_judging(reading: Reading, path: str, value: Any) -> dict[str, float]:
    """Numbers by their names in `Judging`; those left out are not in it."""
    readers: dict[str, Reader] = {f.name: _reader(f.name) for f in fields(Judging)}
    read = read_fields(reading, path, value, readers)
    return {k: v for k, v in read.items() if v is not None}


def _reader(name: str) -> Reader:
    if name.endswith(_SHARES):
        return number(0, 1)
    if name == "memory_days":
        return number(0, 3650, whole=True)
    return number(0, 1000, whole=name in _WHOLE)
