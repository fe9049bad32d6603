"""Several pays in place, paid waiting, cues said twice, chains, touches, tosses.

The worked session and its numbers are hand arithmetic (`trials-worked.json` beside this file).
"""

from __future__ import annotations

import json
import math
from collections import Counter
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from frequens.core import InvalidSession, measure, read_session, write_session
from frequens.core.formats.text_formats import read_csv, read_webvtt, write_csv, write_webvtt

from .coded import Coding, document

WORKED = json.loads(Path(__file__).with_name("trials-worked.json").read_text(encoding="utf-8"))


@pytest.fixture(scope="module")
def found():
    return measure(read_session(WORKED))


def close(value):
    return pytest.approx(value, abs=5e-5)


def rep(found, rep_id):
    return next(row for row in found["reps"] if row["id"] == rep_id)


def share(found, count, of):
    assert (found["count"], found["of"]) == (count, of)


def test_counts(found):
    expected = {
        "attempts": 12,
        "markers": 11,
        "keep_going_markers": 1,
        "further_markers": 1,
        "repeat_markers": 1,
        "orphan_markers": 0,
        "paid_waits": 1,
        "unrewarded_markers": 0,
        "rewards": 15,
        "pieces": 17,
        "unmarked_rewards": 4,
        "direct_rewards": 1,
        "exposure_rewards": 2,
        "free_rewards": 1,
        "reinforcements": 15,
        "false_alarms": 1,
    }
    assert {key: found["counts"][key] for key in expected} == expected


def test_pays_and_what_was_paid_without_a_marker(found):
    assert found["pays_per_rep"]["n"] == 9
    assert found["pays_per_rep"]["mean"] == close(11 / 9)
    assert found["pays_per_rep"]["max"] == 3
    assert found["pay_gap_s"]["n"] == 2
    assert found["pay_gap_s"]["median"] == close(2.45)
    share(found["paid_directly"], 1, 12)
    assert found["direct_reward_s"]["median"] == close(1.0)
    assert [row["pays"] for row in found["reps"]] == [1, 1, 1, 0, 3, 0, 1, 1, 0, 1, 1, 1]
    assert rep(found, "r2")["paid_directly"]


@pytest.mark.parametrize(
    ("rep_id", "latency", "timing", "pause"),
    [
        *[("r1", 0.3, "on_time", 7.7), ("r2", None, None, 3.0), ("r3", 0.2, "on_time", 14.8)],
        *[("r4", None, None, None), ("r5", 2.1, "on_time", 5.0), ("r6", None, None, None)],
        *[("r7", 2.2, "on_time", 5.0), ("r8", 3.6, "on_time", 4.4), ("r9", None, None, None)],
        *[("r10", 0.9, "late", 5.6), ("r11", 0.1, "on_time", 9.0), ("r12", 0.8, "late", None)],
    ],
)
def test_each_reps_marker_and_pause(found, rep_id, latency, timing, pause):
    row = rep(found, rep_id)
    assert row["marker_latency_s"] == (None if latency is None else close(latency))
    assert row["timing"] == timing
    assert row["next_pause_s"] == (None if pause is None else close(pause))


def test_timing_that_hands_can_reach(found):
    share(found["missed"], 2, 8)
    assert found["missed"]["brief"] == {"lift": False, "stay": False, "chain": False}
    assert [row["id"] for row in found["reps"] if row["missed"]] == ["r10", "r12"]
    share(found["hand_first"], 1, 2)
    assert found["held_s"]["lift"]["median"] == close(0.55)
    assert found["pause_s"]["median"] == close(5.3)
    assert found["pause_s"]["mean"] == close(6.8125)


