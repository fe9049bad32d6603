"""Where the reward went and what help was given: placement, prompts and the order of cues."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..linking.leading_up import Run, run_ups
from ..model.events import Event, seconds, ticks
from ..model.reps import Reps
from ..statistics.summaries import Share, Summary, summarise, wilson
from .pauses import Pause
from .responding import Presentation

#: Most help first (common practice: fade from food in the hand to the bare cue).
STRENGTH = ("physical", "food_lure", "target", "empty_hand", "gesture", "none")


@dataclass(frozen=True, slots=True)
class Placed:
    """Pieces at one placement: share of those with a placement, and what the plan wanted."""

    count: int
    of: int
    share: float | None
    low: float | None
    high: float | None
    target: float | None


@dataclass(frozen=True, slots=True)
class CueLead:
    """Summary of prompt minus cue in seconds; `overlapped` counts leads under the least."""

    summary: Summary
    overlapped: int


@dataclass(frozen=True, slots=True)
class Prompts:
    """Attempts by the strongest prompt before them; empty where no prompt is coded.

    `last_food_lure` is the number of the last rep with food in the hand, from 1.
    """

    attempts: Mapping[str, int]
    last_food_lure: int | None
    cue_lead: CueLead


@dataclass(frozen=True, slots=True)
class Followed:
    """What followed rewards at one placement: reps with a next attempt, seconds until it, and
    how many of those fitted."""

    next_n: int
    next_s: float | None
    next_met: Share


def follow_ups(
    reps: Reps, rest: Sequence[Pause], back: Mapping[str, float]
) -> Mapping[str, Followed]:
    """By the placement of each rep's last reward: the next attempt of the same bout.

    `rest` are the session's pauses, `back` complete returns in seconds by the onset that ended
    them; where there is none the pause counts.
    """
    pause = {p.next.onset.id: p for p in rest}
    groups: dict[str, list[tuple[float | None, bool | None]]] = {}
    for rep in reps.reps:
        place = rep.rewards[-1].placement if rep.rewards else None
        if place is None or rep.place + 1 == len(reps.attempts):
            continue
        following = reps.attempts[rep.place + 1]
        if following.bout != rep.bout:
            continue
        after = following.onset.id
        own = pause.get(after)
        waited = own.length_s if own is not None and own.rep is rep else None
        met = None if following.false_alarm else following.onset.met
        groups.setdefault(place, []).append((back.get(after, waited), met))
    return {place: _followed(found) for place, found in groups.items()}


def _followed(found: Sequence[tuple[float | None, bool | None]]) -> Followed:
    judged = [met for _, met in found if met is not None]
    lengths = [length for length, _ in found if length is not None]
    return Followed(len(found), summarise(lengths).median, wilson(sum(judged), len(judged)))


@dataclass(frozen=True, slots=True)
class Faded:
    """One rep's help and whether it fitted."""

    id: str
    help: str
    met: bool | None


@dataclass(frozen=True, slots=True)
class Fading:
    """Help over the reps: the longest run that fitted without any, the last that fitted with
    each, and cues that were answered with nothing beside them."""

    reps: tuple[Faded, ...]
    longest_run: int
    last_met: Mapping[str, str]
    cue_only: Share


def fading(
    reps: Reps, help_of: Mapping[str, str], presentations: Sequence[Presentation]
) -> Fading | None:
    """How help goes; None where neither a prompt nor a cue is coded."""
    prompts_at = [e.best for e in reps.record.of_kind("prompt")]
    if not prompts_at and not reps.record.of_kind("cue"):
        return None
    rows = tuple(Faded(a.onset.id, help_of[a.onset.id], a.onset.met) for a in reps.reps)
    longest = run = 0
    for row in rows:
        if row.met is None:
            continue
        run = run + 1 if row.met and row.help == "none" else 0
        longest = max(longest, run)

    def is_prompted(asked: Presentation) -> bool:
        since, until = asked.first.best, asked.first.best + asked.length
        return bisect_right(prompts_at, until) > bisect_left(prompts_at, since)

    bare = [p for p in presentations if not is_prompted(p)]
    return Fading(
        rows,
        longest,
        {row.help: row.id for row in rows if row.met},
        wilson(sum(p.answer == "hit" for p in bare), len(bare)),
    )


def placement(reps: Reps) -> Mapping[str, Placed]:
    """Pieces by placement against the plan's mix; rewards without a placement are left out."""
    pieces: Counter[str] = Counter()
    for event in reps.record.of_kind("reward"):
        if event.placement is not None:
            pieces[event.placement] += event.pieces
    target = reps.record.plan.placement or {}
    total = pieces.total()
    found: dict[str, Placed] = {}
    for place in sorted({*pieces, *target} if total else pieces):
        share = wilson(pieces[place], total)
        found[place] = Placed(
            share.count,
            share.of,
            share.share,
            share.low,
            share.high,
            target.get(place, 0.0) if target else None,
        )
    return found


def prompts(reps: Reps) -> Prompts:
    """Help before each attempt, since the marker before it."""
    if not _is_prompted(reps):
        return Prompts({}, None, _cue_lead(reps))
    strongest = strongest_help(reps)
    counts = Counter(strongest.values())
    lures = [a.place + 1 for a in reps.attempts if strongest[a.onset.id] == "food_lure"]
    return Prompts(
        {level: counts[level] for level in STRENGTH if counts[level]},
        max(lures, default=None),
        _cue_lead(reps),
    )


def strongest_help(reps: Reps) -> Mapping[str, str]:
    """The strongest help before each attempt, by its onset's id."""
    if not _is_prompted(reps):
        return {attempt.onset.id: "none" for attempt in reps.attempts}
    return {run.attempt.onset.id: _strongest(run) for run in run_ups(reps)}


def helped(reps: Reps, help_of: Mapping[str, str]) -> Share | None:
    """Attempts with some help among all; None where no prompt is coded."""
    if not _is_prompted(reps):
        return None
    given = [help_of[attempt.onset.id] for attempt in reps.attempts]
    return wilson(sum(level != "none" for level in given), len(given))


def _is_prompted(reps: Reps) -> bool:
    return bool(reps.record.of_kind("prompt"))


def _strongest(run: Run) -> str:
    levels = [p.level or "none" for p in run.prompts]
    return min(levels, key=STRENGTH.index, default="none")


def cue_lead_pairs(reps: Reps) -> list[tuple[Event, Event]]:
    """The first prompt and the last cue before each attempt that has both."""
    if not _is_prompted(reps):
        return []
    return [(r.prompts[0], r.cues[-1]) for r in run_ups(reps) if r.cues and r.prompts]


def _cue_lead(reps: Reps) -> CueLead:
    """A new cue comes first, by at least `cue_lead_min_s`; then the old signal."""
    least = ticks(reps.record.settings.cue_lead_min_s)
    leads = [prompt.best - cue.best for prompt, cue in cue_lead_pairs(reps)]
    return CueLead(summarise(map(seconds, leads)), sum(lead < least for lead in leads))
