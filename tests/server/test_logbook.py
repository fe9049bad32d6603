"""The logbook over HTTP: sessions of film and by hand, tags, walls, and lists that do not fold."""

from __future__ import annotations

import datetime as dt

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from frequens.core import measure
from frequens.server.coding.edit_store import session_record
from frequens.server.library.sessions import TrainingSession
from frequens.server.plans.models import PlanVersion

from .conftest import sent

COUNTS = {"minutes": 2, "reps": 10, "met": 7, "reinforcements": 8, "approximation": "look"}


def logbook(wren, bell):
    return sent(wren, "GET", f"/api/logbook/{bell['id']}")[1]


def by_hand(**more):
    return {"date": "2026-05-02", "trainer": "teasel", "counts": COUNTS, **more}


def test_a_coded_session_stands_with_the_cores_numbers(wren, bell, coded):
    found = measure(session_record(coded))
    book = logbook(wren, bell)
    (row,) = book["sessions"]
    assert row["session_id"] == str(coded.pk)
    assert (row["attempts"], row["met"], row["judged"]) == (2, 1, 2)
    assert row["per_min"] == pytest.approx(found["rates"]["reinforcement_per_min"]["value"])
    assert row["marker_s"] == found["marker_latency_s"]["median"]
    assert row["step"] == "look"
    assert (
        row["sentence"]
        == sent(wren, "GET", f"/api/sessions/{coded.pk}/judgement")[1]["judgement"]["headline"]
    )
    (rate,) = book["book"]["rates"]
    assert rate["rate"] == found["rates"]["reinforcement_per_min"]


def test_the_plans_doses_are_held_against_the_weeks(wren, bell, coded):
    document = bell["plan"]["document"] | {"rep_cap": 7, "session_cap_s": 120}
    draft = {"number": bell["plan"]["number"], "revision": bell["plan"]["revision"]}
    path = f"/api/behaviours/{bell['id']}/plan"
    assert sent(wren, "PUT", path, {**draft, "document": document})[0] == 200
    (week,) = logbook(wren, bell)["book"]["weeks"]
    assert (week["reps"], week["reps_cap"], week["minutes_cap"]) == (2, 7, 2)


def test_parts_of_a_chain_keep_the_names_of_the_newest_plan(wren, bell):
    first = PlanVersion.objects.get(behaviour=bell["id"])
    for number, names in ((2, {"t": "takes it", "d": "drops it"}), (3, {"t": "takes", "b": None})):
        parts = [{"key": key, **({"title": name} if name else {})} for key, name in names.items()]
        step = {"key": "all", "title": "all of it", "mark_at": "offset", "parts": parts}
        document = {**first.document, "approximations": [step]}
        PlanVersion.objects.create(behaviour=first.behaviour, number=number, document=document)
    assert logbook(wren, bell)["parts"] == {"t": "takes", "d": "drops it", "b": "b"}


def test_a_session_by_hand_says_since_when_and_one_without_findings_nothing(wren, bell, coded):
    made = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", by_hand())[1]
    said = sent(wren, "GET", f"/api/sessions/{made['session_id']}/judgement")[1]["judgement"]
    assert said["record"]["since"] == "2026-05-02"
    row = next(r for r in logbook(wren, bell)["sessions"] if r["by_hand"])
    assert (row["marker_latency_s"], row["reward_latency_s"], row["marker_s"]) == (None, None, None)


def test_whoever_brought_the_film_is_the_trainer_until_said_otherwise(wren, bell, coded):
    assert logbook(wren, bell)["sessions"][0]["trainer"] == "wren"
    edit = {"client_id": "t", "body": {"op": "facts", "set": {"trainer": "teasel"}}}
    sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": [edit]})
    assert logbook(wren, bell)["sessions"][0]["trainer"] == "teasel"


def test_a_session_by_hand_counts_and_is_marked_so(wren, bell, coded):
    status, made = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", by_hand(tags=["barn"]))
    assert status == 201
    book = logbook(wren, bell)
    row = next(r for r in book["sessions"] if r["session_id"] == made["session_id"])
    assert (row["by_hand"], row["verdict"], row["trainer"], row["tags"]) == (
        True,
        # Four rewards a minute and two thirds fit: an easier step, and there is none below.
        "split",
        "teasel",
        ["barn"],
    )
    assert row["per_min"] == pytest.approx(4.0)
    assert len(book["book"]["rates"]) == 2
    # Of the marker's timing it says nothing.
    assert [t["id"] for t in book["book"]["marker_latency_s"]] == [str(coded.pk)]
    # It was long before the film, which has the last word.
    today = sent(wren, "GET", "/api/today")[1]
    assert today["lines"][0]["session_id"] == str(coded.pk)


def test_counts_by_hand_can_be_changed_and_removed(wren, bell):
    made = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", by_hand())[1]
    path = f"/api/logbook/by-hand/{made['session_id']}"
    changed = by_hand(counts={"minutes": 3, "reps": 4}, date="2026-05-03")
    assert sent(wren, "PUT", path, changed)[0] == 200
    (row,) = logbook(wren, bell)["sessions"]
    assert (row["date"], row["attempts"], row["judged"]) == ("2026-05-03", 4, 0)
    assert sent(wren, "DELETE", f"/api/sessions/{made['session_id']}")[0] == 204
    assert logbook(wren, bell)["sessions"] == []


