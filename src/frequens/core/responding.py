"""How soon the behaviour follows its cue, and does it stay away when it was not asked?"""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from scipy import special

from .events import Event, seconds, ticks
from .reps import Reps
from .summaries import Z

#: A product of shares that is one half may come out a rounding crumb above it.
HALF = 0.5 + 1e-12


@dataclass(frozen=True, slots=True)
class Survival:
    """Kaplan and Meier's estimate: the share not yet responded `after_s` seconds."""

    after_s: float
    share: float


@dataclass(frozen=True, slots=True)
class ResponseLatency:
    """Cue to onset, seconds. `n` cues, of which `censored` had no onset in time.

    `median` is None where more than half had not responded by the last instant looked at;
    its 95 % interval likewise on either side.
    """

    n: int
    responded: int
    censored: int
    median: float | None
    median_low: float | None
    median_high: float | None
    curve: tuple[Survival, ...]


@dataclass(frozen=True, slots=True)
class StimulusControl:
    """Cued and uncued opportunities, and how well the cue tells them apart.

    `d_prime` and `c` carry the log-linear correction; None without both kinds.
    """

    hit: int
    miss: int
    false_alarm: int
    correct_rejection: int
    d_prime: float | None
    c: float | None


@dataclass(frozen=True, slots=True)
class _Answer:
    """How long after a cue its onset came, or until when nobody had answered; ticks."""

    cue: Event
    length: int
    onset: Event | None

    @property
    def responded(self) -> bool:
        return self.onset is not None


def _answers(reps: Reps) -> list[_Answer]:
    """One answer a cue: the first onset before the next cue, the bout's end and the limit."""
    limit = ticks(reps.record.settings.response_limit_s)
    onsets = [a.onset.best for a in reps.attempts]
    cues = [e for e in reps.record.ordered if e.kind == "cue"]
    answers: list[_Answer] = []
    for place, cue in enumerate(cues):
        ends = [cue.best + limit]
        if place + 1 < len(cues):
            ends.append(cues[place + 1].best)
        if reps.clock.bouts:
            ends.append(max(cue.best, reps.clock.bouts[reps.clock.bout_of(cue.best)].end))
        end = min(ends)
        following = bisect_left(onsets, cue.best)
        onset = onsets[following] if following < len(onsets) else None
        # The next cue's own instant belongs to that cue; the other two ends still count.
        is_before_next = onset is not None and (
            place + 1 == len(cues) or onset < cues[place + 1].best
        )
        if onset is not None and onset <= end and is_before_next:
            answers.append(_Answer(cue, onset - cue.best, reps.attempts[following].onset))
        else:
            answers.append(_Answer(cue, end - cue.best, None))
    return answers


def response_pairs(reps: Reps) -> list[tuple[Event, Event]]:
    """Each answered cue and the onset that answered it."""
    return [(a.cue, a.onset) for a in _answers(reps) if a.onset is not None]


def response_latency(reps: Reps) -> ResponseLatency:
    """Latencies of all cues, those without an answer censored.

    Kaplan & Meier (1958), JASA 53:457-481; the median's interval from Greenwood's variance
    on the log-log scale (Brookmeyer & Crowley 1982, Biometrics 38:29-41).
    """
    answers = _answers(reps)
    responded = sum(a.responded for a in answers)
    steps = list(_survival(answers))
    curve = tuple(Survival(seconds(t), share) for t, share, _, _ in steps)
    return ResponseLatency(
        n=len(answers),
        responded=responded,
        censored=len(answers) - responded,
        median=next((seconds(t) for t, share, _, _ in steps if share <= HALF), None),
        median_low=next((seconds(t) for t, _, low, _ in steps if low <= HALF), None),
        median_high=next((seconds(t) for t, _, _, high in steps if high <= HALF), None),
        curve=curve,
    )


def _survival(answers: Sequence[_Answer]) -> Iterator[tuple[int, float, float, float]]:
    """After each time at which a cue was answered: the share left, and its 95 % interval."""
    at_risk, share, variance = len(answers), 1.0, 0.0
    by_length: dict[int, list[_Answer]] = {}
    for answer in answers:
        by_length.setdefault(answer.length, []).append(answer)
    for length in sorted(by_length):
        here = by_length[length]
        answered = sum(a.responded for a in here)
        if answered:
            share *= 1 - answered / at_risk
            if answered < at_risk:
                variance += answered / (at_risk * (at_risk - answered))
            low, high = _log_log_interval(share, variance)
            yield length, share, low, high
        at_risk -= len(here)


def _log_log_interval(share: float, variance: float) -> tuple[float, float]:
    if not 0 < share < 1:
        # Nobody is left: the variance is no longer defined, nor any interval.
        return math.nan, math.nan
    centre = math.log(-math.log(share))
    half = Z * math.sqrt(variance) / abs(math.log(share))
    return math.exp(-math.exp(centre + half)), math.exp(-math.exp(centre - half))


def stimulus_control(reps: Reps) -> StimulusControl:
    """Hits and misses after cues, false alarms and correct rejections in uncued windows.

    d' and c with the log-linear correction of Hautus (1995), Behavior Research Methods,
    Instruments, & Computers 27:46-51.
    """
    answers = _answers(reps)
    hit = sum(a.responded for a in answers)
    onsets = [a.onset.best for a in reps.attempts]
    windows = [e for e in reps.record.ordered if e.kind == "no_cue_window"]
    alarms = sum(_has_onset(onsets, window) for window in windows)
    d_prime = c = None
    if answers and windows:
        hits = float(special.ndtri((hit + 0.5) / (len(answers) + 1)))
        false = float(special.ndtri((alarms + 0.5) / (len(windows) + 1)))
        d_prime, c = hits - false, -(hits + false) / 2
    return StimulusControl(hit, len(answers) - hit, alarms, len(windows) - alarms, d_prime, c)


def _has_onset(onsets: Sequence[int], window: Event) -> bool:
    end = 2 * (window.end_us if window.end_us is not None else window.t_us)
    return bisect_right(onsets, end) > bisect_left(onsets, window.best)
