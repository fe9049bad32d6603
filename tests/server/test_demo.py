"""Saltmarsh Steading: the simulated weeks have two hands, a plan that fails and recovers."""

from __future__ import annotations

import datetime as dt
import io
import random
import statistics

import pytest
from django.core.management import call_command
from django.utils import timezone

from frequens.core import SessionRecord, measure
from frequens.demo.filling import fill
from frequens.demo.management.commands import make_demo
from frequens.demo.practice import practise
from frequens.demo.second_eyes import look_again
from frequens.demo.steading import WEEKS, courses
from frequens.server.accounts.models import Workspace
from frequens.server.coding.edit_store import append_edits, fold
from frequens.server.findings.store import measurement_of
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession
from frequens.server.logbook.behaviour_logbook import logbook_of
from frequens.server.plans.drafts import add_version
from frequens.server.plans.models import Behaviour, Learner
from frequens.server.second_look.comparing import comparison_of
from frequens.server.second_look.models import SecondLook
from frequens.simulator.animals import ANIMALS
from frequens.simulator.camera.roles import ROLES
from frequens.simulator.yard.simulation import session
from frequens.simulator.yard.world import Animal, Hand, Outing, Step

TODAY = dt.date(2026, 5, 30)


def filled(course):
    workspace, _ = Workspace.objects.get_or_create(name="Saltmarsh Steading")
    learner = Learner.objects.create(workspace=workspace, name=course.learner)
    behaviour = Behaviour.objects.create(workspace=workspace, learner=learner, name="x")
    add_version(behaviour, course.plans[0][1], None)
    sessions = fill(behaviour, course, TODAY, lambda said: None)
    return behaviour, sessions


def course_of(learner, place=0):
    return [c for c in courses() if c.learner == learner][place]


@pytest.mark.long
@pytest.mark.django_db
def test_the_ponys_plan_fails_where_a_step_is_too_high_and_recovers_when_it_is_split():
    behaviour, sessions = filled(course_of("Bramble"))
    assert behaviour.versions.count() == 2
    book = logbook_of(behaviour).book
    landed = [(x.approximation, x.share) for x in book.landings]
    hurried = [share for key, share in landed[6:11] if key == "hold3"]
    assert statistics.mean(hurried) < 0.45
    mended = [share for key, share in landed[12:] if key == "rest"]
    assert statistics.mean(mended) > 0.65
    # Waiting without pay showed in the animal, and stopped showing.
    signs = [measurement_of(s).findings["signs"]["labels"] for s in sessions]
    seen = [sum(sign["count"] for sign in labels.values()) for labels in signs]
    assert sum(seen[6:11]) >= 10
    assert 5 * sum(seen[13:]) < sum(seen[6:11])
    # The step that failed is reached again, holds, and is left behind.
    again = [share for key, share in landed[13:] if key == "hold3"]
    assert statistics.mean(again) > statistics.mean(hurried) + 0.3
    assert landed[-1][0] == "hold5"


@pytest.mark.long
@pytest.mark.django_db
def test_two_hands_differ_and_the_late_one_gets_better():
    behaviour, _ = filled(course_of("Pepper"))
    found = logbook_of(behaviour)
    trainer = {str(s.session_id): s.trainer for s in found.sessions}
    middles = {"wren": [], "teasel": []}
    for timing in found.book.marker_latency_s:
        middles[trainer[timing.id]].append(timing.skill.median)
    assert statistics.mean(middles["teasel"]) > statistics.mean(middles["wren"]) + 0.1
    half = len(middles["teasel"]) // 2
    late, later = middles["teasel"][:half], middles["teasel"][half:]
    assert statistics.mean(later) < statistics.mean(late) - 0.05
    assert sum(s.by_hand for s in found.sessions) == 3
    assert len(found.book.weeks) in (WEEKS, WEEKS + 1)


def test_a_session_is_the_same_for_the_same_seed_and_can_be_measured():
    def made():
        animal = Animal(quick=0.1, pause_s=1.5, known={"nose": 0.6})
        hand = Hand(late_s=0.3, spread_s=0.1, reward_s=1.2)
        outing = Outing([(Step("nose", None), 12)], most_s=120)
        return session(animal, hand, outing, random.Random(4))

    events = made()
    assert events == made()
    found = measure(SessionRecord(events=tuple(events)))
    assert found["counts"]["attempts"] == 12
    assert 0.1 < found["marker_latency_s"]["median"] < 0.5


def test_what_is_paid_is_learnt_and_a_leap_teaches_nothing_above_it():
    animal = Animal(quick=0.1, pause_s=1, known={"a": 0.5}, leaps=frozenset({("b", "c")}))
    for _ in range(30):
        animal.learn("a", "b")
    assert animal.knows("a") > 0.9
    assert animal.knows("b") > 0.4
    for _ in range(30):
        animal.learn("b", "c")
    assert animal.knows("c") == 0.1


