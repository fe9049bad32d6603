"""What must hold for every session, whatever is in it."""

import json
import random
from dataclasses import replace
from typing import get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from frequens.core import (
    Approximation,
    Event,
    Plan,
    SessionFacts,
    SessionRecord,
    Settings,
    measure,
    write_session,
)
from frequens.core.decisions.judging.lines import Decision
from frequens.core.formats.session_document import read_session
from frequens.core.linking.attempts import link_reps
from frequens.core.rules.schools import RULES as CORE_RULES

END_MS = 120_000
STEPS = ("look", "nose", "mouth")
LABELS = st.sampled_from(("paws", "bleats"))
FIELDS = {
    "onset": {
        "met": st.sampled_from((True, False, None)),
        "value": st.one_of(st.none(), st.integers(0, 9).map(float)),
        "approximation": st.sampled_from((None, None, *STEPS)),
        "conditions": st.one_of(
            st.none(), st.fixed_dictionaries({"side": st.sampled_from(("left", "right"))})
        ),
    },
    "offset": {},
    "marker": {"marker": st.sampled_from(("event", "event", "keep_going", "no_reward"))},
    "reward": {"pieces": st.integers(1, 3), "placement": st.sampled_from((None, "away", "on"))},
    "reach": {},
    "cue": {"label": LABELS},
    "prompt": {"level": st.sampled_from(("food_lure", "empty_hand", "gesture", "none"))},
    "criterion": {"approximation": st.sampled_from(STEPS)},
    "other_behaviour": {"label": LABELS},
    "sign": {"label": LABELS, "severity": st.integers(1, 3)},
    "off_task_start": {},
    "off_task_end": {},
    "reset": {},
    "release": {},
    "exposure": {"label": LABELS, "end_us": st.one_of(st.none(), st.just(END_MS * 1000))},
    "no_cue_window": {"end_us": st.integers(END_MS - 100, END_MS).map(lambda ms: ms * 1000)},
}
RULES = (
    None,
    {"kind": "run", "need": 2},
    {"kind": "share", "window": 3},
    {"kind": "block", "size": 2, "raise_at": 2, "lower_at": 0},
    {"kind": "percentile", "window": 2},
    {"kind": "comfort"},
)


@st.composite
def sessions(draw):
    """Sessions of up to 40 marks of all kinds at distinct milliseconds, under any school."""
    times = draw(st.lists(st.integers(100, END_MS - 100), unique=True, max_size=40))
    width_ms = draw(st.sampled_from((0, 33, 40)))
    events = []
    for number, ms in enumerate(times):
        kind = draw(st.sampled_from(("onset", "marker", "reward", *FIELDS)))
        fields = {name: draw(value) for name, value in FIELDS[kind].items()}
        events.append(Event(f"e{number}", kind, ms * 1000, width_ms * 1000, **fields))
    return SessionRecord(
        session=SessionFacts(start_s=0.0, end_s=END_MS / 1000),
        plan=Plan(tuple(map(Approximation, STEPS)), draw(st.sampled_from(RULES))),
        events=tuple(events),
    )


def close(one, other):
    """Equal up to floating point, through lists and dicts."""
    if isinstance(one, dict):
        return one.keys() == other.keys() and all(close(one[k], other[k]) for k in one)
    if isinstance(one, list | tuple):
        return len(one) == len(other) and all(map(close, one, other))
    if isinstance(one, float) and isinstance(other, float):
        return one == pytest.approx(other, rel=1e-9, abs=1e-9)
    return one == other


@given(sessions(), st.randoms(use_true_random=False))
def test_the_order_of_events_in_the_file_changes_nothing(session, chance):
    shuffled = list(session.events)
    chance.shuffle(shuffled)
    assert measure(replace(session, events=tuple(shuffled))) == measure(session)


INSTANTS = {"onset_s", "offset_s", "target_s", "marker_s", "reward_s", "t_s", "start_s", "end_s"}


def shifted(findings, by):
    """The findings with every instant moved by `by` seconds and nothing else."""
    if isinstance(findings, dict):
        return {
            k: v + by if k in INSTANTS and v is not None else shifted(v, by)
            for k, v in findings.items()
        }
    if isinstance(findings, list | tuple):
        return [shifted(item, by) for item in findings]
    return findings


@given(sessions(), st.integers(1, 10**9))
def test_shifting_all_times_shifts_only_instants(session, shift_us):
    by = shift_us / 1e6
    moved = replace(
        session,
        session=SessionFacts(start_s=by, end_s=END_MS / 1000 + by),
        events=tuple(
            replace(e, t_us=e.t_us + shift_us, end_us=e.end_us and e.end_us + shift_us)
            for e in session.events
        ),
    )
    assert close(measure(moved), shifted(measure(session), by))


@given(sessions(), st.integers(2, 5))
def test_scaling_all_times_scales_lengths_and_divides_rates(session, factor):
    # What a marker fell on looks back one second, which is no setting and does not scale.
    kept = tuple(e for e in session.events if e.kind != "other_behaviour")
    session = replace(session, events=kept)
    limits = Settings()
    names = Settings.__dataclass_fields__
    scaled = replace(
        session,
        session=SessionFacts(start_s=0.0, end_s=END_MS / 1000 * factor),
        settings=Settings(**{name: getattr(limits, name) * factor for name in names}),
        events=tuple(
            replace(
                e,
                t_us=e.t_us * factor,
                width_us=e.width_us * factor,
                end_us=e.end_us and e.end_us * factor,
            )
            for e in session.events
        ),
    )
    one, other = measure(session), measure(scaled)
    assert one["counts"] == other["counts"]
    assert one["timing"] == other["timing"]
    assert one["caught"] == other["caught"]
    for a, b in zip(one["reps"], other["reps"], strict=True):
        for key in ("marker_latency_s", "reward_latency_s", "uncertainty_s"):
            expected = None if a[key] is None else a[key] * factor
            assert close(expected, b[key])
    for name, rate in one["rates"].items():
        for key in ("value", "low", "high"):
            assert close(rate[key] / factor, other["rates"][name][key])


