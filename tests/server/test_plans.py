"""Learners, behaviours and plans over HTTP: drafts, history, sessions, calculators, walls."""

from __future__ import annotations

import copy
import datetime as dt
import json
from dataclasses import asdict

import pytest
from django.test import Client
from django.utils import timezone

from frequens.core.planning.shaping import STARTERS
from frequens.server.plans import drafts
from frequens.server.plans.calculators import CALCULATORS
from frequens.server.plans.models import PlanVersion

from .conftest import put, sent


@pytest.fixture
def learner(wren):
    status, made = sent(
        wren,
        "POST",
        "/api/learners",
        {"name": "Thistle", "species": "goat", "health": ["pregnant"]},
    )
    assert status == 201
    return made


@pytest.fixture
def bell(wren, learner):
    status, made = sent(
        wren, "POST", "/api/behaviours", {"learner_id": learner["id"], "starter": "bell"}
    )
    assert status == 201
    return made


def keep(client, behaviour, document, plan=None):
    plan = plan or behaviour["plan"]
    draft = {"number": plan["number"], "revision": plan["revision"], "document": document}
    return sent(client, "PUT", f"/api/behaviours/{behaviour['id']}/plan", draft)


def test_a_learner_is_kept_changed_and_removed(wren, learner):
    path = f"/api/learners/{learner['id']}"
    status, changed = sent(wren, "PUT", path, learner | {"born": "2022-04-11", "size": "medium"})
    assert (status, changed["born"], changed["size"]) == (200, "2022-04-11", "medium")
    assert sent(wren, "GET", "/api/learners")[1] == [changed]
    assert sent(wren, "DELETE", path)[0] == 204
    assert sent(wren, "GET", "/api/learners")[1] == []


def test_a_learner_without_a_name_or_with_an_unknown_ailment_is_refused(wren):
    assert sent(wren, "POST", "/api/learners", {"name": ""})[0] == 422
    assert sent(wren, "POST", "/api/learners", {"name": "P", "health": ["bewitched"]})[0] == 422


def test_a_starter_plan_is_adapted_and_copied(wren, learner, bell):
    assert bell["name"] == "Ring the ship's bell"
    assert bell["plan"]["document"] == STARTERS["bell"]
    document = bell["plan"]["document"] | {"goal": "Rings once."}
    assert keep(wren, bell, document)[0] == 200
    status, copied = sent(
        wren,
        "POST",
        "/api/behaviours",
        {"learner_id": learner["id"], "copy_of": bell["id"], "name": "Ring the barn's bell"},
    )
    assert status == 201
    assert copied["plan"]["document"] == document | {"behaviour": "Ring the barn's bell"}
    assert len(sent(wren, "GET", "/api/behaviours")[1]) == 2


def test_a_plan_goes_out_and_comes_back_the_same(wren, learner, bell):
    answer = wren.get(f"/api/behaviours/{bell['id']}/plan.json")
    assert "attachment" in answer["Content-Disposition"]
    document = json.loads(answer.content)
    body = {"learner_id": learner["id"], "document": document}
    status, again = sent(wren, "POST", "/api/behaviours", body)
    assert status == 201
    assert again["plan"]["document"] == document


def test_a_file_that_is_no_plan_is_refused_with_its_faults(wren, learner):
    body = {"learner_id": learner["id"], "document": {"format": "frequens-plan", "way": 3}}
    status, answer = sent(wren, "POST", "/api/behaviours", body)
    assert status == 422
    assert any("version: missing" in fault for fault in answer["faults"])
    assert sent(wren, "GET", "/api/behaviours")[1] == []


def test_drafts_in_one_sitting_are_one_version(wren, bell):
    plan = bell["plan"]
    for n in range(3):
        status, plan = keep(wren, bell, plan["document"] | {"goal": f"Goal {n}."}, plan)
        assert status == 200
    assert (plan["number"], plan["revision"]) == (1, 4)
    assert len(sent(wren, "GET", f"/api/behaviours/{bell['id']}/versions")[1]) == 1


def test_the_same_draft_sent_twice_is_kept_once(wren, bell):
    document = bell["plan"]["document"] | {"goal": "Rings once."}
    first = keep(wren, bell, document)
    assert first[1]["revision"] == 2
    assert keep(wren, bell, document) == first


