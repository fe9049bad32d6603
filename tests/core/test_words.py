"""Numbers as they are written, and what templates may ask for."""

from __future__ import annotations

import string

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.words import counted, fill, joined, latency, spoken
from frequens.words.forms import (
    FORMS,
    clock,
    clock_tenths,
    instant,
    lag,
    seconds,
    shortest,
    signed,
)


@pytest.mark.parametrize(
    ("value", "said"),
    [(0.3, "+0.30 s"), (-0.25, "−0.25 s"), (-0.001, "+0.00 s"), (None, "–"), (5.1, "+5.10 s")],
)
def test_latencies_are_signed(value, said):
    assert latency(value) == said


def test_lengths_and_instants():
    assert [clock(59.6), clock(61), instant(83.4671)] == ["1:00", "1:01", "1:23.467"]
    assert [clock_tenths(61.25), clock_tenths(5)] == ["1:01.2", "0:05.0"]
    assert [lag(-0.256), signed(-0.5), signed(2.0)] == ["0.26 s", "−0.5", "+2"]
    assert [seconds(9.94), seconds(10.0)] == ["9.9 s", "10 s"]


def test_a_whole_number_is_written_out_and_another_is_short():
    assert [shortest(1), shortest(1_234_567.0), shortest(2.5)] == ["1", "1234567", "2.5"]
    assert shortest(1 / 3) == "0.333333"
    assert fill("{n} of {of}", {"n": 999_999, "of": 1_000_000}) == "999999 of 1000000"
    assert [counted(1, "rep"), counted(0, "rep"), counted(2, "rep")] == [
        "1 rep",
        "0 reps",
        "2 reps",
    ]


def test_what_is_put_into_a_template_is_not_read_as_one():
    assert fill("{name}: {n:rep|reps}", {"n": 2}, name="{n} {0} {{") == "{n} {0} {{: 2 reps"


def test_words_stand_in_a_numbers_place_and_what_is_not_given_is_told():
    assert fill("{a} {b}", {"a": 1, "b": 2}, a="one") == "one 2"
    with pytest.raises(KeyError, match="b"):
        fill("{a} {b}", {"a": 1})


def test_only_what_is_not_nought_is_joined_in_the_order_of_its_templates():
    parts = {"early": "{early} early", "late": "{late} late", "over": "{over} over"}
    assert joined(parts, {"over": 1, "late": 0, "early": 2}) == "2 early, 1 over"
    assert joined(parts, {"over": 1, "early": 2}, "; ") == "2 early; 1 over"


@given(st.floats(0, 36_000))
def test_a_template_asks_for_a_form_by_its_name(value):
    for name, form in FORMS.items():
        assert fill(f"{{v:{name}}}", {"v": value}) == form(value)


def templates(module):
    for name, said in vars(module).items():
        if name.isupper() and not name.startswith("_"):
            some = list(said.values()) if isinstance(said, dict) else [said]
            for one in some:
                yield from [one] if isinstance(one, str) else one


@pytest.mark.parametrize("module", sorted(set(spoken.__all__) - {"judgement_numbers", "limits"}))
def test_what_a_template_asks_for_has_a_name_and_a_form_there_is(module):
    """A brace that names nothing would be filled by place, which no number is given by."""
    found = list(templates(getattr(spoken, module)))
    assert found
    for template in found:
        for text, asked, form, _ in string.Formatter().parse(template):
            assert asked != "", template
            assert "  " not in text or "\n" in text
            assert not form or "|" in form or form in FORMS or form.endswith("f"), template
