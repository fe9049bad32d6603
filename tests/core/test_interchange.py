"""The document: round trips, and every fault in one precise line."""

import copy
import json
import math

import pytest

from frequens.core import InvalidSession, read_session, write_session

from .coded import Coding, document

EXAMPLE = {
    "format": "frequens-session",
    "version": 1,
    "session": {
        "date": "2026-05-02",
        "learner": "Thistle",
        "behaviour": "Ring the bell",
        "start_s": 0,
        "end_s": 60,
    },
    "recording": {"duration_s": 60.0, "av_offset_s": 0.0},
    "settings": {"on_time_s": 0.4},
    "plan": {
        "rule": {"kind": "run", "need": 3},
        "rate_floor_per_min": 6,
        "approximations": [
            {"key": "look", "title": "Looks at the rope", "mark_at": "onset"},
            {"key": "hold", "title": "Holds the rope 1 s", "mark_at": "hold", "hold_s": 1.0},
        ],
    },
    "events": [
        {"id": "e1", "kind": "onset", "t": 2.0, "approximation": "look", "met": True},
        {"id": "e2", "kind": "marker", "t": 2.3, "marker": "event", "link": "e1"},
        {"id": "e3", "kind": "reward", "t": 3.8, "placement": "in place", "pieces": 1},
        {"id": "e4", "kind": "onset", "t": 9.0, "width": 0.033333, "met": None, "value": 2.5},
        {"id": "e5", "kind": "sign", "t": 9.5, "label": "yawn", "severity": 1},
        {"id": "e6", "kind": "no_cue_window", "t": 12.0, "end_s": 15.5},
        {"id": "e7", "kind": "note", "t": 20.0, "source": "tap", "text": "wind, gulls"},
        {"id": "e8", "kind": "onset", "t": 30.0, "conditions": {"side": "left", "clock": 3}},
    ],
}


def faults_of(change) -> list[str]:
    changed = copy.deepcopy(EXAMPLE)
    change(changed)
    with pytest.raises(InvalidSession) as invalid:
        read_session(changed)
    return list(invalid.value.faults)


def test_a_round_trip_changes_nothing():
    assert write_session(read_session(EXAMPLE)) == EXAMPLE
    assert json.loads(json.dumps(write_session(read_session(EXAMPLE)))) == EXAMPLE


@pytest.mark.parametrize(
    ("place", "key", "value", "fault"),
    [
        (3, "t", math.nan, "events[3].t: not a finite number"),
        (3, "t", math.inf, "events[3].t: not a finite number"),
        (3, "t", "9", "events[3].t: not a number"),
        (3, "t", True, "events[3].t: not a number"),
        (3, "t", 60.5, "events[3].t: outside the film: must lie from 0 to 60, not 60.5"),
        (3, "t", -0.5, "events[3].t: outside the film: must lie from 0 to 60, not -0.5"),
        (3, "width", -0.1, "events[3].width: must lie from 0 to 3600, not -0.1"),
        (0, "met", "yes", "events[0].met: must be true, false or null, not 'yes'"),
        (1, "link", "e9", "events[1].link: no event has the id 'e9'"),
        (1, "link", "e3", "events[1].link: must name onset, not reward"),
        (2, "pieces", 1.5, "events[2].pieces: not a whole number"),
        (2, "pieces", 0, "events[2].pieces: must lie from 1 to 1000, not 0"),
        (4, "severity", 4, "events[4].severity: must lie from 1 to 3, not 4"),
        (5, "end_s", 11.0, "events[5].end_s: before t"),
        (3, "id", "e1", "events[3].id: used twice: 'e1', first in events[0]"),
        (3, "colour", "red", "events[3].colour: unknown key"),
        (0, "approximation", "fly", "events[0].approximation: not in the plan: 'fly'"),
    ],
)
def test_one_line_per_fault_of_an_event(place, key, value, fault):
    assert faults_of(lambda d: d["events"][place].__setitem__(key, value)) == [fault]


def test_an_unknown_kind_and_a_missing_field_are_named():
    faults = faults_of(lambda d: d["events"][0].update(kind="leap"))
    assert faults[0] == "events[0].kind: unknown kind 'leap'"
    assert faults_of(lambda d: d["events"][1].pop("marker")) == ["events[1].marker: missing"]
    assert faults_of(lambda d: d["events"][1].pop("t")) == ["events[1].t: missing"]


def test_all_faults_at_once_and_never_half_a_record():
    def change(d):
        d["version"] = 2
        d["session"]["date"] = "2 May"
        d["settings"]["on_time_s"] = -1
        d["plan"]["rule"] = {"kind": "whim"}
        d["plan"]["approximations"][1].pop("hold_s")
        d["events"][0]["t"] = None
        d["events"][2]["t"] = math.inf

    assert faults_of(change) == [
        "version: must be 1, not 2",
        "session.date: not a date like 2026-05-02: '2 May'",
        "settings.on_time_s: must lie from 0 to 3600, not -1",
        'plan.approximations[1].hold_s: missing: mark_at is "hold"',
        "plan.rule.kind: must be one of run, share, block, percentile, comfort, not 'whim'",
        "events[0].t: missing",
        "events[2].t: not a finite number",
    ]


