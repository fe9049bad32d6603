"""Trimming a film as phones do it: nothing is cut, an edit list says what is shown."""

from __future__ import annotations

import struct
from pathlib import Path

#: Of the simulated camera's films: ticks a second of the whole film's header.
_MOVIE_SCALE = 1000


def trimmed(source: Path, target: Path, from_s: float, length_s: float) -> Path:
    """Show only `length_s` seconds from `from_s` on (ISO/IEC 14496-12, 8.6.6), version 0 boxes."""
    film = bytearray(source.read_bytes())
    scales = [struct.unpack_from(">I", film, at + 16)[0] for at in _places(film, b"mdhd")]
    edits = _places(film, b"elst")
    assert len(edits) == len(scales) > 0
    for at, scale in zip(edits, scales, strict=True):
        (start,) = struct.unpack_from(">i", film, at + 16)
        struct.pack_into(">I", film, at + 12, round(length_s * _MOVIE_SCALE))
        struct.pack_into(">i", film, at + 16, start + round(from_s * scale))
    for kind, offset in ((b"mvhd", 20), (b"tkhd", 24)):
        for at in _places(film, kind):
            struct.pack_into(">I", film, at + offset, round(length_s * _MOVIE_SCALE))
    target.write_bytes(film)
    return target


def _places(film: bytearray, kind: bytes) -> list[int]:
    found, at = [], film.find(kind)
    while at >= 0:
        found.append(at)
        at = film.find(kind, at + 1)
    return found
