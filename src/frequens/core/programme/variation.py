"""Where a behaviour holds and what to vary next, from its sessions, its plan and its judgement."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from ..decisions.judging import Digest, Judgement
from ..planning.shaping import steps_in_use
from .asking import asks_of, weak_of
from .grid import FADES_DAYS, PEOPLE, PLACES, Grid, Tried, variation_grid


@dataclass(frozen=True, slots=True)
class Held:
    """A session in short, with where it was held and who handled; empty where nobody said."""

    digest: Digest
    place: str = ""
    handler: str = ""


def variation_of(
    history: Sequence[Held],
    judgement: Judgement | None,
    plan: Mapping[str, Any],
    today: dt.date,
    next_step: str | None = None,
) -> Grid:
    """The grid of a plan's conditions after the last of its sessions, in order of their days.

    Its rows are of the reps at the step that was judged and the steps above it: what an easier
    step did in the barn says nothing of this one, and an easy end is not what was worked on. A
    planned place or person that no rep names is that of the session. What is next is for the
    judgement's next step, or for `next_step` where the trainer chose another one.
    """
    order = [step["key"] for step in steps_in_use(plan)]
    planned = [(c["name"], c.get("levels", [])) for c in plan.get("conditions", [])]
    fades = plan.get("programme", {}).get("fades_days", FADES_DAYS)
    names = [name for name, _ in planned]
    trials = [t for held in history for t in held.digest.trials]
    worked = judgement.step if judgement else None
    if worked is None and trials:
        worked = trials[-1].step
    if judgement is None:
        return variation_grid(planned, _tried(history, order, worked, names), today, fades)
    step = next_step or judgement.next_step
    asks, weak = asks_of(judgement), weak_of(judgement)
    found = variation_grid(planned, _tried(history, order, worked, names), today, fades, asks, weak)
    if step == worked:
        return found
    at_next = _tried(history, order, step, names)
    return replace(found, next=variation_grid(planned, at_next, today, fades, asks, weak).next)


def _tried(
    history: Sequence[Held], order: Sequence[str], step: str | None, names: Sequence[str]
) -> list[Tried]:
    wanted = set(order[order.index(step) :] if step in order else [step])
    return [
        Tried(
            dt.date.fromisoformat(held.digest.date) if held.digest.date else None,
            {**of_session(held, names), **trial.conditions},
            trial.met,
        )
        for held in history
        for trial in held.digest.trials
        if trial.step in wanted
    ]


def of_session(held: Held, names: Sequence[str]) -> dict[str, str]:
    """What holds for a whole session of these conditions: its place and its person."""
    said = dict.fromkeys(PLACES - {"surface"}, held.place) | dict.fromkeys(PEOPLE, held.handler)
    return {name: said[name] for name in names if said.get(name)}
