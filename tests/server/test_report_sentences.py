"""Each sentence of the report, from the marks it is said of; nothing where there were none."""

from __future__ import annotations

import datetime as dt

import pytest

from frequens.core import measure
from frequens.core.rules.schools import RULES
from frequens.server.reports.content import _how, _method, _notes, _rate, _splits, _timing
from frequens.server.reports.phrases import between, long_day, mark_at_words, rule_words
from frequens.server.reports.pictures import _marks_of
from frequens.server.reports.ways import ease, ways
from frequens.words.english import report
from tests.core.coded import Coding

STEPS = [
    {
        "key": "stay",
        "title": "Stays on the mat",
        "mark_at": "hold",
        "hold_s": 2,
        "until_release": True,
    },
    {
        "key": "post",
        "title": "Posts the letter",
        "parts": [{"key": key, "title": key} for key in ("take", "drop")],
    },
    {
        "key": "high",
        "title": "Over the bar",
        "quantity": {"name": "height", "unit": "cm", "better": "more", "target": 20},
    },
    {
        "key": "far",
        "title": "Along the plank",
        "quantity": {"name": "way", "unit": "m", "better": "more"},
    },
]
TITLES = {step["key"]: step["title"] for step in STEPS}


def title_of(key):
    return TITLES.get(key, "this step")


def told(coding, said, end=60.0):
    plan = {"approximations": STEPS, "cues": [{"label": "ring", "behaviour": "ring"}]}
    return said(measure(coding.record(plan=plan, session={"start_s": 0, "end_s": end})))


def every_way(found):
    return ways(found, title_of)


def at(step):
    return Coding().event("criterion", 0.5, approximation=step)


def test_a_session_at_ease_says_nothing_of_ease_or_other_ways():
    quiet = Coding().onset(2.0).marker(2.2).reward(3.0)
    assert told(quiet, ease) == told(quiet, every_way) == []


def test_signs_by_their_worst_and_leaving_the_work():
    coding = Coding().onset(2.0).event("sign", 5.0, label="bleats", severity=1)
    coding.event("sign", 6.0, label="bleats", severity=3).event(
        "sign", 7.0, label="sweat", severity=2
    )
    coding.event("off_task_start", 10.0).event("off_task_end", 16.2)
    assert told(coding, ease) == [
        "2 signs: bleats (severe at worst).",
        "1 sign: sweat (marked at worst).",
        "It left the work 1 time, for 6 s in all.",
    ]


def test_a_stay_with_and_without_pay_in_place():
    stay = at("stay").onset(2.0).marker(4.0).reward(4.5).event("release", 6.0)
    assert told(stay, every_way) == [
        "Stays on the mat: 1 of 1 stayed until let go, paid 1.0 times in place."
    ]


def test_cues_answered_answered_with_something_else_and_said_again():
    coding = Coding().event("cue", 1.0, label="ring").onset(2.0, label="ring")
    coding.event("cue", 20.0, label="ring").event("cue", 22.0, label="ring")
    coding.onset(23.0, label="kick").event("cue", 40.0).onset(41.0)
    assert told(coding, every_way) == [
        "“ring”: 1 of 2 answered, 1 with something else; said more than once 1 time.",
        "The cue: 1 of 1 answered.",
    ]


def test_how_soon_it_came_back():
    coding = Coding().onset(2.0)
    for away in (4.0, 15.0, 25.0):
        coding.event("reset", away).onset(away + 2.5)
    assert told(coding, every_way) == ["Sent away 3 times; half were back within 2.5 s."]


def test_waits_in_which_nothing_was_asked():
    coding = Coding().event("no_cue_window", 5.0, end_s=9.0).onset(6.0)
    coding.event("no_cue_window", 15.0, end_s=19.0)
    assert "While nothing was asked it came in 1 of 2 waits." in told(coding, every_way)


