"""Rehearsals over HTTP: of the plan as it stands, with the logbook where it tells something."""

from __future__ import annotations

import pytest

from frequens.core.rehearsal import DEFAULT, LEFT_OUT, Practice, fit, rehearse
from frequens.core.rehearsal.from_plan import course_of
from frequens.server.plans import rehearsal_api

from .conftest import put, sent


@pytest.fixture
def path(bell):
    return f"/api/behaviours/{bell['id']}/rehearsal"


@pytest.fixture
def steps(bell):
    return [s["key"] for s in bell["plan"]["document"]["approximations"] if not s.get("retired")]


def test_it_is_the_cores_rehearsal_of_the_plan(wren, path, bell, steps):
    document = bell["plan"]["document"]
    status, found = sent(wren, "POST", path, {"runs": 30, "seed": 3})
    assert status == 200
    assert found["course"]["steps"] == steps
    course = course_of(document)
    assert course.steps == tuple(steps)
    expected = rehearse(course, DEFAULT, runs=30, seed=3)
    assert found["rehearsal"]["reps"]["median"] == expected.reps.median
    assert found["rehearsal"]["steepest"] == expected.steepest
    assert found["rehearsal"]["runs"] == 30


def test_it_says_all_that_it_assumes_and_leaves_out(wren, path, steps):
    found = sent(wren, "GET", path)[1]
    assert found["left_out"] == list(LEFT_OUT)
    assert set(found["learner"]) == {*found["ranges"], "carries"}
    assert found["fitted"] is None
    assert list(found["titles"]) == steps
    assert found["schools"] == ["run", "share", "block", "percentile", "comfort"]


def test_what_is_asked_otherwise_counts(wren, path, steps):
    plain = sent(wren, "POST", path, {"runs": 20})[1]
    slow = sent(wren, "POST", path, {"runs": 20, "learner": {"learning": 0.03}})[1]
    assert slow["rehearsal"]["reps"]["median"] > plain["rehearsal"]["reps"]["median"]
    short = sent(wren, "POST", path, {"runs": 20, "rep_cap": 5})[1]
    assert short["rehearsal"]["sessions"]["median"] > plain["rehearsal"]["sessions"]["median"]
    other = sent(wren, "POST", path, {"runs": 20, "rule": {"kind": "percentile"}})[1]
    assert other["course"]["rule"]["kind"] == "percentile"
    between = sent(wren, "POST", path, {"runs": 20, "between": steps[2]})[1]
    assert len(between["course"]["steps"]) == len(steps) + 1


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ({"learner": {"learning": 0.7}}, "learning must lie"),
        ({"learner": {"luck": 0.5}}, "luck"),
        ({"between": "nowhere"}, "not in"),
        ({"between": "look"}, "first"),
    ],
)
def test_what_cannot_be_rehearsed_is_said(wren, path, body, said):
    status, answer = sent(wren, "POST", path, {"runs": 5, **body})
    assert status == 422
    assert said in answer["faults"][0]


@pytest.mark.parametrize("body", [{"runs": 0}, {"runs": 1001}, {"cap_s": 9}, {"days_between": 0}])
def test_numbers_have_their_bounds(wren, path, body):
    assert sent(wren, "POST", path, body)[0] == 422


def test_a_plan_without_steps_is_not_rehearsed(wren, bell, path):
    retired = [step | {"retired": True} for step in bell["plan"]["document"]["approximations"]]
    draft = bell["plan"] | {"document": bell["plan"]["document"] | {"approximations": retired}}
    assert sent(wren, "PUT", f"/api/behaviours/{bell['id']}/plan", draft)[0] == 200
    assert sent(wren, "GET", path)[1]["course"]["steps"] == []
    status, said = sent(wren, "POST", path, {})
    assert (status, "without steps" in said["faults"][0]) == (422, True)


def test_the_logbook_counts_where_it_tells_enough(wren, path, bell, coded, film, steps):
    """Twelve reps more in the film: as the core fits them."""
    more = [
        put(f"n{n}", "onset", 150 + 8 * n, film, met=n % 3 > 0, approximation=steps[0])
        for n in range(10)
    ]
    first = [
        put(f"f{n}", "onset", 2 + 3 * n, film, met=True, approximation=steps[0]) for n in range(9)
    ]
    edits = f"/api/sessions/{coded.pk}/edits"
    assert sent(wren, "POST", edits, {"edits": more + first})[1]["refused"] == {}
    digest = sent(wren, "GET", f"/api/sessions/{coded.pk}/findings")[1]["findings"]
    outcomes = [rep["met"] for rep in digest["reps"] if rep["met"] is not None]
    assert len(outcomes) >= 20
    found = sent(wren, "GET", path)[1]["fitted"]
    expected = fit(
        [Practice(1, tuple((0, met) for met in outcomes))], course_of(bell["plan"]["document"])
    )
    assert found["reps"] == len(outcomes)
    assert found["learner"]["learning"] == pytest.approx(expected.learner.learning)
    assert found["low"]["start"] == pytest.approx(expected.low.start)
    used = sent(wren, "POST", path, {"runs": 10, "from_logbook": True})[1]
    assert used["learner"]["learning"] == pytest.approx(expected.learner.learning)


def test_it_does_not_take_longer_than_it_may(wren, path, monkeypatch):
    monkeypatch.setattr(rehearsal_api, "MOST_S", 0.05)
    status, found = sent(wren, "POST", path, {"runs": 1000})
    assert status == 200
    assert 1 <= found["rehearsal"]["runs"] < 1000


def test_another_workspaces_plan_is_not_there(stranger, path):
    assert sent(stranger, "GET", path)[0] == 404
    assert sent(stranger, "POST", path, {})[0] == 404
