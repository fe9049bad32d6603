"""The days of a workspace as one iCalendar file (RFC 5545), for calendar programs that subscribe.

A private address stands in for the password such programs do not know: it is one secret of 256
bits, of which only the digest is kept. Whoever lost it makes a new one, and the old one leads
nowhere.
"""

from __future__ import annotations

import datetime as dt
import secrets
from collections.abc import Iterator
from typing import cast

from django.http import Http404, HttpRequest, HttpResponse
from django.utils import timezone
from django.views.decorators.http import require_safe

from frequens.core.programme.stage_calendar import PlannedDay, StageSpan
from frequens.words import fill
from frequens.words.spoken import calendar as words

from ..accounts.models import workspace_of
from ..secret_digest import secret_digest
from .ical import Entry, calendar_file
from .models import Behaviour, CalendarAddress
from .stage_days import BehaviourDays, days_of

#: Sessions held longer ago than this are in the logbook, days.
LOOKS_BACK = 180
#: Calendar programs ask again about so often.
REFRESH = dt.timedelta(hours=4)


def make_address(request: HttpRequest) -> str:
    """A new address for the user, in the place of any they had; the secret is given only here."""
    secret = secrets.token_urlsafe(32)
    CalendarAddress.objects.update_or_create(
        user_id=cast(int, request.user.pk),
        defaults={"workspace": workspace_of(request), "secret_digest": secret_digest(secret)},
    )
    return request.build_absolute_uri(f"/calendar/{secret}.ics")


def revoke_address(request: HttpRequest) -> None:
    """The user's address leads nowhere any more."""
    CalendarAddress.objects.filter(user=request.user.pk).delete()


@require_safe
def feed(request: HttpRequest, secret: str) -> HttpResponse:
    """The days behind an address; 404 for one that is none (any more), or whose user has left."""
    address = CalendarAddress.objects.filter(
        secret_digest=secret_digest(secret), user__is_active=True
    ).first()
    if address is None or not address.workspace.members.filter(pk=address.user_id).exists():
        raise Http404
    taught = Behaviour.objects.filter(workspace=address.workspace)
    now = timezone.now()
    entries = [entry for one in days_of(taught) for entry in _entries(one, now)]
    body = calendar_file(entries, now, "Training days", address.workspace.name, REFRESH)
    response = HttpResponse(body, content_type="text/calendar; charset=utf-8")
    response["Cache-Control"] = "private, no-store"
    return response


def _entries(one: BehaviourDays, now: dt.datetime) -> Iterator[Entry]:
    """Sessions held and planned, the ends of stages and the first days of rungs."""
    behaviour, calendar = one.behaviour, one.calendar
    whose, today = str(behaviour), timezone.localdate(now)
    for held in calendar.done:
        if (today - held.day).days <= LOOKS_BACK:
            said = fill(words.DAYS["held"], {}, whose=whose)
            yield _all_day(f"held-{held.id}", held.day, said)
    is_due = one.due is not None and one.due.date() >= today
    for place, planned in enumerate(calendar.planned):
        uid = _uid(behaviour, planned)
        said = fill(words.DAYS["planned"], {}, whose=whose)
        more = None
        if planned.stage is not None:
            more = _go_words(calendar.stages[planned.stage].name, planned)
        if place == 0 and is_due and one.due is not None:
            yield Entry(uid, one.due, one.due + dt.timedelta(minutes=15), said, more)
        else:
            yield _all_day(uid, planned.day, said, more)
    for place, span in enumerate(calendar.stages):
        yield _stage_entry(f"stage-{behaviour.pk}-{place}", whose, span)
    for ladder in one.ladders:
        for rung in ladder.rungs:
            if rung.not_before is not None and rung.not_before > today:
                uid = f"rung-{behaviour.pk}-{ladder.name}-{rung.value:g}"
                named = {"whose": whose, "quantity": ladder.name, "unit": ladder.unit}
                said = fill(words.DAYS["rung"], {"value": rung.value}, **named)
                yield _all_day(uid, rung.not_before, said)


def _stage_entry(uid: str, whose: str, span: StageSpan) -> Entry:
    """The end of a stage, or the first day it may end."""
    template = words.DAYS["stage.ended" if span.ended else "stage.ends"]
    waits = span.ended is None and span.until is not None
    said = fill(template, {}, whose=whose, stage=span.name)
    return _all_day(uid, span.ended or span.expected, said, words.MORE["waits"] if waits else None)


def _uid(behaviour: Behaviour, planned: PlannedDay) -> str:
    """What stays the same when the days of a stage move."""
    if planned.stage is None:
        return f"planned-{behaviour.pk}-{planned.day.isoformat()}"
    return f"planned-{behaviour.pk}-{planned.stage}-{planned.go}"


def _go_words(stage: str, planned: PlannedDay) -> str:
    if planned.of is None:
        return fill(words.MORE["go.open"], {}, stage=stage)
    return fill(words.MORE["go"], {"go": planned.go, "of": planned.of}, stage=stage)


def _all_day(uid: str, day: dt.date, said: str, more: str | None = None) -> Entry:
    return Entry(uid, day, day + dt.timedelta(days=1), said, more)
