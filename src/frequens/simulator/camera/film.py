"""Shooting a script: a film file with sound, and its truth beside it."""

from __future__ import annotations

import json
import random
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Literal, cast

import av
import cv2
import numpy as np
from av.container import OutputContainer
from av.video.stream import VideoStream
from numpy.typing import NDArray

from frequens.core import write_session
from frequens.media.decode.samples import RATE, Samples

from .drawing import Picture
from .scene import Scene
from .script import Script
from .soundtrack import soundtrack
from .strip import paint_number

Codec = Literal["h264", "hevc", "vp9", "av1"]
_ENCODERS: dict[Codec, tuple[str, dict[str, str]]] = {
    "h264": ("libx264", {"preset": "ultrafast", "crf": "21"}),
    "hevc": ("libx265", {"preset": "ultrafast", "crf": "24", "x265-params": "log-level=error"}),
    "vp9": ("libvpx-vp9", {"deadline": "realtime", "cpu-used": "8", "crf": "32", "b": "0"}),
    "av1": ("libsvtav1", {"preset": "10", "crf": "20", "svtav1-params": "pred-struct=1"}),
}
_AUDIO_FRAME = 1024
Report = Callable[[float], None]


@dataclass(frozen=True, slots=True)
class FilmOptions:
    """How the simulated camera films.

    `fps` is the (mean) frame rate; with `variable` the intervals vary by half around it.
    `start_offset_s` delays the first frame's time stamp; `rotation` is the clockwise turn
    a player must apply (0, 90, 180, 270); `width` and `height` are as displayed; `noise`
    is 0 to 1 in picture and sound, `clutter` (voices, tubs, hooves) in the sound; `numbered`
    paints frame numbers for tests.
    """

    fps: Fraction = Fraction(30)
    variable: bool = False
    b_frames: int = 2
    key_frame_every: int = 60
    start_offset_s: float = 0.0
    rotation: int = 0
    codec: Codec = "h264"
    width: int = 1280
    height: int = 720
    noise: float = 0.02
    clutter: float = 0.0
    numbered: bool = False

    def __post_init__(self) -> None:
        if not 1 <= self.fps <= 240:
            raise ValueError(f"frame rate must lie from 1 to 240, not {float(self.fps):g}")
        if self.rotation not in (0, 90, 180, 270):
            raise ValueError(f"rotation must be 0, 90, 180 or 270, not {self.rotation}")
        if not (64 <= self.width <= 4096 and 64 <= self.height <= 4096):
            raise ValueError("width and height must lie from 64 to 4096")
        if not 0 <= self.start_offset_s <= 60:
            raise ValueError("start offset must lie from 0 to 60 s")
        if not 0 <= self.noise <= 1:
            raise ValueError("noise must lie from 0 to 1")
        if not 0 <= self.clutter <= 1:
            raise ValueError("clutter must lie from 0 to 1")


def shoot(
    script: Script,
    film: Path,
    options: FilmOptions = FilmOptions(),  # frozen
    report: Report = lambda share: None,
    date: str | None = None,
) -> Path:
    """Render `script` to `film` and write its truth beside it; returns the truth's path.

    The container follows the film's ending (.mp4, .mov, .mkv, .webm). `report` is told the
    share done, 0 to 1. Both files appear only when complete.
    """
    truth = film.with_suffix(".frequens.json")
    part = film.with_name(film.stem + ".part" + film.suffix)
    try:
        with av.open(str(part), "w") as container:
            _write(container, script, options, report)
        truth.write_text(json.dumps(write_session(script.truth(date)), indent=1), encoding="utf-8")
        part.replace(film)
    finally:
        part.unlink(missing_ok=True)
    return truth


def frame_ticks(options: FilmOptions, length_s: float, seed: int) -> tuple[Fraction, list[int]]:
    """Time base and presentation time of every frame, start offset included."""
    clock = 90_000
    if (clock / options.fps).denominator != 1:
        clock = options.fps.numerator
    step = clock / options.fps
    start = round(options.start_offset_s * clock)
    chance = random.Random(seed)
    stamps: list[int] = []
    at = Fraction(start)
    while at - start < Fraction(length_s).limit_denominator(10**6) * clock:
        stamps.append(round(at))
        at += step * Fraction(chance.uniform(0.5, 1.5)) if options.variable else step
    return Fraction(1, clock), stamps


