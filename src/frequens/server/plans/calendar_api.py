"""The calendar over HTTP: days held and planned, and the address to subscribe to them."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema, Status

from frequens.core.programme.stage_calendar import StageCalendar

from .calendar_feed import make_address, revoke_address
from .models import Behaviour, CalendarAddress
from .stage_days import BehaviourDays, days_of

router = Router()


class RungDayOut(Schema):
    """The first day on which a rung of a ladder may be worked at."""

    name: str
    value: float
    unit: str
    day: dt.date


class BehaviourDaysOut(Schema):
    """One behaviour's days; `due` is the day and hour set for its next session."""

    behaviour_id: uuid.UUID
    learner: str
    behaviour: str
    calendar: StageCalendar
    rungs: list[RungDayOut]
    due: dt.datetime | None


class CalendarOut(Schema):
    """All that is taught, on its days; `subscribed` since when there is an address, if any."""

    today: dt.date
    behaviours: list[BehaviourDaysOut]
    subscribed: dt.datetime | None


class AddressOut(Schema):
    """An address to subscribe to. It is told once, and can be revoked."""

    url: str


@router.get("", response=CalendarOut, operation_id="calendar")
def calendar(request: HttpRequest) -> CalendarOut:
    address = CalendarAddress.objects.filter(user=request.user.pk).first()
    return CalendarOut(
        today=timezone.localdate(),
        behaviours=[_out(one) for one in days_of(Behaviour.objects.of(request))],
        subscribed=address.created_at if address else None,
    )


@router.get("/{uuid:behaviour_id}", response=BehaviourDaysOut, operation_id="behaviour_calendar")
def behaviour_calendar(request: HttpRequest, behaviour_id: uuid.UUID) -> BehaviourDaysOut:
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    (one,) = days_of(Behaviour.objects.filter(pk=found.pk))
    return _out(one)


@router.post("/address", response=AddressOut, operation_id="make_calendar_address")
def make_calendar_address(request: HttpRequest) -> AddressOut:
    """A new private address; one there was before is revoked."""
    return AddressOut(url=make_address(request))


@router.delete("/address", response={204: None}, operation_id="revoke_calendar_address")
def revoke_calendar_address(request: HttpRequest) -> Any:
    revoke_address(request)
    return Status(204, None)


def _out(one: BehaviourDays) -> BehaviourDaysOut:
    return BehaviourDaysOut(
        behaviour_id=one.behaviour.pk,
        learner=one.behaviour.learner.name,
        behaviour=one.behaviour.name,
        calendar=one.calendar,
        rungs=[
            RungDayOut(name=ladder.name, value=rung.value, unit=ladder.unit, day=rung.not_before)
            for ladder in one.ladders
            for rung in ladder.rungs
            if rung.not_before is not None
        ],
        due=one.due,
    )