def test_counts_that_cannot_be_are_refused_and_nothing_is_kept(wren, bell):
    wrong = by_hand(counts={"minutes": 2, "reps": 3, "met": 5})
    status, said = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", wrong)
    assert (status, said["faults"]) == (422, ["by_hand.met: more than the 3 reps"])
    assert not TrainingSession.objects.exists()


def test_a_tag_that_cannot_be_is_refused_with_the_counts_it_came_with(wren, bell):
    long = by_hand(tags=["barn", "x" * 41])
    status, said = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", long)
    assert status == 422
    assert said["faults"][0].startswith("set.tags[1]")
    assert not TrainingSession.objects.exists()


def test_tags_are_set_and_an_empty_one_is_refused(wren, bell, coded):
    path = f"/api/logbook/tags/{coded.pk}"
    assert sent(wren, "PUT", path, {"tags": ["windy", "barn"]})[0] == 204
    assert logbook(wren, bell)["sessions"][0]["tags"] == ["windy", "barn"]
    status, said = sent(wren, "PUT", path, {"tags": [""]})
    assert status == 422
    assert "set.tags[0]" in said["faults"][0]
    assert sent(wren, "PUT", path, {"tags": []})[0] == 204
    assert logbook(wren, bell)["sessions"][0]["tags"] == []


def test_coded_marks_cannot_be_written_over_by_counts(wren, coded):
    assert sent(wren, "PUT", f"/api/logbook/by-hand/{coded.pk}", by_hand())[0] == 404


def test_another_workspace_sees_no_logbook(wren, bell, coded, stranger):
    assert sent(stranger, "GET", f"/api/logbook/{bell['id']}")[0] == 404
    assert sent(stranger, "POST", f"/api/logbook/{bell['id']}/by-hand", by_hand())[0] == 404
    assert sent(stranger, "PUT", f"/api/logbook/tags/{coded.pk}", {"tags": []})[0] == 404
    assert sent(stranger, "GET", f"/api/logbook/{bell['id']}/sessions.csv")[0] == 404


def test_a_step_of_an_older_plan_keeps_its_name(wren, bell, coded):
    plan = bell["plan"]
    document = plan["document"] | {
        "approximations": [
            {k: v for k, v in s.items() if k != "fallback"}
            for s in plan["document"]["approximations"]
            if s["key"] != "look"
        ]
    }
    sent(wren, "PUT", f"/api/behaviours/{bell['id']}/plan", plan | {"document": document})
    book = logbook(wren, bell)
    assert "look" not in book["order"]
    assert book["titles"]["look"] == "Looks at the rope"


def test_lists_show_the_edits_without_going_through_them(
    wren, coded, django_assert_max_num_queries
):
    facts = {"learner": "Bramble", "date": "2026-05-09", "tags": ["a"]}
    edits = [
        {"client_id": "f", "body": {"op": "facts", "set": facts}},
        {"client_id": "d", "body": {"op": "drop", "id": "b2"}},
    ]
    sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": edits})
    coded.refresh_from_db()
    assert (coded.learner_now, coded.date_now, coded.marks) == ("Bramble", dt.date(2026, 5, 9), 4)
    with django_assert_max_num_queries(12):
        (row,) = sent(wren, "GET", "/api/sessions")[1]
    assert (row["learner"], row["date"], row["marks"]) == ("Bramble", "2026-05-09", 4)


def test_a_change_sent_twice_in_one_list_is_taken_once(wren, coded):
    path = f"/api/sessions/{coded.pk}/edits"
    before = len(sent(wren, "GET", path)[1]["edits"])
    edit = {"client_id": "again", "body": {"op": "drop", "id": "b2"}}
    assert sent(wren, "POST", path, {"edits": [edit, edit]})[1]["taken"] == ["again", "again"]
    assert len(sent(wren, "GET", path)[1]["edits"]) == before + 1


def test_notes_stand_beside_their_part_and_the_last_one_wins(wren, coded):
    path = f"/api/sessions/{coded.pk}"
    for n, text in enumerate(["first", "second", ""]):
        edit = {"client_id": f"n{n}", "body": {"op": "note", "part": "rates", "text": text}}
        assert sent(wren, "POST", f"{path}/edits", {"edits": [edit]})[1]["refused"] == {}
        assert sent(wren, "GET", path)[1]["notes"] == ({"rates": text} if text else {})


@pytest.mark.parametrize(
    ("body", "fault"),
    [
        ({"op": "note", "text": "x"}, "note.part: missing"),
        ({"op": "note", "part": "rates"}, "note.text: missing"),
        ({"op": "note", "part": "rates", "text": 3}, "note.text: not a text"),
        ({"op": "facts", "set": {"tags": "windy"}}, "set.tags: not a list"),
        ({"op": "facts", "set": {"report": {"pictures": list("abcde")}}}, "at most 4 pictures"),
        ({"op": "facts", "set": {"report": {"colour": "red"}}}, "set.report.colour: unknown key"),
    ],
)
def test_a_note_or_fact_that_cannot_be_is_refused(wren, coded, body, fault):
    edit = {"client_id": "x", "body": body}
    said = sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": [edit]})[1]
    assert fault in said["refused"]["x"][0]