def test_chains_touches_and_what_was_measured():
    coding = at("post").onset(2.0).event("part", 3.0, part="take").event("part", 4.0, part="drop")
    coding.marker(4.1).reward(5.0).onset(10.0).event("part", 11.0, part="take").offset(12.0)
    assert "Posts the letter: 1 of 2 done to the end." in told(coding, every_way)
    touches = Coding().event("exposure", 2.0, end_s=3.0, label="clipper").reward(4.0)
    touches.event("exposure", 20.0, end_s=22.0, label="clipper").reward(19.6)
    (said,) = told(touches, every_way)
    assert said == "clipper: 2 times, 1 with food after it; food came first 1 time."
    high = at("high").onset(2.0, met=True, value=20).onset(9.0, met=False, value=15)
    high.onset(15.0, met=False, value=10)
    assert told(high, every_way) == [
        "Over the bar: 15 in the middle of 3 measured reps, 1 of 3 at the aim."
    ]
    far = at("far").onset(2.0, value=2.5)
    assert told(far, every_way) == ["Along the plank: 2.5 in the middle of 1 measured rep."]


def test_where_markers_and_rewards_fell():
    assert told(Coding().onset(2.0), _timing) == ["No rep was marked."]
    coding = Coding().reach(1.9).onset(2.0).marker(2.3).reward(6.3).onset(20.0).marker(21.5)
    assert told(coding, _timing) == [
        "The marker fell 0.90 s after the behaviour began, in the middle of 2 marked reps (too "
        "few to say how far the true middle could lie): 0 early, 1 on time, 1 late. Each ring is "
        "a marker, a filled one late or after it was over.",
        "The reward followed 4.00 s after the marker, in the middle (too few to say how far the "
        "true middle could lie); 1 took too long.",
        "1 marker brought no reward: a promise not kept.",
        "The hand moved before the marker on 1 of 1.",
    ]


def test_a_marker_before_and_one_after_it_was_over():
    coding = Coding()
    for n in range(7):
        coding.onset(2.0 + 6 * n).marker(1.8 + 6 * n).reward(3.0 + 6 * n)
    coding.onset(50.0).offset(50.1).marker(50.3)
    (said, *_) = told(coding, _timing)
    # Of eight, the first to the last are 99 % (order statistics), the second to the seventh 93 %.
    assert said.startswith("The marker fell 0.20 s before the behaviour began, in the middle of 8")
    assert "(could be −0.20 s to +0.30 s): 7 early, 1 on time, 0 late, 1 after the" in said


def test_a_step_that_is_marked_elsewhere_is_timed_from_there():
    coding = at("stay").onset(2.0).marker(4.2).reward(5.0).event("release", 6.0)
    assert (
        "0.20 s after the instant the plan wants, in the middle of 1 marked rep ("
        in (told(coding, _timing)[0])
    )


def test_how_often_it_was_paid_and_what_fitted():
    coding = Coding().onset(2.0, met=True).marker(2.2).reward(3.0).onset(40.0, met=False)
    said = told(coding, _rate)
    assert said[0].startswith("1.0 rewards a minute; taught like this, the true middle could be ")
    assert said[1] == "The longest wait for a reward was 58 s."
    assert said[2] == "1 of 2 judged reps fit (50 %; could be 9 % to 91 %)."
    unknown = {"certainty": {"pay": {"per_min": None}}}
    assert _rate(unknown) == ["No training time, no rate."]


def test_reps_without_a_step_and_without_a_judgement():
    (row,) = told(Coding().onset(2.0).marker(2.2).reward(3.0), lambda f: _splits(f, title_of))
    assert row == ["No step named", "1:00", "–", "–", "–", "1.0", "+0.20 s", "+0.80 s"]


def test_a_step_that_was_not_trained_at_has_no_rate():
    found = measure(at("high").onset(2.0, met=True).record())
    (split,) = found["splits"]["approximations"]
    split |= {"reinforcement_per_min": {"value": None}, "approximation": "high"}
    (row,) = _splits(found, title_of)
    assert (row[0], row[2], row[4], row[5]) == ("Over the bar", "1 of 1", "1", "–")


