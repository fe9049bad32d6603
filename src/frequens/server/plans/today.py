"""What waits today: films to code, sessions due, and one line for each thing being taught."""

from __future__ import annotations

import datetime as dt
import uuid

from django.db.models import Q
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from ..findings.judgements import last_judged
from ..library.sessions import TrainingSession
from ..second_look.models import SecondLook
from .models import Behaviour
from .next_card import due_at
from .stage_days import days_of

router = Router()


class WaitingOut(Schema):
    """A session whose film nobody has coded yet."""

    session_id: uuid.UUID
    name: str
    date: dt.date | None
    film_id: uuid.UUID
    frames: int


class LineOut(Schema):
    """One behaviour: its last session's verdict, and when the next is due.

    `due` is what the trainer set, `planned` the first day to come by the plan's own calendar.
    """

    behaviour_id: uuid.UUID
    learner: str
    behaviour: str
    session_id: uuid.UUID | None
    date: dt.date | None
    verdict: str | None
    sentence: str | None
    due: dt.datetime | None
    planned: dt.date | None
    is_due: bool


class AgainOut(Schema):
    """A second look that waits for whoever asks to code it."""

    id: uuid.UUID
    learner: str
    behaviour: str
    date: dt.date | None
    asked_by: str


class TodayOut(Schema):
    """Today's work."""

    to_code: list[WaitingOut]
    to_code_again: list[AgainOut]
    lines: list[LineOut]


@router.get("", response=TodayOut, operation_id="today")
def today(request: HttpRequest) -> TodayOut:
    found = TrainingSession.objects.of(request).filter(films__isnull=False).distinct()
    # Before the first change there is no summary.
    unmarked = found.filter(Q(summary__marks__isnull=True) | Q(summary__marks=0))
    unmarked = unmarked.defer("plan", "settings", "by_hand")
    to_code = []
    for session in unmarked.prefetch_related("films"):
        if clips := session.clips:
            film = clips[0]
            to_code.append(
                WaitingOut(
                    session_id=session.pk,
                    name=_whose(session) or film.name,
                    date=session.date_now,
                    film_id=film.pk,
                    frames=film.frames or 0,
                )
            )
    taught = Behaviour.objects.of(request).select_related("learner")
    planned = {
        one.behaviour.pk: one.calendar.planned[0].day
        for one in days_of(Behaviour.objects.of(request), only_planned=True)
        if one.calendar.planned
    }
    lines = [_line(behaviour, planned.get(behaviour.pk)) for behaviour in taught]
    lines.sort(key=lambda line: (not line.is_due, line.learner))
    return TodayOut(to_code=to_code, to_code_again=_again(request), lines=lines)


def _again(request: HttpRequest) -> list[AgainOut]:
    found = SecondLook.objects.of(request).filter(reviewer=request.user.pk, second_at="")
    return [
        AgainOut(
            id=look.pk,
            learner=look.first.learner_now,
            behaviour=look.first.behaviour_now,
            date=look.first.date_now,
            asked_by=look.asked_by.get_username() if look.asked_by else "",
        )
        for look in found.select_related("coding__second_of", "asked_by")
    ]


def _line(behaviour: Behaviour, planned: dt.date | None) -> LineOut:
    found = last_judged(behaviour.pk)
    last = found[0] if found else None
    said = found[1].judgement if found else None
    due = due_at(last) if last else None
    day = due.date() if due is not None else planned
    return LineOut(
        behaviour_id=behaviour.pk,
        learner=behaviour.learner.name,
        behaviour=behaviour.name,
        session_id=last.pk if last else None,
        date=last.date_now if last else None,
        verdict=said.decision if said else None,
        sentence=said.headline if said else None,
        due=due,
        planned=planned,
        is_due=day is not None and day <= timezone.localdate(),
    )


def _whose(session: TrainingSession) -> str:
    return " · ".join(filter(None, (session.learner_now, session.behaviour_now)))
