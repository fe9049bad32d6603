"""Makes the demo: Saltmarsh Steading, its trainer, and films from the simulated camera."""

from __future__ import annotations

import datetime as dt
import json
import random
import uuid
from typing import Any, NamedTuple

from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand
from django.db import transaction
from django.utils import timezone

from frequens.core import Event, read_session
from frequens.core.formats.session_document import write_event
from frequens.media.decode.frames import FrameIndex
from frequens.server.accounts.models import Workspace, join_workspace
from frequens.server.coding.edit_store import append_edits
from frequens.server.ingest.intake import plan_stages, take_in
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession
from frequens.server.plans.drafts import add_version
from frequens.server.plans.models import Behaviour, Learner
from frequens.server.plans.worked_steps import put_under
from frequens.simulator.animals import Animal
from frequens.simulator.camera.roles import ROLES

from ...filling import fill
from ...practice import practise
from ...second_eyes import look_again
from ...steading import LEARNERS, PASSWORD, TRAINERS, WORKSPACE, courses

#: Large enough for the bench's stage, small enough to be filmed while one waits.
WIDE, UPRIGHT = {"width": 960, "height": 540}, {"width": 540, "height": 960}


class Shot(NamedTuple):
    """A film of the demo; `days_ago` is when, and a coded one is to look at."""

    name: str
    animal: Animal
    length_s: float
    seed: int
    options: dict[str, Any]
    days_ago: int = 1
    is_coded: bool = True


FILMS = (
    Shot("Thistle, bell rope, evening.mp4", "goat", 66.0, 11, WIDE),
    Shot("Thistle, bell rope, next morning.mp4", "goat", 20.0, 5, WIDE, 0, is_coded=False),
    Shot("Pepper, striped disc, evening.mp4", "hen", 26.0, 4, {**WIDE, "fps": "60"}),
    Shot("Bramble, hoof on the stand, evening.mp4", "pony", 45.0, 6, UPRIGHT),
)
#: Kinds the first form of the bench codes, and the change of criterion between them.
CODED = ("criterion", "onset", "offset", "marker", "reward", "reach")


class Command(BaseCommand):
    """Makes the demo once; again it changes nothing."""

    help = "Make the demo data of Saltmarsh Steading, where it is not there yet."

    def handle(self, *args: Any, **options: Any) -> None:
        workspace = self._workspace()
        if self._is_lived_in(workspace):
            return
        self._clear_leftovers(workspace)
        films = [(shot, self._film(workspace, shot)) for shot in FILMS]
        today = timezone.localdate()
        self.stdout.write("Six weeks of sessions ...")
        # Whole or not at all: that it is there says the next time that the demo is made.
        with transaction.atomic():
            taught = {b.name: b for b in self._courses(workspace, today)}
            for shot, film in films:
                assert film.session is not None
                marks = self._code(film) if shot.is_coded else []
                put_under(film.session, taught[ROLES[shot.animal].behaviour].current, None)
                date = today - dt.timedelta(days=shot.days_ago)
                _say(film.session, {"date": date.isoformat()})
                if shot is FILMS[0]:
                    self._look_again(film, marks)
            first = get_user_model().objects.get(username=TRAINERS[0])
            practise(workspace, first, today, seed=4)

    def _is_lived_in(self, workspace: Workspace) -> bool:
        """Whether anything is there that a demo broken off half-way cannot have left."""
        if Learner.objects.filter(workspace=workspace).exists():
            return True
        sessions = TrainingSession.objects.filter(workspace=workspace)
        return any(session.marks or session.by_hand for session in sessions)

    def _clear_leftovers(self, workspace: Workspace) -> None:
        """Remove the films of a demo that was broken off; whatever else is there stays."""
        names = [shot.name for shot in FILMS]
        simulated = Film.objects.filter(workspace=workspace, origin=Film.Origin.SIMULATED)
        for film in simulated.filter(name__in=names):
            if film.session is not None:
                film.session.delete()
            film.delete()

    @transaction.atomic
    def _workspace(self) -> Workspace:
        workspace, _ = Workspace.objects.get_or_create(name=WORKSPACE)
        users = get_user_model()
        for name in TRAINERS:
            user = users.objects.filter(username=name).first()
            if user is None:
                user = users.objects.create_user(name, password=PASSWORD)
            if not workspace.members.filter(pk=user.pk).exists():
                join_workspace(user, workspace)
        return workspace

    def _courses(self, workspace: Workspace, today: dt.date) -> list[Behaviour]:
        """The learners, what they are taught, and their sessions."""
        learners = {
            name: Learner.objects.create(workspace=workspace, name=name, **facts)
            for name, facts in LEARNERS.items()
        }
        made: list[Behaviour] = []
        for course in courses():
            document = course.plans[0][1]
            behaviour = Behaviour.objects.create(
                workspace=workspace, learner=learners[course.learner], name=document["behaviour"]
            )
            add_version(behaviour, document, None)
            last = fill(behaviour, course, today, self.stdout.write)[-1]
            due = dt.datetime.combine(today, dt.time(17, 30)).isoformat(timespec="minutes")
            if course.weekdays & {today.weekday()} or len(made) == 2:
                _say(last, {"next_session": {"at": due}})
            made.append(behaviour)
        return made

    def _film(self, workspace: Workspace, shot: Shot) -> Film:
        film = Film.objects.create(
            workspace=workspace,
            name=shot.name,
            # Teasel marks with a word.
            trainer=TRAINERS[1] if ROLES[shot.animal].word else TRAINERS[0],
            origin=Film.Origin.SIMULATED,
            state=Film.State.WAITING,
            request={
                "animal": shot.animal,
                "length_s": shot.length_s,
                "seed": shot.seed,
                "lateness_s": 0.0,
                "options": shot.options,
            },
        )
        plan_stages(film)
        self.stdout.write(f"Filming {shot.name} ...")
        take_in(str(film.pk))
        film.refresh_from_db()
        return film

    def _look_again(self, film: Film, marks: list[dict[str, Any]]) -> None:
        users = get_user_model().objects
        people = users.get(username=TRAINERS[0]), users.get(username=TRAINERS[1])
        assert film.session is not None
        look_again(film.session, marks, film.index, people, film.request["seed"])

    def _code(self, film: Film) -> list[dict[str, Any]]:
        """Code a film as a careful reviewer would: each mark on the first frame that shows it.

        Returns all of those marks, also what the first reviewer then overlooked.
        """
        assert film.session is not None
        truth = read_session(json.loads(film.truth_path.read_text(encoding="utf-8")))
        chance = random.Random(film.request["seed"])
        marks = [mark_on_frame(event, film.index) for event in truth.events if event.kind in CODED]
        edits = [
            (uuid.uuid4().hex, {"op": "put", "event": mark})
            for mark in marks
            # One reward the reviewer overlooked, so that the demo shows a broken promise.
            if not (mark["kind"] == "reward" and chance.random() < 0.08)
        ]
        append_edits(film.session, edits)
        return marks


def _say(session: TrainingSession, facts: dict[str, Any]) -> None:
    append_edits(session, [(uuid.uuid4().hex, {"op": "facts", "set": facts})])


def mark_on_frame(event: Event, index: FrameIndex) -> dict[str, Any]:
    """A simulated event as a reviewer marks it: on the first frame that can show it."""
    frame = index.first_after(event.t_us)
    mark = {k: v for k, v in write_event(event).items() if k not in ("t", "width")}
    return {**mark, "frame": frame, "pts": index.pts[frame]}
