"""`frequens measure`: findings on standard output, faults on standard error."""

import io
import json

from frequens.cli import main

from .test_interchange import EXAMPLE
from .training_days import Counted, Day, plan_of


def test_measure_prints_findings(tmp_path, capsys):
    file = tmp_path / "session.json"
    file.write_text(json.dumps(EXAMPLE))
    assert main(["measure", str(file)]) == 0
    findings = json.loads(capsys.readouterr().out)
    assert findings["counts"]["attempts"] == 3
    assert findings["reps"][0]["marker_latency_s"] == 0.3


def test_measure_reads_standard_input(monkeypatch, capsys):
    monkeypatch.setattr("sys.stdin", io.StringIO(json.dumps(EXAMPLE)))
    assert main(["measure", "-"]) == 0
    assert json.loads(capsys.readouterr().out)["training_time_s"] == 60.0


def test_a_bad_file_gets_a_line_per_fault_and_nothing_on_standard_output(tmp_path, capsys):
    file = tmp_path / "bad.json"
    events = [{"id": "a", "kind": "onset", "t": float("nan")}, {"id": "a", "kind": "leap", "t": 1}]
    file.write_text(json.dumps({**EXAMPLE, "events": events}))
    assert main(["measure", str(file)]) == 2
    told = capsys.readouterr()
    assert told.out == ""
    assert told.err.splitlines() == [
        "events[0].t: not a finite number",
        "events[1].kind: unknown kind 'leap'",
    ]


def test_no_file_and_no_json_are_told_apart(tmp_path, capsys):
    assert main(["measure", str(tmp_path / "none.json")]) == 2
    assert "No such file" in capsys.readouterr().err
    (tmp_path / "text.json").write_text("{not json")
    assert main(["measure", str(tmp_path / "text.json")]) == 2
    assert "not JSON: line 1, column 2" in capsys.readouterr().err


def test_agree_compares_two_files(tmp_path, capsys):
    one, other = tmp_path / "a.json", tmp_path / "b.json"
    later = [{**e, "t": e["t"] + 0.05} for e in EXAMPLE["events"]]
    one.write_text(json.dumps(EXAMPLE))
    other.write_text(json.dumps({**EXAMPLE, "events": later}))
    assert main(["agree", str(one), str(other)]) == 0
    found = json.loads(capsys.readouterr().out)
    assert found["kinds"]["onset"]["agreement"] == 1.0
    assert round(found["kinds"]["onset"]["bias_s"]["mean"], 6) == 0.05
    assert main(["agree", str(one), str(other), "--tolerance", "0.01"]) == 0
    assert json.loads(capsys.readouterr().out)["kinds"]["onset"]["matched"] == 0


def test_agree_names_the_file_of_each_fault(tmp_path, capsys):
    one, other = tmp_path / "a.json", tmp_path / "b.json"
    one.write_text(json.dumps({**EXAMPLE, "version": 7}))
    other.write_text("[]")
    assert main(["agree", str(one), str(other)]) == 2
    told = capsys.readouterr()
    assert told.out == ""
    lines = told.err.splitlines()
    assert lines[0].startswith(f"{one}: version: must be 1")
    assert lines[1].startswith(f"{other}: ")
    one.write_text(json.dumps(EXAMPLE))
    assert main(["agree", str(one), str(one), "--tolerance", "-1"]) == 2
    assert "--tolerance" in capsys.readouterr().err


def test_judge_reads_sessions_in_any_order_and_judges_the_latest(tmp_path, capsys):
    plan = plan_of("look", "nose", "mouth")
    days = [
        Counted(plan, 1, "nose", 3, 3, minutes=1, rewards=3),
        Day(plan, 2).at("nose").fits(2),
    ]
    files = [tmp_path / f"{day.n}.json" for day in days]
    for file, day in zip(files, days, strict=True):
        file.write_text(json.dumps(day.document()))
    answers = []
    for order in (files, files[::-1]):
        assert main(["judge", *map(str, order)]) == 0
        answers.append(json.loads(capsys.readouterr().out))
    assert answers[0] == answers[1]
    assert (answers[0]["decision"], answers[0]["next_step"]) == ("raise", "mouth")
    assert answers[0]["record"]["by_hand"] == 1
    # One session by itself: what measuring it says as well.
    assert main(["judge", str(files[1])]) == 0
    alone = json.loads(capsys.readouterr().out)
    assert main(["measure", str(files[1])]) == 0
    assert json.loads(capsys.readouterr().out)["advice"] == alone


def test_a_session_by_hand_that_cannot_be_is_refused_by_name(tmp_path, capsys):
    day = Counted(plan_of("nose"), 1, "nose", 4, 3)
    file = tmp_path / "hand.json"
    file.write_text(
        json.dumps({**day.document(), "events": [{"id": "a", "kind": "onset", "t": 1}]})
    )
    assert main(["judge", str(file)]) == 2
    told = capsys.readouterr().err.splitlines()
    assert told == ["by_hand.met: more than the 3 judged", "events: a session by hand has no marks"]
