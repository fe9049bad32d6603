"""Films of the simulated camera for tests: small, with their frame numbers painted in."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path

import av
import pytest

from frequens.simulator.camera import FilmOptions, Script, script_session, shoot
from tests.conftest import MadeOnce

LENGTH_S = 6.0
SMALL = {"width": 320, "height": 180, "numbered": True, "noise": 0.0, "key_frame_every": 30}
#: Every way a film can be awkward: rates, intervals, order of frames, start, turn, codec.
KINDS: dict[str, tuple[str, FilmOptions]] = {
    "29.97": (".mp4", FilmOptions(fps=Fraction(30000, 1001), **SMALL)),
    "60": (".mp4", FilmOptions(fps=Fraction(60), **SMALL)),
    "120": (".mp4", FilmOptions(fps=Fraction(120), **SMALL)),
    "variable": (".mp4", FilmOptions(variable=True, **SMALL)),
    "no B-frames": (".mp4", FilmOptions(b_frames=0, **SMALL)),
    "many B-frames": (".mov", FilmOptions(b_frames=4, **SMALL)),
    "start offset": (".mp4", FilmOptions(start_offset_s=1.5, **SMALL)),
    "turned": (".mp4", FilmOptions(rotation=90, **SMALL)),
    "upside down": (".mp4", FilmOptions(rotation=180, **SMALL)),
    "odd offset, variable, matroska": (
        ".mkv",
        FilmOptions(variable=True, start_offset_s=0.7, **SMALL),
    ),
    "hevc": (".mp4", FilmOptions(codec="hevc", **SMALL)),
    "vp9": (".webm", FilmOptions(codec="vp9", **SMALL)),
}

#: The same films in other containers: kind of KINDS, ending, the muxer's options.
REMUXED: dict[str, tuple[str, str, dict[str, str]]] = {
    "transport stream": ("60", ".ts", {}),
    "transport stream with B-frames": ("many B-frames", ".ts", {}),
    "transport stream of hevc": ("hevc", ".ts", {}),
    "fragmented": ("60", ".mp4", {"movflags": "frag_keyframe+empty_moov"}),
    "fragmented with B-frames": ("many B-frames", ".mp4", {"movflags": "frag_keyframe"}),
    "hevc in matroska": ("hevc", ".mkv", {}),
}

Make = Callable[[str], Path]


def remuxed(source: Path, target: Path, options: dict[str, str]) -> Path:
    """The same packets in another container."""
    with av.open(str(source)) as film, av.open(str(target), "w", options=options) as again:
        streams = {s.index: again.add_stream_from_template(s) for s in film.streams}
        for packet in film.demux():
            if packet.dts is not None:
                packet.stream = streams[packet.stream.index]
                again.mux(packet)
    return target


@pytest.fixture(scope="session")
def script() -> Script:
    return script_session(LENGTH_S, seed=3)


@pytest.fixture(scope="session")
def film_of(made_once: MadeOnce, script: Script) -> Make:
    """A film of a kind of KINDS or REMUXED, made when it is first asked for."""

    def make(kind: str) -> Path:
        if kind in REMUXED:
            of, ending, muxing = REMUXED[kind]
            source = make(of)
            made = made_once(kind, lambda folder: remuxed(source, folder / f"film{ending}", muxing))
        else:
            ending, options = KINDS[kind]
            made = made_once(kind, lambda folder: shoot(script, folder / f"film{ending}", options))
        return made / f"film{ending}"

    return make
