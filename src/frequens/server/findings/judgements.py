"""The judgement of a session, in the light of all sessions of its behaviour up to it."""

from __future__ import annotations

import datetime as dt
import functools
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from frequens.core import InvalidSession
from frequens.core.decisions.judging import Digest, Judgement, Judging, digest_by_hand, judge
from frequens.core.formats.session_document import read_plan
from frequens.core.model.events import ByHand, Plan, SessionFacts, SessionRecord
from frequens.core.planning.shaping import session_plan
from frequens.core.programme.chaining import Linked
from frequens.core.programme.variation import Held

from ..library.sessions import TrainingSession
from .store import measurement_of, measurements_of


@dataclass(frozen=True)
class Judged:
    """A session's judgement, the session in short, and the plan it was judged under."""

    judgement: Judgement
    digest: Digest
    plan: Mapping[str, Any]
    #: Those it was judged with, in order; the last is itself.
    sessions: Sequence[TrainingSession]


@dataclass(frozen=True)
class _Page:
    """One session of a behaviour: in short, with the plan it was filmed under."""

    session: TrainingSession
    digest: Digest
    plan: Mapping[str, Any]


def judged(session: TrainingSession, known: Mapping[str, Any] | None = None) -> Judged | None:
    """The judgement of a session; None while its marks cannot be measured.

    `known` is its own digest, for whoever has just measured it.
    """
    if known is None and session.by_hand is None:
        known = measurement_of(session, keep=True).digest
    own = _page(session, known)
    return None if own is None else _judged(own, _before(own))


def judged_sessions(
    sessions: Sequence[TrainingSession], digests: Mapping[Any, Mapping[str, Any] | None]
) -> dict[Any, Judged]:
    """The judgements of all sessions of one behaviour, each with those before it.

    `digests` by session, as they were measured.
    """
    ordered = _in_order(sessions)
    pages = [page for s in ordered if (page := _page(s, digests.get(s.pk))) is not None]
    found: dict[Any, Judged] = {}
    for place, page in enumerate(pages):
        first = place
        while first > 0 and _is_remembered(pages[first - 1], page):
            first -= 1
        found[page.session.pk] = _judged(page, pages[first:place])
    return found


def worked_on(*behaviour_ids: Any) -> list[TrainingSession]:
    """The sessions of these behaviours that are coded or counted.

    Each plan is read once, however many sessions were filmed under it.
    """
    of_it = TrainingSession.objects.filter(plan_version__behaviour__in=behaviour_ids)
    found = of_it.defer("plan", "settings").prefetch_related("plan_version")
    return [session for session in found if session.marks or session.by_hand]


def judged_by_behaviour(behaviour_ids: Iterable[Any]) -> dict[Any, list[Judged]]:
    """The judgements of all sessions of these behaviours, in order; asked for all at once."""
    found: dict[Any, list[TrainingSession]] = {pk: [] for pk in behaviour_ids}
    sessions = worked_on(*found)
    digests = measurements_of([s for s in sessions if s.by_hand is None], digests_only=True)
    for session in _in_order(sessions):
        if session.plan_version is not None:
            found[session.plan_version.behaviour_id].append(session)
    return {
        pk: list(judged_sessions(own, {s.pk: _of(digests, s) for s in own}).values())
        for pk, own in found.items()
    }


def last_judged(behaviour_id: Any) -> tuple[TrainingSession, Judged] | None:
    """The judgement of the last of a behaviour's sessions that can be judged."""
    ordered = _in_order(worked_on(behaviour_id))
    while ordered:
        last = ordered[-1]
        document = last.plan_version.document if last.plan_version else {}
        near = [s for s in ordered if _days_between(s, last) <= _memory(document)]
        digests = measurements_of([s for s in near if s.by_hand is None], digests_only=True)
        pages = [page for s in near if (page := _page(s, _of(digests, s))) is not None]
        if pages and pages[-1].session == last:
            return last, _judged(pages[-1], pages[:-1])
        ordered.pop()
    return None


def remembered(behaviour_id: Any, plan: Mapping[str, Any], day: dt.date) -> list[Digest]:
    """The sessions a session of this day is judged with, in short and in order."""
    near = [
        session
        for session in _in_order(worked_on(behaviour_id))
        if session.date_now is None or (day - session.date_now).days <= _memory(plan)
    ]
    digests = measurements_of([s for s in near if s.by_hand is None], digests_only=True)
    pages = (_page(session, _of(digests, session)) for session in near)
    return [page.digest for page in pages if page is not None]


def digests_of(behaviour_id: Any) -> list[Digest]:
    """All sessions of a behaviour in short and in order, however long ago."""
    ordered = _in_order(worked_on(behaviour_id))
    known = measurements_of([s for s in ordered if s.by_hand is None], digests_only=True)
    pages = (_page(session, _of(known, session)) for session in ordered)
    return [page.digest for page in pages if page is not None]


def history_of(session: TrainingSession, known: Judged) -> list[Held]:
    """A judged session and all of its behaviour before it in short, however long ago, in order."""
    own = _Page(session, known.digest, known.plan)
    pages = [*_before(own, is_limited=False), own]
    return [held(page.session, page.digest) for page in pages]


