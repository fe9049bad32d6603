"""Marks as edits: sent twice they change nothing, and the present state is folded from them."""

from __future__ import annotations

import uuid

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.server.coding.edit_store import Folded

from .conftest import put, sent


@pytest.fixture
def path(film):
    return f"/api/sessions/{film.session_id}"


def append(client, path, *edits, after=0):
    return sent(client, "POST", f"{path}/edits", {"edits": list(edits), "after": after})


def drop(event_id):
    return {"client_id": f"drop-{event_id}", "body": {"op": "drop", "id": event_id}}


def test_sending_an_edit_twice_changes_nothing(wren, film, path):
    edit = put("b1", "onset", 30, film)
    _, first = append(wren, path, edit)
    _, second = append(wren, path, edit, edit)
    assert first["taken"] == [edit["client_id"]]
    assert second["taken"] == [edit["client_id"]] * 2
    assert second["edits"] == first["edits"]
    assert len(second["edits"]) == 1


def test_whoever_says_nothing_of_what_is_known_gets_everything(wren, film, path):
    append(wren, path, put("b1", "onset", 30, film))
    edits = {"edits": [put("b2", "onset", 60, film)]}
    _, answer = sent(wren, "POST", f"{path}/edits", edits)
    assert [e["client_id"] for e in answer["edits"]] == ["edit-b1-30", "edit-b2-60"]
    assert sent(wren, "GET", f"{path}/edits")[1]["edits"] == answer["edits"]


def test_two_tabs_get_what_the_other_sent(wren, film, path):
    _, one = append(wren, path, put("b1", "onset", 30, film))
    _, two = append(wren, path, put("m1", "marker", 36, film, marker="event"), after=one["seq"])
    assert [e["client_id"] for e in two["edits"]] == ["edit-m1-36"]
    _, caught_up = sent(wren, "GET", f"{path}/edits?after={one['seq']}")
    assert caught_up["edits"] == two["edits"]
    _, nothing_new = sent(wren, "GET", f"{path}/edits?after={two['seq']}")
    assert (nothing_new["edits"], nothing_new["seq"]) == ([], two["seq"])


@pytest.mark.parametrize(
    ("body", "fault"),
    [
        ({"op": "put", "event": {"id": "x", "kind": "onset", "frame": 9999, "pts": 0}}, "frame"),
        ({"op": "put", "event": {"id": "x", "kind": "onset", "frame": 3, "pts": 7}}, "pts"),
        ({"op": "put", "event": {"id": "x", "kind": "hop", "t": 1}}, "unknown kind"),
        ({"op": "put", "event": {"id": "x", "kind": "onset", "t": 99}}, "outside the film"),
        ({"op": "put", "event": {"id": "x", "kind": "marker", "t": 1}}, "marker: missing"),
        ({"op": "put"}, "not an object"),
        ({"op": "drop"}, "not a text"),
        ({"op": "facts", "set": {"colour": "brown"}}, "unknown key"),
        ({"op": "facts", "set": {"date": "yesterday"}}, "not a date"),
        (
            {
                "op": "marks",
                "events": [
                    {"id": "x", "kind": "onset", "t": 1},
                    {"id": "y", "kind": "hop", "t": 2},
                ],
            },
            "events[1].kind: unknown kind",
        ),
        ({"op": "burn"}, "must be put, drop, marks, facts or note"),
    ],
)
def test_an_edit_that_cannot_be_is_refused_and_the_others_are_taken(wren, film, path, body, fault):
    good = put("b1", "onset", 30, film)
    status, answer = append(wren, path, {"client_id": "bad", "body": body}, good)
    assert status == 200
    assert any(fault in line for line in answer["refused"]["bad"])
    assert answer["taken"] == [good["client_id"]]
    assert len(answer["edits"]) == 1


def test_marks_become_findings_and_findings_lead_back_to_frames(wren, film, path):
    append(
        wren,
        path,
        put("b1", "onset", 30, film, met=True),
        put("m1", "marker", 39, film, marker="event"),
        put("r1", "reward", 75, film),
    )
    _, answer = sent(wren, "GET", f"{path}/findings")
    (rep,) = answer["findings"]["reps"]
    assert rep["marker_latency_s"] == pytest.approx(9 / 30)
    assert rep["reward_latency_s"] == pytest.approx(36 / 30)
    assert rep["uncertainty_s"] == pytest.approx(2**0.5 / 30 / 12**0.5, abs=1e-6)
    assert (rep["id"], rep["marker_id"], rep["reward_ids"]) == ("b1", "m1", ["r1"])
    assert rep["onset_s"] == 1.0
    assert answer["findings"]["training_time_s"] == 8.0


def test_a_link_to_a_mark_that_was_removed_does_not_break_the_numbers(wren, film, path):
    append(
        wren,
        path,
        put("b1", "onset", 30, film),
        put("m1", "marker", 36, film, marker="event", link="b1"),
        drop("b1"),
    )
    status, answer = sent(wren, "GET", f"{path}/findings")
    assert status == 200
    assert answer["findings"]["counts"]["orphan_markers"] == 1


