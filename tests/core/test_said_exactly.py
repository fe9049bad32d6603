"""What documents and sentences say, to the key and to the word: names are part of a format."""

from __future__ import annotations

import dataclasses
import json

import pytest

from frequens.core import measure, read_session, write_session
from frequens.core.findings import measure_session
from frequens.core.formats.session_document.by_hand import read_by_hand
from frequens.core.formats.text_formats import read_webvtt, write_webvtt
from frequens.core.history.hand_counts import findings_by_hand
from frequens.core.planning.calculators import lure_fading
from frequens.core.planning.shaping import STARTERS, session_plan
from frequens.core.reading.acceptable import MOST_NUMBER, check_value
from frequens.core.reading.document_values import InvalidDocument, Reading
from frequens.core.rules.judgement_numbers import read_judging
from frequens.core.words.of_judgement import hands_sentence, headline, in_full
from frequens.words import counted

from .coded import Coding
from .test_shaping import sound_plan


def digest_record(record):
    return measure_session(record).digest


@pytest.mark.parametrize(
    ("pause_s", "said"),
    [((2.0, 9.94), "2.0 s at first and 9.9 s"), ((3.0, 12.4), "3.0 s at first and 12 s")],
)
def test_seconds_are_told_to_the_tenth_below_ten(pause_s, said):
    first, last = pause_s
    assert said in in_full("rising_pause", {"first_s": first, "last_s": last})


def test_a_session_written_out_is_ready_for_any_json_writer():
    parts = {
        "rule": {"kind": "share", "window": 10},
        "placement": {"bowl": 0.5, "hand": 0.5},
        "judging": {"misses": 4},
    }
    plan = {"approximations": [{"key": "near"}], **parts}
    written = write_session(Coding().onset(1.0).record(plan=plan))
    assert json.loads(json.dumps(written))["plan"].keys() >= parts.keys()
    assert {type(written["plan"][name]) for name in parts} == {dict}


def test_a_plans_own_limit_of_lures_is_the_judgements():
    assert session_plan(sound_plan(lure_reps=4))["judging"] == {"lure_reps": 4}
    assert "judging" not in session_plan(sound_plan())


@pytest.mark.parametrize(
    ("counts", "fault"),
    [
        ({"met": 1}, "by_hand.met: more than the 0 judged"),
        ({"met": 3, "judged": 2}, "by_hand.met: more than the 2 judged"),
        ({"met": 2, "judged": 2}, None),
        ({"judged": 2}, None),
    ],
)
def test_what_fits_by_hand_is_among_the_judged(counts, fault):
    reading = Reading()
    read_by_hand(reading, counts)
    assert reading.faults == ([] if fault is None else [fault])


def test_signs_counted_by_hand_keep_their_name_and_strength():
    reading = Reading()
    signs = [{"severity": 2, "label": "yawns"}, {"severity": 1}]
    assert read_by_hand(reading, {"signs": signs}).signs == (("yawns", 2), ("", 1))
    assert reading.faults == []


def test_a_digest_has_the_keys_it_is_read_back_by():
    digest = digest_record(Coding().onset(1.0).marker(1.2).record())
    plain = digest.as_plain_values()
    assert plain.keys() == {field.name for field in dataclasses.fields(digest)}
    assert all(isinstance(trial, list) for trial in plain["trials"])


@pytest.mark.parametrize("name", sorted(STARTERS))
def test_in_a_ready_made_plan_each_step_goes_back_to_the_one_before(name):
    steps = STARTERS[name]["approximations"]
    assert "fallback" not in steps[0]
    assert [s["fallback"] for s in steps[1:]] == [s["key"] for s in steps[:-1]]


@pytest.mark.parametrize(("n", "said"), [(0, "0 reps"), (1, "1 rep"), (1.5, "1.5 reps")])
def test_a_count_stands_with_its_noun(n, said):
    assert counted(n, "rep") == said


