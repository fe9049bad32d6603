"""Open formats through the API: what goes out comes in again unchanged."""

from __future__ import annotations

import csv
import io
import json

import pytest

from frequens.server.library.sessions import TrainingSession

from .conftest import put, sent


@pytest.fixture
def path(film, wren):
    path = f"/api/sessions/{film.session_id}"
    edits = [
        put("b1", "onset", 30, film, met=True, label='=HYPERLINK("x")'),
        put("e1", "offset", 48, film),
        put("m1", "marker", 39, film, marker="event"),
        put("r1", "reward", 75, film, pieces=2, placement="ahead"),
        {
            "client_id": "heard",
            "body": {
                "op": "put",
                "event": {
                    "id": "m2",
                    "kind": "marker",
                    "marker": "event",
                    "t": 5.012345,
                    "source": "audio",
                },
            },
        },
    ]
    sent(wren, "POST", f"{path}/edits", {"edits": edits})
    return path


def exported(client, path, form):
    answer = client.get(f"{path}/export.{form}")
    assert answer.status_code == 200
    return answer.content.decode()


def imported(client, path, text):
    return client.post(f"{path}/import", text, content_type="application/octet-stream")


@pytest.mark.parametrize("form", ["json", "csv", "vtt"])
def test_a_round_trip_changes_nothing(wren, path, form):
    before, findings = exported(wren, path, form), sent(wren, "GET", f"{path}/findings")[1]
    assert imported(wren, path, before).json()["marks"] == 5
    assert exported(wren, path, form) == before
    assert sent(wren, "GET", f"{path}/findings")[1]["findings"] == findings["findings"]


def test_marks_find_their_frames_again(wren, path, film):
    imported(wren, path, exported(wren, path, "csv"))
    _, answer = sent(wren, "GET", f"{path}/edits")
    state = {}
    for edit in answer["edits"]:
        if edit["body"]["op"] == "put":
            state[edit["body"]["event"]["id"]] = edit["body"]["event"]
    assert state["m1"]["frame"] == 39
    assert state["m1"]["pts"] == film.index.pts[39]
    assert "frame" not in state["m2"]


def test_a_spreadsheet_sees_no_formula(wren, path):
    rows = list(csv.reader(io.StringIO(exported(wren, path, "csv"))))
    cells = [cell for row in rows[1:] for cell in row]
    assert not [cell for cell in cells if cell[:1] in "=+-@" and cell and not cell[1:2].isdigit()]
    assert any(cell.startswith("'=HYPERLINK") for cell in cells)


def test_a_session_file_makes_a_session_without_a_film(wren, path):
    text = exported(wren, path, "json")
    answer = wren.post("/api/sessions/import", text, content_type="application/octet-stream")
    assert answer.status_code == 201
    again = f"/api/sessions/{answer.json()['session_id']}"
    assert json.loads(exported(wren, again, "json")) == json.loads(text)


@pytest.mark.parametrize(
    ("text", "fault"),
    [
        ("", "no column"),
        ("{", "not JSON"),
        ("[" * 100_000, "row 1"),
        ('{"a":' * 100_000, "nested too deeply"),
        ('{"format": "frequens-session", "version": 2}', "version"),
        ("kind;t\nonset;1", "unknown column"),
        ("id,kind,t\n1,onset,soon", "row 2"),
        ("WEBVTT\n\n00:01.000 --> 00:02.000\nhello", "no marks in it"),
        ("id,kind,t\nb1,onset,99", "outside the film"),
    ],
    ids=range(9),
)
def test_a_bad_file_is_refused_whole(wren, path, text, fault):
    before = exported(wren, path, "json")
    answer = imported(wren, path, text)
    assert answer.status_code == 422
    assert any(fault in line for line in answer.json()["faults"]), answer.json()
    assert exported(wren, path, "json") == before


def test_every_fault_of_a_file_is_named_at_once(wren, path):
    document = {
        "format": "frequens-session",
        "version": 1,
        "events": [{"id": "a", "kind": "onset", "t": "soon"}, {"id": "b", "kind": "hop", "t": 1}],
    }
    faults = imported(wren, path, json.dumps(document)).json()["faults"]
    assert [f.split(":")[0] for f in faults] == ["events[0].t", "events[1].kind"]
    assert TrainingSession.objects.count() == 1
