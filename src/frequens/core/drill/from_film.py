"""A drill from one's own films: reps as they were filmed, their coded instants as the truth."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from ..reading.document_values import fault_words
from .levels import HOLD_S, Instant
from .scoring import AHEAD_S, LATE_S, Window
from .windows import Stretch, without_overlap

#: A piece begins so long before its instant, seconds: never the same, and never at once.
LEAD_S = (1.0, 3.5)
#: What was seen before is gone for so long when a piece begins, where there is room.
_CLEAR_S = 0.3
#: One piece in so many shows nothing that is asked for, for so long.
ONE_EMPTY_IN = 4
EMPTY_S = (2.5, 4.5)
#: Fewer instants than these are no drill.
LEAST_REPS = 6


@dataclass(frozen=True, slots=True)
class FilmedRep:
    """A rep on its clip's own time, seconds; `offset_s` where it was coded."""

    clip: str
    onset_s: float
    offset_s: float | None


@dataclass(frozen=True, slots=True)
class FilmedSession:
    """What was coded in a session: `lengths_s` by clip, reps, and other behaviours' instants."""

    lengths_s: Mapping[str, float]
    reps: Sequence[FilmedRep]
    others: Sequence[tuple[str, float]] = field(default=())


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch of a film to play, seconds of the clip; it begins the drill's time at `at_s`."""

    clip: str
    from_s: float
    to_s: float
    at_s: float


def due_in(rep: FilmedRep, instant: Instant) -> float | None:
    """The instant asked for in a rep, on its clip; None where the rep does not have it."""
    if instant == "begins":
        return rep.onset_s
    if instant == "ends":
        return rep.offset_s
    held = rep.onset_s + HOLD_S
    return held if rep.offset_s is not None and rep.offset_s >= held else None


def draw_pieces(
    filmed: FilmedSession, instant: Instant, seconds: float, seed: int
) -> tuple[list[Piece], list[Window]]:
    """Pieces of film for about so many seconds in an order by lot, and what may be pressed in them.

    Every rep in a piece counts. Raises ValueError where fewer than LEAST_REPS reps can be asked
    for: with the instant coded, and time to answer it.
    """
    reps = filmed.reps
    usable = [rep for rep in reps if _can_ask(rep, filmed, instant)]
    if len(usable) < LEAST_REPS:
        raise ValueError(fault_words("too_few_to_ask", usable=len(usable), least=LEAST_REPS))
    lot = np.random.default_rng(seed)
    pieces: list[Piece] = []
    windows: list[Window] = []
    at = 0.0
    empty_at = int(lot.integers(ONE_EMPTY_IN))
    for n, place in enumerate(lot.permutation(len(usable))):
        if at >= seconds:
            break
        wanted = [_around(lot, usable[place], filmed, instant)]
        if n % ONE_EMPTY_IN == empty_at:
            wanted = [*_empty(lot, filmed), *wanted]
        for piece in wanted:
            placed = replace(piece, at_s=at)
            pieces.append(placed)
            windows += _windows_in(placed, filmed, instant)
            at += placed.to_s - placed.from_s
    return pieces, windows


def _can_ask(rep: FilmedRep, filmed: FilmedSession, instant: Instant) -> bool:
    due = due_in(rep, instant)
    if due is None or due < AHEAD_S or due + LATE_S > filmed.lengths_s[rep.clip]:
        return False
    # Where another's end is not known, nobody can say that a press was wrong.
    return instant == "begins" or not any(
        one.clip == rep.clip
        and one.offset_s is None
        and rep.onset_s - 2 * LEAD_S[1] < one.onset_s < due + LATE_S
        for one in filmed.reps
    )


def _around(
    lot: np.random.Generator, rep: FilmedRep, filmed: FilmedSession, instant: Instant
) -> Piece:
    due = due_in(rep, instant)
    assert due is not None
    starts = max(0.0, due - float(lot.uniform(*LEAD_S)))
    before = [_over_s(one) for one in filmed.reps if one.clip == rep.clip and _over_s(one) < due]
    clear = max(before, default=0.0) + _CLEAR_S
    if starts < clear <= due - LEAD_S[0]:
        starts = clear
    ends = due + LATE_S
    dues = sorted(
        other
        for one in filmed.reps
        if one.clip == rep.clip and (other := due_in(one, instant)) is not None
    )
    for other in dues:
        # Whatever is asked for in it can be answered in it.
        if starts <= other <= ends:
            ends = max(ends, other + LATE_S)
    return Piece(rep.clip, starts, min(ends, filmed.lengths_s[rep.clip]), 0.0)


def _over_s(rep: FilmedRep) -> float:
    return rep.onset_s if rep.offset_s is None else rep.offset_s


def _empty(lot: np.random.Generator, filmed: FilmedSession) -> list[Piece]:
    """A stretch without any rep in it, if there is room: rather one with something else in it."""
    wanted = float(lot.uniform(*EMPTY_S))
    gaps: list[tuple[str, float, float]] = []
    for clip, length in filmed.lengths_s.items():
        at = 0.0
        for rep in sorted((r for r in filmed.reps if r.clip == clip), key=lambda r: r.onset_s):
            gaps.append((clip, at, rep.onset_s - AHEAD_S))
            at = max(at, _over_s(rep) + LATE_S)
        gaps.append((clip, at, length))
    wide = [gap for gap in gaps if gap[2] - gap[1] >= wanted]
    told = [
        (clip, max(low, at - wanted), min(high, at + wanted))
        for clip, low, high in wide
        for other, at in filmed.others
        if other == clip and low < at - AHEAD_S and at + LATE_S < high
    ]
    chosen = told or wide
    if not chosen:
        return []
    clip, low, high = chosen[int(lot.integers(len(chosen)))]
    starts = float(lot.uniform(low, high - wanted))
    return [Piece(clip, starts, starts + wanted, 0.0)]


def _windows_in(piece: Piece, filmed: FilmedSession, instant: Instant) -> list[Window]:
    found: list[Window] = []
    for rep in filmed.reps:
        if rep.clip != piece.clip:
            continue
        due = due_in(rep, instant)
        if due is not None and not piece.from_s <= due <= piece.to_s - LATE_S:
            continue
        sees_it = rep.onset_s - (AHEAD_S if instant == "begins" else 0.0)
        over = _over_s(rep)
        if due is None and not (sees_it < piece.to_s and over > piece.from_s):
            continue
        found += Stretch(sees_it, rep.onset_s, rep.offset_s, over).windows(instant)
    others = [
        Window("other", at - AHEAD_S, None, at + LATE_S)
        for clip, at in filmed.others
        if clip == piece.clip
    ]
    # What was asked for goes before what else there was at that moment.
    found += [
        other
        for other in others
        if all(other.closes_s < w.opens_s or w.closes_s < other.opens_s for w in found)
    ]
    shift = piece.at_s - piece.from_s
    return without_overlap(
        Window(
            w.on,
            max(piece.from_s, w.opens_s) + shift,
            None if w.due_s is None else w.due_s + shift,
            min(piece.to_s, w.closes_s) + shift,
        )
        for w in found
    )