@pytest.mark.parametrize(
    ("numbers", "said"),
    [
        ({"more": 1}, "Too few reps to decide. 1 more that fits would do."),
        ({"more": 2}, "Too few reps to decide. 2 more that fit would do."),
        (
            {"criterion": 12.5},
            "Too few reps to decide. The next rep is paid if it is better than 12.5.",
        ),
        (
            {"values": 1, "window": 20},
            "Too few reps to decide. 1 measured rep so far; 20 are looked at.",
        ),
        (
            {"clean": 2, "clean_sessions": 3},
            "Too few reps to decide. 2 sessions in a row at ease of 3.",
        ),
        ({}, "Too few reps to decide."),
    ],
)
def test_what_is_missing_is_said_in_full(numbers, said):
    assert in_full("too_few", numbers) == said


def test_a_rep_has_exactly_these_values():
    coding = Coding().onset(5.0, met=True, value=3.0).offset(6.0)
    coding.marker(5.5, marker="keep_going").marker(5.8).reward(6.5, placement="mat")
    (row,) = measure(coding.record())["reps"]
    assert set(row) == {
        *("id", "approximation", "stretch", "onset_s", "offset_s", "target_s", "marker_s"),
        *("reward_s", "marker_latency_s", "timing_error_s", "timing", "behaviour_over", "missed"),
        *("reward_latency_s", "over_limit", "met", "value", "false_alarm", "pays", "pieces"),
        *("uncertainty_s", "offset_id", "marker_id", "further_ids", "keep_going_ids"),
        *("reward_ids", "paid_directly", "direct_reward_s", "placements", "caught"),
        *("reach_lead_s", "hand_first", "pause_s", "next_pause_s", "held_s", "stay", "help"),
        *("cue", "said", "answer", "response_s", "parts", "broke_at", "conditions", "tapped_met"),
    }
    assert row["keep_going_ids"] == ["marker2"]
    assert row["behaviour_over"] is False


def test_leaving_is_an_outcome_with_its_length():
    coding = Coding().onset(1.0).event("off_task_start", 3.0).event("off_task_end", 7.5)
    coding.onset(12.0).event("note", 20.0, text="x")
    left = [row for row in measure(coding.record())["moments"] if row.get("role") == "opt_out"]
    assert [(row["t_s"], row["outcome"], row["s"]) for row in left] == [(3.0, None, 4.5)]


def test_a_touch_has_its_value_and_the_signs_within_it():
    coding = Coding()
    for at, value in ((5.0, 2.0), (25.0, 4.0)):
        coding.event("exposure", at, label="clippers", value=value, end_s=at + 2)
    coding.event("sign", 6.0, label="ears back", severity=2).event("note", 60.0, text="x")
    touched = measure(coding.record())["exposures"]["clippers"]
    assert touched["value"]["median"] == 3.0
    assert touched["signs"] == {"1": 0, "2": 1, "3": 0}


def test_a_digest_counts_minutes_signs_and_work():
    plan = {"approximations": [{"key": "a", "title": "A"}], "rule": {"kind": "run"}}
    events = Coding().event("criterion", 0.0, approximation="a")
    events.onset(10.0, met=True).onset(20.0, met=True).onset(30.0, met=False)
    for at, severity in ((40.0, 1), (41.0, 1), (42.0, 2), (43.0, 3)):
        events.event("sign", at, label="tail", severity=severity)
    record = events.record(plan=plan, session={"date": "2026-05-01", "start_s": 0, "end_s": 90})
    digest = digest_record(record)
    assert digest.minutes == 1.5
    assert digest.signs == (2, 1, 1)
    assert digest.at_work == {"a": 3}


def test_counts_by_hand_without_judging_judge_nothing():
    found = findings_by_hand({"minutes": 3, "reps": 7})
    assert (found["success"]["met"], found["success"]["judged"]) == (0, 0)
    found = findings_by_hand({"minutes": 3, "reps": 7, "met": 5})
    assert (found["success"]["met"], found["success"]["judged"]) == (5, 7)


def test_a_written_plan_says_all_that_was_read():
    plan = {
        "rule": {"kind": "share", "window": 8},
        "placement": {"mat": 0.75, "hand": 0.25},
        "judging": {"cycle_s": 8},
        "cues": [{"label": "bell", "behaviour": "nose"}, {"label": "mat", "behaviour": "stands"}],
        "approximations": [{"key": "a", "title": "A"}],
    }
    record = Coding().onset(1.0).record(plan=plan)
    written = write_session(record)["plan"]
    assert written["placement"] == plan["placement"]
    assert written["rule"]["window"] == 8
    assert written["judging"] == {"cycle_s": 8}
    assert written["cues"] == plan["cues"]
    assert read_session(write_session(record)) == record


