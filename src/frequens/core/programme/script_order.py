"""What the next session's script is made of: its card, the variation grid and the plan."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from ..planning.next_session import MOST_REPS
from ..planning.shaping import step_in_use, steps_in_use
from .chaining import Chaining
from .grid import PEOPLE, PLACES, ConditionRow, Grid
from .script import NEW_SHARE, ScriptOrder, Sides

#: Conditions whose levels are sides, changed within a session.
SIDES = frozenset({"side"})
#: Where a plan says nothing, asked reps and paid waiting take turns (common practice).
WAIT_SHARE = 0.5


def script_order(card: Mapping[str, Any], grid: Grid, plan: Mapping[str, Any]) -> ScriptOrder:
    """The order of a script from a card's own values (`NextSession`, by name) and the grid.

    A new person or place begins `steps_back` below the card's step; never below the first.
    """
    steps = steps_in_use(plan)
    keys = [step["key"] for step in steps]
    criterion, warm_up = card["criterion"], card["warm_up"]
    back = grid.next.steps_back
    if back and criterion in keys:
        place = max(0, keys.index(criterion) - back)
        criterion, warm_up = keys[place], keys[max(0, place - 1)]
    sides = sides_of(grid)
    is_cued = _is_asked(plan, keys, criterion)
    step = step_in_use(plan, criterion) or {}
    return ScriptOrder(
        reps=max(1, min(MOST_REPS, card["reps"] or card["expected_reps"])),
        criterion=criterion,
        warm_up=warm_up,
        warm_up_reps=card["warm_up_reps"],
        levels=grid.next.levels,
        easier=_easier(grid, sides),
        new_share=plan.get("programme", {}).get("new_share", NEW_SHARE),
        part=_part_alone(card.get("chain"), criterion),
        sides=sides,
        cues=tuple(cue["label"] for cue in plan.get("cues", [])) if step.get("answers") else (),
        wait_share=plan.get("programme", {}).get("wait_share", WAIT_SHARE) if is_cued else 0.0,
        placement=plan.get("placement") or {},
        in_place=plan.get("after_marker") == "stay" and _is_held(step),
    )


def _part_alone(chain: Chaining | None, criterion: str | None) -> str | None:
    """The step of the part to train alone in the same session, where it is not the work itself."""
    if chain is None:
        return None
    wanted = chain.next.parts if chain.next.why == "part" else chain.next.beside
    steps = (part.step for part in chain.parts if part.key in wanted)
    return next((step for step in steps if step is not None and step != criterion), None)


def _easier(grid: Grid, sides: Sides | None) -> Mapping[str, str]:
    """Where to begin, to end, and to go back to in between.

    Nobody goes from yard to barn between two reps, or hands the animal over: in a new place and
    with another person all of the session is there, where the rest is easier already.
    """
    if grid.next.raised in PLACES | PEOPLE:
        return grid.next.levels
    easy = {} if sides is None else {sides.condition: sides.levels[0]}
    return {**grid.next.stands, **easy}


def sides_of(grid: Grid) -> Sides | None:
    """The sides to change between: those tried, the one that went best first; None below two.

    A side that is new is worked on as any new level is, and not in turns.
    """
    for row in grid.rows:
        if row.name not in SIDES or (grid.next.raised == row.name):
            continue
        tried = [one for one in row.levels if one.in_plan and one.cell.judged]
        if len(tried) >= 2:
            return _in_turns(row, [(one.level, one.cell.success.share or 0) for one in tried])
    return None


def _in_turns(row: ConditionRow, shares: Sequence[tuple[str, float]]) -> Sides:
    ordered = sorted(shares, key=lambda one: -one[1])
    last = ordered[-1][0]
    cell = next(one.cell for one in row.levels if one.level == last)
    return Sides(
        row.name,
        tuple(level for level, _ in ordered),
        weak=None if cell.state == "holds" else last,
    )


def _is_asked(plan: Mapping[str, Any], keys: Sequence[str], criterion: str | None) -> bool:
    """Whether the cue is given at this step: at that from which it is, or above."""
    first = plan.get("cue", {}).get("from_step")
    return first in keys and criterion in keys and keys.index(criterion) >= keys.index(first)


def _is_held(step: Mapping[str, Any]) -> bool:
    return bool(
        step.get("hold_s") or step.get("until_release") or "duration" in step.get("raises", [])
    )
