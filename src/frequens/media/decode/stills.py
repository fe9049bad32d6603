"""Single frames as pictures: for the bench before the review copy is there, and for reports."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path
from types import TracebackType

import av
import cv2
from av.container import InputContainer
from av.video.stream import VideoStream

from frequens.words import fill
from frequens.words.spoken import films as words

from .container import FilmFault, open_film, picture_stream, shown_size
from .frames import FrameIndex
from .screen import Screen

#: How long before the frame to begin to decode, seconds; the next one where it was not found.
#: Some containers seek past the key frame (MPEG-TS), some key frames need frames before them.
_LEADS_S = (0, 1, 4, 15, 60)
#: A frame so many frames ahead is reached sooner by going on than by seeking.
_AHEAD = 60


class StillReader:
    """Frames of one film. Stays open: the next frame costs one frame's decoding."""

    def __init__(self, path: Path, index: FrameIndex):
        self._path, self._index = path, index
        self._container: InputContainer | None = None
        self._frames: Iterator[av.VideoFrame] = iter(())
        #: The frame decoded last, by its number; what comes next is later.
        self._last = -1
        self._size = (0, 0)
        #: How the last picture was asked for, and what made it.
        self._asked = (0, 0)
        self._screen: Screen | None = None

    def __enter__(self) -> StillReader:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """Let go of the film."""
        if self._container is not None:
            self._container.close()
            self._container = None

    def still(self, frame: int, rotation: int, lines: int = 720) -> bytes:
        """Frame number `frame` as an upright JPEG whose shorter side is at most `lines`.

        Raises IndexError for a frame the film does not have and FilmFault where the frame
        cannot be decoded.
        """
        if not 0 <= frame < len(self._index):
            raise IndexError(f"frame must lie from 0 to {len(self._index) - 1}, not {frame}")
        found = self._find(frame)
        if found is None:
            raise FilmFault(
                "undecodable",
                fill(words.FRAME_UNDECODABLE, {"frame": frame}),
            )
        if self._screen is None or self._asked != (rotation, lines):
            self._asked = rotation, lines
            size = _size(self._size, rotation, lines)
            self._screen = Screen(found, rotation, size, "bgr24", "area")
        picture = self._screen(found).to_ndarray()
        done, jpeg = cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 88])
        if not done:
            raise FilmFault("undecodable", fill(words.FRAME_UNWRITABLE, {"frame": frame}))
        return jpeg.tobytes()

    def _find(self, frame: int) -> av.VideoFrame | None:
        if self._container is not None and 0 <= frame - self._last - 1 < _AHEAD:
            found = self._until(frame)
            if found is not None:
                return found
        for lead_s in _LEADS_S:
            found = self._from(frame, lead_s)
            if found is not None:
                return found
        # From the very beginning: slow, and sure.
        return self._from(frame, None)

    def _from(self, frame: int, lead_s: int | None) -> av.VideoFrame | None:
        """The frame, decoded from a key frame so long before it on, or without any seeking."""
        stream = self._opened()
        assert self._container is not None
        if lead_s is not None:
            ticks = round(lead_s / Fraction(*self._index.time_base))
            start = max(self._index.pts[0], self._index.pts[frame] - ticks)
            try:
                self._container.seek(start, stream=stream, backward=True)
            except av.FFmpegError:
                return None
        self._frames = self._container.decode(stream)
        return self._until(frame)

    def _opened(self) -> VideoStream:
        # A decoder that met damage, or the end, stays where it is; a fresh one does not.
        self.close()
        self._container = open_film(self._path)
        stream = picture_stream(self._container)
        stream.thread_type = "AUTO"
        self._size, self._screen = shown_size(stream), None
        return stream

    def _until(self, frame: int) -> av.VideoFrame | None:
        wanted = self._index.pts[frame]
        try:
            # Frames come in order: a later one says that the wanted one does not come any more.
            reached = next((f for f in self._frames if f.pts is not None and f.pts >= wanted), None)
        except av.FFmpegError:
            reached = None
        if reached is None or reached.pts != wanted:
            self.close()
            return None
        self._last = frame
        return reached


def still(path: Path, index: FrameIndex, frame: int, rotation: int, lines: int = 720) -> bytes:
    """One frame of a film; see `StillReader.still`."""
    with StillReader(path, index) as reader:
        return reader.still(frame, rotation, lines)


def _size(shown: tuple[int, int], rotation: int, lines: int) -> tuple[int, int]:
    width, height = shown[::-1] if rotation in (90, 270) else shown
    scale = min(1.0, lines / min(width, height))
    return max(1, round(width * scale)), max(1, round(height * scale))