def test_subtitles_are_read_by_people_too():
    record = Coding().event("note", 1.0, text="Möhre “dort”").record()
    text = write_webvtt(record.events)
    assert "Möhre “dort”" in text
    assert list(read_webvtt(text)) == list(record.events)


def test_starters_mark_the_onset_where_nothing_else_is_said():
    for starter in STARTERS.values():
        for step in starter["approximations"]:
            assert step.get("mark_at") in ("onset", "offset", "hold")


def test_too_many_lures_are_refused_by_name():
    with pytest.raises(ValueError, match="lures"):
        lure_fading(lures=101)


def test_a_fault_deep_inside_is_named_by_its_whole_path():
    with pytest.raises(InvalidDocument, match=r"^a\.b"):
        check_value({"a": {"b": "\x00"}})
    with pytest.raises(InvalidDocument, match=r"^b"):
        check_value({"b": "\x00"})


def test_a_number_is_kept_up_to_the_largest_and_no_further():
    check_value({"a": [MOST_NUMBER, -MOST_NUMBER]})
    for beyond in (MOST_NUMBER * 1.01, -MOST_NUMBER * 1.01):
        with pytest.raises(InvalidDocument, match="too large"):
            check_value({"a": [beyond]})


@pytest.mark.parametrize(("length", "is_taken"), [(200, True), (201, False)])
def test_a_step_of_a_session_by_hand_has_a_name_of_two_hundred_letters_at_most(length, is_taken):
    told = {"approximation": "x" * length, "judged": 4, "met": 2}
    reading = Reading()
    read = read_by_hand(reading, told)
    assert (reading.faults == []) == is_taken
    assert (read.approximation == told["approximation"]) == is_taken


@pytest.mark.parametrize(("value", "is_taken"), [(0, True), (1000, True), (1000.5, False)])
def test_numbers_of_the_judgement_go_from_nothing_to_a_thousand(value, is_taken):
    reading = Reading()
    read = read_judging(reading, "judging", {"cycle_s": value})
    assert (reading.faults == []) == is_taken
    if is_taken:
        assert read == {"cycle_s": value}


def test_a_digest_says_how_pauses_were_at_first_and_at_last():
    coding, at = Coding(), 0.0
    for pause in (2, 3, 4, 5, 6, 7, 8, 9, 10):
        coding.onset(at).marker(at + 0.2).reward(at + 0.5)
        at += 0.5 + pause
    coding.onset(at).marker(at + 0.2).reward(at + 0.5)
    pauses = digest_record(coding.record()).pauses
    assert (pauses.n, pauses.first_s, pauses.last_s) == (9, 3.0, 9.0)


@pytest.mark.parametrize(
    ("step", "is_after", "begin"),
    [
        ("nose", False, "A smaller step before “nose”: "),
        ("nose", True, "A step between “nose” and the next: "),
        (None, False, "A smaller step before this step: "),
    ],
)
def test_a_headline_quotes_a_step_only_where_one_is_named(step, is_after, begin):
    said = headline("split", "failed_above", {}, step, "", is_after=is_after)
    assert said == f"{begin}the next step failed twice."


def test_the_hands_are_told_each_by_its_own_number():
    said = hands_sentence({"early": 1, "late": 2, "over": 0}, (3, 9), (4, 12), (5, 7))
    assert said == (
        "Hand before the marker on 3 of 9; marker early on 1; marker late on 2; 4 markers without "
        "a reward; food before the touch on 5 of 7."
    )
    assert hands_sentence({}, (0, 9), (1, 12), (0, 0)) == "1 marker without a reward."
    assert hands_sentence({"early": 0}, (0, 9), (0, 12), (0, 7)) is None


@pytest.mark.parametrize("decision", ["hold", "lower"])
def test_only_a_split_can_be_after_its_step(decision):
    said = headline(decision, "uneven", {"condition": "place", "level": "yard"}, "nose", "")
    assert said == headline(
        decision, "uneven", {"condition": "place", "level": "yard"}, "nose", "", is_after=True
    )
