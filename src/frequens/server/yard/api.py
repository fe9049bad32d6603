"""What a phone takes along to the yard, and the sessions it leads there."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Status

from frequens.words.spoken import refusals as words

from ..coding.edit_store import append_edits
from ..ingest.schemas import Fault
from ..library.sessions import TrainingSession
from ..plans.models import Behaviour
from ..plans.worked_steps import put_under
from .kits import kit_of
from .schemas import LedIn, LedOut, YardKit

router = Router()


@router.get("", response=list[YardKit], operation_id="yard_kits")
def kits(request: HttpRequest) -> list[YardKit]:
    """What is needed to lead the next session of each behaviour, also without a network."""
    taught = Behaviour.objects.of(request).select_related("learner")
    return [kit for behaviour in taught if (kit := kit_of(behaviour)) is not None]


@router.put(
    "/sessions/{session_id}",
    response={200: LedOut, 201: LedOut, 409: Fault},
    operation_id="lead_session",
)
def lead(request: HttpRequest, session_id: uuid.UUID, sent: LedIn) -> Any:
    """A session that a phone leads, under the id the phone gave it; sent twice it is one.

    It takes the plan as it is now. Its marks are edits like any other's.
    """
    behaviour: Behaviour = Behaviour.objects.get_or_404(request, sent.behaviour_id)
    there = TrainingSession.objects.filter(pk=session_id).first()
    if there is not None:
        is_own = TrainingSession.objects.of(request).filter(pk=session_id).exists()
        if not is_own or there.led_at is None:
            return Status(409, Fault(fault=words.ID_TAKEN))
        return Status(200, LedOut(id=there.pk, began_at=there.led_at))
    with transaction.atomic():
        session = TrainingSession.objects.create(
            pk=session_id,
            workspace=behaviour.workspace,
            # The day on the phone's own clock.
            date=sent.began_at.date(),
            trainer=request.user.get_username(),
            led_at=sent.began_at,
        )
        facts = {"time": f"{sent.began_at:%H:%M}", "start_s": 0}
        append_edits(session, [(f"led-{session_id}", {"op": "facts", "set": facts})], request.user)
        put_under(session, behaviour.current, request.user)
    return Status(201, LedOut(id=session.pk, began_at=sent.began_at))
