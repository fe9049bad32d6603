"""Films for benches: a phone-like 1080p60 clip, and a long film made by repeating it."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av

from frequens.simulator.camera import FilmOptions, script_session, shoot

CLIP_S = 10


def clip(folder: Path) -> Path:
    """1080p60 H.264 with B-frames, a key frame a second, and sound."""
    path = folder / "clip.mp4"
    if not path.exists():
        options = FilmOptions(
            fps=Fraction(60), width=1920, height=1080, key_frame_every=60, numbered=True
        )
        shoot(script_session(CLIP_S, seed=3), path, options)
    return path


def long_film(folder: Path, times: int) -> Path:
    """The clip `times` over, packets copied as they are."""
    path = folder / f"long{times}.mp4"
    if not path.exists():
        repeat(clip(folder), path, times)
    return path


def repeat(source: Path, target: Path, times: int) -> None:
    """Write a film of `CLIP_S` over and over, packets copied as they are."""
    with av.open(str(source)) as film, av.open(str(target), "w") as made:
        streams = {s.index: made.add_stream_from_template(s) for s in film.streams}
        packets = [p for p in film.demux() if p.dts is not None and p.size]
        kept = [
            (bytes(p), p.pts, p.dts, p.duration, p.is_keyframe, p.time_base, p.stream.index)
            for p in packets
        ]
        last: dict[int, int] = {}
        for turn in range(times):
            for body, pts, dts, duration, key, base, stream in kept:
                shift = round(turn * CLIP_S / base)
                # The sound's packets do not end where the picture does.
                if dts + shift <= last.get(stream, dts + shift - 1):
                    continue
                last[stream] = dts + shift
                packet = av.Packet(body)
                packet.pts, packet.dts, packet.duration = pts + shift, dts + shift, duration
                packet.time_base, packet.is_keyframe = base, key
                packet.stream = streams[stream]
                made.mux(packet)