def test_success_leaves_the_false_alarm_out(found):
    success = found["success"]
    assert (success["met"], success["judged"], success["longest_run"]) == (8, 11, 3)
    steps = {s["approximation"]: (s["met"], s["judged"]) for s in found["splits"]["approximations"]}
    assert steps == {"lift": (5, 6), "stay": (2, 3), "chain": (1, 2)}
    fidelity = found["fidelity"]
    assert (fidelity["met_marked"], fidelity["unmet_unmarked"]) == (8, 3)


def test_stays(found):
    stay = found["stays"]["stay"]
    assert (stay["attempts"], stay["left_early"], stay["open"]) == (3, 1, 0)
    share(stay["kept"], 2, 3)
    assert stay["held_s"]["median"] == close(4.0)
    assert stay["pays_per_rep"]["mean"] == close(2.0)
    five = rep(found, "r5")
    assert (five["marker_id"], five["stay"]) == ("k5", "kept")


def test_returns_and_opt_outs(found):
    back = found["returns"]
    assert (back["n"], back["lost"], back["cut"], back["km_median_s"]) == (4, 1, 1, close(14.0))
    assert back["back_s"]["median"] == close(10.5)
    assert found["opt_outs"]["count"] == 1
    assert found["opt_outs"]["per_10_attempts"] == close(0.83333)
    assert found["opt_outs"]["away_min"] == close(0.05)


def test_cues_asked_and_not_asked(found):
    response = found["response_latency_s"]
    assert (response["n"], response["responded"], response["median"]) == (4, 3, close(2.0))
    assert found["confusion"] == {
        "hoof": {"lift": 1, "ring": 1, "unlabelled": 1},
        "bell": {"none": 1},
    }
    hoof = found["cues"]["hoof"]
    assert [hoof[k] for k in ("presentations", "hits", "wrong", "misses", "said_once")] == [
        *(3, 2, 1, 0, 2)
    ]
    control = found["stimulus_control"]
    assert [control[k] for k in ("hit", "wrong", "miss", "false_alarm", "correct_rejection")] == [
        *(2, 1, 1, 1, 2)
    ]
    assert control["d_prime"] == close(0.31864)
    assert control["c"] == close(0.15932)
    share(found["asked_share"], 4, 7)


def test_the_chain(found):
    chain = found["chains"]["chain"]
    share(chain["completed"], 1, 2)
    parts = {part["key"]: part for part in chain["parts"]}
    share(parts["walk"]["reached"], 2, 2)
    share(parts["turn"]["reached"], 2, 2)
    share(parts["hoof"]["reached"], 1, 2)
    assert parts["turn"]["gap_s"] == close(1.75)
    assert (parts["hoof"]["gap_s"], parts["hoof"]["helped"]) == (close(1.5), 1)
    assert (chain["out_of_order"], chain["weakest"]) == (1, None)
    assert rep(found, "r9")["broke_at"] == "hoof"


def test_exposures_values_bouts_placement_offered_and_fading(found):
    brush = found["exposures"]["brush"]
    share(brush["paid"], 1, 2)
    assert (brush["food_first"], brush["signs"], brush["opt_outs"]) == (
        1,
        {"1": 0, "2": 1, "3": 0},
        1,
    )
    assert brush["latency_s"]["median"] == close(4.0)
    lift = found["values"]["lift"]
    assert (lift["median"], lift["first_third"], lift["last_third"]) == (21, 17, 24.5)
    share(lift["reached"], 4, 6)
    assert lift["conditions"]["side"]["left"] == {"n": 2, "median": 17}
    first, second = found["bouts"]
    keys = ("attempts", "judged", "met", "pays", "signs", "opt_outs", "break_before_s")
    assert [first[k] for k in keys] == [9, 8, 5, 8, 1, 1, None]
    assert [second[k] for k in keys] == [3, 3, 3, 3, 0, 0, 20]
    away = found["placement"]["away"]
    assert (away["next_n"], away["next_s"]) == (3, close(9.0))
    share(away["next_met"], 1, 2)
    share(found["placement"]["in place"]["next_met"], 1, 1)
    paws = found["offered"]["labels"]["paws"]
    assert (paws["first_half"], paws["second_half"], paws["p"]) == (3, 1, close(0.625))
    fading = found["fading"]
    assert fading["longest_run"] == 3
    assert fading["last_met"] == {"none": "r12", "gesture": "r3"}
    share(fading["cue_only"], 2, 4)


