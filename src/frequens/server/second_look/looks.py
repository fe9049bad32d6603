"""Asking for a second look, saying that one is done, and who sees what meanwhile."""

from __future__ import annotations

import hashlib
import uuid
from collections.abc import Iterable
from typing import Any

from django.db import transaction
from django.utils import timezone

from frequens.core import InvalidSession
from frequens.core.measures.agreement import Agreement, agree
from frequens.core.measures.reviewer_spread import differences_of
from frequens.words.spoken import refusals as words

from ..accounts.models import Workspace
from ..coding.edit_store import (
    append_edits,
    as_of,
    fold,
    plan_of,
    session_record,
    settings_of,
)
from ..library.sessions import TrainingSession
from .models import SecondLook

#: What a second coding begins with: what was filmed, never what was seen in it.
GIVEN = (
    *("learner", "behaviour", "date", "time", "handler", "place", "trainer"),
    *("av_offset_s", "plan", "settings"),
)


class Refused(Exception):
    """Why a second look cannot be as it was asked for; its text says what to do."""


def check_open(session: TrainingSession) -> None:
    """Raise Refused for a second coding that is done: what was compared must not change."""
    if session.second_of_id is not None and session.second_look.second_at:
        raise Refused(words.SECOND_DONE)


@transaction.atomic
def ask(session: TrainingSession, reviewer: Any, asked_by: Any) -> SecondLook:
    """A second look at a session by somebody. Raises Refused where there is nothing to look at."""
    if not session.clips:
        raise Refused(words.NO_FILM_TO_CODE)
    # Of two who ask at the same time one waits, and then hears of the other.
    TrainingSession.objects.select_for_update().only("pk").get(pk=session.pk)
    state = fold(session)
    if not state.events:
        raise Refused(words.NOTHING_MARKED_FIRST)
    open_ones = SecondLook.objects.filter(coding__second_of=session, opened_at=None)
    if open_ones.exists():
        raise Refused(words.LOOK_UNDER_WAY)
    coding = TrainingSession.codings.create(
        workspace_id=session.workspace_id,
        date=session.date,
        learner=session.learner,
        behaviour=session.behaviour,
        trainer=session.trainer,
        plan=plan_of(session, state),
        plan_version=session.plan_version,
        settings=settings_of(session, state),
        second_of=session,
    )
    facts = {key: state.facts[key] for key in GIVEN if state.facts.get(key) is not None}
    if facts:
        append_edits(coding, [("given", {"op": "facts", "set": facts})], checked=True)
    look = SecondLook.objects.create(
        workspace_id=session.workspace_id, coding=coding, reviewer=reviewer, asked_by=asked_by
    )
    if reviewer == asked_by:
        # Whoever codes it again does not see the first marks any more, and so is done with them.
        return say_done(look, is_second=False)
    return look


@transaction.atomic
def say_done(look: SecondLook, *, is_second: bool, is_done: bool = True) -> SecondLook:
    """Whoever coded first or second is done with it, or not yet after all.

    Raises Refused once both were done, and for a second coding without a mark.
    """
    look = SecondLook.objects.select_for_update().get(pk=look.pk)
    if look.opened_at is not None:
        raise Refused(words.BOTH_SEEN)
    session = look.coding if is_second else look.first
    if is_done and not fold(session).events:
        raise Refused(words.NOTHING_MARKED)
    last = session.edits.values_list("client_id", flat=True).last() or "" if is_done else ""
    if is_second:
        look.second_at = last
    else:
        look.first_at = last
    if look.first_at and look.second_at:
        look.opened_at = timezone.now()
        look.differences_s = differences_of(compared(look))
    look.save()
    return look


def compared(look: SecondLook) -> Agreement:
    """The two codings side by side as they were when each was done. Raises Refused before."""
    if not (look.first_at and look.second_at):
        raise Refused(words.COMPARED_LATER)
    one, other = look.first, look.coding
    try:
        return agree(
            session_record(one, as_of(one, look.first_at)),
            session_record(other, as_of(other, look.second_at)),
        )
    except InvalidSession as invalid:
        raise Refused(words.LOOK_FILM_GONE) from invalid


def is_proposed(session_id: uuid.UUID, share: float) -> bool:
    """Whether a session is among the share of all that is to be looked at again.

    By its id alone: nobody's choice, and the same whenever it is asked.
    """
    drawn = int.from_bytes(hashlib.sha256(session_id.bytes).digest()[:8], "big")
    return drawn < share * 2**64


def proposed(workspace: Workspace, most: int) -> Iterable[TrainingSession]:
    """The newest coded sessions with a film that are to be looked at again and were not yet."""
    found = (
        TrainingSession.objects.filter(workspace=workspace, films__isnull=False)
        .filter(second_codings__isnull=True, summary__marks__gt=0)
        .distinct()
        .select_related("plan_version")
    )
    wanted = (s for s in found.iterator() if is_proposed(s.pk, workspace.second_look_share))
    return [session for session, _ in zip(wanted, range(most), strict=False)]
