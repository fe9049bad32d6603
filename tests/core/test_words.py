"""Numbers as they are written, and what templates may ask for."""

from __future__ import annotations

import string

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.words import fill, latency
from frequens.words.english import calendar, next_session, report
from frequens.words.forms import FORMS, clock, instant, lag, signed


@pytest.mark.parametrize(
    ("value", "said"),
    [(0.3, "+0.30 s"), (-0.25, "−0.25 s"), (-0.001, "+0.00 s"), (None, "–"), (5.1, "+5.10 s")],
)
def test_latencies_are_signed(value, said):
    assert latency(value) == said


def test_lengths_and_instants():
    assert [clock(59.6), clock(61), instant(83.4671)] == ["1:00", "1:01", "1:23.467"]
    assert [lag(-0.256), signed(-0.5), signed(2.0)] == ["0.26 s", "−0.5", "+2"]


@given(st.floats(0, 36_000))
def test_a_template_asks_for_a_form_by_its_name(value):
    for name, form in FORMS.items():
        assert fill(f"{{v:{name}}}", {"v": value}) == form(value)


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
