"""A script and the session that was filmed under it, side by side: what was skipped or swapped."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ..statistics.summaries import BEYOND_CHANCE, Difference, Share, fisher_p, newcombe, wilson
from .script import ScriptLine

#: What a difference costs where script and session are laid side by side. A rep that was done
#: another way costs less than one left out and another put in its place.
ANOTHER_LEVEL, ANOTHER_STEP, ANOTHER_SORT, LEFT_OUT = 0.5, 1.0, 1.7, 0.9

Kept = Literal["as_planned", "swapped", "skipped", "extra", "repeated"]
Differs = Literal["step", "levels", "cue", "sort"]


@dataclass(frozen=True, slots=True)
class Done:
    """A rep or a wait as it was coded: its mark's id, and whether it fitted (None: not judged)."""

    id: str
    sort: Literal["rep", "wait"]
    step: str | None
    levels: Mapping[str, str]
    cue: str | None
    met: bool | None


@dataclass(frozen=True, slots=True)
class FollowedLine:
    """One line of both: the script's by its place among all its lines, the session's by its id.

    `differs` says in what a swapped one differs.
    """

    kept: Kept
    planned: int | None
    done: str | None
    met: bool | None
    differs: tuple[Differs, ...]


@dataclass(frozen=True, slots=True)
class Followed:
    """Script and session side by side, and whether it mattered.

    `as_planned` and `otherwise` are the shares of judged reps that fitted, done as the script said
    and not; `difference` the first minus the second, with 95 % intervals (Wilson; Newcombe).
    `better` is the way that went better beyond chance, by Fisher's exact test (`p`), which unlike
    the interval holds for a handful of reps; None where that cannot be told.
    """

    lines: tuple[FollowedLine, ...]
    as_planned: Share
    otherwise: Share
    difference: Difference
    p: float | None
    better: Literal["as_planned", "otherwise"] | None


def followed(script: Sequence[ScriptLine], session: Sequence[Done]) -> Followed:
    """Lay a session's reps and waits, in order of time, beside the lines of its script.

    The alignment is the one of least cost (Needleman and Wunsch 1970, Journal of Molecular Biology
    48:443-453); of several the one that keeps to the script for longest. Breaks are left out.
    Levels and cues of a session count only where the script names them and somebody coded them.
    """
    planned = [(place, line) for place, line in enumerate(script) if line.sort != "break"]
    pairs = _aligned([line for _, line in planned], session)
    lines: list[FollowedLine] = []
    last: ScriptLine | None = None
    for mine, theirs in pairs:
        place, line = (None, None) if mine is None else planned[mine]
        done = None if theirs is None else session[theirs]
        lines.append(_line(place, line, done, last))
        last = line or last
    kept = [line.met for line in lines if line.kept == "as_planned" and line.met is not None]
    other = [line.met for line in lines if line.kept != "as_planned" and line.met is not None]
    one, two = wilson(sum(kept), len(kept)), wilson(sum(other), len(other))
    p = fisher_p(one, two) if one.of and two.of else None
    better: Literal["as_planned", "otherwise"] | None = None
    if p is not None and p <= BEYOND_CHANCE:
        better = "as_planned" if (one.share or 0) > (two.share or 0) else "otherwise"
    return Followed(tuple(lines), one, two, newcombe(one, two), p, better)


def _line(
    place: int | None, line: ScriptLine | None, done: Done | None, last: ScriptLine | None
) -> FollowedLine:
    if done is None:
        return FollowedLine("skipped", place, None, None, ())
    if line is None:
        is_again = last is not None and not differing(last, done)
        return FollowedLine("repeated" if is_again else "extra", None, done.id, done.met, ())
    differs = differing(line, done)
    return FollowedLine("swapped" if differs else "as_planned", place, done.id, done.met, differs)


def differing(line: ScriptLine, done: Done) -> tuple[Differs, ...]:
    """In what a coded rep is not the script's; what nobody coded differs in nothing."""
    if line.sort != done.sort:
        return ("sort",)
    if line.sort == "wait":
        return ()
    found: list[Differs] = []
    if line.step != done.step:
        found.append("step")
    if any(done.levels.get(name, level) != level for name, level in line.levels.items()):
        found.append("levels")
    if line.cue is not None and done.cue is not None and line.cue != done.cue:
        found.append("cue")
    return tuple(found)


def _cost(line: ScriptLine, done: Done) -> float:
    differs = differing(line, done)
    if "sort" in differs:
        return ANOTHER_SORT
    return ANOTHER_STEP * ("step" in differs) + ANOTHER_LEVEL * (
        ("levels" in differs) + ("cue" in differs)
    )


def _aligned(
    planned: Sequence[ScriptLine], session: Sequence[Done]
) -> list[tuple[int | None, int | None]]:
    """Pairs of places in both, in order; None where one has nothing there."""
    rows, columns = len(planned), len(session)
    # What is left from each place on costs at least so much; so the walk goes forward.
    least = [[0.0] * (columns + 1) for _ in range(rows + 1)]
    for i in range(rows, -1, -1):
        for j in range(columns, -1, -1):
            ways = []
            if i < rows and j < columns:
                ways.append(_cost(planned[i], session[j]) + least[i + 1][j + 1])
            if i < rows:
                ways.append(LEFT_OUT + least[i + 1][j])
            if j < columns:
                ways.append(LEFT_OUT + least[i][j + 1])
            least[i][j] = min(ways, default=0.0)
    pairs: list[tuple[int | None, int | None]] = []
    i = j = 0
    while i < rows or j < columns:
        here = least[i][j] + 1e-9
        if i < rows and j < columns and _cost(planned[i], session[j]) + least[i + 1][j + 1] <= here:
            pairs.append((i, j))
            i, j = i + 1, j + 1
        elif j < columns and LEFT_OUT + least[i][j + 1] <= here:
            pairs.append((None, j))
            j += 1
        else:
            pairs.append((i, None))
            i += 1
    return pairs