def test_moments_say_what_came_of_each(found):
    told = [(m["id"], m["role"]) for m in found["moments"] if "role" in m]
    assert len(set(told)) == len(told)
    assert Counter(role for _, role in told) == {
        "presentation": 4,
        "window": 3,
        "paid_wait": 1,
        "free_reward": 1,
        "return": 4,
        "opt_out": 1,
        "exposure": 2,
        "food_first": 1,
    }
    # A cue that nothing answered has no latency.
    asked = {m["id"]: m["s"] for m in found["moments"] if m.get("role") == "presentation"}
    assert asked == {"c1": close(2.0), "c2": close(5.0), "c4": None, "c5": close(1.0)}


def test_the_worked_session_survives_every_open_format():
    record = read_session(WORKED)
    assert read_session(write_session(record)) == record
    assert measure(read_session(write_session(record))) == measure(record)
    assert read_csv(write_csv(record.events)) == record.events
    key = lambda event: event.id  # noqa: E731
    assert sorted(read_webvtt(write_webvtt(record.events)), key=key) == sorted(
        record.events, key=key
    )


def test_moving_a_session_in_time_moves_only_instants():
    moved = json.loads(json.dumps(WORKED))
    moved["session"]["start_s"] += 8
    moved["session"]["end_s"] += 8
    moved["recording"]["duration_s"] += 8
    for event in moved["events"]:
        event["t"] += 8
        if "end_s" in event:
            event["end_s"] += 8
    here, there = measure(read_session(WORKED)), measure(read_session(moved))
    instants = ("onset_s", "offset_s", "target_s", "marker_s", "reward_s", "parts")
    for one, other in zip(here["reps"], there["reps"], strict=True):
        for key, value in one.items():
            if key in instants:
                continue
            expected = pytest.approx(value) if isinstance(value, float) else value
            assert other[key] == expected, key
    for key in ("counts", "success", "stays", "chains", "cues", "confusion", "asked_share"):
        assert json.dumps(here[key])[:200] == json.dumps(there[key])[:200]


@pytest.mark.parametrize(
    ("place", "change", "fault"),
    [
        ("events", [{"id": "p", "kind": "part", "t": 3.0, "part": "hoof"}], "outside an attempt"),
        ("events", [{"id": "p", "kind": "part", "t": 4.1, "part": "sit"}], "has no part 'sit'"),
        ("events", [{"id": "p", "kind": "exposure", "t": 4.1}], "label: missing"),
        (
            "events",
            [{"id": "p", "kind": "exposure", "t": 4.1, "label": "brush", "end_s": 4.0}],
            "end_s: before t",
        ),
        (
            "events",
            [{"id": "p", "kind": "no_cue_window", "t": 150.0, "end_s": 161.0}],
            "end_s: outside the film",
        ),
        ("cues", [{"label": "a", "behaviour": "b"}] * 2, "named twice: 'a'"),
        ("cues", [{"label": "a"}], "behaviour: missing"),
        ("prompts", ["gesture", "gesture"], "named twice"),
        ("prompts", ["shove"], "must be one of"),
    ],
)
def test_what_cannot_be_is_a_fault(place, change, fault):
    bad = json.loads(json.dumps(WORKED))
    if place == "events":
        bad["events"] += change
    else:
        bad["plan"][place] = change
    with pytest.raises(InvalidSession) as said:
        read_session(bad)
    assert any(fault in line for line in said.value.faults)


