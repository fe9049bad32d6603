"""How the report says numbers, days, rules and steps; all of it is common practice."""

from __future__ import annotations

import datetime as dt
import string

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core.rules.schools import RULES
from frequens.core.words import fill, latency
from frequens.core.words.english import calendar, next_session, report
from frequens.core.words.forms import FORMS, clock, instant, lag, signed
from frequens.core.words.of_report import between, long_day, mark_at_words, rule_words


@pytest.mark.parametrize(
    ("value", "said"),
    [(0.3, "+0.30 s"), (-0.25, "−0.25 s"), (-0.001, "+0.00 s"), (None, "–"), (5.1, "+5.10 s")],
)
def test_latencies_are_signed(value, said):
    assert latency(value) == said


def test_lengths_days_and_shares_in_words():
    assert [clock(59.6), clock(61), instant(83.4671)] == ["1:00", "1:01", "1:23.467"]
    assert [lag(-0.256), signed(-0.5), signed(2.0)] == ["0.26 s", "−0.5", "+2"]
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


@given(st.floats(0, 36_000))
def test_a_template_asks_for_a_form_by_its_name(value):
    for name, form in FORMS.items():
        assert fill(f"{{v:{name}}}", {"v": value}) == form(value)


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


def templates(module):
    for name, said in vars(module).items():
        if name.isupper() and not name.startswith("_"):
            some = said.values() if isinstance(said, dict) else said
            yield from [some] if isinstance(some, str) else some


@pytest.mark.parametrize("module", [report, calendar, next_session])
def test_what_a_template_asks_for_has_a_name_and_a_form_there_is(module):
    """A brace that names nothing would be filled by place, which no number is given by."""
    found = list(templates(module))
    assert found
    for template in found:
        for text, asked, form, _ in string.Formatter().parse(template):
            assert asked != "", template
            assert "  " not in text
            assert not form or "|" in form or form in FORMS or form.endswith("f"), template
