"""Linking: each rule of docs/measures.md, section 2, by a case that breaks without it."""

import pytest

from frequens.core.linking.attempts import link_reps

from .coded import Coding

HOLD = {"approximations": [{"key": "hold", "mark_at": "hold", "hold_s": 4.0}]}
OFFSET = {"approximations": [{"key": "off", "mark_at": "offset"}]}


def linked(coding, **parts):
    return link_reps(coding.record(**parts))


def markers_of(reps):
    return [a.marker.id if a.marker else None for a in reps.attempts]


def uses_by_id(reps):
    return {use.marker.id: use for use in reps.uses}


def test_a_marker_goes_to_the_nearest_attempt_not_the_latest():
    reps = linked(Coding().onset(10.0).onset(10.6).marker(10.2))
    assert markers_of(reps) == ["marker2", None]


def test_an_equal_distance_goes_to_the_earlier_attempt():
    reps = linked(Coding().onset(10.0).onset(10.5).marker(10.25))
    assert markers_of(reps) == ["marker2", None]


def test_a_marker_may_come_shortly_before_the_behaviour():
    assert markers_of(linked(Coding().marker(9.5).onset(10.0))) == ["marker0"]
    reps = linked(Coding().marker(9.499).onset(10.0))
    assert markers_of(reps) == [None]
    assert reps.uses[0].is_orphan


def test_the_window_runs_from_the_latest_of_onset_target_and_offset():
    assert markers_of(linked(Coding().onset(10.0).marker(13.0))) == ["marker1"]
    assert markers_of(linked(Coding().onset(10.0).marker(13.001))) == [None]
    assert markers_of(linked(Coding().onset(10.0).offset(12.0).marker(15.0))) == ["marker2"]
    held = Coding().onset(10.0, approximation="hold").marker(17.0)
    assert markers_of(linked(held, plan=HOLD)) == ["marker1"]


def test_the_target_instant_follows_mark_at():
    held = linked(Coding().onset(10.0, approximation="hold"), plan=HOLD).attempts[0]
    assert (held.target - held.onset.best) / 2e6 == 4.0
    coding = Coding().onset(10.0, approximation="off").offset(12.0)
    assert linked(coding, plan=OFFSET).attempts[0].target == 2 * 12_000_000
    without = linked(Coding().onset(10.0, approximation="off"), plan=OFFSET).attempts[0]
    assert without.target is None


def test_a_later_marker_never_goes_to_an_attempt_before_one_already_marked():
    # The second marker is nearer to the first onset, but the order of things forbids it.
    reps = linked(Coding().onset(10.0).onset(10.4).marker(10.45).marker(10.1 + 0.4))
    assert markers_of(reps) == [None, "marker2"]
    assert reps.uses[1].repeats is reps.uses[0]


@pytest.mark.parametrize("after_s", [1.0, 1.1])
def test_a_marker_soon_after_the_first_is_a_repeat_and_a_later_one_a_further(after_s):
    """`repeat_s` is 1; further markers pay in place until the rep is over."""
    coding = Coding().onset(10.0).marker(10.2).marker(10.2 + after_s).offset(15.0).marker(15.1)
    reps = linked(coding)
    by_id = uses_by_id(reps)
    if after_s == 1.0:
        assert by_id["marker2"].repeats is by_id["marker1"]
        assert not by_id["marker2"].is_further
    else:
        assert by_id["marker2"].is_further
        assert by_id["marker2"].attempt is by_id["marker1"].attempt
    assert by_id["marker4"].is_orphan


def test_a_repeat_ends_at_the_next_onset():
    settings = {"anticipation_s": 0.0, "link_window_s": 0.5}
    coding = Coding().onset(10.0).marker(10.2).onset(10.5).marker(11.1)
    reps = linked(coding, settings=settings)
    assert reps.uses[1].is_orphan


def test_an_explicit_link_wins_and_a_second_one_repeats():
    coding = Coding().onset(10.0, id="far").onset(20.0, id="near")
    coding.marker(20.1, link="far").marker(20.2).marker(20.3, link="far")
    reps = linked(coding)
    assert markers_of(reps) == ["marker2", "marker3"]
    assert reps.uses[2].repeats is reps.uses[0]


def test_markers_stay_in_their_bout():
    coding = Coding().event("bout_start", 0.0).onset(9.9).event("bout_end", 10.0)
    coding.event("bout_start", 10.5).marker(10.6).event("bout_end", 20.0)
    reps = linked(coding)
    assert markers_of(reps) == [None]
    assert reps.uses[0].is_orphan


