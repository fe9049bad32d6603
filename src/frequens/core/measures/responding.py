"""How soon the behaviour follows its cue, and does it stay away when it was not asked?"""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from scipy import special

from ..model.events import Event, seconds, ticks
from ..model.reps import Reps
from ..statistics.summaries import Share, Summary, Z, summarise, wilson

#: A product of shares that is one half may come out a rounding crumb above it.
HALF = 0.5 + 1e-12


@dataclass(frozen=True, slots=True)
class Survival:
    """Kaplan and Meier's estimate: the share not yet responded `after_s` seconds."""

    after_s: float
    share: float


@dataclass(frozen=True, slots=True)
class ResponseLatency:
    """First cue to onset, seconds. `n` presentations, of which `censored` had no onset in time.

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
    """Asked and not asked, and how well the cue tells them apart.

    `hit`, `wrong` and `miss` add up to the presentations, the next two to the windows. `d_prime`
    and `c` carry the log-linear correction; None without both kinds.
    """

    hit: int
    wrong: int
    miss: int
    false_alarm: int
    correct_rejection: int
    d_prime: float | None
    c: float | None


#: How a cue or an onset without a label is called, and no onset at all.
UNLABELLED, NO_ANSWER = "unlabelled", "none"


@dataclass(frozen=True, slots=True)
class Presentation:
    """A cue said once or several times, and what answered it.

    `length` is from its first cue to its answer, or to where nobody waits any more, in ticks.
    """

    first: Event
    last: Event
    said: int
    length: int
    onset: Event | None
    answer: Literal["hit", "wrong", "miss"]

    @property
    def label(self) -> str:
        """The cue's name."""
        return self.first.label or UNLABELLED

    @property
    def responded(self) -> bool:
        """Whether an onset answered it, the one asked for or another."""
        return self.onset is not None


def presentations(reps: Reps) -> list[Presentation]:
    """Every presentation in time order: cues of one label said close together are one."""
    runs = _runs_of_cues(reps)
    onsets = [a.onset for a in reps.attempts]
    at = [onset.best for onset in onsets]
    starts = [window.start for window in reps.windows.all]
    limit = ticks(reps.record.settings.response_limit_s)
    asked = {cue.label: cue.behaviour for cue in reps.record.plan.cues}
    found: list[Presentation] = []
    for place, run in enumerate(runs):
        first, last = run[0], run[-1]
        end = last.best + limit
        if reps.clock.bouts:
            end = min(end, reps.clock.bouts[reps.clock.bout_of(last.best)].end)
        # The next cue's and the next window's own instant belong to those.
        barred = [runs[place + 1][0].best] if place + 1 < len(runs) else []
        window = bisect_right(starts, last.best)
        barred += starts[window : window + 1]
        following = bisect_left(at, last.best)
        onset = onsets[following] if following < len(onsets) else None
        if onset is not None and onset.best <= end and all(onset.best < b for b in barred):
            wanted = asked.get(first.label or "")
            is_wrong = wanted is not None and onset.label is not None and onset.label != wanted
            length = onset.best - first.best
            answer: Literal["hit", "wrong"] = "wrong" if is_wrong else "hit"
            found.append(Presentation(first, last, len(run), length, onset, answer))
        else:
            length = max(0, min([end, *barred]) - first.best)
            found.append(Presentation(first, last, len(run), length, None, "miss"))
    return found


def _runs_of_cues(reps: Reps) -> list[list[Event]]:
    """Cues in time order, those of one presentation together; cues in a break are none."""
    if not reps.record.of_kind("cue"):
        return []
    repeat = ticks(reps.record.settings.cue_repeat_s)
    windows = {window.event.id for window in reps.windows.all}
    runs: list[list[Event]] = []
    is_open = False
    for event in reps.record.ordered:
        if event.kind == "cue" and not reps.clock.in_break(event.best):
            before = runs[-1][-1] if is_open else None
            if (
                before is not None
                and before.label == event.label
                and event.best - before.best <= repeat
            ):
                runs[-1].append(event)
            else:
                runs.append([event])
            is_open = True
        elif event.kind in ("onset", "bout_start", "bout_end", "cue") or event.id in windows:
            is_open = False
    return runs