@given(sessions())
def test_every_marker_and_reward_is_accounted_for_once(session):
    reps, counts = link_reps(session), measure(session)["counts"]
    for use in reps.uses:
        states = [use.attempt, use.repeats, use.is_orphan or None, use.is_paid_wait or None]
        is_event = use.marker.marker == "event"
        assert sum(state is not None for state in states) == 1 or not is_event
        # A further marker is never one that nobody coded an attempt for.
        assert not (use.is_further and (use.is_orphan or use.attempt is None))
    rewarded = [r.id for use in reps.uses for r in use.rewards]
    loose = [r.id for r in reps.unmarked_rewards]
    assert sorted(rewarded + loose) == sorted(e.id for e in session.events if e.kind == "reward")
    assert counts["reinforcements"] == sum(bool(u.rewards) for u in reps.uses) + len(loose)
    told = counts["markers"] - counts["repeat_markers"] - counts["paid_waits"]
    assert sum(measure(session)["caught"].values()) == told
    by_kind = [counts[f"{kind}_rewards"] for kind in ("direct", "exposure", "free")]
    assert sum(by_kind) == counts["unmarked_rewards"] == len(loose)


@given(sessions())
def test_marked_attempts_lie_in_the_order_of_their_markers(session):
    marked = [a for a in link_reps(session).attempts if a.marker is not None]
    markers = [a.marker.best for a in marked]
    assert markers == sorted(markers)


@given(sessions())
def test_intervals_enclose_their_values_and_gaps_add_up(session):
    findings = measure(session)
    for rate in findings["rates"].values():
        assert rate["low"] <= rate["value"] <= rate["high"]
    success = findings["success"]
    if success["judged"]:
        assert success["low"] <= success["share"] <= success["high"]
    longest = findings["dry_spells"]["longest_s"]
    paid = findings["counts"]["reinforcements"]
    assert findings["training_time_s"] / (paid + 1) <= longest + 1e-9
    assert longest <= findings["training_time_s"]


@given(sessions())
def test_any_session_survives_being_written_and_read(session):
    again = read_session(write_session(session))
    assert again.events == session.events
    assert measure(again) == measure(session)


@settings(max_examples=20)
@given(st.integers(0, 2**32 - 1))
def test_linking_agrees_with_a_slow_reading_of_the_rules(seed):
    """The quick search for the nearest attempt against trying every attempt."""
    chance = random.Random(seed)
    events = []
    for number in range(60):
        kind = chance.choice(("onset", "onset", "offset", "marker"))
        t_us = chance.randrange(1, 30_000) * 1000
        events.append(Event(f"e{number}", kind, t_us, marker="event" if kind == "marker" else None))
    reps = link_reps(SessionRecord(events=tuple(events)))
    taken: dict[int, int] = {}
    for use in reps.event_uses:
        at = use.marker.best
        last = max(taken, default=-1)
        able = [
            a
            for a in reps.attempts
            if a.place not in taken
            and a.place > last
            and at - a.onset.best >= -1_000_000
            and at - max(a.onset.best, a.offset.best if a.offset else 0) <= 6_000_000
        ]
        nearest = min(able, key=lambda a: (abs(at - a.onset.best), a.place), default=None)
        if use.attempt is None or use.is_further:
            assert nearest is None
        else:
            assert use.attempt is nearest
            taken[nearest.place] = at


@given(sessions())
def test_splits_and_placement_add_up_to_the_session(session):
    findings = measure(session)
    pooled = findings["splits"]["approximations"]
    counts = findings["counts"]
    assert sum(s["attempts"] for s in pooled) == counts["attempts"] - counts["false_alarms"]
    assert sum(split["met"] for split in pooled) == findings["success"]["met"]
    for split in findings["splits"]["segments"]:
        assert split["met"] <= split["judged"] <= split["attempts"]
        assert split["start_s"] <= split["end_s"]
        if split["attempts_to_rule"] is not None:
            assert split["attempts_to_rule"] <= split["attempts"]
    placed = findings["placement"].values()
    assert sum(p["count"] for p in placed) <= findings["counts"]["pieces"]


@given(sessions())
def test_advice_always_has_a_decision_a_reason_in_words_and_the_animal_first(session):
    advice = measure(session)["advice"]
    assert advice["decision"] in get_args(Decision)
    said = [advice["why"], *advice["beside"]]
    assert all(r["code"] and r["text"].endswith(".") for r in said)
    assert len({r["code"] for r in said}) == len(said)
    assert set(advice["other_schools"]) == set(CORE_RULES) - {advice["school"]["kind"]}
    severe = any(e.kind == "sign" and e.severity == 3 for e in session.events)
    assert severe == (advice["decision"] == "end")
    assert advice["record"]["met"] <= advice["record"]["judged"]


@given(sessions())
def test_findings_are_plain_and_finite(session):
    """What a JSON writer can write without tricks, and read back the same."""
    findings = measure(session)
    assert json.loads(json.dumps(findings, allow_nan=False)) == findings
