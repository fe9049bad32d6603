"""First look at a film: can it be read, how large and how long is it, which way is up?"""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from pathlib import Path

import av

from frequens.words import fill
from frequens.words.spoken import films as words

from .container import FilmFault, open_film, picture_stream, shown_size
from .limits import Limits
from .recorded import recorded
from .slowed import slowed_by


@dataclass(frozen=True, slots=True)
class FilmFacts:
    """What a film is. Sizes in pixels as displayed, `rotation` clockwise in degrees, seconds."""

    container: str
    codec: str
    width: int
    height: int
    rotation: int
    duration_s: float | None
    has_sound: bool
    sound_late: bool
    #: When it was recorded, ISO 8601 with its zone, and with what; empty where it does not say.
    recorded_at: str = ""
    device: str = ""
    #: How many times slower than life it plays.
    slowed: int = 1


def probe(path: Path, limits: Limits = Limits()) -> FilmFacts:  # noqa: B008  # frozen
    """Check a film's content and decode its first frame.

    Raises FilmFault with a sentence for its owner where the film cannot be used.
    """
    with open_film(path) as container:
        stream = picture_stream(container)
        duration = container.duration / av.time_base if container.duration else None
        if duration and duration > limits.longest_s:
            raise FilmFault(
                "too_long",
                fill(words.TOO_LONG, {"minutes": duration / 60, "most": limits.longest_s / 60}),
            )
        if stream.width * stream.height > limits.most_pixels:
            raise FilmFault(
                "too_large",
                fill(words.PICTURE_TOO_LARGE, {"width": stream.width, "height": stream.height}),
            )
        try:
            first = next(container.decode(stream), None)
        except MemoryError:
            raise
        except av.FFmpegError as error:
            raise FilmFault("undecodable", words.DAMAGED) from error
        if first is None:
            raise FilmFault("no_frames", words.NO_FRAMES)
        # The library counts turns counter-clockwise.
        rotation = -first.rotation % 360
        turned = rotation in (90, 270)
        width, height = shown_size(stream)
        told = recorded(container, dt.datetime.now(dt.UTC))
        return FilmFacts(
            container=container.format.name,
            codec=stream.codec_context.name,
            width=height if turned else width,
            height=width if turned else height,
            rotation=rotation,
            duration_s=duration,
            has_sound=bool(container.streams.audio),
            sound_late=container.format.name == "mpegts",
            recorded_at=told.at,
            device=told.device,
            slowed=slowed_by(container.metadata, stream.average_rate),
        )