def test_bouts_that_do_not_alternate_are_said_not_hidden(wren, film, path):
    append(wren, path, put("s1", "bout_start", 10, film), put("s2", "bout_start", 40, film))
    _, answer = sent(wren, "GET", f"{path}/findings")
    assert answer["findings"] is None
    assert "begins inside a bout" in answer["faults"][0]


def test_facts_are_edits_too(wren, film, path):
    fact = {
        "client_id": uuid.uuid4().hex,
        "body": {"op": "facts", "set": {"learner": "Pepper", "start_s": 2.0, "end_s": 6.0}},
    }
    append(wren, path, fact)
    assert sent(wren, "GET", path)[1]["learner"] == "Pepper"
    _, answer = sent(wren, "GET", f"{path}/findings")
    assert answer["findings"]["training_time_s"] == 4.0


BODIES = st.one_of(
    st.builds(
        lambda i, t: {"op": "put", "event": {"id": i, "kind": "onset", "t": t}},
        st.sampled_from("abc"),
        st.integers(0, 9),
    ),
    st.builds(lambda i: {"op": "drop", "id": i}, st.sampled_from("abc")),
    st.builds(lambda v: {"op": "facts", "set": {"learner": v}}, st.sampled_from(["T", "P"])),
)


@given(st.lists(BODIES, max_size=30))
def test_folding_keeps_the_last_word_on_every_mark(bodies):
    state = Folded(bodies)
    for event_id in "abc":
        about = [b for b in bodies if b.get("id", b.get("event", {}).get("id")) == event_id]
        last = about[-1] if about else None
        expected = last["event"] if last and last["op"] == "put" else None
        assert state.events.get(event_id) == expected


PLAN = {
    "rule": {"kind": "run", "need": 3},
    "approximations": [{"key": "look", "title": "Looks at the rope"}, {"key": "nose"}],
}


def plan_edit(client_id, plan):
    return {"client_id": client_id, "body": {"op": "facts", "set": {"plan": plan}}}


def test_a_plan_is_an_edit_and_its_steps_become_splits(wren, film, path):
    append(
        wren,
        path,
        plan_edit("p1", PLAN),
        put("c1", "criterion", 0, film, approximation="look"),
        put("b1", "onset", 30, film, met=True),
        put("c2", "criterion", 100, film, approximation="nose"),
    )
    assert sent(wren, "GET", path)[1]["plan"] == PLAN
    found = sent(wren, "GET", f"{path}/findings")[1]["findings"]
    look, nose = found["splits"]["segments"]
    assert (look["approximation"], look["met"]) == ("look", 1)
    assert look["change"] == {"kind": "early", "attempts": 2}
    assert nose["attempts"] == 0


def test_a_plan_that_cannot_be_is_refused_with_its_faults(wren, film, path):
    bad = {"rule": {"kind": "run", "need": 0}, "approximations": [{"key": "a"}, {"key": "a"}]}
    _, answer = append(wren, path, plan_edit("p1", bad))
    assert len(answer["refused"]["p1"]) == 2
    assert sent(wren, "GET", path)[1]["plan"] == {}


def test_the_plan_before_comes_back_with_undo(wren, film, path):
    append(wren, path, plan_edit("p1", PLAN), plan_edit("p2", None))
    assert sent(wren, "GET", path)[1]["plan"] == {}
    append(wren, path, plan_edit("p3", PLAN))
    exported = wren.get(f"{path}/export.json").json()
    assert exported["plan"]["rule"] == PLAN["rule"]


def test_what_is_null_in_a_plan_or_a_report_is_as_if_it_were_not_there(wren, path):
    null = {"title": None, "hold_s": None, "parts": None, "quantity": None}
    plan = {"rule": None, "cues": None, "approximations": [{"key": "ring", **null}]}
    report = {"reader": None, "words": "Well done.", "pictures": None}
    edit = {"client_id": "null", "body": {"op": "facts", "set": {"plan": plan, "report": report}}}
    assert append(wren, path, edit)[1]["refused"] == {}
    said = sent(wren, "GET", path)[1]
    assert said["plan"] == {"approximations": [{"key": "ring"}]}
    assert said["report"] == {"words": "Well done."}


def test_time_handler_and_place_are_facts_that_go_out_and_come_back(wren, path):
    facts = {"time": "17:30", "handler": "Teasel", "place": "the barn"}
    edit = {"client_id": "who", "body": {"op": "facts", "set": facts}}
    append(wren, path, edit)
    said = sent(wren, "GET", path)[1]
    assert {key: said[key] for key in facts} == facts
    out = wren.get(f"{path}/export.json").json()
    assert {key: out["session"][key] for key in facts} == facts
    made = sent(wren, "POST", "/api/sessions/import", out)[1]["session_id"]
    again = sent(wren, "GET", f"/api/sessions/{made}")[1]
    assert {key: again[key] for key in facts} == facts
