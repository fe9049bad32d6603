"""Makes the demo: Saltmarsh Steading, its trainer, and films from the simulated camera."""

from __future__ import annotations

import datetime as dt
import json
import random
import uuid
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand
from django.db import transaction

from frequens.core import Event, read_session
from frequens.core.interchange import write_event
from frequens.core.shaping import STARTERS
from frequens.media.frames import FrameIndex

from ...films.intake import plan_stages, take_in
from ...films.models import Film
from ...plans.drafts import add_version
from ...plans.filmed import put_under
from ...plans.models import Behaviour, Learner
from ...reviews.folding import append_edits
from ...workspaces.models import Membership, Workspace

WORKSPACE = "Saltmarsh Steading"
USERNAME = "wren"
PASSWORD = "bell-rope-and-barley"
LEARNERS: tuple[tuple[dict[str, Any], str], ...] = (
    (
        {
            "name": "Thistle",
            "species": "goat",
            "born": dt.date(2022, 4, 11),
            "size": "medium",
            "health": ["pregnant"],
            "notes": "In kid. Horns: mind ropes.",
        },
        "bell",
    ),
    (
        {
            "name": "Pepper",
            "species": "hen",
            "born": dt.date(2024, 5, 2),
            "size": "small",
            "health": ["timid"],
        },
        "disc",
    ),
    (
        {
            "name": "Bramble",
            "species": "pony",
            "born": dt.date(2009, 6, 20),
            "size": "large",
            "health": ["old", "overweight"],
        },
        "stand",
    ),
)
#: Large enough for the bench's stage, small enough to be filmed while one waits.
SIZE = {"width": 960, "height": 540}
#: Kinds the first form of the bench codes, and the change of criterion between them.
CODED = ("criterion", "onset", "offset", "marker", "reward", "reach")


class Command(BaseCommand):
    """Makes the demo once; again it changes nothing."""

    help = "Make the demo data of Saltmarsh Steading, where it is not there yet."

    def handle(self, *args: Any, **options: Any) -> None:
        workspace = self._workspace()
        if Film.objects.filter(workspace=workspace, state=Film.State.READY).exists():
            return
        Film.objects.filter(workspace=workspace).delete()
        bell = self._plans(workspace)
        coded = self._film(workspace, "Thistle, bell rope, evening.mp4", 66, seed=11)
        self._code(coded)
        assert coded.session is not None
        put_under(coded.session, bell.current, None)
        self._film(workspace, "Thistle, bell rope, next morning.mp4", 20, seed=5)

    @transaction.atomic
    def _workspace(self) -> Workspace:
        workspace, _ = Workspace.objects.get_or_create(name=WORKSPACE)
        users = get_user_model()
        user = users.objects.filter(username=USERNAME).first()
        if user is None:
            user = users.objects.create_user(USERNAME, password=PASSWORD)
        Membership.objects.get_or_create(workspace=workspace, user=user)
        return workspace

    @transaction.atomic
    def _plans(self, workspace: Workspace) -> Behaviour:
        """The learners and what they are taught; returns the behaviour that is filmed."""
        Learner.objects.filter(workspace=workspace).delete()
        made = []
        for facts, starter in LEARNERS:
            learner = Learner.objects.create(workspace=workspace, **facts)
            behaviour = Behaviour.objects.create(
                workspace=workspace, learner=learner, name=STARTERS[starter]["behaviour"]
            )
            add_version(behaviour, STARTERS[starter], None)
            made.append(behaviour)
        return made[0]

    def _film(self, workspace: Workspace, name: str, length_s: float, seed: int) -> Film:
        film = Film.objects.create(
            workspace=workspace,
            name=name,
            origin=Film.Origin.SIMULATED,
            state=Film.State.WAITING,
            request={"length_s": length_s, "seed": seed, "lateness_s": 0.0, "options": SIZE},
        )
        plan_stages(film)
        self.stdout.write(f"Filming {name} ...")
        take_in(str(film.pk))
        film.refresh_from_db()
        return film

    def _code(self, film: Film) -> None:
        """Code a film as a careful reviewer would: each mark on the first frame that shows it."""
        assert film.session is not None
        truth = read_session(json.loads(film.truth_path.read_text(encoding="utf-8")))
        chance = random.Random(film.request["seed"])
        edits = [
            (uuid.uuid4().hex, {"op": "put", "event": mark_on_frame(event, film.index)})
            for event in truth.events
            # One reward the reviewer overlooked, so that the demo shows a broken promise.
            if event.kind in CODED and not (event.kind == "reward" and chance.random() < 0.08)
        ]
        append_edits(film.session, edits)


def mark_on_frame(event: Event, index: FrameIndex) -> dict[str, Any]:
    """A simulated event as a reviewer marks it: on the first frame that can show it."""
    frame = index.first_after(event.t_us)
    mark = {k: v for k, v in write_event(event).items() if k not in ("t", "width")}
    return {**mark, "frame": frame, "pts": index.pts[frame]}
