"""Every frame's presentation time, exact, without decoding."""

from __future__ import annotations

import itertools
import json
from bisect import bisect_left, bisect_right
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property
from pathlib import Path
from statistics import median
from typing import Any

from frequens.words import fill
from frequens.words.spoken import films as words

from .container import FilmFault, open_film, picture_stream
from .edit_rates import Stretch, retimed
from .limits import Limits
from .tables import packets, tabled
from .wholeness import missing_bytes

MICROSECONDS = 1_000_000
Report = Callable[[float], None]


@dataclass(frozen=True)
class FrameIndex:
    """The displayed frames of a film in order.

    `pts` are integer presentation times in units of `time_base` (numerator, denominator)
    seconds. `dropped` counts packets the container flags as not to be shown.
    """

    time_base: tuple[int, int]
    pts: tuple[int, ...]
    dropped: int = 0

    def __len__(self) -> int:
        return len(self.pts)

    @cached_property
    def times_us(self) -> tuple[int, ...]:
        """Microseconds from the first displayed frame, rounded half up, one per frame."""
        num, den = self.time_base
        scale, half = num * MICROSECONDS * 2, den
        return tuple(((p - self.pts[0]) * scale + half) // (2 * den) for p in self.pts)

    @property
    def runs(self) -> list[tuple[int, int]]:
        """Intervals between frames in ticks, each with how often it follows itself."""
        intervals = (b - a for a, b in itertools.pairwise(self.pts))
        return [(ticks, sum(1 for _ in same)) for ticks, same in itertools.groupby(intervals)]

    @property
    def duration_us(self) -> int:
        """From the first frame's time to the end of the last one, microseconds."""
        return self.times_us[-1] + self.nominal_us

    @cached_property
    def nominal_us(self) -> int:
        """The middle interval between frames; 40 ms for a single picture."""
        times = self.times_us
        if len(times) < 2:
            return 40_000
        return round(median(b - a for a, b in itertools.pairwise(times)))

    def width_us(self, frame: int) -> int:
        """Width of a mark on this frame: the interval since the frame before."""
        if frame == 0:
            return self.nominal_us
        return self.times_us[frame] - self.times_us[frame - 1]

    def showing(self, t_us: int) -> int:
        """The frame shown at this time."""
        return min(len(self) - 1, max(0, bisect_right(self.times_us, t_us) - 1))

    def first_after(self, t_us: int) -> int:
        """The first frame that can show what happens at this time."""
        return min(len(self) - 1, bisect_left(self.times_us, t_us))

    def save(self, path: Path) -> None:
        """Write the index as JSON."""
        told = {"time_base": self.time_base, "pts": self.pts, "dropped": self.dropped}
        path.write_text(json.dumps(told), encoding="utf-8")

    @classmethod
    def load(cls, path: Path) -> FrameIndex:
        """Read an index that `save` wrote."""
        read: dict[str, Any] = json.loads(path.read_text(encoding="utf-8"))
        num, den = read["time_base"]
        return cls((num, den), tuple(read["pts"]), read["dropped"])


def index_frames(
    path: Path,
    limits: Limits = Limits(),  # noqa: B008  # frozen
    report: Report = lambda share: None,
    slowed: int = 1,
) -> FrameIndex:
    """Index a film by its tables where they tell all, and else by its packets.

    `slowed`: so many times slower than life it plays; the index tells the time of life.

    Raises FilmFault for a film without frames, over the limits, or cut off.
    """
    with open_film(path) as container:
        stream = picture_stream(container)
        base = stream.time_base
        if base is None:
            raise FilmFault("no_times", words.NO_TIMES)
        stretches = retimed(path)
        expected = _expected_ticks(stream.duration, container.duration, base)
        if stretches:
            shown_s = max(s.end_s for s in stretches) - min(s.begin_s for s in stretches)
            expected = round(shown_s / base)
        stamps: list[int] = []
        count = dropped = corrupt = 0
        first_key: int | None = None
        # Films trimmed on the phone hold fewer packets than frames: an edit list leaves some out.
        # What is missing at the end is told by the file's own sizes, and by how long it should be.
        is_short = missing_bytes(path) > 0
        for pts, is_key, is_discard, is_corrupt in tabled(path, container, stream) or packets(
            container, stream
        ):
            count += 1
            corrupt += is_corrupt
            if first_key is None and is_key:
                first_key = pts
            # A film cut between key frames begins with what no decoder can show.
            if first_key is None or pts < first_key or is_discard:
                dropped += 1
                continue
            if stretches and not _in_any(pts * base, stretches):
                dropped += 1
                continue
            stamps.append(pts)
            if len(stamps) > limits.most_frames:
                raise FilmFault(
                    "too_many_frames", fill(words.TOO_MANY_FRAMES, {"most": limits.most_frames})
                )
            if count % 256 == 0 and expected:
                report(min(1.0, (pts - stamps[0]) / expected))
        if not stamps:
            raise FilmFault("no_frames", words.NO_FRAMES)
        if corrupt or is_short:
            raise cut_off(Fraction(max(stamps) - min(stamps)) * base)
    shown = sorted(set(stamps))
    _check_whole(shown, expected, base)
    time_base = base.numerator, base.denominator * slowed
    return FrameIndex(time_base, tuple(shown), dropped + len(stamps) - len(shown))


def _in_any(at_s: Fraction, stretches: tuple[Stretch, ...]) -> bool:
    return any(one.begin_s <= at_s < one.end_s for one in stretches)


def _expected_ticks(
    stream_duration: int | None, container_us: int | None, base: Fraction
) -> int | None:
    if stream_duration:
        return stream_duration
    return round(container_us / MICROSECONDS / base) if container_us else None


def _check_whole(shown: list[int], expected: int | None, base: Fraction) -> None:
    """A container without a frame count still says how long it should be."""
    there = shown[-1] - shown[0]
    if expected and (expected - there) * base > max(Fraction(2), expected * base / 20):
        raise cut_off(there * base)


def cut_off(there: Fraction) -> FilmFault:
    """The fault of a film whose end is missing, `there` seconds of it readable."""
    return FilmFault("cut_off", fill(words.CUT_OFF, {"there_s": float(there)}))
