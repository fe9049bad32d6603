"""Opening a film safely: the container is told by its content, and nothing else is followed."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av
from av.container import InputContainer
from av.video.stream import VideoStream

from frequens.words.spoken import films as words

from .edit_rates import retimed

_BOXES = (b"ftyp", b"moov", b"mdat", b"wide", b"free", b"skip")
_PLAYLISTS = (b"#EXTM3U", b"ffconcat", b"<?xml", b"<MPD", b"[playlist]", b"v=0", b"<smil")


class FilmFault(Exception):
    """The film cannot be used. `code` is stable; the message is a sentence for its owner."""

    def __init__(self, code: str, message: str):
        super().__init__(message)
        self.code = code


def sniff(path: Path) -> str:
    """The demuxer for this file's content: ``mov``, ``matroska`` or ``mpegts``.

    Raises FilmFault for an empty file and for anything that is none of these.
    """
    with path.open("rb") as film:
        head = film.read(1024)
    if not head:
        raise FilmFault("empty", words.EMPTY)
    if head[4:8] in _BOXES:
        return "mov"
    if head.startswith(b"\x1a\x45\xdf\xa3"):
        return "matroska"
    if len(head) > 376 and head[0] == head[188] == head[376] == 0x47:
        return "mpegts"
    if len(head) > 388 and head[4] == head[196] == head[388] == 0x47:
        return "mpegts"
    if head.lstrip().startswith(_PLAYLISTS):
        raise FilmFault(
            "playlist",
            words.PLAYLIST,
        )
    raise FilmFault(
        "not_a_film",
        words.NOT_A_FILM,
    )


def open_film(path: Path) -> InputContainer:
    """Open a film for reading with its demuxer forced and only the file protocol allowed.

    Raises FilmFault where the container cannot be read.
    """
    demuxer = sniff(path)
    options = {"protocol_whitelist": "file", "format_whitelist": demuxer_names(demuxer)}
    if demuxer == "mov":
        options |= {"enable_drefs": "0", "use_absolute_path": "0"}
        if retimed(path):
            # By the clock of its frames; only where it begins is taken from the list.
            options["advanced_editlist"] = "0"
    try:
        return av.open(str(path), "r", format=demuxer, options=options)
    except MemoryError:
        # The library's own one is among its errors; it says nothing about the film.
        raise
    except av.FFmpegError as error:
        raise FilmFault(
            "unreadable",
            words.UNREADABLE,
        ) from error


def demuxer_names(demuxer: str) -> str:
    """The full names under which the reader knows a demuxer."""
    return {"mov": "mov,mp4,m4a,3gp,3g2,mj2", "matroska": "matroska,webm"}.get(demuxer, demuxer)


#: Pixels further from square than this are a fault of the file, and taken for square.
_OBLONG = Fraction(4)


def shown_size(stream: VideoStream) -> tuple[int, int]:
    """Width and height at which a picture has its true shape, before it is turned.

    Where pixels are not square the shorter way is stretched, so that no line is lost.
    """
    pixel = stream.sample_aspect_ratio or Fraction(1)
    if not 1 / _OBLONG <= pixel <= _OBLONG:
        pixel = Fraction(1)
    width, height = stream.width, stream.height
    if pixel >= 1:
        return round(width * pixel), height
    return width, round(height / pixel)


def picture_stream(container: InputContainer) -> VideoStream:
    """The film's moving picture; cover images do not count. Raises FilmFault if there is none."""
    for stream in container.streams.video:
        if not stream.disposition & av.stream.Disposition.attached_pic:
            return stream
    raise FilmFault("no_picture", words.NO_PICTURE)
