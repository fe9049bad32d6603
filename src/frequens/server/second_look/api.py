"""Second looks over HTTP."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any, cast

from django.db.models import QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from ninja import Router, Status

from frequens.core.measures.reviewer_spread import placing
from frequens.core.model.events import MICROSECONDS
from frequens.words.spoken import refusals as words

from ..accounts.api import Refusal
from ..accounts.models import Membership, workspace_of
from ..coding.edit_store import fold, plan_of
from ..coding.edit_types import StoredEvent
from ..coding.plan_titles import titles_by_key
from ..library.sessions import TrainingSession
from ..who_may import CODING
from .comparing import Comparison, Pair, Placed, comparison_of
from .looks import Refused, ask, proposed, say_done
from .models import SecondLook, Settled
from .schemas import (
    AskIn,
    ComparisonOut,
    DoneIn,
    LookedAt,
    MarkOut,
    PairOut,
    ReviewerSpread,
    SecondLookOut,
    SecondLooksOut,
    SettledOut,
    SettleIn,
)
from .settling import settle

router = Router()
#: Under the sessions' own addresses.
session_router = Router()

#: So many second looks and proposals a page shows.
MOST_LOOKS, MOST_PROPOSED = 100, 10


@router.get("", response=SecondLooksOut, operation_id="second_looks")
def second_looks(request: HttpRequest) -> SecondLooksOut:
    """The newest second looks, sessions proposed for one, and how reviewers' marks differ."""
    place = workspace_of(request)
    found = list(_looks(request)[:MOST_LOOKS])
    return SecondLooksOut(
        looks=[_out(look, request) for look in found],
        proposed=[LookedAt.of(session) for session in proposed(place, MOST_PROPOSED)],
        share=place.second_look_share,
        reviewers=_spreads(found),
    )


