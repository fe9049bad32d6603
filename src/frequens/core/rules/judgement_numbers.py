"""The numbers the rules of the judgement work with: settings of a plan, each with its reason."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any

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


_WORDS: dict[str, tuple[str, str]] = {
    "memory_days": (
        "days a session is remembered",
        "What was sure three weeks ago is not sure today.",
    ),
    "try_reps": ("judged reps at the step above that are a try", "One or two are an accident."),
    "try_share": ("a try failed below this share", "Less than half means that it was not ready."),
    "sure_reps": ("judged reps after which the step above was done", "Fewer are luck."),
    "sure_share": ("it was done from this share on", "Four of five is what most call sure."),
    "unease_signs": (
        "marked signs that are unease",
        "Three times it said the same: it is no accident any more.",
    ),
    "unease_opt_outs": ("times it left that are unease", "Once may be a fly; twice is an answer."),
    "opt_out_share": (
        "and at least this share of its attempts",
        "In a long session two are few, in a short one many.",
    ),
    "misses": ("misses in a row that go down, whatever the school", "Five failures teach failing."),
    "low_reps": ("of the last reps", "Ten tell a poor stretch from a poor moment."),
    "low_share": ("below this share it goes down", "Less than four of ten is mostly failing."),
    "good_share": ("success that is enough", "With four of five the step is not too hard."),
    "last_reps": ("looking at the last reps", "What came last counts most."),
    "cycle_s": (
        "seconds one rep takes beside hold and way",
        "Marker, reward and coming back take about ten seconds: six a minute.",
    ),
    "two_signs": ("marked signs that keep the step", "Two are a question; ease comes first."),
    "mild_signs": ("slight signs that keep the step", "Each by itself is little; four are not."),
    "mild_per_min": ("and at least so many a minute", "In a long session four may be far apart."),
    "missed": ("missed markers that are mended first", "Three are no slip any more."),
    "missed_share": ("and at least this share", "A third of wrong clicks teaches something else."),
    "unpaid": ("unpaid markers that are mended first", "Each marker is a promise."),
    "unpaid_share": ("and at least this share", "One of five broken, and it stops believing."),
    "hand": ("reps with the hand first that are mended first", "It begins to watch the hand."),
    "hand_share": ("and at least this share", "Then the hand is the cue."),
    "lure_reps": ("reps with food in the hand, at most", "Beyond a handful the food is the cue."),
    "lure_recent": ("and one of the last reps", "A lure that is gone is no fault."),
    "cue": ("cues at fault that are mended first", "Three are a habit."),
    "cue_share": ("and at least this share", "A third is enough to learn the wrong thing."),
    "windows": ("waits it takes to know of waiting", "Fewer say nothing of what it does unasked."),
    "alarms": ("times unasked that are too many", "Once is once."),
    "alarm_share": ("and more than this share", "One of five is more than a slip."),
    "wrong": ("wrong answers that are too many", "Once is once."),
    "wrong_share": ("and more than this share", "One of five is more than a slip."),
    "level_reps": ("judged reps that tell of a condition", "Fewer may be chance."),
    "level_last": ("looking at the last reps with it", "What came last counts most."),
    "level_share": ("weak below this share", "It fails there more often than not."),
    "pauses": ("pauses it takes to see a trend", "Fewer rise and fall by chance."),
    "pause_p": ("chance that is small enough", "One in twenty."),
    "pause_rise_s": ("and slower by at least", "Less than a second nobody notices."),
    "more_signs": ("more signs at the end than at first", "One more is chance."),
    "stays": ("looking at the last stays", "What came last counts most."),
    "kept_share": ("stays until let go that are enough", "Four of five is what most call sure."),
    "plateau_reps": ("reps without getting further", "Thirty are enough to have learnt it."),
    "plateau_sessions": ("over sessions", "A poor day is no plateau."),
    "plateau_low": ("from this share", "Below, it is too hard."),
    "plateau_high": ("up to this share", "Above, it is nearly there."),
    "plateau_gain": ("growing by less than", "What grows needs no other step."),
    "over": ("times the limit that is too long", "A fifth over is no rounding any more."),
    "easy_end": ("easy reps at the end that count for nothing", "Ending well is no step down."),
}

#: Every number there is, in the order of the rules.
NUMBERS: tuple[NumberOf, ...] = tuple(
    NumberOf(name, words, float(getattr(Judging(), name)), why)
    for name, (words, why) in _WORDS.items()
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
