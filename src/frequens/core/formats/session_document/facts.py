"""Who, what and when, the recording, and the limits of a `frequens-session` document."""

from __future__ import annotations

from dataclasses import fields
from typing import Any

from ...model.events import Recording, SessionFacts, Settings
from ...reading.document_values import Reader, Reading, date, number, read_fields, text
from .shared import read_length, read_time


def read_facts(reading: Reading, value: Any) -> SessionFacts:
    """Who, what and when; the end is not before the beginning."""
    name = text(longest=200)
    readers: dict[str, Reader] = {
        "date": date,
        "learner": name,
        "behaviour": name,
        "start_s": read_time,
        "end_s": read_time,
        "time": name,
        "handler": name,
        "place": name,
    }
    facts = SessionFacts(**read_fields(reading, "session", value, readers))
    if facts.start_s is not None and facts.end_s is not None and facts.end_s < facts.start_s:
        reading.fault("session.end_s", "end_before_start", start_s=facts.start_s)
    return facts


def read_recording(reading: Reading, value: Any) -> Recording:
    """The film's length and how far its sound lies off."""
    readers: dict[str, Reader] = {"duration_s": read_length, "av_offset_s": number(-10, 10)}
    read = read_fields(reading, "recording", value, readers)
    return Recording(**{k: v for k, v in read.items() if v is not None})


def read_settings(reading: Reading, path: str, value: Any) -> dict[str, float]:
    """Limits by their names in `Settings`, each from 0 to an hour; those left out are not in it."""
    readers: dict[str, Reader] = {f.name: number(0, 3600) for f in fields(Settings)}
    read = read_fields(reading, path, value, readers)
    return {k: v for k, v in read.items() if v is not None}
