"""A behaviour's sessions as the core's logbook, measured or counted by hand."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from frequens.core.findings import plain
from frequens.core.logbook import Logged, findings_by_hand, logbook, read_hand_counts
from frequens.core.reading import InvalidDocument
from frequens.core.shaping import steps_in_use

from ..plans.models import Behaviour
from ..reviews.folding import append_edits
from ..reviews.measured import Measurement, measured_in_short
from ..reviews.models import TrainingSession
from .schemas import ByHandIn, LogbookOut, LoggedOut


@dataclass(frozen=True)
class Page:
    """One session with what is known of it."""

    session: TrainingSession
    findings: Mapping[str, Any] | None
    sentence: Mapping[str, str] | None


def pages_of(behaviour: Behaviour) -> list[Page]:
    """The behaviour's sessions that are coded or counted, newest first."""
    found = TrainingSession.objects.filter(plan_version__behaviour=behaviour)
    pages = [_page(s) for s in found if s.marks or s.by_hand]
    # Equal days keep the order of the sessions, newest first.
    return sorted(pages, key=lambda p: str(p.session.date_now or ""), reverse=True)


def _page(session: TrainingSession) -> Page:
    if session.by_hand is not None:
        return Page(session, findings_by_hand(session.by_hand), None)
    known: Measurement = measured_in_short(session)
    return Page(session, known.findings, known.sentence)


def logbook_of(behaviour: Behaviour) -> LogbookOut:
    """The whole logbook of a behaviour as of today."""
    pages = pages_of(behaviour)
    plan = behaviour.current.document
    steps = steps_in_use(plan)
    book = logbook(
        [
            Logged(str(p.session.pk), day, p.findings, p.session.by_hand is not None)
            for p in pages
            if p.findings is not None and (day := p.session.date_now) is not None
        ],
        plan.get("session_cap_s"),
        plan.get("rep_cap"),
        timezone.localdate(),
    )
    return LogbookOut(
        behaviour_id=behaviour.pk,
        learner=behaviour.learner.name,
        behaviour=behaviour.name,
        order=[s["key"] for s in steps],
        titles=_titles(behaviour),
        session_cap_s=plan.get("session_cap_s"),
        book=plain(book),
        sessions=[_row(page) for page in pages],
    )


def _titles(behaviour: Behaviour) -> dict[str, str]:
    """Names of the steps of every plan there was; the newest plan's name wins."""
    titles: dict[str, str] = {}
    for document in behaviour.versions.values_list("document", flat=True):
        for step in document.get("approximations", []):
            titles[step["key"]] = step.get("title") or step["key"]
    return titles


def _row(page: Page) -> LoggedOut:
    session, findings = page.session, page.findings
    said = page.sentence or {}
    counts: Mapping[str, Any] = findings["counts"] if findings else {}
    success: Mapping[str, Any] = findings["success"] if findings else {}
    minutes = findings["training_time_s"] / 60 if findings else None
    segments = findings["splits"]["segments"] if findings else []
    worked = [s["approximation"] for s in segments if s["attempts"]]
    return LoggedOut(
        session_id=session.pk,
        date=session.date_now,
        trainer=session.trainer_now,
        tags=session.listed.get("tags", []),
        by_hand=session.by_hand is not None,
        counts=session.by_hand,
        verdict=said.get("verdict"),
        then=said.get("then"),
        sentence=said.get("text"),
        step=worked[-1] if worked else None,
        minutes=minutes,
        attempts=counts.get("attempts", 0),
        judged=success.get("judged", 0),
        met=success.get("met", 0),
        per_min=counts.get("reinforcements", 0) / minutes if minutes else None,
        marker_latency_s=_median(findings, "marker_latency_s"),
        reward_latency_s=_median(findings, "reward_latency_s"),
    )


def _median(findings: Mapping[str, Any] | None, key: str) -> float | None:
    summary = findings[key] if findings else None
    return summary["median"] if summary else None


@transaction.atomic
def enter_by_hand(behaviour: Behaviour, sent: ByHandIn, author: Any) -> TrainingSession:
    """A session without film. Raises InvalidDocument for counts that cannot be."""
    counts = read_hand_counts(sent.counts)
    session = TrainingSession.objects.create(
        workspace=behaviour.workspace,
        date=sent.date,
        learner=behaviour.learner.name,
        behaviour=behaviour.name,
        trainer=sent.trainer,
        plan_version=behaviour.current,
        by_hand=counts,
    )
    if sent.tags:
        set_tags(session, sent.tags, author)
    return session


@transaction.atomic
def change_by_hand(session: TrainingSession, sent: ByHandIn, author: Any) -> None:
    """New counts for a session entered by hand."""
    session.by_hand = read_hand_counts(sent.counts)
    session.date, session.trainer = sent.date, sent.trainer
    session.save(update_fields=["by_hand", "date", "trainer"])
    set_tags(session, sent.tags, author)


def set_tags(session: TrainingSession, tags: list[str], author: Any) -> None:
    """Give a session these tags. Raises InvalidDocument for one that cannot be."""
    edit = {"op": "facts", "set": {"tags": tags}}
    _, refused = append_edits(session, [(uuid.uuid4().hex, edit)], author)
    if refused:
        raise InvalidDocument([fault for faults in refused.values() for fault in faults])
