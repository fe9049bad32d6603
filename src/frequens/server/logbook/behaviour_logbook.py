"""A behaviour's sessions as the core's logbook, measured or counted by hand."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from frequens.core.decisions.judging import Judgement
from frequens.core.history.hand_counts import findings_by_hand, read_hand_counts
from frequens.core.history.logbook import (
    Logged,
    logbook,
    middle_of_markers,
)
from frequens.core.planning.shaping import steps_in_use
from frequens.core.programme.chaining import Chaining, Linked, alone_of, chaining
from frequens.core.programme.quantity_ladder import quantity_ladders
from frequens.core.programme.script_order import SIDES
from frequens.core.programme.transfer import Seen, transfers
from frequens.core.programme.variation import of_session, variation_of
from frequens.core.reading.document_values import InvalidDocument

from ..coding.edit_store import append_edits
from ..findings.judgements import Judged, held, judged_sessions, order_of, worked_on
from ..findings.store import measurements_of
from ..library.sessions import TrainingSession
from ..plans.models import Behaviour
from .schemas import ByHandIn, DisagreementOut, LogbookOut, LoggedOut


@dataclass(frozen=True)
class Page:
    """One session with what is known of it."""

    session: TrainingSession
    findings: Mapping[str, Any] | None
    judged: Judged | None


def pages_of(behaviour: Behaviour) -> list[Page]:
    """The behaviour's sessions that are coded or counted, newest first."""
    found = worked_on(behaviour.pk)
    known = measurements_of([s for s in found if s.by_hand is None])
    verdicts = judged_sessions(found, {pk: m.digest for pk, m in known.items()})
    pages = [
        Page(
            session,
            findings_by_hand(session.by_hand)
            if session.by_hand is not None
            else known[session.pk].findings,
            verdicts.get(session.pk),
        )
        for session in found
    ]
    # The order in which they are judged: the last of a day is the one that counts as the last.
    return sorted(pages, key=lambda p: order_of(p.session), reverse=True)


def logbook_of(behaviour: Behaviour) -> LogbookOut:
    """The whole logbook of a behaviour as of today."""
    pages = pages_of(behaviour)
    plan = behaviour.current.document
    steps = steps_in_use(plan)
    names = _in_turn(plan)
    book = logbook(
        [
            Logged(str(p.session.pk), day, p.findings, p.session.by_hand is not None)
            for p in reversed(pages)
            if p.findings is not None and (day := p.session.date_now) is not None
        ],
        plan.get("session_cap_s"),
        plan.get("rep_cap"),
        timezone.localdate(),
    )
    last = next((page.judged.judgement for page in pages if page.judged is not None), None)
    return LogbookOut(
        behaviour_id=behaviour.pk,
        learner=behaviour.learner.name,
        behaviour=behaviour.name,
        order=[s["key"] for s in steps],
        titles=_titles(behaviour),
        session_cap_s=plan.get("session_cap_s"),
        parts=_parts(behaviour),
        book=book,
        programme=variation_of(
            [held(p.session, p.judged.digest) for p in reversed(pages) if p.judged is not None],
            last,
            plan,
            timezone.localdate(),
        ),
        transfers=list(transfers(names, _seen(pages, names))),
        chain=_chain(pages, plan, last),
        ladders=list(
            quantity_ladders(
                plan,
                [p.judged.digest for p in reversed(pages) if p.judged is not None],
                last,
                timezone.localdate(),
                behaviour.learner.as_core,
            )
        ),
        sessions=[_row(page) for page in pages],
        disagreements=_disagreements(pages),
    )


def _in_turn(plan: Mapping[str, Any]) -> list[str]:
    """The plan's conditions that go from one level to the next; sides take turns from the start."""
    return [one["name"] for one in plan.get("conditions", []) if one["name"] not in SIDES]


