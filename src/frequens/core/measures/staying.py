"""Did it stay until the trainer let it go?"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ..model.events import seconds, uncertainty_of_difference
from ..model.reps import Attempt, Reps
from ..statistics.summaries import Share, Summary, summarise, wilson
from .pays import Pays, pays_per_rep

Stay = Literal["kept", "left_early"]


@dataclass(frozen=True, slots=True)
class Stays:
    """Stays of one step. `attempts` are those kept or left early, and those `open`: neither.

    `held_s` runs from the onset to the offset, without one to the letting go.
    """

    attempts: int
    kept: Share
    left_early: int
    open: int
    pays_per_rep: Summary
    held_s: Summary


def is_stay(attempt: Attempt) -> bool:
    """Whether staying was asked: the step is until released, or the trainer released it."""
    return attempt.is_until_release or attempt.release is not None


def stay_of(attempt: Attempt) -> Stay | None:
    """Kept until let go, left before, or neither; None for what is no stay as well."""
    if not is_stay(attempt):
        return None
    let_go, offset = attempt.let_go, attempt.offset
    if let_go is not None:
        left_by = 0.0 if offset is None else seconds(let_go.best - offset.best)
        if offset is None or left_by <= 2 * uncertainty_of_difference(let_go, offset):
            return "kept"
    return "left_early" if offset is not None else None


def stays(reps: Reps, pays: Pays) -> Mapping[str, Stays]:
    """Stays by step, the empty key for attempts without one."""
    groups: dict[str, list[Attempt]] = {}
    for attempt in reps.reps:
        if is_stay(attempt):
            groups.setdefault(attempt.approximation or "", []).append(attempt)
    return {key: _stays(pays, group) for key, group in groups.items()}


def _stays(pays: Pays, group: Sequence[Attempt]) -> Stays:
    outcomes = [stay_of(attempt) for attempt in group]
    kept, left = outcomes.count("kept"), outcomes.count("left_early")
    ends = [(a.onset, a.offset or a.let_go) for a in group]
    return Stays(
        attempts=len(group),
        kept=wilson(kept, kept + left),
        left_early=left,
        open=outcomes.count(None),
        pays_per_rep=pays_per_rep(pays, group),
        held_s=summarise(seconds(end.best - onset.best) for onset, end in ends if end is not None),
    )