def test_a_pause_in_the_writing_begins_a_new_version(wren, bell):
    PlanVersion.objects.update(saved_at=timezone.now() - drafts.PAUSE - dt.timedelta(seconds=1))
    status, plan = keep(wren, bell, bell["plan"]["document"] | {"goal": "Rings once."})
    assert (status, plan["number"], plan["revision"]) == (200, 2, 1)
    old = sent(wren, "GET", f"/api/behaviours/{bell['id']}/versions/1")[1]
    assert old["document"] == STARTERS["bell"]


def test_another_trainers_change_begins_a_new_version(bell, make_trainer):
    """Whose version it is stands in the history: nobody goes on under another's name."""
    sorrel = Client()
    sorrel.force_login(make_trainer("sorrel"))
    status, plan = keep(sorrel, bell, bell["plan"]["document"] | {"goal": "Rings once."})
    assert (status, plan["number"], plan["revision"]) == (200, 2, 1)
    authors = PlanVersion.objects.order_by("number").values_list("author__username", flat=True)
    assert list(authors) == ["wren", "sorrel"]


def test_two_tabs_cannot_overwrite_each_other(wren, bell):
    mine = bell["plan"]["document"] | {"goal": "Mine."}
    assert keep(wren, bell, mine)[0] == 200
    status, current = keep(wren, bell, bell["plan"]["document"] | {"goal": "Theirs."})
    assert (status, current["document"]) == (409, mine)
    assert sent(wren, "GET", f"/api/behaviours/{bell['id']}")[1]["plan"]["document"] == mine


def test_a_draft_that_cannot_be_is_refused_and_nothing_changes(wren, bell):
    broken = bell["plan"]["document"] | {"rep_cap": -1}
    status, answer = keep(wren, bell, broken)
    assert (status, len(answer["faults"])) == (422, 1)
    assert sent(wren, "GET", f"/api/behaviours/{bell['id']}")[1]["plan"] == bell["plan"]


def test_a_filmed_session_keeps_the_plan_it_was_filmed_under(wren, bell, film):
    session_id = str(film.session_id)
    path = f"/api/behaviours/{bell['id']}/sessions"
    assert sent(wren, "POST", path, {"session_id": session_id})[0] == 204
    session = sent(wren, "GET", f"/api/sessions/{session_id}")[1]
    assert (session["learner"], session["behaviour"]) == ("Thistle", "Ring the ship's bell")
    assert (session["behaviour_id"], session["plan_number"]) == (bell["id"], 1)
    keys = [a["key"] for a in session["plan"]["approximations"]]
    assert keys == [a["key"] for a in STARTERS["bell"]["approximations"]]
    # From now on a change of the plan is another version, and the session stays as it was.
    shorter = bell["plan"]["document"] | {"approximations": [{"key": "look", "title": "Looks"}]}
    shorter.pop("cue")
    status, plan = keep(wren, bell, shorter)
    assert (status, plan["number"]) == (200, 2)
    again = sent(wren, "GET", f"/api/sessions/{session_id}")[1]
    assert again["plan"] == session["plan"]
    assert again["plan_number"] == 1


def test_the_flight_shows_what_its_sessions_came_to(wren, bell, film):
    session_id = str(film.session_id)
    edits = [
        put("c", "criterion", 0, film, approximation="look"),
        put("b1", "onset", 10, film, met=True),
        put("b2", "onset", 60, film, met=False),
        put("c2", "criterion", 90, film, approximation="nose"),
        put("b3", "onset", 100, film, met=True),
    ]
    sent(wren, "POST", f"/api/sessions/{session_id}/edits", {"edits": edits})
    sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", {"session_id": session_id})
    (filmed,) = sent(wren, "GET", f"/api/behaviours/{bell['id']}")[1]["filmed"]
    assert filmed["last_step"] == "nose"
    assert (filmed["judged"]["look"], filmed["met"]["look"]) == (2, 1)
    assert (filmed["judged"]["nose"], filmed["met"]["nose"]) == (1, 1)
    # A mark more, and the kept findings are not shown any more.
    more = [put("b4", "onset", 120, film, met=True)]
    sent(wren, "POST", f"/api/sessions/{session_id}/edits", {"edits": more})
    (filmed,) = sent(wren, "GET", f"/api/behaviours/{bell['id']}")[1]["filmed"]
    assert filmed["judged"]["nose"] == 2