@pytest.mark.parametrize("whole", [None, 3, [], "text", {}, {"format": "other"}])
def test_what_is_not_a_document_is_refused(whole):
    with pytest.raises(InvalidSession):
        read_session(whole)


def test_an_end_before_the_start_and_events_outside_the_session():
    assert faults_of(lambda d: d["session"].update(start_s=70)) == [
        "session.end_s: before session.start_s (70)"
    ]
    faults = faults_of(lambda d: d["session"].update(start_s=3))
    assert faults == [
        "events[0].t: before session.start_s (3): 2",
        "events[1].t: before session.start_s (3): 2.3",
    ]


def test_bouts_that_overlap_or_end_before_they_begin():
    inside = Coding().event("bout_start", 1.0).event("bout_start", 2.0)
    with pytest.raises(InvalidSession, match=r"events\[1\].kind: a bout begins inside a bout"):
        inside.record()
    outside = Coding().event("bout_end", 1.0)
    with pytest.raises(InvalidSession, match=r"events\[0\].kind: a bout ends where none"):
        outside.record()


def test_times_are_kept_to_the_microsecond():
    record = read_session(document([{"id": "a", "kind": "onset", "t": 1.2345674}]))
    assert record.events[0].t_us == 1_234_567
    assert write_session(record)["events"][0]["t"] == 1.234567


@pytest.mark.parametrize(
    ("plan", "fault"),
    [
        ({"rule": {"kind": "guess"}}, "plan.rule.kind: must be one of run, share, block"),
        ({"rule": {"kind": "run", "need": 0}}, "plan.rule.need: must lie from 1 to 1000, not 0"),
        ({"rule": {"kind": "run", "need": 2.5}}, "plan.rule.need: not a whole number"),
        ({"rule": {"kind": "run", "window": 3}}, "plan.rule.window: unknown key"),
        ({"rule": {"kind": "share", "raise": 1.2}}, "plan.rule.raise: must lie from 0 to 1"),
        (
            {"rule": {"kind": "share", "raise": 0.4, "lower": 0.5}},
            "plan.rule.lower: must not be above raise (0.4): 0.5",
        ),
        ({"rule": {"kind": "block", "size": 4}}, "plan.rule.raise_at: must not be above size (4)"),
        ({"rule": {"kind": "percentile", "w": math.nan}}, "plan.rule.w: not a finite number"),
        ({"placement": {"on": 0.5, "off": 0.6}}, "plan.placement: shares must add up to 1"),
        ({"placement": {"on": -1}}, "plan.placement.on: must lie from 0 to 1, not -1"),
        ({"placement": [1]}, "plan.placement: not an object"),
        ({"session_cap_s": -1}, "plan.session_cap_s: must lie from 0"),
        ({"rep_cap": 0}, "plan.rep_cap: must lie from 1"),
        ({"rate_floor_per_min": math.inf}, "plan.rate_floor_per_min: not a finite number"),
        (
            {"approximations": [{"key": "a", "fallback": "b"}]},
            "plan.approximations[0].fallback: not in the plan: 'b'",
        ),
        (
            {"approximations": [{"key": "a"}, {"key": "a"}]},
            "plan.approximations[1].key: used twice: 'a'",
        ),
        (
            {"approximations": [{"key": "a", "mark_at": "hold"}]},
            "plan.approximations[0].hold_s: missing",
        ),
    ],
)
def test_a_plan_that_cannot_be(plan, fault):
    with pytest.raises(InvalidSession) as invalid:
        read_session(document([], plan=plan))
    (only,) = invalid.value.faults
    assert only.startswith(fault)


def test_a_whole_plan_survives_being_written():
    plan = {
        "rule": {"kind": "share", "window": 8},
        "placement": {"away": 0.75, "on": 0.25},
        "session_cap_s": 300.0,
        "rep_cap": 40,
        "approximations": [{"key": "a"}, {"key": "b", "fallback": "a"}],
    }
    assert write_session(read_session(document([], plan=plan)))["plan"] == plan


@pytest.mark.parametrize(
    ("settings", "fault"),
    [
        ({"on_time_s": -0.1}, "settings.on_time_s: must lie from 0 to 3600, not -0.1"),
        ({"on_time_s": "soon"}, "settings.on_time_s: not a number"),
        ({"link_window_s": 1e12}, "settings.link_window_s: must lie from 0 to 3600"),
        ({"colour": 1}, "settings.colour: unknown key"),
    ],
)
def test_settings_that_cannot_be(settings, fault):
    with pytest.raises(InvalidSession) as invalid:
        read_session(document([], settings=settings))
    assert invalid.value.faults[0].startswith(fault)


def test_thousands_of_faults_are_all_named():
    events = [{"id": f"e{n}", "kind": "reward", "t": math.nan} for n in range(5000)]
    with pytest.raises(InvalidSession) as invalid:
        read_session(document(events))
    assert len(invalid.value.faults) == 5000
    assert invalid.value.faults[4999] == "events[4999].t: not a finite number"


def test_no_crumb_of_a_float_puts_an_event_outside():
    # 10.1 + 0.1 + 0.1 is a crumb under 10.3; as whole microseconds they are the same.
    end_s = 10.1 + 0.1 + 0.1
    assert end_s != 10.3
    coding = Coding().reward(10.3)
    assert coding.record(session={"start_s": 0, "end_s": min(end_s, 10.3)})