@pytest.mark.django_db(transaction=True)
def test_sessions_from_before_get_what_lists_show():
    executor = MigrationExecutor(connection)
    before = [("reviews", "0002_trainingsession_plan_version_measured")]
    now = executor.loader.graph.leaf_nodes()
    try:
        executor.migrate(before)
        old = executor.loader.project_state(before).apps
        workspace = old.get_model("workspaces", "Workspace").objects.create(name="Upper Meadow")
        session = old.get_model("reviews", "TrainingSession").objects.create(workspace=workspace)
        bodies = [
            {"op": "put", "event": {"id": "a"}},
            {"op": "put", "event": {"id": "b"}},
            {"op": "drop", "id": "a"},
            {"op": "facts", "set": {"learner": "Pepper", "start_s": 1}},
        ]
        for n, body in enumerate(bodies):
            session.edits.create(client_id=str(n), body=body)
        executor = MigrationExecutor(connection)
        executor.migrate(now)
        found = TrainingSession.objects.get(pk=session.pk)
        assert found.summary == {"learner": "Pepper", "marks": 1}
        assert found.learner_now == "Pepper"
    finally:
        executor = MigrationExecutor(connection)
        executor.migrate(now)


def test_two_sessions_of_one_day_stand_in_the_order_they_are_judged_in(wren, bell):
    """The later one is the last, in the list, on the stairs and in the judgement."""
    for step in ("look", "nose", "mouth"):
        counts = COUNTS | {"approximation": step}
        sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", by_hand(counts=counts))
    found = logbook(wren, bell)
    assert [row["step"] for row in found["sessions"]] == ["mouth", "nose", "look"]
    landed = [landing["approximation"] for landing in found["book"]["landings"]]
    assert landed == ["look", "nose", "mouth"]


def test_the_grid_is_of_the_step_worked_last_and_gives_way_to_the_learners_ease(wren, bell):
    def enter(days_ago, **counts):
        day = dt.date.today() - dt.timedelta(days=days_ago)
        sent_counts = {"minutes": 2, "reps": 10, "met": 9, "reinforcements": 20, **counts}
        body = {"date": day.isoformat(), "trainer": "wren", "counts": sent_counts}
        assert sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)[0] == 201
        grid = logbook(wren, bell)["programme"]
        (row,) = [row for row in grid["rows"] if row["name"] == "location"]
        return {one["level"]: one["cell"]["state"] for one in row["levels"]}, grid["next"]

    levels, following = enter(3, approximation="look", conditions={"location": "yard"})
    assert levels == {"yard": "holds", "barn": "untried"}
    # While the step is worked on nothing new is asked for.
    assert (following["why"], following["levels"]) == ("steady", {"location": "yard"})
    levels, following = enter(2, approximation="nose", signs=[{"severity": 3}])
    assert levels == {"yard": "untried", "barn": "untried"}
    assert (following["why"], following["raised"]) == ("ease", None)
    last = bell["plan"]["document"]["approximations"][-1]["key"]
    for days_ago in (1, 0):
        yard = {"approximation": last, "conditions": {"location": "yard"}}
        levels, following = enter(days_ago, met=10, **yard)
    assert levels == {"yard": "holds", "barn": "untried"}
    assert (following["why"], following["raised"]) == ("next", "location")
    assert following["levels"] == {"location": "barn"}


def test_what_carried_over_to_a_new_place_is_held_against_the_one_before(wren, bell):
    for days_ago, place, met in ((3, "yard", 9), (2, "barn", 1)):
        day = dt.date.today() - dt.timedelta(days=days_ago)
        where = {"conditions": {"location": place}, "approximation": "look"}
        counts = {"minutes": 2, "reps": 10, "met": met, **where}
        body = {"date": day.isoformat(), "trainer": "wren", "counts": counts}
        assert sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)[0] == 201
    (found,) = logbook(wren, bell)["transfers"]
    assert found["condition"] == "location"
    assert (found["before"]["level"], found["after"]["level"]) == ("yard", "barn")
    assert found["after"]["success"]["of"] == 5
    assert (found["p"] <= 0.05) == (found["carried"] == "less")


def test_where_a_session_was_held_counts_for_reps_that_name_no_place(wren, bell, coded):
    facts = {"op": "facts", "set": {"place": "barn"}}
    edits = {"edits": [{"client_id": "where", "body": facts}]}
    assert not sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", edits)[1]["refused"]
    (row,) = [r for r in logbook(wren, bell)["programme"]["rows"] if r["name"] == "location"]
    judged = {one["level"]: one["cell"]["judged"] for one in row["levels"]}
    assert judged == {"yard": 0, "barn": 2}
    levels = sent(wren, "GET", f"/api/plans/next/{coded.pk}")[1]["levels"]
    assert (levels["why"], levels["levels"]) == ("building", {"location": "barn"})
