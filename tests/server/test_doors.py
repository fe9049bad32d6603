"""What no part of the house can work with is refused where it comes in, by name."""

from __future__ import annotations

import pytest

from frequens.server.doors import MOST_BYTES

from .conftest import sent

LONE, NOTHING, BELL = "\ud800", "\uffff", "\x07"


@pytest.mark.parametrize(
    "bad", [LONE, NOTHING, BELL, "\x00", "\x1f", "\x7f", "\ufdd0", "\U0010ffff"]
)
def test_a_character_nothing_can_show_is_refused_in_every_text(wren, bad):
    status, answer = sent(wren, "POST", "/api/learners", {"name": f"This{bad}tle"})
    assert status == 422
    assert answer["faults"][0].startswith("name: holds a character nothing can show: U+")


@pytest.mark.parametrize("good", ["Þistill", "薊", "tab\tand\nline", "🐐", "‏عربى", "\ue000", "é"])
def test_any_script_is_taken(wren, good):
    status, answer = sent(wren, "POST", "/api/learners", {"name": good})
    assert (status, answer["name"]) == (201, good)


@pytest.mark.parametrize(
    "path",
    ["/api/learners", "/_allauth/browser/v1/auth/login", "/api/plans/read", "/api/films/simulate"],
)
@pytest.mark.parametrize(
    ("body", "said"),
    [
        (b'{"username": "\\ud800", "password": "x"}', "U+D800"),
        (b"[" * 1500 + b"]" * 1500, "nested too deeply"),
        (b'{"a": ' + b"9" * 400 + b"}", "not a finite number"),
        (b'{"a": 9007199254740993}', "too large"),
        (b'{"a": 1e999}', "not a finite number"),
        (b'{"a": \xff}', "not a UTF-8 text"),
        (b"{", "not JSON"),
    ],
)
def test_bad_values_are_refused_at_every_door(wren, path, body, said):
    answer = wren.post(path, body, content_type="application/json")
    assert answer.status_code == 422
    assert said in answer.json()["faults"][0]


@pytest.mark.parametrize(("lists", "said"), [(22, "unknown key"), (23, "nested too deeply")])
def test_depth_has_a_limit(wren, lists, said):
    """The body is one level, the document the next: 22 lists more are understood and answered."""
    nested: object = []
    for _ in range(lists - 1):
        nested = [nested]
    body = {"document": {"format": "frequens-plan", "version": 1, "deep": nested}}
    answer = sent(wren, "POST", "/api/plans/read", body)[1]
    assert said in answer["faults"][0]


@pytest.mark.parametrize(
    ("day", "status"),
    [("1970-01-01", 201), ("1969-12-31", 422), ("0205-05-02", 422), ("9999-12-31", 422)],
)
def test_a_session_by_hand_has_a_day_that_can_be(wren, bell, day, status):
    body = {"date": day, "counts": {"minutes": 3}}
    assert sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)[0] == status


def test_the_next_session_is_on_a_day_that_can_be(wren, film):
    def said(at):
        edit = {"client_id": at, "body": {"op": "facts", "set": {"next_session": {"at": at}}}}
        path = f"/api/sessions/{film.session_id}/edits"
        return sent(wren, "POST", path, {"edits": [edit]})[1]["refused"]

    assert said("2026-12-01T17:30") == {}
    assert (
        "must lie from 1900-01-01 to 2199-12-31" in said("9999-12-31T23:59")["9999-12-31T23:59"][0]
    )


def test_nested_pictures_of_a_report_are_refused(wren, film):
    edit = {"client_id": "n", "body": {"op": "facts", "set": {"report": {"pictures": [["m1"]]}}}}
    path = f"/api/sessions/{film.session_id}/edits"
    assert "not a text" in sent(wren, "POST", path, {"edits": [edit]})[1]["refused"]["n"][0]


def test_a_range_of_five_thousand_digits_is_answered_with_the_whole(wren, film):
    answer = wren.get(f"/api/films/{film.pk}/original", headers={"Range": f"bytes=0-{'9' * 5000}"})
    assert answer.status_code == 200


@pytest.mark.parametrize(
    "arguments",
    [
        {"rewards": 10**400},
        {"rewards": 1e308},
        {"rewards": None},
        {"rewards": {"a": 1}},
        {"rewards": [1]},
        {"rewards": "many"},
        {"rewards": 10, "mix": [1]},
        {"rewards": 10, "mix": {"in_place": "half"}},
        {"rewards": 10, "mix": {}},
    ],
)
def test_a_calculator_refuses_what_it_cannot_work_with(wren, arguments):
    status, answer = sent(
        wren, "POST", "/api/plans/calculators/placement_budget", {"arguments": arguments}
    )
    assert status == 422
    assert answer["faults"]


@pytest.mark.parametrize(("bytes_over", "status"), [(0, 422), (1, 413)])
def test_a_request_of_values_has_its_limit(wren, bytes_over, status):
    frame = b'{"document": {"notes": ""}}'
    body = frame.replace(b'""', b'"' + b"x" * (MOST_BYTES - len(frame) + bytes_over) + b'"')
    assert len(body) == MOST_BYTES + bytes_over
    answer = wren.post("/api/learners", body, content_type="application/json")
    assert answer.status_code == status
