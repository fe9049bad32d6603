"""The calendar of what is taught: sessions held and planned, and the stages they belong to."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django.db.models import OuterRef, Prefetch, QuerySet, Subquery
from django.utils import timezone

from frequens.core.programme.quantity_ladder import QuantityLadder, quantity_ladders
from frequens.core.programme.stage_calendar import StageCalendar, Trained, stage_calendar

from ..findings.judgements import Judged, judged_by_behaviour
from .models import Behaviour, PlanVersion
from .next_card import due_at


@dataclass(frozen=True)
class BehaviourDays:
    """One behaviour's calendar: `due` is the day and hour the trainer set for its next session."""

    behaviour: Behaviour
    calendar: StageCalendar
    ladders: tuple[QuantityLadder, ...]
    due: dt.datetime | None


def days_of(behaviours: QuerySet[Behaviour], only_planned: bool = False) -> list[BehaviourDays]:
    """The calendars of behaviours as of today, in their order; asked for all at once.

    `only_planned` leaves out those whose plan names neither days nor stages.
    """
    last = PlanVersion.objects.filter(behaviour=OuterRef("behaviour")).order_by("-number")
    newest = PlanVersion.objects.filter(number=Subquery(last.values("number")[:1]))
    found = behaviours.select_related("learner").prefetch_related(
        Prefetch("versions", newest, to_attr="newest")
    )
    plans = {one: one.newest[0].document for one in found}
    if only_planned:
        plans = {k: plan for k, plan in plans.items() if plan.get("calendar") or plan.get("stages")}
    known = judged_by_behaviour([behaviour.pk for behaviour in plans])
    return [_days(one, plan, known[one.pk]) for one, plan in plans.items()]


def _days(behaviour: Behaviour, plan: Mapping[str, Any], judged: Sequence[Judged]) -> BehaviourDays:
    today = timezone.localdate()
    trained = [
        Trained(str(one.sessions[-1].pk), day, one.judgement.step, one.judgement.decision)
        for one in judged
        if (day := one.sessions[-1].date_now) is not None
    ]
    last = judged[-1] if judged else None
    due = due_at(last.sessions[-1]) if last else None
    fixed = due.date() if due is not None and due.date() >= today else None
    ladders = quantity_ladders(
        plan,
        [one.digest for one in judged],
        last.judgement if last else None,
        today,
        behaviour.learner.as_core,
    )
    return BehaviourDays(behaviour, stage_calendar(plan, trained, today, fixed), ladders, due)