def links_before(session: TrainingSession) -> list[Linked]:
    """How far chains came in a session and in all of its behaviour before it, in order."""
    version = session.plan_version
    of_it = worked_on(version.behaviour_id) if version else [session]
    filmed = [s for s in of_it if s.by_hand is None and order_of(s) <= order_of(session)]
    known = measurements_of(filmed)
    return [
        Linked(one.date_now, findings["chains"])
        for one in _in_order(filmed)
        if (findings := known[one.pk].findings) is not None
    ]


def held(session: TrainingSession, digest: Digest) -> Held:
    """A session in short with where it was and who handled."""
    return Held(digest, session.summary.get("place") or "", session.summary.get("handler") or "")


def plan_in_force(session: TrainingSession, plan: Mapping[str, Any]) -> dict[str, Any]:
    """The one plan of a session, as a `frequens-plan` document.

    Its steps are those it was filmed under, also where they were changed at the bench; what else
    the shaping plan says of them and of the whole goes with it.
    """
    version = session.plan_version
    whole: Mapping[str, Any] = version.document if version else {}
    known = {step["key"]: step for step in whole.get("approximations", [])}
    steps = [
        {k: v for k, v in known.get(step["key"], {}).items() if k != "retired"} | dict(step)
        for step in plan.get("approximations", [])
    ]
    return {**whole, **plan, "approximations": steps}


def order_of(session: TrainingSession) -> tuple[dt.date, str, dt.datetime]:
    """The order of sessions: by day, by time of day (missing first), then as they came in."""
    return (session.date_now or dt.date.min, session.summary.get("time") or "", session.created_at)


def counts_of(by_hand: Mapping[str, Any]) -> ByHand:
    """Counts entered into the logbook as the judgement takes them."""
    reps = by_hand.get("reps", 0)
    return ByHand(
        approximation=by_hand.get("approximation") or None,
        judged=reps if "met" in by_hand else 0,
        met=by_hand.get("met", 0),
        rewards=by_hand.get("reinforcements"),
        minutes=by_hand.get("minutes"),
        signs=tuple((s.get("label", ""), s["severity"]) for s in by_hand.get("signs", [])),
        opt_outs=by_hand.get("opt_outs", 0),
        conditions=by_hand.get("conditions"),
        help=by_hand.get("help"),
        attempts=reps,
    )


def _in_order(sessions: Iterable[TrainingSession]) -> list[TrainingSession]:
    return sorted(sessions, key=order_of)


def _before(own: _Page, is_limited: bool = True) -> list[_Page]:
    """The sessions of the same behaviour before this one: those it remembers, or all."""
    version = own.session.plan_version
    if version is None:
        return []
    earlier = [
        session
        for session in worked_on(version.behaviour_id)
        if session.pk != own.session.pk
        and order_of(session) < order_of(own.session)
        and (not is_limited or _days_between(session, own.session) <= _memory(own.plan))
    ]
    digests = measurements_of([s for s in earlier if s.by_hand is None], digests_only=True)
    pages = (_page(session, _of(digests, session)) for session in _in_order(earlier))
    return [page for page in pages if page is not None]


def _of(digests: Mapping[Any, Any], session: TrainingSession) -> Mapping[str, Any] | None:
    found = digests.get(session.pk)
    return found.digest if found else None


def _is_remembered(before: _Page, page: _Page) -> bool:
    return _days_between(before.session, page.session) <= _memory(page.plan)


def _days_between(one: TrainingSession, other: TrainingSession) -> int:
    """Days from one session to the other; none where either says no day."""
    if one.date_now is None or other.date_now is None:
        return 0
    return abs((other.date_now - one.date_now).days)


def _memory(plan: Mapping[str, Any]) -> int:
    return int(plan.get("judging", {}).get("memory_days", Judging().memory_days))


def _page(session: TrainingSession, known: Mapping[str, Any] | None) -> _Page | None:
    if session.by_hand is not None:
        return _counted(session)
    if known is None:
        return None
    return _Page(session, Digest.read(known["session"]), known["plan"])


def _counted(session: TrainingSession) -> _Page:
    version = session.plan_version
    plan = session_plan(version.document) if version else session.plan
    facts = SessionFacts(
        date=session.date_now.isoformat() if session.date_now else None,
        time=session.summary.get("time"),
    )
    counts = counts_of(session.by_hand or {})
    return _Page(session, digest_by_hand(SessionRecord(session=facts), counts), plan)


def _judged(own: _Page, before: Sequence[_Page]) -> Judged:
    digests = [*(page.digest for page in before), own.digest]
    plan = _read_plan(json.dumps(own.plan, sort_keys=True))
    sessions = [*(page.session for page in before), own.session]
    return Judged(judge(digests, plan), own.digest, own.plan, sessions)


@functools.lru_cache(maxsize=256)
def _read_plan(text: str) -> Plan:
    try:
        return read_plan(json.loads(text))
    except InvalidSession:
        # A plan of an older session that would be refused today: it is judged without one.
        return Plan()