def test_a_removed_behaviour_leaves_its_sessions(wren, bell, film):
    session_id = str(film.session_id)
    sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", {"session_id": session_id})
    assert sent(wren, "DELETE", f"/api/behaviours/{bell['id']}")[0] == 204
    session = sent(wren, "GET", f"/api/sessions/{session_id}")[1]
    assert session["behaviour_id"] is None
    assert len(session["plan"]["approximations"]) == 7


def test_remarks_are_the_cores_and_know_the_learner(wren, learner, bell):
    body = {"document": bell["plan"]["document"], "learner_id": learner["id"]}
    read = sent(wren, "POST", "/api/plans/read", body)[1]
    assert read["faults"] == []
    (pregnant,) = [r for r in read["remarks"] if r["code"] == "pregnant"]
    # A code and what it speaks of, for whoever puts it into other words.
    assert pregnant["numbers"]["name"] in pregnant["title"]
    broken = {"document": {"format": "frequens-plan", "version": 1, "way": "x"}}
    assert sent(wren, "POST", "/api/plans/read", broken)[1]["faults"]


@pytest.mark.parametrize(
    ("name", "arguments", "key", "answer"),
    [
        ("height_ladder", {"final": 60}, "values", [30, 40, 50, 60]),
        ("height_from_withers", {"withers_cm": 41}, "values", [21, 31, 41]),
        ("jump_span", {"height": 20}, "span", 40),
        ("placement_budget", {"rewards": 20}, "rewards", {"off": 15, "on": 5}),
        ("prepare_rewards", {"minutes": 2, "per_min": 10}, "pieces", 24),
        ("chain_plan", {"parts": ["in", "out"]}, "stages", [["in"], ["out"], ["in", "out"]]),
        ("distance_ladder", {"size": "medium", "goal": 4}, "values", [3, 4]),
        (
            "clock_orders",
            {"reps_per_stage": 2, "easy_side": "left"},
            "stages",
            [
                {"positions": [9, 3]},
                {"positions": [8, 4]},
                {"positions": [7, 5]},
                {"positions": [6, 6]},
            ],
        ),
        (
            "cue_transfer",
            {"reps": 3},
            "reps",
            [
                {"rep": 1, "pause_s": 0.5, "old_signal": "full"},
                {"rep": 2, "pause_s": 2.0, "old_signal": "smaller"},
                {"rep": 3, "pause_s": None, "old_signal": "none"},
            ],
        ),
        ("lure_fading", {"lures": 3}, "over_practice", False),
        ("dose_plan", {"work_s": 600}, "blocks_s", [150, 150, 150, 150]),
        (
            "side_allotment",
            {"reps": 12, "easy": "left", "weak": "right"},
            "totals",
            {"left": 5, "right": 7},
        ),
    ],
)
def test_a_calculator_answers_as_the_core_does(wren, name, arguments, key, answer):
    status, found = sent(wren, "POST", f"/api/plans/calculators/{name}", {"arguments": arguments})
    assert (status, found[key]) == (200, answer)
    # All of it, whichever of the answers the API describes it is.
    assert found == json.loads(json.dumps(asdict(CALCULATORS[name](**arguments))))


@pytest.mark.parametrize(
    ("name", "arguments", "status"),
    [
        ("height_ladder", {"final": -1}, 422),
        ("height_ladder", {"ceiling": 3}, 422),
        ("height_ladder", {"final": "high"}, 422),
        ("chain_plan", {"parts": 3}, 422),
        ("distance_ladder", {"size": "huge", "goal": 4}, 422),
        ("os.system", {}, 404),
    ],
)
def test_a_question_that_cannot_be_answered_is_refused(wren, name, arguments, status):
    path = f"/api/plans/calculators/{name}"
    assert sent(wren, "POST", path, {"arguments": arguments})[0] == status


def test_a_stranger_sees_and_changes_nothing(stranger, bell, learner, film):
    assert sent(stranger, "GET", "/api/learners")[1] == []
    assert sent(stranger, "GET", "/api/behaviours")[1] == []
    for method, path, body in [
        ("PUT", f"/api/learners/{learner['id']}", {"name": "Mine"}),
        ("DELETE", f"/api/learners/{learner['id']}", None),
        ("GET", f"/api/behaviours/{bell['id']}", None),
        ("GET", f"/api/behaviours/{bell['id']}/plan.json", None),
        ("GET", f"/api/behaviours/{bell['id']}/versions", None),
        ("GET", f"/api/behaviours/{bell['id']}/versions/1", None),
        ("DELETE", f"/api/behaviours/{bell['id']}", None),
        ("PUT", f"/api/behaviours/{bell['id']}/plan", {**bell["plan"]}),
        ("POST", "/api/behaviours", {"learner_id": learner["id"]}),
        ("POST", f"/api/behaviours/{bell['id']}/sessions", {"session_id": str(film.session_id)}),
        ("GET", f"/api/films/{film.pk}/clicks", None),
        ("POST", f"/api/films/{film.pk}/join", {"session_id": str(film.session_id)}),
    ]:
        assert sent(stranger, method, path, body)[0] == 404, path


