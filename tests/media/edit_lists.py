"""Trimming and slowing a film as phones do it: only an edit list says what is shown, how fast."""

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


def played(source: Path, target: Path, *edits: tuple[float, float, float]) -> Path:
    """Edits in the place of those of the picture: what it shows from, to (seconds), at which rate.

    The film's table of contents must stand at its end, so that nothing else moves.
    """
    film = bytearray(source.read_bytes())
    moov = _places(film, b"moov")[-1] - 4
    assert moov + struct.unpack_from(">I", film, moov)[0] == len(film)
    (scale,) = struct.unpack_from(">I", film, film.find(b"mdhd", moov) + 16)
    elst = film.find(b"elst", moov) - 4
    old_length, count = (struct.unpack_from(">I", film, elst + at)[0] for at in (0, 12))
    (start,) = struct.unpack_from(">i", film, elst + 16 + 12 * (count - 1) + 4)
    body = struct.pack(">II", 0, len(edits))
    for begin, end, rate in edits:
        length = round((end - begin) / rate * _MOVIE_SCALE)
        fixed = round(rate * 65536)
        body += struct.pack(
            ">IiHH", length, start + round(begin * scale), fixed >> 16, fixed & 0xFFFF
        )
    box = struct.pack(">I4s", len(body) + 8, b"elst") + body
    film[elst : elst + old_length] = box
    for kind in (b"moov", b"trak", b"edts"):
        at = film.rfind(kind, 0, elst) - 4
        (length,) = struct.unpack_from(">I", film, at)
        struct.pack_into(">I", film, at, length + len(box) - old_length)
    target.write_bytes(film)
    return target


def _places(film: bytearray, kind: bytes) -> list[int]:
    found, at = [], film.find(kind)
    while at >= 0:
        found.append(at)
        at = film.find(kind, at + 1)
    return found
