"""What the sessions filmed for a behaviour came to, step by step."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any

from django.db import transaction

from frequens.core.planning.shaping import session_plan

from ..coding.edit_store import append_edits
from ..findings.judgements import order_of
from ..findings.store import measurement_of, measurements_of
from ..library.sessions import TrainingSession
from .models import Behaviour, PlanVersion
from .schemas import WorkedSessionOut


@transaction.atomic
def put_under(session: TrainingSession, version: PlanVersion, author: Any) -> None:
    """The session takes a plan as it is; what becomes of the plan later does not touch it."""
    facts = {
        "learner": version.behaviour.learner.name,
        "behaviour": version.behaviour.name,
        "plan": session_plan(version.document),
        "settings": version.document.get("settings", {}),
    }
    append_edits(session, [(uuid.uuid4().hex, {"op": "facts", "set": facts})], author)
    session.plan_version = version
    session.save(update_fields=["plan_version"])
    # Now, while one waits anyway: the logbook shows many at once.
    measurement_of(session, keep=True)


def sessions_worked(behaviour: Behaviour) -> list[WorkedSessionOut]:
    """The behaviour's sessions in the order of their days."""
    found = TrainingSession.objects.filter(plan_version__behaviour=behaviour, by_hand__isnull=True)
    ordered = sorted(found, key=order_of)
    known = measurements_of(ordered)
    return [_worked_session(session, known[session.pk].findings) for session in ordered]


def _worked_session(
    session: TrainingSession, findings: Mapping[str, Any] | None
) -> WorkedSessionOut:
    splits = findings["splits"] if findings else {"segments": [], "approximations": []}
    named = [s for s in splits["approximations"] if s["approximation"] is not None]
    steps = [s["approximation"] for s in splits["segments"] if s["attempts"]]
    return WorkedSessionOut(
        session_id=session.pk,
        date=session.date_now,
        last_step=steps[-1] if steps else None,
        judged={s["approximation"]: s["judged"] for s in named},
        met={s["approximation"]: s["met"] for s in named},
    )
