"""Edit lists that play stretches of a film slower or faster than they were taken.

Some phones film fast and let such a list slow a stretch down, so the film's own clock is not the
clock of life; the frames beneath it are taken as fast as they say (common practice). Such a film
is read by the clock of its frames, and only what one of the list's stretches shows.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import IO

from .boxes import find, number_after_times, picture_tracks, table_of_contents

#: No list of a phone is longer; what is, is not read for rates.
_MOST_EDITS = 1000


@dataclass(frozen=True, slots=True)
class Stretch:
    """What one edit shows: from `begin_s` to `end_s` of the track's own clock."""

    begin_s: Fraction
    end_s: Fraction


def retimed(path: Path) -> tuple[Stretch, ...]:
    """The stretches of the picture of a film whose edits change its speed; else none.

    On the clock on which the first stretch begins where the list lets it begin.
    """
    size = path.stat().st_size
    with path.open("rb") as film:
        contents = table_of_contents(film, size)
        if contents is None:
            return ()
        movie = next((number_after_times(film, b) for b in find(film, contents, b"mvhd")), 0)
        for track in picture_tracks(film, contents) if movie else ():
            ticks = next(
                (number_after_times(film, b) for b in find(film, track, b"mdia", b"mdhd")), 0
            )
            edits = next((_edits(film, b.begin) for b in find(film, track, b"edts", b"elst")), [])
            # A rate of nothing holds a frame and is no speed.
            if ticks and any(edit.rate not in (0, 1) and edit.begin >= 0 for edit in edits):
                return _stretches(edits, movie, ticks)
    return ()


@dataclass(frozen=True, slots=True)
class _Edit:
    """How long it lasts in the film's ticks, where it begins in the track's (-1: empty), rate."""

    length: int
    begin: int
    rate: Fraction


def _stretches(edits: list[_Edit], movie: int, track: int) -> tuple[Stretch, ...]:
    first = next(e for e in edits if e.begin >= 0)
    lead = sum(e.length for e in edits[: edits.index(first)])
    shift = Fraction(lead, movie) - Fraction(first.begin, track)
    made = []
    for edit in edits:
        if edit.begin >= 0:
            begin = Fraction(edit.begin, track) + shift
            made.append(Stretch(begin, begin + Fraction(edit.length, movie) * edit.rate))
    return tuple(made)


def _edits(film: IO[bytes], begin: int) -> list[_Edit]:
    film.seek(begin)
    head = film.read(8)
    if len(head) < 8:
        return []
    form = ">QqhH" if head[0] == 1 else ">IihH"
    count = min(struct.unpack(">I", head[4:])[0], _MOST_EDITS)
    body = film.read(count * struct.calcsize(form))
    whole = len(body) // struct.calcsize(form) * struct.calcsize(form)
    return [
        _Edit(length, start, Fraction((rate << 16) + part, 1 << 16))
        for length, start, rate, part in struct.iter_unpack(form, body[:whole])
    ]