@dataclass(frozen=True, slots=True)
class CueCounts:
    """One cue's presentations and their answers; `said` how often it was said in each."""

    presentations: int
    hits: int
    wrong: int
    misses: int
    said_once: int
    said: Summary


def cues(found: Sequence[Presentation]) -> Mapping[str, CueCounts]:
    """Presentations by the cue's label."""
    groups: dict[str, list[Presentation]] = {}
    for presentation in found:
        groups.setdefault(presentation.label, []).append(presentation)
    return {
        label: CueCounts(
            presentations=len(own),
            hits=sum(p.answer == "hit" for p in own),
            wrong=sum(p.answer == "wrong" for p in own),
            misses=sum(p.answer == "miss" for p in own),
            said_once=sum(p.said == 1 for p in own),
            said=summarise(p.said for p in own),
        )
        for label, own in groups.items()
    }


def confusion(found: Sequence[Presentation]) -> Mapping[str, Mapping[str, int]]:
    """What answered each cue, by the onset's label."""
    table: dict[str, Counter[str]] = {}
    for p in found:
        column = NO_ANSWER if p.onset is None else p.onset.label or UNLABELLED
        table.setdefault(p.label, Counter())[column] += 1
    return table


def asked_share(reps: Reps, found: Sequence[Presentation]) -> Share:
    """Presentations among all opportunities, asked or not."""
    return wilson(len(found), len(found) + len(reps.windows.all))


def response_pairs(found: Sequence[Presentation]) -> list[tuple[Event, Event]]:
    """The first cue of each answered presentation, and the onset that answered it."""
    return [(p.first, p.onset) for p in found if p.onset is not None]


def response_latency(found: Sequence[Presentation]) -> ResponseLatency:
    """Latencies of all presentations, those without an answer censored.

    Kaplan & Meier (1958), JASA 53:457-481; the median's interval from Greenwood's variance
    on the log-log scale (Brookmeyer & Crowley 1982, Biometrics 38:29-41).
    """
    steps = list(survival([(p.length, p.responded) for p in found]))
    responded = sum(p.responded for p in found)
    return ResponseLatency(
        n=len(found),
        responded=responded,
        censored=len(found) - responded,
        median=next((seconds(t) for t, share, _, _ in steps if share <= HALF), None),
        median_low=next((seconds(t) for t, _, low, _ in steps if low <= HALF), None),
        median_high=next((seconds(t) for t, _, _, high in steps if high <= HALF), None),
        curve=tuple(Survival(seconds(t), share) for t, share, _, _ in steps),
    )


def survival(lengths: Sequence[tuple[int, bool]]) -> Iterator[tuple[int, float, float, float]]:
    """After each length at which something ended by itself: the share left, and its 95 % interval.

    `lengths` in ticks, each with whether it ended by itself or was cut off.
    """
    at_risk, share, variance = len(lengths), 1.0, 0.0
    by_length: dict[int, list[bool]] = {}
    for length, ended in lengths:
        by_length.setdefault(length, []).append(ended)
    for length in sorted(by_length):
        here = by_length[length]
        ended_here = sum(here)
        if ended_here:
            share *= 1 - ended_here / at_risk
            if ended_here < at_risk:
                variance += ended_here / (at_risk * (at_risk - ended_here))
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


def stimulus_control(reps: Reps, found: Sequence[Presentation]) -> StimulusControl:
    """Hits, wrong answers and misses; false alarms and correct rejections in uncued windows.

    d' and c with the log-linear correction of Hautus (1995), Behavior Research Methods,
    Instruments, & Computers 27:46-51.
    """
    answers = Counter(p.answer for p in found)
    held = (reps.windows.holding(a.onset) for a in reps.attempts if a.false_alarm)
    alarms = len({window.event.id for window in held if window is not None})
    n = len(reps.windows.all)
    d_prime = c = None
    if found and n:
        hits = float(special.ndtri((answers["hit"] + 0.5) / (len(found) + 1)))
        false = float(special.ndtri((alarms + 0.5) / (n + 1)))
        d_prime, c = hits - false, -(hits + false) / 2
    return StimulusControl(
        answers["hit"], answers["wrong"], answers["miss"], alarms, n - alarms, d_prime, c
    )
