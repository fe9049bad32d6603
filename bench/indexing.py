"""Every frame's time by our index, against ffprobe reading the packets of the same file."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from pathlib import Path

from frequens.media.decode.frames import index_frames

from .films import long_film
from .timing import compared, in_turn


def run(folder: Path) -> Iterator[str]:
    film = long_film(folder, 30)
    command = ["ffprobe", "-v", "error", "-select_streams", "v"]
    command += ["-show_entries", "packet=pts", "-of", "csv=p=0", str(film)]
    said = subprocess.run(command, capture_output=True, text=True, check=True).stdout
    theirs = sorted(int(line.strip(",")) for line in said.split())
    index = index_frames(film)
    assert list(index.pts) == theirs
    ours, other = in_turn(
        lambda: index_frames(film), lambda: subprocess.run(command, capture_output=True, check=True)
    )
    yield compared(f"{len(index)} frames of 1080p60 indexed", ours, other, 1.0)
