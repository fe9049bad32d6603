"""Limits of the measures: what lies just inside and just outside of each."""

from __future__ import annotations

import math

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from frequens.core import measure
from frequens.core.measures.pauses import Pauses, Trend
from frequens.core.reading.document_values import Reading, date
from frequens.core.rules.judgement_numbers import read_judging
from frequens.core.rules.schools import Judged, decide, first_said
from frequens.core.statistics.summaries import summarise

from .coded import FRAME, Coding

#: Two standard uncertainties of a difference of two marks on frames (JCGM 100:2008, 4.3.7).
TWO_U = 2 * math.sqrt(2) * FRAME / math.sqrt(12)
A_MS = 0.001


@pytest.mark.parametrize(
    ("before_s", "timing"), [(TWO_U - A_MS, "on_time"), (TWO_U + A_MS, "early")]
)
def test_early_begins_where_two_uncertainties_end(before_s, timing):
    coding = Coding(width=FRAME).onset(5.0).marker(5.0 - before_s)
    assert measure(coding.record())["timing"][timing] == 1


@pytest.mark.parametrize(("after_s", "over"), [(TWO_U - A_MS, 0), (TWO_U + A_MS, 1)])
def test_over_begins_where_two_uncertainties_end(after_s, over):
    coding = Coding(width=FRAME).onset(5.0).offset(6.0).marker(6.0 + after_s)
    assert measure(coding.record())["timing"]["behaviour_over"] == over


@pytest.mark.parametrize(
    ("day", "is_read"),
    [("1899-12-31", False), ("1900-01-01", True), ("2199-12-31", True), ("2200-01-01", False)],
)
def test_a_day_lies_in_these_centuries(day, is_read):
    reading = Reading()
    assert (date(reading, "date", day) == day) == is_read
    assert len(reading.faults) == 1 - is_read


@pytest.mark.parametrize(("days", "faults"), [(3650, 0), (3651, 1), (-1, 1), (0.5, 1)])
def test_a_judgement_remembers_ten_years_and_no_more(days, faults):
    reading = Reading()
    read_judging(reading, "judging", {"memory_days": days})
    assert len(reading.faults) == faults


@pytest.mark.parametrize(("ends_s", "waits_for"), [(7.95, 0), (10.0, 1)])
def test_a_keep_going_marker_waits_for_a_rep_of_its_own_stretch(ends_s, waits_for):
    coding = Coding().event("bout_start", 0).onset(2.0).offset(3.0).marker(7.9, "keep_going")
    coding.event("bout_end", ends_s)
    if not waits_for:
        coding.event("bout_start", 7.98).event("bout_end", 10)
    coding.onset(8.0)
    assert len(measure(coding.record())["reps"][-1]["keep_going_ids"]) == waits_for


@pytest.mark.parametrize(("before_s", "first"), [(TWO_U - A_MS, 0), (TWO_U + A_MS, 1)])
def test_the_hand_was_first_where_two_uncertainties_end(before_s, first):
    coding = Coding(width=FRAME).onset(9.0).reach(9.5 - before_s).marker(9.5).reward(11.0)
    assert measure(coding.record())["reach_lead_s"]["before_marker"] == first


@pytest.mark.parametrize(("lead_s", "before_marker"), [(0.5, 1), (0.500001, 0)])
def test_a_reward_may_lead_its_marker_by_half_a_second_and_no_more(lead_s, before_marker):
    coding = Coding().onset(9.0).reward(10.0 - lead_s).marker(10.0)
    assert measure(coding.record())["reward_latency_s"]["before_marker"] == before_marker


@pytest.mark.parametrize(("after_s", "linked"), [(10.0, 1), (10.000001, 0)])
def test_a_reward_belongs_to_a_marker_ten_seconds_before_and_no_longer(after_s, linked):
    coding = Coding().onset(5.0).marker(5.2).reward(5.2 + after_s).event("note", 30.0, text="x")
    found = measure(coding.record())
    assert found["reward_latency_s"]["n"] == linked
    assert len(found["loose"]["unrewarded_markers"]) == 1 - linked


