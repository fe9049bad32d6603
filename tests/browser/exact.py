"""Films with painted numbers for tests of exactness, and what exactness is.

Frame times are held against PyAV's decoder, to the microsecond.
"""

from __future__ import annotations

from collections.abc import Iterable
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


def taken_in(kinds: Iterable[str], trainer: Trainer, folder: Path) -> dict[str, dict[str, Any]]:
    """Those films, uploaded at once and ready, each with its own `path`."""
    paths = {k: shot_film(folder, f"{i}.mp4", 6, 3, **FILMS[k]) for i, k in enumerate(kinds)}
    sent = {kind: trainer.upload(path)["id"] for kind, path in paths.items()}
    return {kind: {**trainer.settled(sent[kind]), "path": path} for kind, path in paths.items()}


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
