"""Frame times from a film's own tables, where it has them: an hour's in half a second.

Reading every packet tells them as surely and takes four times as long. The reader has the tables
of when each frame is decoded; how much later it is shown stands in another (ISO/IEC 14496-12,
8.6.1.3), which is read here. What the two say together is compared with the packets of the film's
beginning and end, and where anything is unusual nothing is said.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import IO

import av
import numpy as np
import numpy.typing as npt
from av.container import InputContainer
from av.video.stream import VideoStream

from .boxes import Box, boxes, find, number_after_times, picture_tracks, table_of_contents

#: Of an entry's flags.
_KEY, _DISCARD = 1, 2
#: So many packets of the beginning, and those after the last key frame, are compared.
_COMPARED = 300

#: One frame's packet: when it is shown in ticks, and whether it is a key frame, not to be shown,
#: and damaged by its container's word.
Shown = tuple[int, bool, bool, bool]


def packets(container: InputContainer, stream: VideoStream) -> Iterator[Shown]:
    """Every packet that has a frame, in the order of the file."""
    for packet in container.demux(stream):
        if packet.size > 0 and packet.pts is not None:
            yield packet.pts, packet.is_keyframe, packet.is_discard, packet.is_corrupt


def tabled(path: Path, container: InputContainer, stream: VideoStream) -> list[Shown] | None:
    """The same as `packets` by the tables of an MP4 or MOV; None where they do not tell all.

    Leaves the container at its beginning.
    """
    entries = stream.index_entries
    if not container.format.name.startswith("mov") or not 0 < len(entries) == stream.frames:
        return None
    size = path.stat().st_size
    with path.open("rb") as film:
        # In a film of fragments the tables hold its beginning only.
        contents = table_of_contents(film, size)
        if contents is None or any(box.kind == b"moof" for box in boxes(film, 0, size)):
            return None
        tracks = [t for t in picture_tracks(film, contents) if _id_of(film, t) == stream.id]
        later = _delays(film, tracks[0], len(entries)) if len(tracks) == 1 else None
    read = [(e.timestamp, e.flags, e.pos, e.size) for e in entries]
    decoded, flags, begins, sizes = np.array(read, np.int64).T
    if later is None or (begins + sizes).max() > size or not sizes.all():
        return None
    keys, discards = (flags & _KEY) > 0, (flags & _DISCARD) > 0
    pts = (decoded + later).tolist()
    found = list(zip(pts, keys.tolist(), discards.tolist(), itertools.repeat(False)))
    return found if _agree(found, container, stream) else None


def _agree(found: list[Shown], container: InputContainer, stream: VideoStream) -> bool:
    """Whether the packets of the beginning and of the end say the same."""
    first, last = min(found)[0], max(found)[0]
    try:
        beginning = list(itertools.islice(packets(container, stream), _COMPARED))
        container.seek(last, stream=stream)
        end = list(packets(container, stream))
    except av.FFmpegError:
        end = []
    with suppress(av.FFmpegError):
        container.seek(first, stream=stream)
    return bool(end) and found[: len(beginning)] == beginning and found[-len(end) :] == end


def _id_of(film: IO[bytes], track: Box) -> int:
    return next((number_after_times(film, head) for head in find(film, track, b"tkhd")), 0)


def _delays(film: IO[bytes], track: Box, frames: int) -> npt.NDArray[np.int64] | None:
    """How much later than decoded each frame is shown, ticks; zero where no table says."""
    tables = list(find(film, track, b"mdia", b"minf", b"stbl", b"ctts"))
    if not tables:
        return np.zeros(frames, np.int64)
    film.seek(tables[0].begin + 4)
    count = int.from_bytes(film.read(4), "big")
    # Each run is of one frame at least: what promises more is not even read.
    body = film.read(8 * count) if count <= frames else b""
    if len(tables) != 1 or len(body) != 8 * count:
        return None
    runs = np.frombuffer(body, ">u4").reshape(-1, 2)
    if int(runs[:, 0].sum(dtype=np.int64)) != frames:
        return None
    delays = np.repeat(runs[:, 1].astype(">i4").astype(np.int64), runs[:, 0])
    # Where some are shown before they are decoded, the reader moves all of them later.
    return delays - min(0, int(delays.min()))
