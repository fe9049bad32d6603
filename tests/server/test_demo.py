"""Saltmarsh Steading: the simulated weeks have two hands, a plan that fails and recovers."""

from __future__ import annotations

import datetime as dt
import random
import statistics

import pytest

from frequens.core import SessionRecord, measure
from frequens.server.demo.filling import fill
from frequens.server.demo.simulation import Animal, Hand, Outing, Step, session
from frequens.server.demo.steading import WEEKS, courses
from frequens.server.logbook.book import logbook_of
from frequens.server.plans.drafts import add_version
from frequens.server.plans.models import Behaviour, Learner
from frequens.server.workspaces.models import Workspace

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


@pytest.mark.django_db
def test_the_ponys_plan_fails_where_a_step_is_too_high_and_recovers_when_it_is_split():
    behaviour, _ = filled(course_of("Bramble"))
    assert behaviour.versions.count() == 2
    book = logbook_of(behaviour).book
    landed = [(x["approximation"], x["share"]) for x in book["landings"]]
    hurried = [share for key, share in landed[6:11] if key == "hold3"]
    assert statistics.mean(hurried) < 0.45
    mended = [share for key, share in landed[12:] if key == "rest"]
    assert statistics.mean(mended) > 0.65
    # The step that failed is reached again, and holds.
    assert landed[-1][0] == "hold3"
    assert landed[-1][1] > statistics.mean(hurried)


@pytest.mark.django_db
def test_two_hands_differ_and_the_late_one_gets_better():
    behaviour, _ = filled(course_of("Pepper"))
    found = logbook_of(behaviour)
    trainer = {str(s.session_id): s.trainer for s in found.sessions}
    middles = {"wren": [], "teasel": []}
    for timing in found.book["marker_latency_s"]:
        middles[trainer[timing["id"]]].append(timing["skill"]["median"])
    assert statistics.mean(middles["teasel"]) > statistics.mean(middles["wren"]) + 0.1
    half = len(middles["teasel"]) // 2
    late, later = middles["teasel"][:half], middles["teasel"][half:]
    assert statistics.mean(later) < statistics.mean(late) - 0.05
    assert sum(s.by_hand for s in found.sessions) == 3
    assert len(found.book["weeks"]) in (WEEKS, WEEKS + 1)


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
