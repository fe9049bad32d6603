"""Films for benches: a phone-like 1080p60 clip, and a long film made by repeating it."""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path

import av

from frequens.media.camera import FilmOptions, script_session, shoot

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
    """The clip's picture `times` over, packets copied as they are."""
    path = folder / f"long{times}.mp4"
    if path.exists():
        return path
    with av.open(str(clip(folder))) as source, av.open(str(path), "w") as target:
        stream = source.streams.video[0]
        copy = target.add_stream_from_template(stream)
        packets = [p for p in source.demux(stream) if p.dts is not None and p.size]
        kept = [(bytes(p), p.pts, p.dts, p.is_keyframe, p.time_base) for p in packets]
        for turn in range(times):
            for body, pts, dts, key, base in kept:
                packet = av.Packet(body)
                shift = round(turn * CLIP_S / base)
                packet.pts, packet.dts, packet.time_base = pts + shift, dts + shift, base
                packet.is_keyframe, packet.stream = key, copy
                target.mux(packet)
    return path
