"""Whether a film's file is as long as the file itself says: a copy that broke off is not."""

from __future__ import annotations

from pathlib import Path
from typing import IO

from .boxes import boxes
from .container import sniff

_SEGMENT = b"\x18\x53\x80\x67"


def missing_bytes(path: Path) -> int:
    """How many bytes the file's own parts promise beyond its end; 0 where none, or none is known.

    Reads sizes only: of the boxes of MP4 and MOV (ISO/IEC 14496-12, 4.2), and of Matroska's
    segment (RFC 9559, 4.5). Raises FilmFault as `sniff`.
    """
    kind, size = sniff(path), path.stat().st_size
    with path.open("rb") as film:
        if kind == "mov":
            return max(0, _end_of_boxes(film, size) - size)
        if kind == "matroska":
            return max(0, _end_of_segment(film) - size)
    return 0


def _end_of_boxes(film: IO[bytes], size: int) -> int:
    """Where the last box ends that begins within the file."""
    return max((box.end for box in boxes(film, 0, size)), default=0)


def _end_of_segment(film: IO[bytes]) -> int:
    """Where the segment ends by its own word; 0 where it does not say."""
    head = film.read(4096)
    at = head.find(_SEGMENT)
    if at < 0 or at + 5 > len(head):
        return 0
    first = head[at + 4]
    length = 9 - first.bit_length()
    if not 1 <= length <= 8:
        return 0
    value = int.from_bytes(head[at + 4 : at + 4 + length], "big") & ((1 << 7 * length) - 1)
    is_unknown = value == (1 << 7 * length) - 1
    return 0 if is_unknown else at + 4 + length + value
