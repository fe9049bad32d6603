"""Where a behaviour holds and what to vary next, from its sessions, its plan and its judgement."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from ..decisions.judging import Digest, Judgement
from ..planning.shaping import steps_in_use
from .asking import asks_of, weak_of
from .grid import FADES_DAYS, Grid, Tried, variation_grid


def variation_of(
    history: Sequence[Digest],
    judgement: Judgement | None,
    plan: Mapping[str, Any],
    today: dt.date,
    next_step: str | None = None,
) -> Grid:
    """The grid of a plan's conditions after the last of its sessions, in order of their days.

    Its rows are of the reps at the step worked last and the steps above it: what an easier step
    did in the barn says nothing of this one. What is next is for the judgement's next step, or
    for `next_step` where the trainer chose another one.
    """
    order = [step["key"] for step in steps_in_use(plan)]
    planned = [(c["name"], c.get("levels", [])) for c in plan.get("conditions", [])]
    fades = plan.get("programme", {}).get("fades_days", FADES_DAYS)
    worked = next((t.step for digest in reversed(history) for t in reversed(digest.trials)), None)
    if judgement is None:
        return variation_grid(planned, _tried(history, order, worked), today, fades)
    step = next_step or judgement.next_step
    asks, weak = asks_of(judgement), weak_of(judgement)
    found = variation_grid(planned, _tried(history, order, worked), today, fades, asks, weak)
    if step == worked:
        return found
    at_next = _tried(history, order, step)
    return replace(found, next=variation_grid(planned, at_next, today, fades, asks, weak).next)


def _tried(history: Sequence[Digest], order: Sequence[str], step: str | None) -> list[Tried]:
    wanted = set(order[order.index(step) :] if step in order else [step])
    return [
        Tried(dt.date.fromisoformat(d.date) if d.date else None, trial.conditions, trial.met)
        for d in history
        for trial in d.trials
        if trial.step in wanted
    ]