@session_router.post(
    "/{session_id}/second-looks",
    response={201: SecondLookOut, 409: Refusal},
    operation_id="ask_second_look",
)
def ask_second_look(request: HttpRequest, session_id: uuid.UUID, sent: AskIn) -> Any:
    """Ask a member of the workspace to code a session again, without seeing its marks."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    members = Membership.objects.filter(workspace_id=session.workspace_id, role__in=CODING)
    reviewer = get_object_or_404(members.select_related("user"), pk=sent.member_id).user
    return Status(201, _out(ask(session, reviewer, request.user), request))


@router.get("/{look_id}", response=SecondLookOut, operation_id="second_look")
def second_look(request: HttpRequest, look_id: uuid.UUID) -> SecondLookOut:
    """One second look, and how far it is."""
    return _out(_look(request, look_id), request)


@router.post(
    "/{look_id}/done",
    response={200: SecondLookOut, 403: Refusal, 409: Refusal},
    operation_id="say_second_look_done",
)
def say_second_look_done(request: HttpRequest, look_id: uuid.UUID, sent: DoneIn) -> Any:
    """One of the two is done with their coding, or not yet after all."""
    look = _look(request, look_id)
    is_second = sent.coding == "second"
    is_reviewer = look.reviewer_id == request.user.pk
    is_own = look.reviewer_id == look.asked_by_id
    if not (is_reviewer if is_second else is_own or not is_reviewer):
        return Status(403, Refusal(fault=words.ONLY_SECOND_CODER))
    look = say_done(look, is_second=is_second, is_done=sent.is_done)
    return Status(200, _out(look, request))


@router.get(
    "/{look_id}/comparison",
    response={200: ComparisonOut, 409: Refusal},
    operation_id="compare_second_look",
)
def compare_second_look(request: HttpRequest, look_id: uuid.UUID) -> Any:
    """The two codings side by side, once both are done."""
    return Status(200, _comparison(_look(request, look_id), request))


@router.post(
    "/{look_id}/settled",
    response={200: ComparisonOut, 409: Refusal},
    operation_id="settle_second_look",
)
def settle_second_look(request: HttpRequest, look_id: uuid.UUID, sent: SettleIn) -> Any:
    """Decide what stands of a pair of marks; the comparison as it is then."""
    look = _look(request, look_id)
    settle(look, (sent.first_id, sent.second_id), sent.chosen, sent.frame, request.user)
    return Status(200, _comparison(look, request))


@router.delete("/{look_id}", response={204: None, 409: Refusal}, operation_id="give_up_second_look")
def give_up_second_look(request: HttpRequest, look_id: uuid.UUID) -> Any:
    """Leave a second look that nobody has seen both sides of; its second marks go."""
    look = _look(request, look_id)
    if look.opened_at is not None:
        raise Refused(words.LOOK_STAYS)
    look.coding.delete()
    return Status(204, None)


def _looks(request: HttpRequest) -> QuerySet[Any]:
    return (
        SecondLook.objects.of(request)
        .select_related("coding__second_of__plan_version", "reviewer", "asked_by")
        .prefetch_related("settled")
    )


def _look(request: HttpRequest, look_id: uuid.UUID) -> SecondLook:
    found: SecondLook = get_object_or_404(_looks(request), pk=look_id)
    return found


def _out(look: SecondLook, request: HttpRequest) -> SecondLookOut:
    return SecondLookOut(
        id=look.pk,
        session=LookedAt.of(look.first),
        coding_id=look.coding_id,
        reviewer=_name(look.reviewer),
        asked_by=_name(look.asked_by),
        is_yours=look.reviewer_id == request.user.pk,
        first_done=bool(look.first_at),
        second_done=bool(look.second_at),
        opened_at=look.opened_at,
        marks=look.coding.marks,
        open_differences=None,
    )


def _name(user: Any) -> str:
    return user.get_username() if user else ""


def _comparison(look: SecondLook, request: HttpRequest) -> ComparisonOut:
    found = comparison_of(look)
    session = look.first
    differences = look.differences_s
    out = _out(look, request)
    out.open_differences = len(found.open_pairs)
    return ComparisonOut(
        look=out,
        agreement=found.agreement,
        placing=[placing(kind, values) for kind, values in differences.items()],
        pairs=[_pair(pair, found) for pair in found.pairs],
        length_s=(found.timeline.duration_us or 0) / MICROSECONDS,
        titles=titles_by_key(plan_of(session, fold(session))),
    )


def _pair(pair: Pair, found: Comparison) -> PairOut:
    settled = found.settled.get(pair.ids)
    return PairOut(
        kind=pair.kind,
        first=_mark(pair.first),
        second=_mark(pair.second),
        frames=pair.frames,
        difference_s=pair.difference_s,
        differs=pair.differs,
        settled=_settled(settled, found) if settled else None,
    )


def _mark(placed: Placed | None) -> MarkOut | None:
    if placed is None:
        return None
    return MarkOut(
        event=cast(StoredEvent, dict(placed.stored)),
        t_s=placed.t_us / MICROSECONDS,
        film_id=uuid.UUID(placed.film_id),
        frame=placed.frame,
    )


def _settled(row: Settled, found: Comparison) -> SettledOut:
    return SettledOut(
        chosen=Settled.Chosen(row.chosen),
        mark=_mark(found.placed(row.event)) if row.event else None,
        author=_name(row.author),
        at=row.created_at,
    )


def _spreads(looks: Iterable[SecondLook]) -> list[ReviewerSpread]:
    """By reviewer, how their marks differ from the first ones, over all opened looks."""
    found: dict[str, dict[str, list[float]]] = {}
    counts: dict[str, int] = {}
    for look in looks:
        if look.opened_at is None:
            continue
        name = _name(look.reviewer)
        counts[name] = counts.get(name, 0) + 1
        of_name = found.setdefault(name, {})
        for kind, values in look.differences_s.items():
            of_name.setdefault(kind, []).extend(values)
    return [
        ReviewerSpread(
            reviewer=name,
            looks=counts[name],
            kinds=[placing(kind, values) for kind, values in kinds.items() if values],
        )
        for name, kinds in sorted(found.items())
    ]