def test_nobody_sees_anything_without_logging_in(client, bell):
    for path in ("/api/learners", "/api/behaviours", f"/api/behaviours/{bell['id']}"):
        assert client.get(path).status_code == 401


def test_preferences_are_ones_own(wren, stranger):
    wanted = {"keys": {"onset": "x"}, "lag_s": 0.21, "lag_sd_s": 0.05, "lag_by": "hand"}
    wanted |= {"marks_by": "word"}
    assert sent(wren, "PUT", "/api/me/preferences", wanted) == (200, wanted)
    assert sent(wren, "GET", "/api/me")[1]["preferences"] == wanted
    assert sent(stranger, "GET", "/api/me")[1]["preferences"]["keys"] == {}
    assert sent(wren, "PUT", "/api/me/preferences", {"lag_s": -1})[0] == 422


def test_the_usual_limits_come_with_their_reasons(wren):
    limits = sent(wren, "GET", "/api/plans/limits")[1]
    (on_time,) = [limit for limit in limits if limit["name"] == "on_time_s"]
    assert on_time["default"] == 0.5
    assert on_time["why"]


def test_a_plans_own_limits_measure_the_sessions_filmed_under_it(wren, bell, film):
    path = f"/api/behaviours/{bell['id']}/plan"
    document = {**bell["plan"]["document"], "settings": {"on_time_s": 0.1, "dry_spell_s": 12}}
    draft = {"number": 1, "revision": 1, "document": document}
    assert sent(wren, "PUT", path, draft)[0] == 200
    session = f"/api/sessions/{film.session_id}"
    marks = [put("b", "onset", 30, film), put("m", "marker", 36, film, marker="event")]
    sent(wren, "POST", f"{session}/edits", {"edits": marks})
    counts = sent(wren, "GET", f"{session}/findings")[1]["findings"]["timing"]
    assert (counts["on_time"], counts["late"]) == (1, 0)
    body = {"session_id": str(film.session_id)}
    sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", body)
    # A fifth of a second is late under this plan.
    counts = sent(wren, "GET", f"{session}/findings")[1]["findings"]["timing"]
    assert (counts["on_time"], counts["late"]) == (0, 1)
    said = sent(wren, "GET", session)[1]["settings"]
    assert (said["on_time_s"], said["dry_spell_s"], said["reward_limit_s"]) == (0.1, 12, 3.0)
    # What is filmed keeps its own, and takes them with it.
    draft = {"number": 2, "revision": 1, "document": bell["plan"]["document"]}
    sent(wren, "PUT", path, draft)
    assert sent(wren, "GET", session)[1]["settings"]["on_time_s"] == 0.1
    out = wren.get(f"{session}/export.json").json()
    assert out["settings"] == {"on_time_s": 0.1, "dry_spell_s": 12}
    made = sent(wren, "POST", "/api/sessions/import", out)[1]["session_id"]
    assert sent(wren, "GET", f"/api/sessions/{made}")[1]["settings"]["dry_spell_s"] == 12


def test_the_card_says_how_one_works_at_the_step_that_is_chosen(wren, bell, coded):
    document = copy.deepcopy(bell["plan"]["document"])
    document["approximations"][1]["until_release"] = True
    sent(
        wren,
        "PUT",
        f"/api/behaviours/{bell['id']}/plan",
        {"number": 1, "revision": 1, "document": document},
    )
    body = {"session_id": str(coded.pk)}
    sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", body)
    path = f"/api/plans/next/{coded.pk}"
    wanted = {"criterion": document["approximations"][1]["key"]}
    edit = {"client_id": "way", "body": {"op": "facts", "set": {"next_session": wanted}}}
    sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": [edit]})
    how = sent(wren, "GET", path)[1]["how"]
    assert any("when you let it go" in line for line in how)
    assert "when you let it go" in wren.get(f"{path}.ics").content.decode().replace("\r\n ", "")
