"""Where the reward went and what help was given: placement, prompts and the order of cues."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from .events import Event, seconds, ticks
from .reps import Reps
from .summaries import Summary, summarise, wilson
from .windows import Run, runs_up

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


def placement(reps: Reps) -> Mapping[str, Placed]:
    """Pieces by placement against the plan's mix; rewards without a placement are left out."""
    pieces: Counter[str] = Counter()
    for event in reps.record.ordered:
        if event.kind == "reward" and event.placement is not None:
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
    """The strongest help before each attempt, by its onset's id; empty without any prompt."""
    if not _is_prompted(reps):
        return {}
    return {run.attempt.onset.id: _strongest(run) for run in runs_up(reps)}


def _is_prompted(reps: Reps) -> bool:
    return any(event.kind == "prompt" for event in reps.record.ordered)


def _strongest(run: Run) -> str:
    levels = [p.level or "none" for p in run.prompts]
    return min(levels, key=STRENGTH.index, default="none")


def cue_lead_pairs(reps: Reps) -> list[tuple[Event, Event]]:
    """The first prompt and the last cue before each attempt that has both."""
    if not _is_prompted(reps):
        return []
    return [(r.prompts[0], r.cues[-1]) for r in runs_up(reps) if r.cues and r.prompts]


def _cue_lead(reps: Reps) -> CueLead:
    """A new cue comes first, by at least `cue_lead_min_s`; then the old signal."""
    least = ticks(reps.record.settings.cue_lead_min_s)
    leads = [prompt.best - cue.best for prompt, cue in cue_lead_pairs(reps)]
    return CueLead(summarise(map(seconds, leads)), sum(lead < least for lead in leads))
