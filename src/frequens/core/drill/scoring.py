"""What presses in a drill were worth: how late, how even, on what that was not asked for."""

from __future__ import annotations

from collections import Counter
from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ..statistics.summaries import Share, Summary, summarise, wilson
from .levels import Instant

#: What a stretch of the drill is: one with an instant asked for, or with something else in it.
On = Literal[
    "begins",
    "hold",
    "ends",
    "fake",
    "look",
    "other",
    "one_of_two",
    "too_short",
    "not_yet",
    "nothing",
]

#: A press later than this after the instant answers nothing, one sooner than this before it is
#: no answer to it either, seconds.
LATE_S, AHEAD_S = 1.0, 0.5
#: Nobody answers to what they see sooner than this (common practice, as for false starts): a
#: press within it was under way before.
SOONEST_S = 0.1
#: Two pictures in a row were further apart than this, and than so many times the usual: what was
#: due then was not shown when it should have been, and is left out.
FALTERS_S, FALTERS_TIMES = 0.05, 1.75
#: Fewer lags than these say too little about somebody.
LEAST_LAGS = 6
#: An interquartile range over this is a normal spread's standard deviation.
_IQR_OF_NORMAL = 1.349
_LEAST_SD_S = 0.01


@dataclass(frozen=True, slots=True)
class Window:
    """A stretch from `opens_s` to `closes_s`; `due_s` is the instant asked for in it, if any.

    `since_s` is what the instant is counted from, where the picture shows nothing at it.
    """

    on: On
    opens_s: float
    due_s: float | None
    closes_s: float
    since_s: float | None = None


@dataclass(frozen=True, slots=True)
class Shown:
    """When the first picture with the instant in it came, and how long after the one before.

    Where the instant is counted from another, `at_s` is so long after that one was seen, and
    `gap_s` the longer of the two.
    """

    at_s: float
    gap_s: float


@dataclass(frozen=True, slots=True)
class Answer:
    """What became of one instant. `lag_s` is the press after the instant as shown, seconds.

    "caught": pressed in time; "early": pressed before it; "missed"; "faltered": the display was
    late itself, which counts for nothing.
    """

    on: Instant
    due_s: float
    what: Literal["caught", "early", "missed", "faltered"]
    press_s: float | None
    lag_s: float | None


@dataclass(frozen=True, slots=True)
class FalseMark:
    """A press that answers no instant: what there was instead ("twice": marked already)."""

    press_s: float
    on: On | Literal["twice"]


@dataclass(frozen=True, slots=True)
class LagSpread:
    """Lags of one kind: their summary, and the spread that one press far off does not move."""

    lag_s: Summary
    spread_s: float | None


@dataclass(frozen=True, slots=True)
class Score:
    """One drill. `foreseen` are caught marks sooner than anybody answers to what they see.

    `wrong` counts what the animal would have been told wrongly: false and early marks.
    """

    answers: tuple[Answer, ...]
    false_marks: tuple[FalseMark, ...]
    caught: Share
    early: int
    foreseen: int
    missed: int
    faltered: int
    wrong: int
    timing: LagSpread
    false_on: Mapping[On | Literal["twice"], int]


@dataclass(frozen=True, slots=True)
class Lag:
    """A usual lag and its spread, seconds, from so many marks."""

    lag_s: float
    sd_s: float
    marks: int


def score(
    windows: Sequence[Window],
    shown: Mapping[int, Shown],
    presses: Sequence[float],
    picture_s: float,
) -> Score:
    """Each press of a drill put to what it was on.

    `shown` is by the window's place; an instant that was never shown counts as faltered. The
    first press within a window answers its instant. What was shown late may be answered as late:
    such a press marks nothing wrong. Presses are seconds from the beginning, `picture_s` is the
    usual time from picture to picture, seconds.
    """
    falters_s = max(FALTERS_S, FALTERS_TIMES * picture_s)
    answers: dict[int, Answer] = {}
    false_marks: list[FalseMark] = []
    for press in sorted(presses):
        place = _place(windows, press)
        window = None if place is None else windows[place]
        if window is None or place is None or window.due_s is None:
            late = _shown_late(windows, shown, answers, press, falters_s)
            if late is None:
                false_marks.append(FalseMark(press, window.on if window else "nothing"))
            else:
                answers[late] = _answer(windows[late], shown[late], press, falters_s)
        elif place in answers:
            false_marks.append(FalseMark(press, "twice"))
        else:
            answers[place] = _answer(window, shown.get(place), press, falters_s)
    for place, window in enumerate(windows):
        if window.due_s is not None and place not in answers:
            answers[place] = _answer(window, shown.get(place), None, falters_s)
    return _score([answers[place] for place in sorted(answers)], false_marks)


def _shown_late(
    windows: Sequence[Window],
    shown: Mapping[int, Shown],
    answered: Container[int],
    press: float,
    falters_s: float,
) -> int | None:
    """An instant that faltered, first seen so shortly before the press and not answered yet."""
    for place, seen in shown.items():
        window = windows[place]
        is_late = window.due_s is not None and seen.gap_s > falters_s and place not in answered
        if is_late and window.closes_s < press <= seen.at_s + LATE_S:
            return place
    return None


def _place(windows: Sequence[Window], press: float) -> int | None:
    for place, window in enumerate(windows):
        if window.opens_s <= press <= window.closes_s:
            return place
    return None


def _answer(window: Window, shown: Shown | None, press: float | None, falters_s: float) -> Answer:
    on, due = window.on, window.due_s
    assert due is not None
    assert on == "begins" or on == "hold" or on == "ends"
    if shown is None or shown.gap_s > falters_s:
        return Answer(on, due, "faltered", press, None)
    if press is None:
        return Answer(on, due, "missed", None, None)
    lag = press - shown.at_s
    return Answer(on, due, "caught" if lag >= 0 else "early", press, lag)


def _score(answers: Sequence[Answer], false_marks: Sequence[FalseMark]) -> Score:
    what = Counter(answer.what for answer in answers)
    lags = [a.lag_s for a in answers if a.lag_s is not None]
    counted = len(answers) - what["faltered"]
    return Score(
        answers=tuple(answers),
        false_marks=tuple(false_marks),
        caught=wilson(what["caught"], counted),
        early=what["early"],
        foreseen=sum(0 <= lag < SOONEST_S for lag in lags),
        missed=what["missed"],
        faltered=what["faltered"],
        wrong=what["early"] + len(false_marks),
        timing=spread_of(lags),
        false_on=dict(Counter(mark.on for mark in false_marks)),
    )


def spread_of(lags_s: Sequence[float]) -> LagSpread:
    """Lags summed up. Early ones belong to them: without them a quick hand would seem slow."""
    found = summarise(lags_s)
    if found.n < LEAST_LAGS or found.q1 is None or found.q3 is None:
        return LagSpread(found, None)
    return LagSpread(found, max(_LEAST_SD_S, (found.q3 - found.q1) / _IQR_OF_NORMAL))


def usual_lag(lags_s: Sequence[float]) -> Lag | None:
    """What to take off somebody's taps: the median, and the spread. None for fewer than six."""
    found = spread_of(lags_s)
    if found.spread_s is None or found.lag_s.median is None:
        return None
    return Lag(max(0.0, found.lag_s.median), found.spread_s, found.lag_s.n)
