"""``python -m bench.others TRAINERS MARKS``: fill the database of FREQUENS_HOME with others."""

from __future__ import annotations

import datetime as dt
import os
import sys
from collections.abc import Iterable, Iterator
from itertools import islice
from typing import Any

import django

#: Trainers written at once.
BATCH = 500


def main(trainers: int, marks: int) -> None:
    """A workspace each, with a learner, a behaviour, a plan, a session and its marks."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "frequens.server.settings")
    django.setup()
    from django.contrib.auth import get_user_model
    from django.db import connection, transaction

    from frequens.server.accounts.models import Membership, Workspace
    from frequens.server.coding.models import Edit
    from frequens.server.library.sessions import TrainingSession
    from frequens.server.plans.models import Behaviour, Learner, PlanVersion

    if connection.vendor == "sqlite":
        connection.cursor().execute("PRAGMA synchronous=OFF")
    users = get_user_model()
    steps = [{"key": "near", "title": "Near the bell"}, {"key": "touch", "title": "Touches it"}]
    plan = {"behaviour": "Ring the ship's bell", "approximations": steps}
    numbers = iter(range(trainers))
    while some := list(islice(numbers, BATCH)):
        with transaction.atomic():
            who = users.objects.bulk_create(
                users(username=f"trainer{n}", password="!") for n in some
            )
            where = Workspace.objects.bulk_create(Workspace(name=f"Yard {n}") for n in some)
            Membership.objects.bulk_create(
                Membership(user=user, workspace=place)
                for user, place in zip(who, where, strict=True)
            )
            learners = Learner.objects.bulk_create(
                Learner(workspace=place, name="Thistle") for place in where
            )
            behaviours = Behaviour.objects.bulk_create(
                Behaviour(workspace=one.workspace, learner=one, name=plan["behaviour"])
                for one in learners
            )
            versions = PlanVersion.objects.bulk_create(
                PlanVersion(behaviour=one, number=1, document=plan) for one in behaviours
            )
            sessions = TrainingSession.objects.bulk_create(
                TrainingSession(
                    workspace=version.behaviour.workspace,
                    plan_version=version,
                    plan=plan,
                    date=dt.date(2026, 5, 4),
                    learner="Thistle",
                    behaviour=version.behaviour.name,
                    duration_s=60.0,
                    summary={"marks": marks},
                )
                for version in versions
            )
            Edit.objects.bulk_create(
                _edits(Edit, zip(sessions, who, strict=True), marks), batch_size=2000
            )


def _edits(edit: Any, sessions: Iterable[tuple[Any, Any]], marks: int) -> Iterator[Any]:
    for session, author in sessions:
        for n in range(marks):
            event = {"id": f"m{n}", "kind": ("onset", "marker", "reward")[n % 3], "t": float(n)}
            body = {"op": "put", "event": event}
            yield edit(session=session, author=author, client_id=f"m{n}", body=body)


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
