"""The next session's script: made, taken along, and held against what was filmed."""

from __future__ import annotations

import datetime as dt

import pytest

from tests.core.training_days import Day

from .conftest import sent
from .test_next_session import change

SEED = 7


def script(client, session_id, seed=None):
    query = "" if seed is None else f"?seed={seed}"
    status, found = sent(client, "GET", f"/api/plans/next/{session_id}/script{query}")
    assert status == 200, found
    return found


def take_along(client, session_id, found, **changes):
    """Keep a script as the page does."""
    kept = {"format": "frequens-script", "version": 1, "seed": found["seed"], **changes}
    lines = [{k: v for k, v in line.items() if v is not None} for line in found["lines"]]
    body = {"op": "facts", "set": {"script": {"lines": lines, **kept}}}
    edit = {"client_id": f"script-{found['seed']}-{sorted(changes)}", "body": body}
    return sent(client, "POST", f"/api/sessions/{session_id}/edits", {"edits": [edit]})[1]


def followed(client, session_id):
    status, found = sent(client, "GET", f"/api/plans/followed/{session_id}")
    assert status == 200, found
    return found


@pytest.fixture
def first(plan, filmed):
    return filmed(Day(plan, 1).at("nose").fits(3).misses(1).fits(2))


def played(plan, found, n=2):
    """A day on which the script is done line by line; nothing in it can fail."""
    day, step = Day(plan, n), None
    for line in found["lines"]:
        if line["sort"] == "rep":
            if line["step"] != step:
                day.at(step := line["step"])
            day.fits(conditions=line["levels"])
    return day


def test_a_script_says_every_rep_and_adds_up(wren, first):
    found = script(wren, first)
    reps = [line for line in found["lines"] if line["sort"] != "break"]
    assert found["reps"] == len(reps)
    assert found["rewards"] == sum(line["pays"] for line in reps)
    assert (reps[0]["phase"], reps[-1]["phase"]) == ("warm_up", "end")
    assert found["titles"]["nose"] == "Nose on the rope"
    assert found["criteria"]["nose"]
    assert not found["is_kept"]


def test_the_same_seed_gives_the_same_script_and_another_another(wren, first):
    assert script(wren, first)["lines"] == script(wren, first)["lines"]
    one, two = script(wren, first, 1), script(wren, first, 2)
    assert one == script(wren, first, 1)
    assert one["lines"] != two["lines"]
    for seed in (-1, 2**53 + 1, "x"):
        assert sent(wren, "GET", f"/api/plans/next/{first}/script?seed={seed}")[0] == 422


def test_what_the_trainer_changed_on_the_card_changes_the_script(wren, first):
    assert not change(wren, first, reps=7, criterion="look")["refused"]
    found = script(wren, first)
    assert found["reps"] == 7
    assert {line["step"] for line in found["lines"] if line["phase"] == "work"} <= {"look", None}
    change(wren, first, minutes=0.5)
    assert script(wren, first)["minutes"] == 0.5


def test_half_the_minutes_are_half_the_reps(wren, first):
    before = script(wren, first)
    change(wren, first, minutes=before["minutes"] / 2)
    assert script(wren, first)["reps"] == pytest.approx(before["reps"] / 2, abs=0.5)


def test_a_script_taken_along_stays_as_it_was(wren, first):
    found = script(wren, first, SEED)
    assert not take_along(wren, first, found)["refused"]
    change(wren, first, reps=5)
    kept = script(wren, first)
    assert kept["is_kept"]
    assert (kept["seed"], kept["lines"]) == (SEED, found["lines"])
    assert not script(wren, first, SEED)["is_kept"]


@pytest.mark.parametrize(
    ("changes", "fault"),
    [
        ({"version": 2}, "set.script.version: must lie from 1 to 1, not 2"),
        ({"format": "frequens-plan"}, "set.script.format"),
        ({"lines": [{"sort": "nap", "phase": "work"}]}, "set.script.lines[0].sort"),
        ({"lines": 3}, "set.script.lines: not a list"),
    ],
)
def test_a_script_that_cannot_be_is_refused_by_name(wren, first, changes, fault):
    assert fault in str(take_along(wren, first, script(wren, first), **changes)["refused"])


def test_a_session_done_as_planned_says_so(wren, plan, filmed, first):
    found = script(wren, first, SEED)
    take_along(wren, first, found)
    kept = followed(wren, filmed(played(plan, found)))
    assert kept["seed"] == SEED
    assert {line["kept"] for line in kept["followed"]["lines"]} == {"as_planned"}
    assert kept["followed"]["as_planned"]["of"] == found["reps"]


def test_a_rep_left_out_is_found_and_the_rest_stays_in_its_place(wren, plan, filmed, first):
    found = script(wren, first, SEED)
    take_along(wren, first, found)
    shorter = {**found, "lines": found["lines"][:-1]}
    lines = followed(wren, filmed(played(plan, shorter)))["followed"]["lines"]
    assert [line["kept"] for line in lines] == ["as_planned"] * (found["reps"] - 1) + ["skipped"]


def test_another_step_than_planned_is_named(wren, plan, filmed, first):
    found = script(wren, first, SEED)
    take_along(wren, first, found)
    changed = [dict(line) for line in found["lines"]]
    changed[1]["step"] = "mouth"
    lines = followed(wren, filmed(played(plan, {"lines": changed})))["followed"]["lines"]
    assert (lines[1]["kept"], lines[1]["differs"]) == ("swapped", ["step"])


def test_without_a_script_there_is_nothing_to_follow(wren, plan, filmed, first):
    assert followed(wren, first) is None
    assert followed(wren, filmed(Day(plan, 2).at("nose").fits(3))) is None


def test_only_the_session_right_after_it_follows_a_script(wren, plan, filmed, first):
    take_along(wren, first, script(wren, first))
    filmed(Day(plan, 2).at("nose").fits(3))
    assert followed(wren, filmed(Day(plan, 3).at("nose").fits(3))) is None


def test_a_counted_session_follows_none(wren, bell, first):
    take_along(wren, first, script(wren, first))
    day = dt.date(2026, 5, 2).isoformat()
    body = {"date": day, "counts": {"minutes": 2, "reps": 5, "met": 4, "approximation": "nose"}}
    made = sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)[1]["session_id"]
    assert followed(wren, made) is None
    # And the next script begins from it all the same.
    assert script(wren, made)["reps"] > 0


def test_nobody_else_sees_or_makes_a_script(stranger, first):
    for path in (f"next/{first}/script", f"followed/{first}"):
        assert sent(stranger, "GET", f"/api/plans/{path}")[0] == 404


def test_card_and_logbook_say_the_same_next_level(wren, bell, first):
    card = sent(wren, "GET", f"/api/plans/next/{first}")[1]
    book = sent(wren, "GET", f"/api/logbook/{bell['id']}")[1]
    assert card["levels"] == book["programme"]["next"]
    assert script(wren, first)["levels"] == card["levels"]