@pytest.mark.parametrize(("after_s", "paid"), [(10.0, 1), (10.000001, 0)])
def test_a_reward_without_a_marker_pays_an_attempt_ten_seconds_before_and_no_longer(after_s, paid):
    coding = Coding().onset(5.0).reward(5.0 + after_s).event("note", 30.0, text="x")
    assert len(measure(coding.record())["reps"][0]["reward_ids"]) == paid


@pytest.mark.parametrize(("wait_s", "spells"), [(30.0, 0), (30.000001, 1)])
def test_a_dry_spell_is_longer_than_its_limit(wait_s, spells):
    coding = Coding().event("bout_start", 5.0).onset(9.0).marker(9.5).reward(10.0)
    coding.onset(9.0 + wait_s).marker(9.5 + wait_s).reward(10.0 + wait_s)
    coding.event("bout_end", 11.0 + wait_s)
    found = measure(coding.record())["dry_spells"]
    assert len(found["spells"]) == spells
    assert found["longest_s"] == pytest.approx(wait_s)


def test_a_dry_spell_may_begin_with_the_session_and_end_with_it():
    # A marked reward counts from its marker.
    coding = Coding().event("bout_start", 0.0).onset(39.0).marker(39.5).reward(40.0)
    coding.event("bout_end", 75.0)
    spells = measure(coding.record())["dry_spells"]["spells"]
    assert [(s["start_s"], s["end_s"]) for s in spells] == [(0.0, 39.5), (39.5, 75.0)]


@pytest.mark.parametrize("end_s", [12.0, 11.0])
def test_a_reward_on_the_last_instant_of_the_session_counts(end_s):
    coding = Coding().onset(10.0).marker(10.5).reward(11.0)
    found = measure(coding.record(session={"start_s": 0.0, "end_s": end_s}))
    assert found["counts"]["rewards"] == 1
    assert found["reward_latency_s"]["n"] == 1
    assert found["rates"]["reinforcement_per_min"]["value"] == pytest.approx(60 / end_s)


@pytest.mark.parametrize(
    ("slope", "p", "rises"),
    [
        (0.2, 0.049, True),
        (0.2, 0.05, False),
        (0.2, 0.3, False),
        (-0.2, 0.01, False),
        (0.0, 0.01, False),
    ],
)
def test_pauses_rise_only_beyond_what_chance_explains(slope, p, rises):
    assert Pauses(summarise([]), Trend(slope, 0.4, p)).is_rising == rises


COUNTS = st.integers(1, 7)
ANY_RULE = st.one_of(
    st.fixed_dictionaries({"kind": st.just("run"), "need": COUNTS, "miss": COUNTS}),
    st.fixed_dictionaries({"kind": st.just("share"), "window": COUNTS}),
    st.integers(1, 7).flatmap(
        lambda size: st.fixed_dictionaries(
            {
                "kind": st.just("block"),
                "size": st.just(size),
                "raise_at": st.integers(1, size),
                "lower_at": st.integers(0, size - 1),
            }
        )
    ),
    st.fixed_dictionaries({"kind": st.just("percentile"), "window": COUNTS}),
)
ANY_ATTEMPT = st.builds(Judged, st.booleans(), st.none() | st.integers(0, 20).map(float))


#: In runs, as animals do it: single ones by chance would hardly ever satisfy a rule.
RUNS = st.lists(st.tuples(ANY_ATTEMPT, COUNTS), max_size=8)


@example({"kind": "run", "need": 1, "miss": 3}, "lower", [(Judged(False), 6)])
@given(ANY_RULE, st.sampled_from(["raise", "lower"]), RUNS)
def test_a_rule_first_said_something_when_it_said_it_with_all_before(rule, verdict, runs):
    """`first_said` looks at the last attempts only; asked with all the rule says the same."""
    attempts = [attempt for attempt, times in runs for _ in range(times)]
    has_place = [a.value is not None or rule["kind"] != "percentile" for a in attempts]
    told = [a for a, has in zip(attempts, has_place, strict=True) if has]
    numbers = [n for n, has in enumerate(has_place, 1) if has]
    said = [decide(rule, told[: n + 1]).decision for n in range(len(told))]
    expected = numbers[said.index(verdict)] if verdict in said else None
    assert first_said(rule, attempts, verdict) == expected


