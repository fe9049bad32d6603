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
