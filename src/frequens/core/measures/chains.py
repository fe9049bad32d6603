"""Chains of parts: how far each attempt came, and at which part chains break."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..model.events import Event, Part, seconds, uncertainty_of_difference
from ..model.reps import Attempt, Reps
from ..statistics.summaries import Share, wilson

#: A part is called weak from so many tries on, and below this share.
LEAST_TRIES, STRONG = 5, 0.9


@dataclass(frozen=True, slots=True)
class Reached:
    """One part of an attempt that was reached, with a prompt since the part before or without."""

    part: Part
    event: Event
    is_helped: bool


@dataclass(frozen=True, slots=True)
class Course:
    """How far one attempt at a chain came."""

    attempt: Attempt
    reached: tuple[Reached, ...]
    broke_at: str | None
    out_of_order: int


@dataclass(frozen=True, slots=True)
class PartCounts:
    """One part: reached among those that reached the one before, and the middle gap before it."""

    key: str
    reached: Share
    gap_s: float | None
    helped: int


@dataclass(frozen=True, slots=True)
class Chain:
    """A step that is a chain. `weakest` is where it breaks most; None where that is not known."""

    attempts: int
    completed: Share
    parts: tuple[PartCounts, ...]
    out_of_order: int
    weakest: str | None


def courses(reps: Reps, help_of: Mapping[str, str]) -> Mapping[str, Course]:
    """Each attempt at a chain by its onset's id; `help_of` is each rep's help before it began."""
    prompts = reps.record.of_kind("prompt")
    at = np.array([e.best for e in prompts])
    return {
        attempt.onset.id: _course(attempt, at, help_of[attempt.onset.id])
        for attempt in reps.reps
        if attempt.step is not None and attempt.step.parts
    }


def _course(attempt: Attempt, prompts_at: np.ndarray, help_before: str) -> Course:
    parts = attempt.step.parts if attempt.step is not None else ()
    reached = [Reached(parts[0], attempt.onset, help_before != "none")]
    out_of_order = 0
    for event in attempt.parts:
        expected = parts[len(reached)] if len(reached) < len(parts) else None
        if expected is None or event.part != expected.key or _is_after_end(event, attempt):
            out_of_order += 1
            continue
        since, until = reached[-1].event.best, event.best
        low = np.searchsorted(prompts_at, since, side="right")
        is_helped = bool(np.searchsorted(prompts_at, until, side="right") > low)
        reached.append(Reached(expected, event, is_helped))
    broke_at = parts[len(reached)].key if len(reached) < len(parts) else None
    return Course(attempt, tuple(reached), broke_at, out_of_order)


def _is_after_end(part: Event, attempt: Attempt) -> bool:
    end = attempt.coded_end
    if end is None:
        return False
    return seconds(part.best - end.best) > 2 * uncertainty_of_difference(part, end)


def chains(found: Mapping[str, Course]) -> Mapping[str, Chain]:
    """Chains by step."""
    groups: dict[str, list[Course]] = {}
    for course in found.values():
        groups.setdefault(course.attempt.approximation or "", []).append(course)
    return {key: _chain(group) for key, group in groups.items()}


def _chain(group: Sequence[Course]) -> Chain:
    step = group[0].attempt.step
    parts = step.parts if step is not None else ()
    counts: list[PartCounts] = []
    for place, part in enumerate(parts):
        before = sum(len(c.reached) >= place for c in group) if place else len(group)
        own = [c.reached[place] for c in group if len(c.reached) > place]
        gaps = [
            seconds(c.reached[place].event.best - c.reached[place - 1].event.best)
            for c in group
            if place and len(c.reached) > place
        ]
        counts.append(
            PartCounts(
                part.key,
                wilson(len(own), before),
                float(np.median(gaps)) if gaps else None,
                sum(r.is_helped for r in own),
            )
        )
    return Chain(
        attempts=len(group),
        completed=wilson(sum(c.broke_at is None for c in group), len(group)),
        parts=tuple(counts),
        out_of_order=sum(c.out_of_order for c in group),
        weakest=_weakest(counts),
    )


def _weakest(counts: Sequence[PartCounts]) -> str | None:
    tried = [c for c in counts[1:] if c.reached.of >= LEAST_TRIES]
    if not tried:
        return None
    weakest = min(tried, key=lambda c: c.reached.share if c.reached.share is not None else 1.0)
    share = weakest.reached.share
    return weakest.key if share is not None and share < STRONG else None
