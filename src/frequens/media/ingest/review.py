"""The review copy: every frame at its own time, upright, with key frames close together.

Its clock begins with the first displayed frame. Browsers count a film's length without the
stretch before its first frame and cannot seek past that length, so a copy that kept the
original's start offset would lose its last frames.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
from av.audio.stream import AudioStream
from av.container import InputContainer, OutputContainer
from av.video.stream import VideoStream

from frequens.words.spoken import films as words

from ..decode.container import FilmFault, open_film, picture_stream, shown_size
from ..decode.frames import FrameIndex, index_frames
from ..decode.samples import RATE, SamplePlacer
from ..decode.screen import MATRICES, Screen
from ..decode.tones import Curve
from .pieces import FRAMES, PieceWriter

Report = Callable[[float], None]


@dataclass(frozen=True, slots=True)
class ReviewOptions:
    """`lines` bounds the copy's shorter side; `key_frame_every` frames; constant quality `crf`
    as long as the picture takes no more than `mb_per_min`."""

    lines: int = 720
    key_frame_every: int = 12
    crf: int = 23
    mb_per_min: float = 60.0

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Of the copy of an upright picture of this size; both even."""
        scale = min(1.0, self.lines / min(width, height))
        return max(2, round(width * scale / 2) * 2), max(2, round(height * scale / 2) * 2)


#: About what a pixel of a copy takes, bytes: twice our drawn film's, and half of what the bound
#: allows 720 lines at 60 frames a second. And what reading a pixel of the film and writing one of
#: the copy cost, seconds of one core: 1.2 to 1.8 s a second of 1080 lines at 60 were measured.
_BYTES_A_PIXEL, _READ_S, _WRITE_S = 0.009, 6e-9, 1.1e-8
_SOUND_BYTES_A_S = 16_000


@dataclass(frozen=True, slots=True)
class Expected:
    """About what a review copy will take: bytes, and seconds of one core."""

    bytes: int
    cpu_s: float


def expected(
    width: int, height: int, frames: int, duration_s: float, options: ReviewOptions
) -> Expected:
    """What to say before a copy is begun. Sizes as the film is shown."""
    across, down = options.size(width, height)
    pixels = across * down * frames
    picture = min(pixels * _BYTES_A_PIXEL, options.mb_per_min * 1e6 / 60 * duration_s)
    cost = width * height * frames * _READ_S + pixels * _WRITE_S
    return Expected(round(picture + duration_s * _SOUND_BYTES_A_S), cost)


def make_review_copy(
    path: Path,
    copy: Path,
    index: FrameIndex,
    rotation: int,
    options: ReviewOptions = ReviewOptions(),  # frozen
    report: Report = lambda share: None,
    pieces: Path | None = None,
) -> None:
    """Write an H.264/AAC MP4 with the same frames at the same times.

    `pieces`: a folder for what can be used already while the rest is under way.

    The copy is indexed again and must show exactly the frames of `index`, its first at zero.
    Raises FilmFault
    (`copy_differs`) where it does not, so that a reviewer stays with the server's frames.
    """
    with open_film(path) as source, av.open(str(copy), "w", options=_MUXING) as target:
        _Copier(source, target, index, rotation, options, report, pieces).run()
    made = index_frames(copy)
    if not same_times(index, made):
        raise FilmFault(
            "copy_differs",
            words.COPY_DIFFERS,
        )


#: One time scale for the file, fine enough that edit lists do not round the start.
_MUXING = {"movflags": "+faststart", "movie_timescale": "90000"}


def same_times(one: FrameIndex, other: FrameIndex) -> bool:
    """Whether two indexes show as many frames at exactly the same times after their first."""
    (a, b), (c, d) = one.time_base, other.time_base
    return len(one) == len(other) and all(
        (p - one.pts[0]) * a * d == (q - other.pts[0]) * c * b
        for p, q in zip(one.pts, other.pts, strict=True)
    )


