"""The schools: when each says raise, hold or lower (docs/measures.md, section 5)."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core.rules.schools import (
    RULES,
    Judged,
    SessionComfort,
    attempts_short,
    decide,
    first_said,
    moving_criterion,
)


def attempts(pattern, values=None):
    """``"+-+"``: met, failed, met; with measured values beside them where given."""
    values = values or [None] * len(pattern)
    return [Judged(sign == "+", value) for sign, value in zip(pattern, values, strict=True)]


def verdict(kind, pattern, **parameters):
    said = decide({"kind": kind, **parameters}, attempts(pattern))
    return said.decision, said.reason


# Hand-made from the table of the schools.
@pytest.mark.parametrize(
    ("kind", "parameters", "pattern", "expected"),
    [
        ("run", {}, "++++", ("hold", "between")),
        ("run", {}, "-+++++", ("raise", "met")),
        ("run", {}, "++-+++", ("hold", "between")),
        ("run", {}, "+---", ("lower", "failed")),
        ("run", {}, "+", ("hold", "too_few")),
        ("run", {}, "", ("hold", "too_few")),
        ("run", {"need": 3}, "+++", ("raise", "met")),
        ("run", {"need": 3, "miss": 0}, "------", ("hold", "between")),
        ("share", {}, "+" * 9, ("hold", "too_few")),
        ("share", {}, "++++++++--", ("raise", "met")),
        ("share", {}, "+++++++---", ("hold", "between")),
        ("share", {}, "+++++-----", ("hold", "between")),
        ("share", {}, "++++------", ("lower", "failed")),
        ("share", {}, "----------" + "++++++++--", ("raise", "met")),
        ("share", {"window": 3, "raise": 0.6667, "lower": 0.3}, "++-", ("hold", "between")),
        ("share", {"window": 10, "raise": 0.7}, "+++++++---", ("raise", "met")),
        ("block", {}, "++++", ("hold", "mid_block")),
        ("block", {}, "+++++", ("raise", "met")),
        ("block", {}, "+++-+", ("hold", "between")),
        ("block", {}, "+---+", ("lower", "failed")),
        ("block", {}, "+++++---", ("hold", "mid_block")),
        ("block", {}, "-----+++++", ("raise", "met")),
        ("block", {"size": 4, "raise_at": 3, "lower_at": 1}, "++-+", ("raise", "met")),
        ("block", {}, "", ("hold", "too_few")),
    ],
)
def test_what_each_school_says(kind, parameters, pattern, expected):
    assert verdict(kind, pattern, **parameters) == expected


def test_the_numbers_behind_a_decision_are_there():
    said = decide({"kind": "share"}, attempts("++++++++--"))
    assert dict(said.numbers) == {"met": 8, "judged": 10, "window": 10, "share": 0.8, "raise": 0.8}
    assert decide({"kind": "run"}, attempts("-++")).numbers["run"] == 2


@pytest.mark.parametrize(
    ("rule", "pattern", "values", "numbers"),
    [
        ({"kind": "run"}, "", None, {"run": 0, "need": 5, "misses": 0, "miss": 3}),
        ({"kind": "run"}, "+--", None, {"run": 0, "need": 5, "misses": 2, "miss": 3}),
        ({"kind": "run"}, "-++", None, {"run": 2, "need": 5, "misses": 0, "miss": 3}),
        ({"kind": "run"}, "+---", None, {"run": 0, "need": 5, "misses": 3, "miss": 3}),
        ({"kind": "share"}, "++", None, {"met": 2, "judged": 2, "window": 10}),
        (
            {"kind": "share"},
            "+" * 4 + "-" * 6,
            None,
            {"met": 4, "judged": 10, "window": 10, "share": 0.4, "lower": 0.5},
        ),
        (
            {"kind": "share"},
            "+" * 7 + "-" * 3,
            None,
            {"met": 7, "judged": 10, "window": 10, "share": 0.7},
        ),
        ({"kind": "block", "size": 5}, "", None, {"size": 5}),
        ({"kind": "block", "size": 5}, "+" * 7, None, {"into": 2, "size": 5}),
        (
            {"kind": "block", "size": 5, "raise_at": 5, "lower_at": 2},
            "+++--",
            None,
            {"met": 3, "size": 5, "raise_at": 5, "lower_at": 2},
        ),
        ({"kind": "percentile", "window": 3}, "++", [1, 2], {"values": 2, "window": 3}),
        (
            {"kind": "percentile", "window": 3, "w": 0.5},
            "+++",
            [1, 2, 3],
            {"criterion": 2, "window": 3, "w": 0.5},
        ),
        (
            {"kind": "percentile", "window": 3, "w": 0.5},
            "++++",
            [1, 2, 3, 4],
            {"criterion": 3, "window": 3, "w": 0.5, "before": 2},
        ),
    ],
)
def test_each_decision_gives_exactly_the_numbers_it_rests_on(rule, pattern, values, numbers):
    assert dict(decide(rule, attempts(pattern, values)).numbers) == numbers


def test_the_comfort_gate_gives_its_numbers_too():
    clean, severe = SessionComfort(), SessionComfort((1, 3))
    said = decide({"kind": "comfort"}, [], [severe, clean])
    assert dict(said.numbers) == {"clean": 1, "clean_sessions": 3}
    said = decide({"kind": "comfort"}, [], [clean, severe])
    assert dict(said.numbers) == {"worst": 3, "signs": 2}


def test_what_cannot_be_asked_never_said_anything_first():
    assert first_said({"kind": "comfort"}, attempts("+++++")) is None


def test_a_percentile_passes_over_attempts_without_a_value_when_it_first_raised():
    rule = {"kind": "percentile", "window": 3, "w": 0.5}
    measured = attempts("+-+++++", [1, None, 2, None, 3, None, 4])
    assert first_said(rule, measured) == 7


class TestPercentile:
    """Galbicka (1994), JABA 27:739-760: k = (m + 1)(1 - w)."""

    @pytest.mark.parametrize(
        ("m", "w", "k"), [(9, 0.5, 5), (9, 0.1, 9), (9, 0.9, 1), (4, 0.5, 2), (10, 1.0, 1)]
    )
    def test_the_rank_that_must_be_exceeded(self, m, w, k):
        values = list(range(1, m + 1))
        assert moving_criterion(values, m, w) == k

    def test_only_the_last_m_values_count(self):
        assert moving_criterion([100, 100, 1, 2, 3], 3, 0.5) == 2

    def test_before_m_values_there_is_no_criterion(self):
        assert moving_criterion([1] * 8, 9, 0.5) is None
        said = decide({"kind": "percentile"}, attempts("+" * 8, [1.0] * 8))
        assert (said.decision, said.reason) == ("hold", "too_few")

    def test_it_raises_when_the_criterion_moves_up_and_never_lowers(self):
        rising = decide({"kind": "percentile", "window": 3}, attempts("++++", [1, 2, 3, 4]))
        assert (rising.decision, rising.numbers["criterion"]) == ("raise", 3)
        falling = decide({"kind": "percentile", "window": 3}, attempts("----", [4, 3, 2, 1]))
        assert (falling.decision, falling.numbers["criterion"]) == ("hold", 2)

    def test_attempts_without_a_value_are_passed_over(self):
        said = decide(
            {"kind": "percentile", "window": 3}, attempts("++++++", [1, None, 2, None, 3, 4])
        )
        assert said.decision == "raise"

    @pytest.mark.parametrize("w", [0.3, 0.5, 0.7])
    def test_a_steady_animal_is_paid_on_a_share_w_of_its_reps(self, w):
        """The point of the formula: with unchanged behaviour the share paid is w."""
        chance, values, paid = random.Random(7), [], 0
        for _ in range(20_000):
            value = chance.random()
            criterion = moving_criterion(values, 9, w)
            paid += criterion is not None and value > criterion
            values = [*values[-8:], value]
        assert paid / 20_000 == pytest.approx(w, abs=0.015)


class TestComfort:
    CLEAN = SessionComfort()

    def said(self, *sessions):
        found = decide({"kind": "comfort"}, [], sessions)
        return found.decision, found.reason

    def test_three_sessions_at_ease_in_a_row_raise(self):
        assert self.said(self.CLEAN, self.CLEAN) == ("hold", "too_few")
        assert self.said(self.CLEAN, self.CLEAN, self.CLEAN) == ("raise", "met")

    @pytest.mark.parametrize(
        "strained",
        [
            SessionComfort(severities=(2,)),
            SessionComfort(refusals=1),
            SessionComfort(rising_pause=True),
        ],
    )
    def test_a_session_with_strain_begins_the_count_anew(self, strained):
        assert self.said(self.CLEAN, self.CLEAN, strained) == ("hold", "too_few")
        assert self.said(strained, self.CLEAN, self.CLEAN) == ("hold", "too_few")
        assert self.said(strained, *[self.CLEAN] * 3) == ("raise", "met")

    @pytest.mark.parametrize("severities", [(3,), (2, 2), (1, 3, 1)])
    def test_one_severe_sign_or_two_marked_ones_lower(self, severities):
        assert self.said(*[self.CLEAN] * 3, SessionComfort(severities)) == ("lower", "failed")

    def test_mild_signs_do_not_count(self):
        assert self.said(*[SessionComfort((1, 1, 1))] * 3) == ("raise", "met")


# The schools that judge by met or not, with parameters that make sense.
judging = st.one_of(
    st.builds(
        lambda n, m: {"kind": "run", "need": n, "miss": m}, st.integers(1, 8), st.integers(0, 8)
    ),
    st.builds(
        lambda w, a, b: {
            "kind": "share",
            "window": w,
            "raise": max(a, b) / 10,
            "lower": min(a, b) / 10,
        },
        st.integers(1, 12),
        st.integers(1, 10),
        st.integers(0, 10),
    ),
    st.integers(1, 8).flatmap(
        lambda size: st.builds(
            lambda a, b: {
                "kind": "block",
                "size": size,
                "raise_at": max(a, b),
                "lower_at": min(a, b) - 1,
            },
            st.integers(1, size),
            st.integers(1, size),
        )
    ),
)
patterns = st.text("+-", max_size=40)
RANK = {"lower": 0, "hold": 1, "raise": 2}


@given(judging, patterns, st.data())
def test_a_rep_that_fits_instead_of_one_that_does_not_never_makes_it_worse(rule, pattern, data):
    if "-" not in pattern:
        return
    place = data.draw(st.sampled_from([i for i, s in enumerate(pattern) if s == "-"]))
    better = pattern[:place] + "+" + pattern[place + 1 :]
    one, other = (decide(rule, attempts(p)).decision for p in (pattern, better))
    assert RANK[other] >= RANK[one]


@given(judging, patterns)
def test_one_more_rep_that_fits_never_turns_raise_into_lower(rule, pattern):
    if decide(rule, attempts(pattern)).decision == "raise":
        assert decide(rule, attempts(pattern + "+")).decision != "lower"


@given(judging, patterns)
def test_the_first_word_found_quickly_is_the_first_word_found_slowly(rule, pattern):
    for wanted in ("raise", "lower"):
        slow = next(
            (
                n
                for n in range(1, len(pattern) + 1)
                if decide(rule, attempts(pattern[:n])).decision == wanted
            ),
            None,
        )
        assert first_said(rule, attempts(pattern), wanted) == slow


@given(judging, patterns, st.sampled_from([("raise", "+"), ("lower", "-")]))
def test_attempts_short_is_what_it_takes_and_no_less(rule, pattern, way):
    wanted, one = way
    short = attempts_short(rule, attempts(pattern), wanted)
    tried = [decide(rule, attempts(pattern + one * more)).decision == wanted for more in range(40)]
    assert short == (tried.index(True) if True in tried else None)


@given(st.sampled_from(sorted(RULES)), patterns)
def test_every_school_always_says_something_with_its_defaults(kind, pattern):
    said = decide({"kind": kind}, attempts(pattern, [float(i) for i in range(len(pattern))]))
    assert said.decision in RANK
    assert said.reason in {"met", "failed", "too_few", "between", "mid_block", "moving"}