def test_a_percentile_that_climbs_is_said_to_raise():
    attempts = [Judged(True, float(n)) for n in range(12)]
    assert first_said({"kind": "percentile"}, attempts) == 10


@pytest.mark.parametrize(("width", "over"), [(0.4, 0), (FRAME, 1)])
def test_what_the_end_leaves_open_is_no_late_marker(width, over):
    """0.05 s late: beyond two uncertainties of two frames, within those of a wide end."""
    coding = Coding(width=FRAME).onset(5.0).offset(6.0 + width / 2, width=width)
    coding.marker(6.05 + FRAME / 2)
    assert measure(coding.record())["timing"]["behaviour_over"] == over


def test_where_nothing_is_uncertain_the_same_instant_is_neither_late_nor_early_nor_before():
    found = measure(Coding().onset(5.0).offset(6.0).marker(6.0).reward(7.0).record())
    assert found["timing"]["behaviour_over"] == 0
    found = measure(Coding().onset(5.0).marker(5.0).record())
    assert found["timing"]["on_time"] == 1
    found = measure(Coding().onset(9.0).reach(9.5).marker(9.5).reward(11.0).record())
    assert found["reach_lead_s"]["before_marker"] == 0


def test_a_marker_due_at_the_end_is_never_over_and_is_as_sure_as_the_end():
    plan = {"approximations": [{"key": "a", "title": "A", "mark_at": "offset"}]}
    coding = Coding().event("criterion", 0.0, approximation="a")
    coding.onset(5.0, width=0.4).offset(6.0, width=FRAME).marker(6.2, width=FRAME)
    found = measure(coding.record(plan=plan))
    assert found["reps"][0]["behaviour_over"] is None
    # 0.2 s before the end is early by the end's own width; the wide onset would allow it.
    coding.events[-1]["t"] = 5.8
    assert measure(coding.record(plan=plan))["timing"]["early"] == 1


@pytest.mark.parametrize(("after_s", "own"), [(TWO_U - A_MS, 1), (TWO_U + A_MS, 0)])
def test_a_second_keep_going_marker_belongs_to_the_attempt_until_its_end(after_s, own):
    coding = Coding(width=FRAME).onset(5.0).offset(6.0)
    coding.marker(6.0 + after_s, marker="keep_going").event("note", 30.0, text="x", width=FRAME)
    (row,) = measure(coding.record())["reps"]
    assert row["keep_going_ids"] == ["marker2"] * own


@pytest.mark.parametrize(("after_s", "before"), [(10.0, 0), (10.000001, 1)])
def test_a_second_reward_is_the_attempts_since_for_ten_seconds(after_s, before):
    """An attempt without a marker since the paid one: a further reward is for that one."""
    coding = Coding().onset(1.0).marker(1.2).reward(1.5)
    coding.onset(2.0).reward(2.0 + after_s).event("note", 40.0, text="x")
    second = measure(coding.record())["reps"][1]
    assert len(second["reward_ids"]) == 1 - before


@pytest.mark.parametrize(
    ("prompt_s", "helped"),
    [(0.9, [True, False]), (1.5, [False, True]), (2.0, [False, True]), (2.5, [False, False])],
)
def test_help_belongs_to_the_part_it_leads_to(prompt_s, helped):
    """A prompt after one part and not after the next helped the next; before the first, that."""
    parts = [{"key": "take", "title": "takes"}, {"key": "drop", "title": "drops"}]
    plan = {"approximations": [{"key": "a", "title": "A", "parts": parts}]}
    coding = Coding().event("criterion", 0.0, approximation="a").onset(1.0)
    coding.event("part", 2.0, part="drop").offset(3.0)
    coding.event("prompt", prompt_s, level="gesture").event("note", 9.0, text="x")
    found = measure(coding.record(plan=plan))["chains"]["a"]["parts"]
    assert [part["helped"] > 0 for part in found] == helped
