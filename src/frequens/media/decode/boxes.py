"""The boxes MP4 and MOV are made of (ISO/IEC 14496-12, 4.2)."""

from __future__ import annotations

import struct
from collections.abc import Iterator
from dataclasses import dataclass
from typing import IO


@dataclass(frozen=True, slots=True)
class Box:
    """One box: its kind, where its content begins, and where it ends by its own word, in bytes."""

    kind: bytes
    begin: int
    end: int


def boxes(film: IO[bytes], begin: int, end: int) -> Iterator[Box]:
    """The boxes that begin between two places; what is no box ends them.

    The last may promise to end behind `end`: a file that broke off has such a one.
    """
    at = begin
    while at + 8 <= end:
        film.seek(at)
        length, kind = struct.unpack(">I4s", film.read(8))
        head = 8
        if length == 1:
            wide = film.read(8)
            head, length = 16, struct.unpack(">Q", wide)[0] if len(wide) == 8 else 0
        elif length == 0:
            # The last one, up to the end wherever that is.
            length = end - at
        if length < head:
            return
        yield Box(kind, at + head, at + length)
        at += length


def find(film: IO[bytes], within: Box, *path: bytes) -> Iterator[Box]:
    """The boxes at the end of a path of kinds, from the content of one box down."""
    kind, *deeper = path
    for box in boxes(film, within.begin, within.end):
        if box.kind == kind:
            if deeper:
                yield from find(film, box, *deeper)
            else:
                yield box


def table_of_contents(film: IO[bytes], size: int) -> Box | None:
    """The box that says what is in the file (8.2.1); what stands behind it is not looked at."""
    return next((box for box in boxes(film, 0, size) if box.kind == b"moov"), None)


def picture_tracks(film: IO[bytes], contents: Box) -> Iterator[Box]:
    """The tracks of moving pictures (8.3.1, 8.4.3)."""
    for track in find(film, contents, b"trak"):
        for handler in find(film, track, b"mdia", b"hdlr"):
            film.seek(handler.begin + 8)
            if film.read(4) == b"vide":
                yield track


def number_after_times(film: IO[bytes], header: Box) -> int:
    """What follows the two times of a header; 0 if cut off.

    Ticks a second of a film or of a track's media, or a track's own number (8.2.2, 8.4.2, 8.3.2).
    """
    film.seek(header.begin)
    is_wide = film.read(1) == b"\1"
    film.seek(header.begin + (20 if is_wide else 12))
    read = film.read(4)
    return int(struct.unpack(">I", read)[0]) if len(read) == 4 else 0
