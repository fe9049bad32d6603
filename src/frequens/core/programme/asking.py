"""How much the judgement lets the next session ask of the conditions, besides the step itself."""

from __future__ import annotations

from ..decisions.judging import Judgement
from .grid import Asks

#: Codes after which nothing new is asked for.
NOT_AT_EASE = frozenset({"distress", "unease", "ease_first"})


def asks_of(judgement: Judgement) -> Asks:
    """What may be varied after this judgement: one thing is raised at a time, and ease is first.

    While the step changes, its conditions stay where they hold; a step that is worked on takes no
    new level; one that is reliable, or the last, does.
    """
    codes = {judgement.why.code, *(one.code for one in judgement.beside)}
    if codes & NOT_AT_EASE or judgement.decision == "end":
        return "ease"
    if judgement.decision == "proof":
        return "more"
    return "steady" if judgement.decision in ("hold", "none") else "step"


def weak_of(judgement: Judgement) -> tuple[str, str] | None:
    """The condition and level at which the judgement found the step to lag; None without one."""
    if judgement.why.code != "uneven":
        return None
    numbers = judgement.why.numbers
    return str(numbers["condition"]), str(numbers["level"])