def test_an_event_in_a_break_belongs_to_the_bout_before():
    coding = Coding().event("bout_start", 0.0).onset(9.9).event("bout_end", 10.0)
    coding.marker(10.2).event("bout_start", 15.0).event("bout_end", 20.0)
    assert markers_of(linked(coding)) == ["marker3"]


def test_the_offset_in_the_frame_of_the_next_onset_closes_the_attempt_before():
    first, second = linked(Coding().onset(10.0).onset(11.0).offset(11.0)).attempts
    assert first.offset is not None
    assert second.offset is None


def test_the_first_offset_counts_and_none_from_after_the_bout():
    attempt = linked(Coding().onset(10.0).offset(10.5).offset(10.8)).attempts[0]
    assert attempt.offset.t_us == 10_500_000
    coding = Coding().event("bout_start", 0.0).onset(9.0).event("bout_end", 10.0).offset(10.5)
    assert linked(coding).attempts[0].offset is None


def test_the_approximation_is_the_onsets_own_or_the_one_in_force():
    coding = Coding().onset(1.0).event("criterion", 2.0, approximation="look")
    coding.onset(3.0).onset(4.0, approximation="nose")
    assert [a.approximation for a in linked(coding).attempts] == [None, "look", "nose"]


def test_a_reward_goes_to_the_latest_marker_within_reach():
    reps = linked(Coding().onset(10.0).marker(10.2).reward(20.2))
    assert [r.id for r in reps.attempts[0].rewards] == ["reward2"]
    late = linked(Coding().onset(10.0).marker(10.2).reward(20.3))
    assert [r.id for r in late.unmarked_rewards] == ["reward2"]
    assert late.uses[0].is_unrewarded


def test_further_rewards_stay_with_the_marker_as_a_jackpot():
    reps = linked(Coding().onset(10.0).marker(10.2).reward(11.0).reward(12.0).reward(13.0))
    assert len(reps.attempts[0].rewards) == 3
    assert len(reps.reinforcement_instants) == 1


def test_a_reward_just_before_its_marker_belongs_to_it():
    coding = Coding().onset(5.0).marker(5.2).reward(6.0).onset(9.8).reward(9.9).marker(10.0)
    first, second = linked(coding).attempts
    assert [r.id for r in first.rewards] == ["reward2"]
    assert [r.id for r in second.rewards] == ["reward4"]


def test_a_reward_before_a_marker_stays_with_an_unpaid_one():
    coding = Coding().onset(9.0).marker(9.2).onset(9.8).reward(9.9).marker(10.0)
    first, second = linked(coding).attempts
    assert [r.id for r in first.rewards] == ["reward3"]
    assert second.rewards == []


def test_a_repeat_passes_its_reward_on():
    reps = linked(Coding().onset(10.0).marker(10.2).marker(10.5).reward(11.0))
    assert [r.id for r in reps.attempts[0].rewards] == ["reward3"]
    assert not reps.uses[1].is_unrewarded


@pytest.mark.parametrize("link", ["marker1", "onset0"])
def test_a_reward_link_names_a_marker_or_an_onset(link):
    coding = Coding().onset(10.0).marker(10.2).onset(20.0).marker(20.2).reward(21.0, link=link)
    first, second = linked(coding).attempts
    assert [r.id for r in first.rewards] == ["reward4"]
    assert second.rewards == []


def test_keep_going_markers_are_reinforced_but_owe_nothing():
    reps = linked(
        Coding().onset(1.0).marker(1.5, "keep_going").marker(9.0, "keep_going").reward(9.5)
    )
    assert len(reps.reinforcement_instants) == 1
    assert not any(use.is_unrewarded for use in reps.uses)
    assert linked(Coding().marker(1.0, "no_reward")).uses == ()


def test_a_reach_belongs_to_the_marker_it_leads_to_or_follows():
    coding = Coding().onset(10.0).reach(10.1).marker(10.3).reward(11.0)
    assert [r.id for r in linked(coding).uses[0].reaches] == ["reach1"]
    coding = Coding().onset(10.0).marker(10.3).reach(10.5).reward(11.0).onset(20.0).marker(20.3)
    first, second = linked(coding).uses
    assert [r.id for r in first.reaches] == ["reach2"]
    assert second.reaches == []
    # One on the very instant of a marker is that marker's.
    coding = Coding().onset(10.0).marker(10.3).reach(10.3).marker(12.0)
    assert [len(use.reaches) for use in linked(coding).uses] == [1, 0]


def test_a_reinforcement_stands_at_the_marker_or_at_the_unmarked_reward():
    reps = linked(Coding().onset(10.0).marker(10.2).reward(11.0).reward(40.0))
    assert [t / 2e6 for t in reps.reinforcement_instants] == [10.2, 40.0]
