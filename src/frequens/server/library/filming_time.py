"""When a film was filmed, on the clock on the wall there, and what says so."""

from __future__ import annotations

import datetime as dt
from dataclasses import dataclass
from typing import Literal
from zoneinfo import ZoneInfo

from frequens.core.model.events import MICROSECONDS

from .models import Film

#: The film with its zone; the film in UTC, on the sender's clock; the file's own date, less its
#: length; the film in UTC, and nobody knows the clock on the wall.
Source = Literal["film", "film_and_phone", "file", "film_in_utc"]


@dataclass(frozen=True, slots=True)
class FilmingTime:
    """`at`: when the first frame was filmed, with its distance from UTC."""

    at: dt.datetime
    source: Source

    @property
    def knows_the_wall(self) -> bool:
        """Whether the time of day is the one people there would have said."""
        return self.source != "film_in_utc"


def filming_time(film: Film) -> FilmingTime | None:
    """What the film says, else its file; None where neither says anything.

    A file is written last when filming ends (common practice), so its length is taken off.
    """
    zone = zone_named(film.zone)
    if film.recorded_at:
        at = dt.datetime.fromisoformat(film.recorded_at)
        if at.utcoffset():
            return FilmingTime(at, "film")
        if zone is None:
            return FilmingTime(at, "film_in_utc")
        return FilmingTime(at.astimezone(zone), "film_and_phone")
    if film.written_at is None or film.duration_us is None:
        return None
    length = dt.timedelta(seconds=film.duration_us / MICROSECONDS)
    return FilmingTime((film.written_at - length).astimezone(zone or dt.UTC), "file")


def zone_named(name: str) -> ZoneInfo | None:
    """The zone of this name, where there is one."""
    try:
        return ZoneInfo(name) if name else None
    except (ValueError, OSError, LookupError):
        return None
