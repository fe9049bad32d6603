"""Keeping what is written into a plan: drafts become versions, and none overwrites another."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping
from typing import Any

from django.db import transaction
from django.utils import timezone

from frequens.core.planning.shaping import read_shaping_plan

from ..library.sessions import TrainingSession
from .models import Behaviour, PlanVersion

#: Writing that pauses longer than this goes on in a new version.
PAUSE = dt.timedelta(minutes=20)


class Overtaken(Exception):
    """Somebody else, or another tab, has written since; `current` is what stands now."""

    def __init__(self, current: PlanVersion):
        super().__init__()
        self.current = current


@transaction.atomic
def keep(
    behaviour: Behaviour, document: Any, number: int, revision: int, author: Any
) -> PlanVersion:
    """Keep a draft made from version `number`, `revision`.

    Raises InvalidPlan for a document that cannot be one, Overtaken where the plan has gone
    on since. The same draft sent twice is kept once.
    """
    plan = read_shaping_plan(document)
    # Drafts of one behaviour are kept one after another.
    behaviour = Behaviour.objects.select_for_update().get(pk=behaviour.pk)
    current = behaviour.current
    if plan == current.document:
        return current
    if (current.number, current.revision) != (number, revision):
        raise Overtaken(current)
    behaviour.name = plan.get("behaviour") or behaviour.name
    behaviour.save(update_fields=["name"])
    if _is_open(current, author):
        current.document = plan
        current.revision += 1
        current.save()
        return current
    return add_version(behaviour, plan, author)


def add_version(behaviour: Behaviour, plan: Mapping[str, Any], author: Any) -> PlanVersion:
    """The next version of a behaviour's plan."""
    last = behaviour.versions.order_by("-number").first()
    return PlanVersion.objects.create(
        behaviour=behaviour,
        number=last.number + 1 if last else 1,
        document=dict(plan),
        author=author,
    )


def _is_open(version: PlanVersion, author: Any) -> bool:
    if version.author != author or timezone.now() - version.saved_at > PAUSE:
        return False
    return not TrainingSession.objects.filter(plan_version=version).exists()
