"""What a kept drill was worth."""

from __future__ import annotations

from frequens.core.drill import Score, Shown, score

from .models import DrillRun
from .scripts import windows_in


def score_of(run: DrillRun) -> Score:
    """The score of a finished drill."""
    measured = run.done
    shown = {int(place): Shown(*values) for place, values in measured["shown"].items()}
    return score(windows_in(run.script), shown, measured["presses"], measured["picture_s"])
