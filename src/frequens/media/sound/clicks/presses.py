"""When a clicker was pressed, where nothing but one clicker makes sounds like it: a drill."""

from __future__ import annotations

from collections.abc import Sequence

from .candidates import RELEASE_S, Candidates
from .ranking import Sound, rank

#: So large a share of the clicks has something before it at one distance, and so alike is that
#: distance from click to click: then what was heard best are the releases.
MOST_HAVE, ALIKE = 0.8, 0.3


def presses_in(candidates: Candidates) -> list[float]:
    """The presses, seconds, in their order: of a press and its release always the press.

    A release may be the louder one. By one click nobody could tell; by many, as it comes at the
    same distance each time.
    """
    found = rank(Sound(candidates))
    clicks = sorted(found.t_s[: found.usual].tolist())
    before = [_before(at, candidates.t_s.tolist()) for at in clicks]
    gaps = [gap for some in before for gap in some]
    paired = max(([_alike(some, gap) for some in before] for gap in gaps), key=_had, default=[])
    if not clicks or _had(paired) < MOST_HAVE * len(clicks):
        return clicks
    return [at - (gap or 0.0) for at, gap in zip(clicks, paired, strict=True)]


def _before(at: float, heard: Sequence[float]) -> list[float]:
    """How long before a click something else was heard, within a release's distance."""
    near, far = RELEASE_S
    return [at - one for one in heard if near <= at - one <= far]


def _alike(gaps: Sequence[float], wanted: float) -> float | None:
    best = min(gaps, key=lambda gap: abs(gap - wanted), default=None)
    return best if best is not None and abs(best / wanted - 1) <= ALIKE else None


def _had(gaps: Sequence[float | None]) -> int:
    return sum(gap is not None for gap in gaps)