def _write(
    container: OutputContainer, script: Script, options: FilmOptions, report: Report
) -> None:
    time_base, stamps = frame_ticks(options, script.length_s, script.seed)
    video = _video_stream(container, options, time_base)
    audio = container.add_stream("libopus" if options.codec == "vp9" else "aac", rate=RATE)
    audio.layout = "mono"
    audio.bit_rate = 96_000
    sound = _sound_frames(
        soundtrack(script, options.noise, options.clutter), options.start_offset_s
    )
    next_sound = next(sound, None)
    for number, (stamp, picture) in enumerate(
        zip(stamps, _pictures(script, options, time_base, stamps), strict=True)
    ):
        frame = av.VideoFrame.from_ndarray(picture, format="bgr24")
        frame.pts, frame.time_base = stamp, time_base
        container.mux(video.encode(frame))
        while next_sound is not None and (next_sound.pts or 0) / RATE <= stamp * time_base:
            container.mux(audio.encode(next_sound))
            next_sound = next(sound, None)
        if number % 10 == 0:
            report(number / len(stamps))
    while next_sound is not None:
        container.mux(audio.encode(next_sound))
        next_sound = next(sound, None)
    container.mux(video.encode(None))
    container.mux(audio.encode(None))
    report(1.0)


def _video_stream(
    container: OutputContainer, options: FilmOptions, time_base: Fraction
) -> VideoStream:
    encoder, settings = _ENCODERS[options.codec]
    if options.codec == "h264":
        settings = {**settings, "bf": str(options.b_frames)}
    elif options.codec == "hevc":
        extra = f":bframes={options.b_frames}:keyint={options.key_frame_every}"
        settings = {**settings, "x265-params": settings["x265-params"] + extra}
    stream = cast(VideoStream, container.add_stream(encoder, rate=options.fps, options=settings))
    turned = options.rotation in (90, 270)
    stream.width = options.height if turned else options.width
    stream.height = options.width if turned else options.height
    stream.pix_fmt = "yuv420p"
    stream.time_base = time_base
    stream.codec_context.time_base = time_base
    stream.codec_context.gop_size = options.key_frame_every
    stream.codec_context.thread_count = 0
    if options.codec == "hevc":
        stream.codec_context.codec_tag = "hvc1"
    if options.rotation:
        # The library counts turns counter-clockwise.
        stream.set_display_rotation(-options.rotation)
    return stream


def _pictures(
    script: Script, options: FilmOptions, time_base: Fraction, stamps: list[int]
) -> Iterator[Picture]:
    scene = Scene(script, options.width, options.height)
    grain = _grain(options, script.seed)
    for number, stamp in enumerate(stamps):
        picture = scene.at(float((stamp - stamps[0]) * time_base))
        if grain:
            cv2.add(picture, grain[number % len(grain)], picture, dtype=cv2.CV_8U)
        if options.numbered:
            paint_number(picture, number)
        # Stored turned the other way, so that the player's turn sets it upright.
        yield np.ascontiguousarray(np.rot90(picture, options.rotation // 90))


def _grain(options: FilmOptions, seed: int) -> list[NDArray[np.int16]]:
    """A few sheets of picture noise; anew for every frame they would cost more than the scene."""
    amount = round(options.noise * 60)
    if amount == 0:
        return []
    chance = np.random.default_rng(seed)
    size = (options.height, options.width, 1)
    sheets = chance.integers(-amount, amount + 1, (7, *size), dtype=np.int16)
    return [np.repeat(sheet, 3, axis=2) for sheet in sheets]


def _sound_frames(samples: Samples, start_s: float) -> Iterator[av.AudioFrame]:
    start = round(start_s * RATE)
    for place in range(0, len(samples), _AUDIO_FRAME):
        block = np.ascontiguousarray(samples[None, place : place + _AUDIO_FRAME])
        frame = av.AudioFrame.from_ndarray(block, format="fltp", layout="mono")
        frame.sample_rate = RATE
        frame.pts, frame.time_base = start + place, Fraction(1, RATE)
        yield frame
