"""The demo's second look: the same film as somebody else would have coded it."""

from __future__ import annotations

import random
import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from frequens.media.decode.frames import FrameIndex
from frequens.server.coding.edit_store import append_edits
from frequens.server.library.sessions import TrainingSession
from frequens.server.second_look.looks import ask, say_done

#: By kind, how many frames later the second reviewer marks in the middle, and the spread.
HABITS: Mapping[str, tuple[float, float]] = {
    "onset": (0.8, 1.1),
    "offset": (0.5, 1.5),
    "marker": (0.0, 0.3),
    "reach": (-0.5, 1.2),
    "reward": (0.6, 1.0),
}
#: How often something is overlooked, and how often a behaviour is judged otherwise.
OVERLOOKED, OTHERWISE = 0.05, 0.08


def look_again(
    session: TrainingSession,
    marks: Iterable[Mapping[str, Any]],
    index: FrameIndex,
    people: tuple[Any, Any],
    seed: int,
) -> None:
    """The first of the people asks the second, who codes these marks by habits of their own."""
    asking, reviewer = people
    look = ask(session, reviewer, asking)
    chance = random.Random(seed)
    edits = [
        (uuid.uuid4().hex, {"op": "put", "event": _as_seen_by_another(mark, index, chance)})
        for mark in marks
        if chance.random() >= OVERLOOKED
    ]
    append_edits(look.coding, edits, reviewer)
    for is_second in (True, False):
        say_done(look, is_second=is_second)


def _as_seen_by_another(
    mark: Mapping[str, Any], index: FrameIndex, chance: random.Random
) -> dict[str, Any]:
    middle, spread = HABITS.get(str(mark["kind"]), (0.0, 0.0))
    moved = round(mark["frame"] + chance.gauss(middle, spread))
    frame = min(max(moved, 0), len(index) - 1)
    seen = {**mark, "frame": frame, "pts": index.pts[frame]}
    if mark.get("met") is not None and chance.random() < OTHERWISE:
        seen["met"] = not mark["met"]
    return seen