@pytest.mark.parametrize(
    ("step", "fault"),
    [
        ({"parts": [{"key": "a"}, {"key": "a"}]}, "used twice: 'a'"),
        ({"parts": [{}]}, "parts[0].key: missing"),
        ({"quantity": {"name": "height", "unit": "cm"}}, "quantity.better: missing"),
        (
            {"quantity": {"name": "h", "unit": "cm", "better": "higher"}},
            "must be one of more, less",
        ),
        ({"until_release": "yes"}, "must be true or false"),
        ({"help": "shove"}, "must be one of"),
    ],
)
def test_a_step_that_cannot_be_is_a_fault(step, fault):
    plan = {"approximations": [{"key": "s", **step}]}
    with pytest.raises(InvalidSession) as said:
        read_session(document([], plan=plan))
    assert any(fault in line for line in said.value.faults)


@pytest.mark.parametrize(
    ("change", "fault"),
    [
        ({"version": True}, "version: must be 1, not True"),
        ({"events": None}, "events: not a list"),
        ({"av": 3.0}, "outside the session once the sound's 3 s are taken off"),
    ],
)
def test_documents_that_were_read_wrongly_are_refused(change, fault):
    events = [{"id": "m", "kind": "marker", "marker": "event", "t": 2.0, "source": "audio"}]
    made = document(events, session={"start_s": 0, "end_s": 9})
    offset = change.pop("av", None)
    made |= change
    if offset is not None:
        made["recording"] = {"av_offset_s": offset}
    with pytest.raises(InvalidSession) as said:
        read_session(made)
    assert any(fault in line for line in said.value.faults)


def test_a_file_that_breaks_off_is_no_empty_session():
    with pytest.raises(InvalidSession) as said:
        read_session({"format": "frequens-session", "version": 1})
    assert said.value.faults == ("events: missing",)


def test_an_empty_note_survives_a_table():
    events = Coding().event("note", 1.0, text="").onset(2.0).record().events
    assert read_csv(write_csv(events)) == events


@pytest.mark.parametrize(("within", "said"), [(10.0, 2), (10.1, 1)])
def test_a_cue_said_again_soon_is_the_same_presentation(within, said):
    coding = Coding().event("cue", 2.0, label="hoof").event("cue", 2.0 + within, label="hoof")
    found = measure(coding.onset(13.0).record())
    assert found["response_latency_s"]["n"] == 3 - said
    assert found["cues"]["hoof"]["said"]["max"] == said


@pytest.mark.parametrize(("after", "kind"), [(5.0, "exposure"), (5.1, "free")])
def test_a_touch_is_paid_within_its_limit(after, kind):
    coding = Coding().event("exposure", 2.0, label="brush", end_s=4.0).reward(4.0 + after)
    found = measure(coding.record())
    assert found["counts"][f"{kind}_rewards"] == 1
    assert found["exposures"]["brush"]["paid"]["count"] == (kind == "exposure")


@pytest.mark.parametrize(("after", "outcome"), [(30.0, "back"), (30.1, "lost")])
def test_coming_back_has_its_limit(after, outcome):
    coding = Coding().onset(1.0).marker(1.2).reward(2.0).event("reset", 3.0).onset(3.0 + after)
    (row,) = [m for m in measure(coding.record())["moments"] if m.get("role") == "return"]
    assert (row["outcome"], row["s"]) == (outcome, 30.0)


@pytest.mark.parametrize(("tries", "weakest"), [(4, None), (5, "b")])
def test_a_weak_link_is_named_from_five_tries_on(tries, weakest):
    plan = {"approximations": [{"key": "c", "parts": [{"key": "a"}, {"key": "b"}]}]}
    coding = Coding()
    for n in range(tries):
        coding.onset(5.0 * n + 1, approximation="c")
    assert measure(coding.record(plan=plan))["chains"]["c"]["weakest"] == weakest


