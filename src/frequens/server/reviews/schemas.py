"""What the API says about sessions, edits and findings."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from ninja import Field, Schema

from ..films.schemas import FilmOut


class ClipName(Schema):
    """One film of a session."""

    id: uuid.UUID
    name: str


class SessionRow(Schema):
    """A session as lists show it, its films in their order; `marks` counts its events."""

    id: uuid.UUID
    date: dt.date | None
    learner: str
    behaviour: str
    trainer: str
    marks: int
    films: list[ClipName]
    behaviour_id: uuid.UUID | None


class SessionOut(Schema):
    """A session with its films in the order they were shot.

    `marks` counts the events there are now; `behaviour_id` and `plan_number` name the
    shaping plan it was filmed under. `notes` are the trainer's, by the part of the findings
    they stand beside; `by_hand` the counts of a session without marks; `report` what was
    chosen for its report.
    """

    id: uuid.UUID
    date: dt.date | None
    learner: str
    behaviour: str
    plan: dict[str, Any]
    settings: dict[str, Any]
    marks: int
    films: list[FilmOut]
    behaviour_id: uuid.UUID | None
    plan_number: int | None
    trainer: str
    tags: list[str]
    notes: dict[str, str]
    by_hand: dict[str, Any] | None
    report: dict[str, Any]


class EditIn(Schema):
    """One change, with the id its author's program gave it."""

    client_id: str = Field(min_length=1, max_length=64)
    body: dict[str, Any]


class EditsIn(Schema):
    """Changes in the order they were made; `after` is the last number already known.

    `findings`: whether the answer shall bring the session measured as it then stands.
    """

    edits: list[EditIn] = Field(max_length=2000)
    after: int = 0
    findings: bool = False


class EditOut(Schema):
    """A change as the server keeps it, `seq` its place in the order of all."""

    seq: int
    client_id: str
    body: dict[str, Any]


class SentenceOut(Schema):
    """What to do, in one sentence, and what kind of answer it is.

    `then` is what the rule said where a limit of the plan ended the session.
    """

    verdict: str
    text: str
    then: str | None = None


class FindingsOut(Schema):
    """The core's findings as of change `seq`; None with the reasons where they cannot be had."""

    seq: int
    findings: dict[str, Any] | None
    faults: list[str]
    sentence: SentenceOut | None = None


class EditsOut(Schema):
    """Changes after the number asked for, and what became of those just sent."""

    seq: int
    edits: list[EditOut]
    taken: list[str] = []
    refused: dict[str, list[str]] = {}
    findings: FindingsOut | None = None


class Faults(Schema):
    """What is wrong with a document, one line each."""

    faults: list[str]


class ImportedOut(Schema):
    """What an import made: the session and the number of its marks."""

    session_id: uuid.UUID
    marks: int
