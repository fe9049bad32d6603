"""What stands beside each rep and between the reps, so that every number opens what it counts."""

import pytest

from frequens.core import measure

from .coded import Coding


def test_every_count_is_the_number_of_its_reps():
    coding = Coding(width=1 / 30).event("criterion", 0.0, approximation="nose")
    coding.onset(5.0, met=True, conditions={"side": "left"}).offset(5.8).marker(5.3)
    coding.reach(5.1).reward(6.3, placement="ahead")
    coding.event("prompt", 7.5, level="gesture")
    coding.onset(8.0, met=False, conditions={"side": "right"}).offset(8.2).marker(8.6)
    coding.reach(8.9).reward(13.6, placement="in place", pieces=2)
    coding.event("cue", 14.0, label="now").onset(15.5, met=True).marker(15.4).reward(16.4)
    found = measure(coding.record(session={"start_s": 0, "end_s": 30}))
    reps = found["reps"]
    assert sum(r["hand_first"] is True for r in reps) == found["reach_lead_s"]["before_marker"] == 1
    assert (
        sum(r["over_limit"] is True for r in reps) == found["reward_latency_s"]["over_limit"] == 1
    )
    for caught, n in found["caught"].items():
        assert sum(r["caught"] == caught for r in reps) == n
    for level, n in found["prompts"]["attempts"].items():
        assert sum(r["help"] == level for r in reps) == n
    sides = found["conditions"]["side"]["levels"]
    assert {s: level["attempts"] for s, level in sides.items()} == {
        side: sum(r["conditions"].get("side") == side for r in reps) for side in ("left", "right")
    }
    assert [r["response_s"] for r in reps] == [None, None, pytest.approx(1.5)]
    assert [r["cue"] for r in reps] == [None, None, "now"]
    # Of each place the rep that came next, and whether it fitted.
    after = {place: one["next_met"] for place, one in found["placement"].items()}
    assert {place: (met["count"], met["of"]) for place, met in after.items()} == {
        "ahead": (0, 1),
        "in place": (1, 1),
    }
    assert found["stimulus_control"]["hit"] == sum(r["response_s"] is not None for r in reps)
    assert [r["placements"] for r in reps] == [["ahead"], ["in place"], []]
    pauses = [r["pause_s"] for r in reps if r["pause_s"] is not None]
    assert pauses == [pytest.approx(1.7), pytest.approx(1.9)]
    assert len(pauses) == found["pause_s"]["n"]
    assert [r["held_s"] for r in reps] == [pytest.approx(0.8), pytest.approx(0.2), None]


def test_two_sides_are_compared_where_both_were_judged():
    def difference(left, right):
        coding = Coding()
        for n, (side, met) in enumerate([("left", met) for met in left] + [("right", right)]):
            coding.onset(2.0 + 3 * n, met=met, conditions={"side": side})
        found = measure(coding.record(session={"start_s": 0, "end_s": 30}))
        return found["conditions"]["side"]["difference"]

    assert difference([True, False], None)["p"] is None
    assert difference([None, None], True)["p"] is None
    # One of each way round says nothing, and is said to.
    assert difference([True, False], True)["p"] == pytest.approx(1.0)


def test_each_rep_names_its_stretch():
    coding = Coding().event("criterion", 0.0, approximation="nose").onset(2.0).onset(4.0)
    coding.event("criterion", 5.0, approximation="mouth").onset(6.0)
    coding.event("criterion", 8.0, approximation="nose").onset(9.0)
    found = measure(coding.record(session={"start_s": 0, "end_s": 12}))
    assert [r["stretch"] for r in found["reps"]] == [0, 0, 1, 2]
    for place, split in enumerate(found["splits"]["segments"]):
        assert sum(r["stretch"] == place for r in found["reps"]) == split["attempts"]


def test_the_cumulative_record_counts_every_reinforcement_on_both_clocks():
    coding = Coding().event("bout_start", 0.0).onset(2.0).marker(2.3).reward(3.0)
    coding.event("bout_end", 10.0).event("bout_start", 40.0)
    coding.reward(45.0).event("bout_end", 50.0)
    found = measure(coding.record(session={"start_s": 0, "end_s": 60}))
    # The break of 30 s is no training time.
    assert found["cumulative"] == [
        {"t_s": 2.3, "training_s": 2.3, "count": 1},
        {"t_s": 45.0, "training_s": 15.0, "count": 2},
    ]
    assert len(found["cumulative"]) == found["counts"]["reinforcements"]


def test_moments_hold_what_is_no_rep_with_its_instant():
    coding = Coding().event("criterion", 0.0, approximation="nose")
    coding.event("other_behaviour", 3.0, label="paws").marker(3.4)
    coding.event("sign", 9.0, label="yawns", severity=2).marker(20.0).reward(35.0)
    found = measure(coding.record(session={"start_s": 0, "end_s": 40}))
    told = [m for m in found["moments"] if "kind" in m]
    assert [(m["kind"], m["t_s"], m["label"], m["severity"]) for m in told] == [
        ("criterion", 0.0, "nose", None),
        ("other_behaviour", 3.0, "paws", None),
        ("marker", 3.4, "other:paws", None),
        ("sign", 9.0, "yawns", 2),
        ("marker", 20.0, "nothing_coded", None),
        ("reward", 35.0, None, None),
    ]
    orphans = [m for m in told if m["kind"] == "marker"]
    assert len(orphans) == found["counts"]["orphan_markers"]
    rewards = [m for m in told if m["kind"] == "reward"]
    assert len(rewards) == found["counts"]["unmarked_rewards"]
