"""The logbook over HTTP: of one behaviour, with sessions entered by hand."""

from __future__ import annotations

import uuid
from typing import Any

from django.http import Http404, HttpRequest
from ninja import Router, Status

from ..library.sessions import TrainingSession
from ..plans.models import Behaviour
from ..sessions.schemas import Faults
from .behaviour_logbook import change_by_hand, enter_by_hand, logbook_of, set_tags
from .schemas import ByHandIn, ByHandOut, LogbookOut, TaggingIn

router = Router()


@router.get("/{uuid:behaviour_id}", response=LogbookOut, operation_id="logbook")
def logbook(request: HttpRequest, behaviour_id: uuid.UUID) -> LogbookOut:
    return logbook_of(Behaviour.objects.get_or_404(request, behaviour_id))


@router.post(
    "/{uuid:behaviour_id}/by-hand",
    response={201: ByHandOut, 422: Faults},
    operation_id="enter_by_hand",
)
def enter(request: HttpRequest, behaviour_id: uuid.UUID, sent: ByHandIn) -> Any:
    """A session without film: counts and minutes."""
    behaviour: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    session = enter_by_hand(behaviour, sent, request.user)
    return Status(201, ByHandOut(session_id=session.pk))


@router.put(
    "/by-hand/{uuid:session_id}",
    response={200: ByHandOut, 422: Faults},
    operation_id="change_by_hand",
)
def change(request: HttpRequest, session_id: uuid.UUID, sent: ByHandIn) -> Any:
    """Other counts for a session entered by hand."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    if session.by_hand is None:
        raise Http404
    change_by_hand(session, sent, request.user)
    return ByHandOut(session_id=session.pk)


@router.put(
    "/tags/{uuid:session_id}", response={204: None, 422: Faults}, operation_id="tag_session"
)
def tag(request: HttpRequest, session_id: uuid.UUID, sent: TaggingIn) -> Any:
    """The tags of a session, in place of those it had."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    set_tags(session, sent.tags, request.user)
    return Status(204, None)
