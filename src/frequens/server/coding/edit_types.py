"""Edits as types: what `check_edit` lets through, and what the front end reads again."""

from __future__ import annotations

from typing import Annotated, Any, Literal, NotRequired

from pydantic import ConfigDict, Field
from typing_extensions import TypedDict

from frequens.core.model.events import Kind, MarkerKind


class ReportChoice(TypedDict, total=False):
    """For whom a report is, a word of one's own, and the marks whose frames it shows."""

    reader: str
    words: str
    pictures: list[str]


class StoredEvent(TypedDict):
    """A mark as it is stored: on a frame of a film, or at a time in seconds; its fields beside."""

    __pydantic_config__ = ConfigDict(extra="allow")  # type: ignore[misc]  # pydantic's own way

    id: str
    kind: Kind
    t: NotRequired[float]
    frame: NotRequired[int]
    pts: NotRequired[int]
    clip: NotRequired[str]
    clock: NotRequired[Literal["phone"]]
    width: NotRequired[float]
    marker: NotRequired[MarkerKind]
    met: NotRequired[bool | None]
    approximation: NotRequired[str]


class Put(TypedDict):
    """This mark, new or in place of the one with its id."""

    op: Literal["put"]
    event: StoredEvent


class Drop(TypedDict):
    """The mark with this id is gone."""

    op: Literal["drop"]
    id: str


class Marks(TypedDict):
    """These marks in place of all there were: a file was read."""

    op: Literal["marks"]
    events: list[StoredEvent]


class Facts(TypedDict):
    """Facts of the session, by name."""

    op: Literal["facts"]
    set: dict[str, Any]


class Note(TypedDict):
    """A note beside one part of the findings."""

    op: Literal["note"]
    part: str
    text: str


EditBody = Annotated[Put | Drop | Marks | Facts | Note, Field(discriminator="op")]
