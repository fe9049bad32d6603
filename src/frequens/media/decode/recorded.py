"""When and with what a film was recorded, as the film itself says.

Phones write the instant in UTC, some also the clock on the wall with its distance from UTC, and
their maker and model, under keys whose last part says which (common practice).
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from dataclasses import dataclass

from av.container import InputContainer

#: The wall clock with its zone first; then what most films have, in UTC.
_WHEN = ("creationdate", "date", "creation_time")
_MAKER = ("make", "manufacturer")
_MODEL = ("model",)
#: Before it nobody filmed with a phone: clocks that were never set say 1904 or 1970.
_FIRST = dt.datetime(1990, 1, 1, tzinfo=dt.UTC)


@dataclass(frozen=True, slots=True)
class Recorded:
    """`at`: ISO 8601 with its distance from UTC, or empty. `device`: as the film names it."""

    at: str = ""
    device: str = ""


def recorded(container: InputContainer, now: dt.datetime) -> Recorded:
    """What a film says of its recording; what cannot be, as seen from `now`, is left out."""
    said: dict[str, str] = {}
    for metadata in (*(s.metadata for s in container.streams), container.metadata):
        said |= {key.lower().rpartition(".")[2]: value.strip() for key, value in metadata.items()}
    found = (instant_of(said[key], now) for key in _WHEN if key in said)
    at = next((instant for instant in found if instant), None)
    maker, model = _first(said, _MAKER), _first(said, _MODEL)
    device = model if model.lower().startswith(maker.lower()) else f"{maker} {model}".strip()
    return Recorded(at.isoformat(timespec="seconds") if at else "", device[:100])


def instant_of(text: str, now: dt.datetime) -> dt.datetime | None:
    """An instant with its zone; None for what is no instant, has no zone or cannot be."""
    try:
        instant = dt.datetime.fromisoformat(text)
    except ValueError:
        return None
    if instant.tzinfo is None or not _FIRST <= instant <= now + dt.timedelta(days=1):
        return None
    return instant


def _first(said: Mapping[str, str], keys: tuple[str, ...]) -> str:
    return next((said[key] for key in keys if said.get(key)), "")