def test_what_a_picture_shows():
    coding = Coding().onset(2.0, met=True).marker(1.8).onset(63.5, met=False).offset(63.6)
    coding.marker(64.3).onset(70.0)
    reps = told(coding, lambda f: f["reps"], end=80.0)
    said = [[caption for _, caption in _marks_of(n, rep)] for n, rep in enumerate(reps, 1)]
    assert said == [
        ["Rep 1 begins, 0:02.000, fits", "Marker of rep 1, −0.20 s from where it begins, early"],
        [
            "Rep 2 begins, 1:03.500, not yet",
            "Marker of rep 2, +0.80 s from where it begins, late, the behaviour is over",
        ],
        ["Rep 3 begins, 1:10.000"],
    ]


def test_how_it_was_measured():
    assert told(Coding().onset(2.0), _method)[0].endswith("were marked by hand.")
    filmed = Coding(width=0.04).onset(2.0).marker(2.2)
    said = told(filmed, _method)
    # The difference of two instants in frames of 40 ms: 1.96 × 0.04 × √(2/12) s.
    assert said[1].endswith("sure to ±32 ms (95 %).")
    assert said[2].startswith("With 1 rep, “could be” gives")
    assert said[3:] == [
        "“Fits” is the reviewer's judgement against the criterion in the plan. Nothing here "
        "replaces a veterinarian's or a qualified behaviour professional's examination."
    ]
    slow = Coding(width=1.0).onset(5.0).marker(6.0)
    assert "sure to ±800 ms" in told(slow, _method)[1]


@pytest.mark.parametrize(
    ("plan", "said"),
    [
        ({}, ""),
        ({"way": "luring"}, "Taught by luring, then fading the lure."),
        (
            {
                "way": "capturing",
                "markers": [
                    {"name": "click", "meaning": "event"},
                    {"name": "“{yes}”", "meaning": "event"},
                    {"name": "“on”", "meaning": "keep_going"},
                ],
            },
            "Taught by capturing, marked with click or “{yes}”.",
        ),
        ({"session_cap_s": 90}, "A session is at most 1.5 min."),
        ({"session_cap_s": 60, "rep_cap": 1}, "A session is at most 1 min or 1 rep."),
    ],
)
def test_how_it_is_taught(plan, said):
    assert _how(plan) == said


def test_a_note_stands_beside_its_part():
    notes = {"rates": "slow", "conditions.side": "left is weak", "odd": "so", "success": ""}
    assert _notes(notes) == [("rate", "slow"), ("side", "left is weak"), ("odd", "so")]
    assert set(report.PARTS) <= set(told(Coding().onset(2.0), dict))


@pytest.mark.parametrize(
    ("rule", "words"),
    [
        (None, ""),
        ({"kind": "run"}, "Up after 5 in a row that fit; back after 3 misses in a row."),
        ({"kind": "run", "need": 4, "miss": 0}, "Up after 4 in a row that fit."),
        ({"kind": "share"}, "Up when 80 % of the last 10 fit; back below 50 %."),
        ({"kind": "block"}, "In blocks of 5: up at 5 that fit, back at 2 or fewer."),
        (
            {"kind": "percentile", "w": 0.3},
            "The criterion moves with the animal: above what about 70 % of its last 9 reps "
            "reached.",
        ),
        ({"kind": "comfort"}, "Up after 3 sessions in a row at ease."),
    ],
)
def test_every_rule_is_said_in_words(rule, words):
    assert rule_words(rule) == words


def test_every_school_has_a_sentence():
    assert {key.partition(".")[0] for key in report.RULES} == set(RULES)


def test_days_shares_and_when_to_mark_in_words():
    assert [long_day(dt.date(2026, 5, 2)), long_day(None)] == ["2 May 2026", ""]
    assert [between(0.376, 0.964), between(None, 1.0)] == ["38 % to 96 %", "–"]
    assert mark_at_words({"mark_at": "hold", "hold_s": 2.0}) == "after 2 s"
    assert mark_at_words({"mark_at": "offset"}) == "when it is over"
    assert mark_at_words({}) == "when it begins"


def test_every_month_has_its_name():
    """Held against the C locale of the standard library."""
    for month in range(1, 13):
        day = dt.date(2026, month, 1)
        assert long_day(day) == f"1 {day:%B %Y}"
