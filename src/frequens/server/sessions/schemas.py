"""What the API says about sessions, edits and findings."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from ninja import Field, Schema
from pydantic import SkipValidation

from frequens.core.decisions.judging import Judgement
from frequens.core.findings import Findings
from frequens.core.formats.session_document.plan_types import SessionPlan
from frequens.core.history.hand_counts import HandCounts

from ..coding.edit_types import EditBody, ReportChoice
from ..ingest.schemas import FilmOut
from ..second_look.schemas import OfSecondLook


class ClipName(Schema):
    """One film of a session."""

    id: uuid.UUID
    name: str


class SessionRow(Schema):
    """A session as lists show it, its films in their order; `marks` counts its events.

    `is_led`: a phone led it, and its taps are among its marks.
    """

    id: uuid.UUID
    date: dt.date | None
    time: str
    learner: str
    behaviour: str
    trainer: str
    marks: int
    films: list[ClipName]
    behaviour_id: uuid.UUID | None
    is_led: bool


class SettingsOut(Schema):
    """All limits in force, seconds; `core.planning.shaping.limits` says what each is for."""

    link_window_s: float
    anticipation_s: float
    reward_link_s: float
    reward_lead_s: float
    repeat_s: float
    on_time_s: float
    reward_limit_s: float
    rate_window_s: float
    dry_spell_s: float
    response_limit_s: float
    cue_lead_min_s: float
    cue_repeat_s: float
    return_limit_s: float
    exposure_pay_s: float


class SessionOut(Schema):
    """A session with its films in the order they were shot.

    `marks` counts the events there are now; `behaviour_id` and `plan_number` name the
    shaping plan it was filmed under. `notes` are the trainer's, by the part of the findings
    they stand beside; `by_hand` the counts of a session without marks; `report` what was
    chosen for its report. `settings` are all limits in force, seconds by name. `second_look` is
    there for a second coding.
    """

    id: uuid.UUID
    date: dt.date | None
    learner: str
    behaviour: str
    plan: SessionPlan
    settings: SettingsOut
    marks: int
    films: list[FilmOut]
    behaviour_id: uuid.UUID | None
    plan_number: int | None
    trainer: str
    time: str
    handler: str
    place: str
    tags: list[str]
    notes: dict[str, str]
    by_hand: HandCounts | None
    report: ReportChoice
    second_look: OfSecondLook | None


class EditIn(Schema):
    """One change, with the id its author's program gave it."""

    client_id: str = Field(min_length=1, max_length=64)
    body: dict[str, Any]


class EditsIn(Schema):
    """Changes in the order they were made; `after` is the last number already known.

    `findings`: whether the answer shall bring the session measured as it then stands; where much
    is going on it does not, and they are asked for by themselves a little later.
    """

    edits: list[EditIn] = Field(max_length=2000)
    after: int = 0
    findings: bool = False


class EditOut(Schema):
    """A change as the server keeps it, `seq` its place in the order of all."""

    seq: int
    client_id: str
    # Checked when it was taken, and there may be thousands.
    body: SkipValidation[EditBody]


class FindingsOut(Schema):
    """The core's findings as of change `seq`; None with the reasons where they cannot be had."""

    seq: int
    findings: Findings | None
    faults: list[str]


class RestsOn(Schema):
    """One session a judgement rests on, with its judged reps at the step."""

    session_id: uuid.UUID
    date: dt.date | None
    by_hand: bool
    judged: int
    met: int


class JudgementOut(Schema):
    """The core's judgement of a session in the light of those before, under the core's names.

    `disagrees` is what the trainer said against it; `changed` what it said before, where a card
    was printed after another judgement.
    """

    judgement: Judgement
    rests_on: list[RestsOn]
    titles: dict[str, str]
    disagrees: str | None
    changed: str | None


class EditsOut(Schema):
    """Changes after the number asked for, and what became of those just sent.

    `history` names the history that `seq` counts, `last` is the newest number of the session in
    it: whoever knows another history, or later numbers, knows edits that are not here.
    """

    history: str
    last: int
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