@pytest.mark.parametrize(("held_s", "is_brief"), [(0.49, True), (0.5, False)])
def test_no_hand_clicks_inside_a_behaviour_that_short(held_s, is_brief):
    coding = Coding()
    for n in range(4):
        coding.onset(5.0 * n + 1).offset(5.0 * n + 1 + held_s).marker(5.0 * n + 1 + held_s + 0.005)
    found = measure(coding.record(settings={"on_time_s": 0.5}))
    assert found["missed"]["brief"] == {"": is_brief}
    assert found["timing"]["behaviour_over"] == 4
    # Where it lasts long enough for a hand, a click after it is a miss.
    late = 0 if is_brief else 4
    assert found["missed"]["count"] == late


@given(st.integers(0, 30), st.integers(0, 30))
def test_the_binomial_halves_agree_with_scipy(first, second):
    coding = Coding().event("bout_start", 0.0)
    for n in range(first):
        coding.event("other_behaviour", 1.0 + n, label="paws")
    for n in range(second):
        coding.event("other_behaviour", 61.0 + n, label="paws")
    found = measure(coding.event("bout_end", 120.0).record())["offered"]["labels"]
    if first + second == 0:
        assert found == {}
        return
    assert (found["paws"]["first_half"], found["paws"]["second_half"]) == (first, second)
    expected = stats.binomtest(first, first + second, 0.5).pvalue
    assert found["paws"]["p"] == pytest.approx(expected)


@given(st.lists(st.tuples(st.integers(1, 29), st.booleans()), min_size=1, max_size=20))
def test_returns_agree_with_lifelines(lengths):
    """Kaplan and Meier's median over returns that came back and such as were cut off."""
    from lifelines import KaplanMeierFitter

    coding, now = Coding(), 1.0
    for length, came_back in lengths:
        coding.event("reset", now)
        if came_back:
            coding.onset(now + length)
            now += 100
        else:
            now += length
    coding.event("reset", now)
    found = measure(coding.record(session={"start_s": 0, "end_s": now}))["returns"]
    fitter = KaplanMeierFitter()
    fitter.fit([*(float(n) for n, _ in lengths), 0.0], [*(b for _, b in lengths), False])
    series = fitter.survival_function_.iloc[:, 0]
    reached = series.index[series <= 0.5 + 1e-9]
    expected = float(reached[0]) if len(reached) else None
    assert found["km_median_s"] == (None if expected is None else pytest.approx(expected))
    assert found["n"] == len(lengths) + 1
    assert found["n"] == found["back_s"]["n"] + found["lost"] + found["cut"]


def test_the_confusion_table_agrees_with_scikit_learn(found):
    from sklearn.metrics import confusion_matrix

    asked = ["lift"] * 3 + ["ring"]
    came = ["lift", "ring", "unlabelled", "none"]
    labels = ["lift", "ring", "unlabelled", "none"]
    matrix = confusion_matrix(asked, came, labels=labels)
    table = found["confusion"]
    for cue, row in (("hoof", 0), ("bell", 1)):
        assert [table[cue].get(label, 0) for label in labels] == list(matrix[row])


@given(st.integers(2, 8), st.floats(0.1, 0.9))
def test_several_pays_in_place_are_no_orphans_and_no_pauses(pays, gap):
    """Clicks and rewards while it stays: one rep with so many pays, and no marker on nothing."""
    coding = Coding().onset(10.0, met=True)
    at = 12.0
    for _ in range(pays):
        coding.marker(at).reward(at + gap)
        at += 2.0
    coding.event("release", at).onset(at + 4.0)
    found = measure(coding.record())
    assert found["counts"]["orphan_markers"] == found["counts"]["repeat_markers"] == 0
    assert found["counts"]["further_markers"] == pays - 1
    assert found["reps"][0]["pays"] == pays
    assert found["pause_s"]["n"] == 1
    assert found["pause_s"]["median"] == pytest.approx(4.0)
    assert math.isclose(found["marker_latency_s"]["median"], 2.0)
