"""What a session adds to the logbook, and the step in force, by small sessions worked by hand."""

from __future__ import annotations

import datetime as dt
import json
from pathlib import Path

import pytest

from frequens.core import measure, read_session
from frequens.core.measures.day_trends import trend

from .coded import Coding

DAY = dt.date(2026, 5, 4)
WORKED = json.loads(Path(__file__).with_name("trials-worked.json").read_text(encoding="utf-8"))


def row(coding, plan=None):
    return trend("one", DAY, measure(coding.record(plan=plan or {})))


def test_the_worked_sessions_row_is_made_of_its_findings():
    found = measure(read_session(WORKED))
    one = trend("one", DAY, found)
    control = found["stimulus_control"]
    assert (one.hits.count, one.hits.of) == (control["hit"], 4)
    assert (one.alarms.count, one.alarms.of) == (1, 3)
    assert one.d_prime == control["d_prime"]
    # Four presentations, five words: "hoof" was said twice once.
    assert one.said_per_cue == pytest.approx(5 / 4)
    assert (one.kept.count, one.kept.of) == (2, 3)
    assert one.return_s == 14.0
    assert one.lost == 1
    assert (one.completed.count, one.completed.of) == (1, 2)
    assert (one.signs, one.worst, one.opt_outs) == (1, 2, 1)


def test_what_a_session_does_not_hold_is_none_and_never_nought():
    one = row(Coding().onset(2.0, met=True).marker(2.3).reward(3.0))
    assert (one.signs, one.worst, one.opt_outs) == (0, 0, 0)
    for name in ("hits", "alarms", "said_per_cue", "kept", "stay_s", "pays_in_place", "return_s"):
        assert getattr(one, name) is None, name
    assert (one.lost, one.completed, one.weakest, one.alone) == (None, None, None, None)


def test_words_are_counted_for_each_asking_over_all_cues():
    coding = Coding()
    for at, label, said in ((2, "disc", 1), (20, "bowl", 3), (40, "disc", 2)):
        for n in range(said):
            coding.event("cue", at + n, label=label)
    assert row(coding).said_per_cue == pytest.approx(2.0)


def test_the_stay_told_is_that_of_the_step_worked_last():
    steps = [{"key": key, "until_release": True} for key in ("near", "far")]
    coding = Coding().event("criterion", 0.5, approximation="near")
    for at in (2, 12, 22):
        coding.onset(at).event("release", at + 2)
    coding.event("criterion", 30, approximation="far").onset(32).event("release", 39)
    coding.marker(34).reward(34.5).marker(36).reward(36.5)
    one = row(coding, {"approximations": steps})
    assert one.stay_s == pytest.approx(7.0)
    assert one.pays_in_place == 2.0
    assert (one.kept.count, one.kept.of) == (4, 4)


def test_the_stay_of_no_named_step_is_told_where_that_was_worked_last():
    steps = [{"key": "near", "until_release": True}]
    coding = Coding().event("criterion", 0.5, approximation="near")
    for at in (2, 12, 22):
        coding.onset(at).event("release", at + 2)
    assert row(coding, {"approximations": steps}).stay_s == pytest.approx(2.0)


def test_alone_counts_attempts_without_help_where_help_is_coded():
    coding = Coding().event("prompt", 1.5, level="gesture").onset(2.0)
    coding.onset(9.0).onset(15.0)
    one = row(coding)
    assert (one.alone.count, one.alone.of) == (2, 3)
    found = measure(coding.record())
    assert (found["helped"]["count"], found["helped"]["of"]) == (1, 3)
    assert measure(Coding().onset(2.0).record())["helped"] is None


def of_step(mark_at, **more):
    plan = {"approximations": [{"key": "easy"}, {"key": "now", "mark_at": mark_at, **more}]}
    coding = Coding().event("criterion", 0.5, approximation="easy")
    coding.onset(2.0).marker(4.9).reward(5.5)
    coding.event("criterion", 8.0, approximation="now")
    for at, late in ((10, 0.2), (20, 0.3), (30, 0.7)):
        coding.onset(at).offset(at + 3)
        coding.marker(at + {"onset": 0, "hold": 2, "offset": 3}[mark_at] + late)
    return measure(coding.record(plan=plan))["in_force"]


@pytest.mark.parametrize(
    ("mark_at", "more", "latency"),
    [("onset", {}, 0.3), ("hold", {"hold_s": 2.0}, 2.3), ("offset", {}, 3.3)],
)
def test_the_step_in_force_is_timed_from_the_instant_the_plan_wants(mark_at, more, latency):
    now = of_step(mark_at, **more)
    assert now["approximation"] == "now"
    assert (now["mark_at"], now["hold_s"]) == (mark_at, more.get("hold_s"))
    # The rep of the step before, 2.9 s late, is not in it.
    assert now["timing_error_s"]["n"] == 3
    assert now["timing_error_s"]["median"] == pytest.approx(0.3)
    assert now["marker_latency_s"]["median"] == pytest.approx(latency)


def test_without_an_attempt_no_step_is_in_force():
    assert measure(Coding().marker(2.0).record())["in_force"] is None
