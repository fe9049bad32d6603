"""Films with painted numbers for tests of exactness, and what exactness is.

Frame times are held against PyAV's decoder, to the microsecond.
"""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av

from tests.house import Trainer

from .conftest import Bench, shot_film

FILMS: dict[str, dict[str, Any]] = {
    "30": {"fps": Fraction(30)},
    "HEVC": {"codec": "hevc"},
    "AV1": {"codec": "av1"},
    "29.97": {"fps": Fraction(30000, 1001)},
    "60": {"fps": Fraction(60)},
    "120": {"fps": Fraction(120)},
    "variable": {"variable": True},
    "B-frames": {"b_frames": 4, "key_frame_every": 250},
    "start offset": {"start_offset_s": 1.37},
    "turned": {"rotation": 90},
}


class TakenIn(dict[str, dict[str, Any]]):
    """Those films by their kind, each with its own `path`: taken in when first asked for."""

    def __init__(self, trainer: Trainer, folder: Path):
        super().__init__()
        self._trainer, self._folder = trainer, folder

    def __missing__(self, kind: str) -> dict[str, Any]:
        path = shot_film(self._folder, f"{len(self)}.mp4", 6, 3, **FILMS[kind])
        film = self._trainer.settled(self._trainer.upload(path)["id"])
        self[kind] = {**film, "path": path}
        return self[kind]


def decoded_times_us(path: Path) -> list[Fraction]:
    """Microseconds from the first shown frame, by PyAV's decoder."""
    with av.open(str(path)) as container:
        base = container.streams.video[0].time_base
        stamps = [frame.pts for frame in container.decode(video=0)]
    return [(p - stamps[0]) * base * 1_000_000 for p in stamps]


def check(bench: Bench, times: list[Fraction]) -> None:
    """The frame named is the one painted, and its time the decoder's."""
    frame = bench.frame
    assert bench.painted() == frame
    assert abs(bench.time_us - times[frame]) <= Fraction(1, 2)
