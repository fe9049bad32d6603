"""From events to reps: which markers and which rewards belong to which attempt.

The rules and their order are those of `docs/measures.md`, sections 2 and 9.
"""

from __future__ import annotations

from collections.abc import Mapping

from ..model.bouts import TrainingClock, training_clock
from ..model.events import Approximation, Event, SessionRecord, ticks
from ..model.reps import Attempt, Reps
from ..model.uncued import Windows, windows_of
from .markers import link_markers, link_reaches
from .rewards import link_rewards, timing_use_of


def link_reps(record: SessionRecord) -> Reps:
    """Link a session's events into reps. Near-linear in the number of events."""
    clock = training_clock(record)
    windows = windows_of(record.ordered, clock)
    attempts = _open_attempts(record, clock, windows)
    uses = link_markers(record, clock, windows, attempts)
    unmarked = link_rewards(record, clock, attempts, uses)
    link_reaches(record, uses)
    reps = Reps(record, clock, windows, tuple(attempts), tuple(uses), unmarked)
    for attempt in attempts:
        own = reps.uses_of.get(attempt.onset.id, ())
        if len(own) == 1 and not attempt.direct:
            attempt.rewards = own[0].rewards
        elif own or attempt.direct:
            paid = [reward for use in own for reward in use.rewards]
            attempt.rewards = sorted([*paid, *attempt.direct], key=lambda r: r.best)
        attempt.timing_use = use = timing_use_of(attempt, own)
        attempt.timing_marker = use.marker if use else None
    return reps


def _open_attempts(record: SessionRecord, clock: TrainingClock, windows: Windows) -> list[Attempt]:
    attempts: list[Attempt] = []
    in_force: str | None = None
    current: Attempt | None = None
    steps = {step.key: step for step in record.plan.approximations}
    for event in record.ordered:
        if event.kind == "criterion":
            in_force = event.approximation
        elif event.kind in ("bout_end", "bout_start"):
            current = None
        elif event.kind == "onset":
            opened = _open_attempt(steps, clock, event, in_force, len(attempts))
            opened.false_alarm = windows.holding(event) is not None
            if current is not None and current.bout == opened.bout:
                current.following = event
            current = opened
            attempts.append(current)
        elif current is not None and clock.bout_of(event.best) == current.bout:
            _add(current, event)
    for attempt in attempts:
        attempt.target = _target_instant(attempt)
    return attempts


def _add(attempt: Attempt, event: Event) -> None:
    """What an attempt in progress takes of an event after its onset."""
    if event.kind == "offset" and attempt.offset is None:
        attempt.offset = event
    elif event.kind == "release" and attempt.release is None:
        attempt.release = event
    elif event.kind == "reset" and attempt.reset is None:
        attempt.reset = event
    elif event.kind == "part":
        attempt.parts.append(event)


def _open_attempt(
    steps: Mapping[str, Approximation],
    clock: TrainingClock,
    onset: Event,
    in_force: str | None,
    place: int,
) -> Attempt:
    key = onset.approximation if onset.approximation is not None else in_force
    step = steps.get(key) if key is not None else None
    return Attempt(
        place=place,
        onset=onset,
        bout=clock.bout_of(onset.best),
        approximation=key,
        mark_at=(step.mark_at if step else None) or "onset",
        step=step,
    )


def _target_instant(attempt: Attempt) -> int | None:
    if attempt.mark_at == "offset":
        return attempt.offset.best if attempt.offset else None
    if attempt.mark_at == "hold":
        return attempt.onset.best + ticks((attempt.step.hold_s if attempt.step else None) or 0.0)
    return attempt.onset.best