def test_every_animal_is_filmed_under_a_plan_of_its_own():
    plans = {course.plans[-1][1]["behaviour"]: course.plans[-1][1] for course in courses()}
    assert {shot.animal for shot in make_demo.FILMS} == set(ANIMALS)
    for role in ROLES.values():
        keys = [step["key"] for step in plans[role.behaviour]["approximations"]]
        assert {step.key for step in role.steps} <= set(keys)
        assert plans[role.behaviour]["rule"] == role.rule
    sizes = {shot.animal: shot.options for shot in make_demo.FILMS}
    assert sizes["pony"]["height"] > sizes["pony"]["width"]
    assert sizes["hen"]["fps"] == "60"
    assert ROLES["pony"].word


@pytest.fixture
def quick_demo(monkeypatch):
    """The demo with a film's place taken by a session of its own, and one short course."""

    def film(self, workspace, shot):
        session = TrainingSession.objects.create(workspace=workspace)
        return Film.objects.create(
            workspace=workspace,
            name=shot.name,
            origin=Film.Origin.SIMULATED,
            state=Film.State.READY,
            session=session,
        )

    bell = course_of("Thistle")
    monkeypatch.setattr(make_demo.Command, "_film", film)
    monkeypatch.setattr(make_demo.Command, "_code", lambda self, film: [])
    # Tried by itself below: these films have no frames.
    monkeypatch.setattr(make_demo.Command, "_look_again", lambda self, film, marks: None)
    monkeypatch.setattr(make_demo, "courses", lambda: (bell,))
    thistles = [shot for shot in make_demo.FILMS if shot.animal == "goat"]
    monkeypatch.setattr(make_demo, "FILMS", thistles)
    return lambda: call_command("make_demo", stdout=io.StringIO())


@pytest.mark.django_db
def test_the_demo_is_made_once_and_never_touches_what_somebody_added(quick_demo):
    quick_demo()
    workspace = Workspace.objects.get(name="Saltmarsh Steading")
    assert Film.objects.count() == 2
    sessions = TrainingSession.objects.count()
    # Somebody goes on with it: their own learner, and a film taken away.
    own = Learner.objects.create(workspace=workspace, name="Sorrel")
    Film.objects.filter(name__contains="evening").delete()
    quick_demo()
    assert Learner.objects.filter(pk=own.pk).exists()
    assert (Film.objects.count(), TrainingSession.objects.count()) == (1, sessions)


@pytest.mark.long
@pytest.mark.django_db
def test_a_demo_broken_off_is_made_anew_and_other_films_stay(quick_demo, monkeypatch):
    with monkeypatch.context() as patch:
        patch.setattr(make_demo, "fill", lambda *given: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            quick_demo()
    # The films were there already; of the courses nothing.
    assert (Film.objects.count(), Learner.objects.count()) == (2, 0)
    workspace = Workspace.objects.get(name="Saltmarsh Steading")
    own = Film.objects.create(workspace=workspace, name="mine.mp4", state=Film.State.READY)
    quick_demo()
    assert Film.objects.filter(pk=own.pk).exists()
    assert Film.objects.filter(origin=Film.Origin.SIMULATED).count() == 2
    assert Learner.objects.count() == 3


@pytest.mark.django_db
def test_sessions_without_a_learner_keep_the_demo_away(quick_demo, make_trainer):
    make_trainer("wren")
    workspace = Workspace.objects.get(name="Saltmarsh Steading")
    TrainingSession.objects.create(workspace=workspace, by_hand={"minutes": 2})
    quick_demo()
    assert TrainingSession.objects.count() == 1


def test_its_second_coder_differs_here_and_there(coded, film, make_trainer):
    """Both are done, most of it both have, and the same seed gives the same."""
    marks = list(fold(coded).events.values()) + [
        {"id": f"o{n}", "kind": "onset", "frame": f, "pts": film.index.pts[f], "met": True}
        for n, f in enumerate(range(20, 220, 20))
    ]
    body = [(mark["id"], {"op": "put", "event": mark}) for mark in marks]
    append_edits(coded, body, checked=True)
    people = make_trainer("plover"), make_trainer("teasel")
    look_again(coded, marks, film.index, people, seed=11)
    look = SecondLook.objects.get()
    found = comparison_of(look)
    assert (look.reviewer, look.asked_by) == (people[1], people[0])
    assert 0.5 < found.agreement.kinds["onset"].agreement <= 1
    assert found.open_pairs
    assert any(pair.is_alike for pair in found.pairs)


def test_its_trainer_has_practised_and_got_surer(wren, trainer):
    """Told from what was pressed: a lag that falls, beyond what chance does."""
    practise(trainer.workspaces.get(), trainer, timezone.localdate(), seed=4)
    found = wren.get("/api/drills").json()
    curve = next(c for c in found["curves"] if c["level"] == "fakes")
    assert curve["lag"]["days"] == 12
    assert curve["lag"]["high_s"] < 0
    assert found["learned"]["lag_s"] == pytest.approx(0.26, abs=0.03)
    assert wren.get("/api/me").json()["preferences"]["lag_by"] == "drill"