def _seen(pages: Sequence[Page], names: Sequence[str]) -> list[Seen]:
    """The judged reps of all sessions in the order they were done."""
    found = []
    for page in reversed(pages):
        if page.judged is None:
            continue
        day, digest = page.session.date_now, page.judged.digest
        around = of_session(held(page.session, digest), names)
        found += [
            Seen(day, trial.step, {**around, **trial.conditions}, trial.met, trial.response_s)
            for trial in digest.trials
        ]
    return found


def _chain(
    pages: Sequence[Page], plan: Mapping[str, Any], last: Judgement | None
) -> Chaining | None:
    """How far the plan's chain is joined; by hand nobody counts parts."""
    in_order = [page for page in reversed(pages) if page.judged is not None]
    linked = [
        Linked(page.session.date_now, page.findings["chains"])
        for page in in_order
        if page.findings is not None and "chains" in page.findings
    ]
    alone = alone_of(page.judged.digest for page in in_order if page.judged is not None)
    return chaining(plan, linked, alone, last)


def _titles(behaviour: Behaviour) -> dict[str, str]:
    """Names of the steps of every plan there was; the newest plan's name wins."""
    titles: dict[str, str] = {}
    for document in behaviour.versions.values_list("document", flat=True):
        for step in document.get("approximations", []):
            titles[step["key"]] = step.get("title") or step["key"]
    return titles


def _parts(behaviour: Behaviour) -> dict[str, str]:
    """Names of the parts of chains of every plan there was; the newest plan's name wins."""
    names: dict[str, str] = {}
    for document in behaviour.versions.values_list("document", flat=True):
        for step in document.get("approximations", []):
            for part in step.get("parts", []):
                names[part["key"]] = part.get("title") or part["key"]
    return names


def _row(page: Page) -> LoggedOut:
    session, findings = page.session, page.findings
    said = page.judged.judgement if page.judged else None
    counts: Mapping[str, Any] = findings["counts"] if findings else {}
    success: Mapping[str, Any] = findings["success"] if findings else {}
    minutes = findings["training_time_s"] / 60 if findings else None
    paid = counts.get("reinforcements")
    segments = findings["splits"]["segments"] if findings else []
    worked = [s["approximation"] for s in segments if s["attempts"]]
    return LoggedOut(
        session_id=session.pk,
        date=session.date_now,
        trainer=session.trainer_now,
        handler=session.summary.get("handler") or "",
        place=session.summary.get("place") or "",
        tags=session.summary.get("tags", []),
        by_hand=session.by_hand is not None,
        counts=session.by_hand,
        verdict=said.decision if said else None,
        code=said.why.code if said else None,
        sentence=said.headline if said else None,
        schools={kind: school.decision for kind, school in said.other_schools.items()}
        | {said.school.kind: said.school.decision}
        if said
        else {},
        disagrees=session.summary.get("disagrees") or "",
        step=worked[-1] if worked else None,
        minutes=minutes,
        attempts=counts.get("attempts", 0),
        judged=success.get("judged", 0),
        met=success.get("met", 0),
        per_min=paid / minutes if minutes and paid is not None else None,
        marker_latency_s=_median(findings, "marker_latency_s"),
        marker_s=middle_of_markers(findings) if findings else None,
        reward_latency_s=_median(findings, "reward_latency_s"),
    )


def _disagreements(pages: Sequence[Page]) -> list[DisagreementOut]:
    """What was said against, and what the session after it came to; pages are newest first."""
    found = []
    for following, page in zip([None, *pages], pages, strict=False):
        said = page.session.summary.get("disagrees")
        if not said:
            continue
        after = following.judged if following else None
        step = after.judgement.step if after else None
        own = [trial.met for trial in after.digest.trials if trial.step == step] if after else []
        found.append(
            DisagreementOut(
                session_id=page.session.pk,
                date=page.session.date_now,
                said=said,
                next_step=step,
                next_met=sum(own) if after else None,
                next_judged=len(own) if after else None,
            )
        )
    return found


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