class _Copier:
    def __init__(
        self,
        source: InputContainer,
        target: OutputContainer,
        index: FrameIndex,
        rotation: int,
        options: ReviewOptions,
        report: Report,
        pieces: Path | None,
    ):
        self.source, self.target, self.index = source, target, index
        self.rotation, self.options, self.report = rotation, options, report
        self.picture = picture_stream(source)
        self.picture.thread_type = "AUTO"
        self.time_base = Fraction(*index.time_base)
        self.shown = frozenset(index.pts)
        # A film slowed down is copied at the speed of life, and so without its sound.
        is_slowed = self.picture.time_base != self.time_base
        sound = None if is_slowed else next(iter(source.streams.audio), None)
        self.sound: AudioStream | None = sound
        self.video = self._video_stream()
        self.audio = self._audio_stream() if self.sound else None
        self.placer = SamplePlacer(index.pts[0] * self.time_base)
        self.screen: Screen | None = None
        self.written = 0
        every = FRAMES - FRAMES % options.key_frame_every
        self.pieces = PieceWriter(pieces, self.video, index, every) if pieces else None

    def run(self) -> None:
        # The pieces' head is written from what the encoder says of itself once it is open.
        self.target.start_encoding()
        streams = [s for s in (self.picture, self.sound) if s is not None]
        for packet in self.source.demux(*streams):
            for frame in self._decode(packet):
                if isinstance(frame, av.VideoFrame):
                    self._write_picture(frame)
                else:
                    self._write_sound(frame)
        self._write_sound(None)
        self._mux_picture(None)
        if self.pieces:
            self.pieces.finish()
        if self.audio is not None:
            self.target.mux(self.audio.encode(None))
        self.report(1.0)

    def _decode(self, packet: av.Packet[Any]) -> Iterator[av.VideoFrame | av.AudioFrame]:
        try:
            yield from packet.decode()
        except av.FFmpegError:
            # A damaged packet costs its own frames; the comparison afterwards tells.
            return

    def _size(self) -> tuple[int, int]:
        width, height = shown_size(self.picture)
        if self.rotation in (90, 270):
            width, height = height, width
        return self.options.size(width, height)

    def _video_stream(self) -> VideoStream:
        stream = self.target.add_stream(
            "libx264",
            rate=self.picture.guessed_rate or 30,
            options={
                "preset": "ultrafast",
                "crf": str(self.options.crf),
                "maxrate": str(round(self.options.mb_per_min * 8e6 / 60)),
                "bufsize": str(round(self.options.mb_per_min * 16e6 / 60)),
                "bf": "0",
                "sc_threshold": "0",
            },
        )
        stream.width, stream.height = self._size()
        stream.pix_fmt = "yuv420p"
        stream.time_base = self.time_base
        context = stream.codec_context
        context.time_base = self.time_base
        context.gop_size = self.options.key_frame_every
        told = self.picture.codec_context
        if told.color_trc in set(Curve):
            # Brought to an ordinary screen's tones: see `Screen`.
            context.colorspace = context.color_primaries = context.color_trc = 1
        elif told.colorspace in MATRICES:
            context.colorspace = told.colorspace
            context.color_primaries, context.color_trc = told.color_primaries, told.color_trc
        context.color_range = 1
        return stream

    def _audio_stream(self) -> AudioStream:
        stream = self.target.add_stream("aac", rate=RATE)
        stream.layout = "mono"
        stream.bit_rate = 128_000
        return stream

    def _write_picture(self, frame: av.VideoFrame) -> None:
        if frame.pts not in self.shown:
            return
        if self.screen is None:
            size = self.video.width, self.video.height
            self.screen = Screen(frame, self.rotation, size, "yuv420p", "bilinear")
        ready = self.screen(frame)
        ready.pts, ready.time_base = (frame.pts or 0) - self.index.pts[0], self.time_base
        ready.pict_type = av.video.frame.PictureType.NONE
        self._mux_picture(ready)
        self.written += 1
        if self.written % 16 == 0:
            self.report(min(1.0, self.written / len(self.index)))

    def _mux_picture(self, frame: av.VideoFrame | None) -> None:
        for packet in self.video.encode(frame):
            if self.pieces:
                self.pieces.add(packet)
            self.target.mux(packet)

    def _write_sound(self, frame: av.AudioFrame | None) -> None:
        if self.audio is None:
            return
        for start, heard in self.placer.feed(frame):
            # What sounds before the first frame is not on the copy's clock.
            position, samples = max(0, start), heard[max(0, -start) :]
            if not len(samples):
                continue
            block = av.AudioFrame.from_ndarray(samples[None, :], format="fltp", layout="mono")
            block.sample_rate = RATE
            block.pts, block.time_base = position, Fraction(1, RATE)
            self.target.mux(self.audio.encode(block))
