"""The review copy piece by piece: what is made already can be used while the rest is under way.

A piece is an MP4 of its own: the copy's packets from one key frame to another, its clock zero
at its first frame. It gets its name only once it is whole and its times are those of the film.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
from av.container import OutputContainer
from av.video.stream import VideoStream

from ..decode.container import FilmFault
from ..decode.frames import FrameIndex, index_frames

#: Half a minute or less of a phone's film.
FRAMES = 720
_NAME = re.compile(r"piece-(\d{8})-(\d{4})\.mp4")


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch of the copy: its first frame and how many it has."""

    first: int
    count: int

    @property
    def name(self) -> str:
        return f"piece-{self.first:08d}-{self.count:04d}.mp4"


def pieces_in(folder: Path) -> list[Piece]:
    """Those that can be used, in the film's order."""
    if not folder.is_dir():
        return []
    named = (_NAME.fullmatch(path.name) for path in folder.iterdir())
    found = (Piece(int(name[1]), int(name[2])) for name in named if name)
    return sorted(found, key=lambda piece: piece.first)


class PieceWriter:
    """Cuts the copy's packets into pieces as they come, `every` frames each.

    `every` is a multiple of the key frames' distance. Packets come in the order of their frames.
    """

    def __init__(self, folder: Path, stream: VideoStream, index: FrameIndex, every: int = FRAMES):
        folder.mkdir(parents=True, exist_ok=True)
        self._folder, self._stream, self._index, self._every = folder, stream, index, every
        self._file: OutputContainer | None = None
        self._to: VideoStream | None = None
        self._first = self._count = 0
        self._is_off = False

    def add(self, packet: av.Packet[Any]) -> None:
        """The next frame's packet; once one is not the film's next frame no more is kept."""
        if self._count == self._every:
            self.finish()
        base, pts = Fraction(*self._index.time_base), self._index.pts
        at = (packet.pts or 0) * packet.time_base / base
        place = self._first + self._count
        if self._is_off or place >= len(pts) or at != pts[place] - pts[0]:
            self._is_off = True
            return
        if self._file is None:
            self._begin()
        assert self._file is not None
        copied = av.Packet(bytes(packet))
        copied.pts = int(at) - (pts[self._first] - pts[0])
        copied.dts, copied.time_base = copied.pts, base
        copied.duration = packet.duration and round(packet.duration * packet.time_base / base)
        copied.is_keyframe = packet.is_keyframe
        assert self._to is not None
        copied.stream = self._to
        self._file.mux(copied)
        self._count += 1

    def _begin(self) -> None:
        self._part.unlink(missing_ok=True)
        self._file = av.open(str(self._part), "w", format="mp4", options=_MUXING)
        to = self._file.add_stream_from_template(self._stream)
        to.time_base = Fraction(*self._index.time_base)
        self._to = to

    @property
    def _part(self) -> Path:
        return self._folder / f"part-{self._first:08d}"

    def finish(self) -> None:
        """End the piece under way; one whose times are not the film's is not used."""
        if self._file is None:
            return
        self._file.close()
        piece, part = Piece(self._first, self._count), self._part
        if not self._is_off and self._is_exact(part):
            part.replace(self._folder / piece.name)
        part.unlink(missing_ok=True)
        self._first += self._count
        self._file, self._count = None, 0

    def _is_exact(self, part: Path) -> bool:
        """Whether it shows exactly the film's frames from its first on."""
        try:
            made = index_frames(part)
        except FilmFault:
            return False
        own = self._index.pts[self._first : self._first + self._count]
        base, other = Fraction(*self._index.time_base), Fraction(*made.time_base)
        return [(p - own[0]) * base for p in own] == [(p - made.pts[0]) * other for p in made.pts]


_MUXING = {"movflags": "+faststart"}
