"""The tables that go out: their heads are a format others read, their cells one known session's."""

from __future__ import annotations

import pytest
from statsmodels.stats.proportion import proportion_confint

from frequens.core import measure, read_session
from frequens.server.reports.tables import session_tables
from tests.core.training_days import Day, plan_of

#: A head that stands here is never called otherwise again; further ones come behind.
SPLITS = (
    "approximation start_s end_s training_time_s attempts judged met share low high longest_run"
    " attempts_to_first_met time_to_first_met_s attempts_to_rule time_to_rule_s marker_latency_s"
    " reward_latency_s reinforcement_per_min change change_attempts"
)
HEADS = {
    "reps": (
        "rep approximation met onset_s offset_s target_s marker_s reward_s marker_latency_s"
        " timing_error_s timing behaviour_over uncertainty_s reward_latency_s pieces caught"
        " reach_lead_s hand_first pause_s response_s value held_s help missed false_alarm pays"
        " paid_directly direct_reward_s next_pause_s stay cue said answer broke_at condition_side"
    ),
    "splits": SPLITS,
    "stretches": SPLITS,
    "summaries": "measure n mean sd min q1 median q3 p90 max median_low median_high",
    "rates": "rate per_min low high count",
    "rate_curve": "t_s training_s per_min",
    "conditions": "condition level attempts judged met share low high",
    "placement": "placement pieces of share low high target",
    "stays": "approximation attempts kept left_early open pays held_s",
    "outcomes": "role t_s outcome s",
    "cues": "cue presentations hits wrong misses said_once said",
    "confusion": "cue came count",
    "stimulus_control": "hit wrong miss false_alarm correct_rejection d_prime c",
    "chains": "approximation part reached of share low high gap_s helped",
    "exposures": "exposure n paid latency_s food_first signs_1 signs_2 signs_3 opt_outs",
    "values": "approximation n median first_third last_third target reached",
    "bouts": "start_s end_s attempts judged met pays signs opt_outs break_before_s",
}


@pytest.fixture(scope="module")
def tables():
    """Three reps to the left that fit, one to the right that does not; two waits, three touches."""
    far = {"name": "distance", "unit": "m", "better": "more", "target": 2}
    plan = plan_of(
        {"key": "stand", "hold_s": 2, "quantity": far},
        cues=[{"label": "bell", "behaviour": "stand"}],
        placement={"ahead": 0.5, "behind": 0.5},
    )
    day = Day(plan).at("stand")
    day.fits(3, cue="bell", value=2.5, conditions={"side": "left"})
    day.misses(1, value=1, conditions={"side": "right"})
    day.waits(2).touched(2).sign(1).touched(1, food_first=True)
    document = day.document()
    for event, place in zip(
        (e for e in document["events"] if e["kind"] == "reward"),
        ("ahead", "ahead", "behind"),
        strict=False,
    ):
        event["placement"] = place
    found = measure(read_session(document))
    return {table.name: table for table in session_tables(found)}


def told(tables, name, key=None):
    """The rows of a table by their heads; one by its first cell."""
    table = tables[name]
    rows = [dict(zip(table.heads, row, strict=True)) for row in table.rows]
    return rows if key is None else next(r for r in rows if r[table.heads[0]] == key)


def test_the_heads_are_a_format(tables):
    assert {name: " ".join(table.heads) for name, table in tables.items()} == HEADS


def test_reps_and_splits(tables):
    first, *_, last = told(tables, "reps")
    named = ("rep", "met", "onset_s", "marker_latency_s", "timing", "cue", "answer", "value")
    assert [first[k] for k in named] == [1, True, 5.5, 2.3, "on_time", "bell", "hit", 2.5]
    assert [last[k] for k in ("rep", "met", "reward_s", "condition_side")] == [
        4,
        False,
        None,
        "right",
    ]
    split = told(tables, "splits", "stand")
    assert [split[k] for k in ("attempts", "judged", "met", "longest_run")] == [4, 4, 3, 3]
    assert (split["low"], split["high"]) == pytest.approx(
        proportion_confint(3, 4, method="wilson"), rel=1e-6
    )
    assert [split[k] for k in ("change", "change_attempts")] == ["none", None]
    assert split["reinforcement_per_min"] == pytest.approx(60 * 6 / split["training_time_s"])


def test_shares_of_levels_places_and_cues(tables):
    left = told(tables, "conditions")[0]
    assert [left[k] for k in HEADS["conditions"].split()[:6]] == ["side", "left", 3, 3, 3, 1.0]
    ahead = told(tables, "placement", "ahead")
    assert [ahead[k] for k in ("pieces", "of", "share", "target")] == [
        2,
        3,
        pytest.approx(2 / 3),
        0.5,
    ]
    assert (ahead["low"], ahead["high"]) == pytest.approx(
        proportion_confint(2, 3, method="wilson"), rel=1e-6
    )
    assert tables["cues"].rows == [("bell", 3, 3, 0, 0, 3, 1.0)]
    assert [(r["cue"], r["count"]) for r in told(tables, "confusion")] == [("bell", 3)]
    (control,) = told(tables, "stimulus_control")
    assert [control[k] for k in ("hit", "false_alarm", "correct_rejection")] == [3, 0, 2]
    assert [r["outcome"] for r in told(tables, "outcomes") if r["role"] == "presentation"] == [
        "hit"
    ] * 3


def test_touches_numbers_and_stretches(tables):
    (touch,) = told(tables, "exposures")
    assert (touch["exposure"], touch["n"], touch["paid"], touch["food_first"]) == ("girth", 3, 3, 1)
    assert touch["latency_s"] == pytest.approx(1.2)
    assert [touch[f"signs_{n}"] for n in (1, 2, 3)] == [1, 0, 0]
    (value,) = told(tables, "values")
    named = ("n", "median", "first_third", "last_third", "target", "reached")
    assert [value[k] for k in named] == [4, 2.5, 2.5, 1.0, 2, 3]
    (bout,) = told(tables, "bouts")
    assert [bout[k] for k in ("attempts", "judged", "met", "signs")] == [4, 4, 3, 1]
    assert told(tables, "rates", "attempts_per_min")["count"] == 4
