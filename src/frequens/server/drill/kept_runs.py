"""Kept drills as they are read: what was shown, what was pressed, and what it was worth."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from frequens.core.drill import Score, Shown, score
from frequens.core.reading.document_values import fault_at

from .models import DrillRun
from .schemas import DrillOut, PressedIn


def drill_of(run: DrillRun) -> DrillOut:
    """What was to do."""
    # Whatever is kept is checked here: what the fields say is not known before.
    kept: dict[str, Any] = {name: getattr(run, name) for name in ("source", "instant", "level")}
    return DrillOut(id=run.pk, seconds=run.seconds, session_id=run.session_id, **kept, **run.script)


def pressed_in(run: DrillRun) -> PressedIn:
    """What was measured in a finished drill."""
    return PressedIn.model_validate(run.measured)


def score_of(run: DrillRun) -> Score:
    """The score of a finished drill."""
    pressed = pressed_in(run)
    shown = {place: Shown(*values) for place, values in pressed.shown.items()}
    return score(drill_of(run).windows, shown, pressed.presses, pressed.picture_s)


def check_run(run: DrillRun) -> None:
    """Raises ValueError for one that no drill can have left."""
    try:
        drill_of(run)
        if run.measured is not None:
            score_of(run)
    except (ValidationError, TypeError) as fault:
        if isinstance(fault, ValidationError):
            first = fault.errors()[0]
            said = f"{'.'.join(map(str, first['loc']))}: {first['msg']}"
        else:
            said = str(fault)
        raise ValueError(f"a drill cannot be so: {said}") from fault
    if run.measured is not None and run.finished_at is None:
        raise ValueError(fault_at("finished_at", "missing"))
