"""How the core's own words read: whole sentences, nobody shouting, each code with its own."""

from __future__ import annotations

import re
from dataclasses import fields

import pytest

from frequens.core.decisions.judging.words import HELP_WORDS, REASONS, WATCH, in_full
from frequens.core.planning.shaping import STARTERS
from frequens.core.planning.shaping.remark_words import OTHERWISE, REMARKS
from frequens.core.planning.shaping.remarks import HAZARDS, HEALTH
from frequens.core.rules.judgement_numbers import NUMBERS, Judging

from .training_days import Day, judged, plan_of

#: What decides which of several sentences a code has.
TELLING = ("misses", "clean", "need", "target", "size", "criterion", "values", "more")


class Some(dict):
    """Numbers of whatever name is asked for: three of each."""

    def __missing__(self, name):
        return "yard" if name in ("condition", "level") else 3


def is_said(text):
    """Words as somebody would say them: not in capitals, nothing left over around them."""
    return text == text.strip() and "  " not in text and not re.search(r"[A-Z]{2}|[a-z][A-Z]", text)


def is_sentence(text):
    return is_said(text) and bool(re.match(r"[A-Z0-9“].*[.]$", text))


@pytest.mark.parametrize("code", REASONS)
@pytest.mark.parametrize("told", [(), *((name,) for name in TELLING)])
def test_a_reason_is_said_in_short_and_in_full(code, told):
    numbers = Some(dict.fromkeys(told, 3))
    short = REASONS[code][0](numbers)
    # It ends the headline.
    assert is_said(short)
    assert re.match(r"[a-z0-9].*[^.]$", short)
    assert is_sentence(in_full(code, numbers))


def test_what_to_watch_is_said_of_codes_there_are():
    assert set(WATCH) <= set(REASONS)
    assert all(is_sentence(said) for said in WATCH.values())
    # Whatever is mended first has a word for the next session.
    mended = {code for code in REASONS if code.startswith(("mend_", "cue_"))}
    assert mended - set(WATCH) == {"mend_timing"}


def test_what_is_asked_next_depends_on_whether_there_is_anything_to_judge():
    short, full = REASONS["nothing_judged"]
    assert short({"attempts": 0}) == "mark where the behaviour begins"
    assert short({"attempts": 4}) == "say of each rep whether it fits"
    assert full({"attempts": 0}).startswith("Nothing is coded yet")
    assert full({"attempts": 4}).startswith("No rep is judged")


def test_every_line_that_was_looked_at_is_a_question_with_an_answer():
    # Where the school would raise, all that could keep it back is asked.
    found = judged(Day(plan_of("below", "step", "above", rule="run need=5"), 1).at("step").fits(6))
    assert found.decision == "raise"
    assert len(found.checked) > 15
    for line in found.checked:
        assert is_said(line.question)
        assert line.question[0].isupper()
        assert line.question.endswith("?")
        assert is_said(line.found)


def test_pay_is_told_where_there_was_enough_work():
    def paid(reps):
        plan = plan_of("below", "step", "above", rule="run need=30")
        lines = judged(Day(plan, 1).at("step").fits(reps)).checked
        (found,) = [line.found for line in lines if line.code == "rate_floor"]
        return found

    assert paid(2) == "too little work to tell"
    assert re.fullmatch(r"\d+\.\d a minute, 6\.0 is the least", paid(16))


def test_each_number_of_the_rules_says_what_it_is_and_why():
    assert {number.name for number in NUMBERS} == {field.name for field in fields(Judging)}
    for number in NUMBERS:
        assert is_said(number.words)
        assert number.words[0].islower()
        assert is_sentence(number.why)


@pytest.mark.parametrize("key", REMARKS)
def test_a_remark_has_a_title_and_a_sentence(key):
    title, text = REMARKS[key]
    assert re.match(r"[A-Z{“].*[.]$", title)
    assert len(title) < 50
    assert is_said(re.sub(r"[{}_]", "", text))
    assert re.match(r"[A-Z{“].*[.]$", text)


def test_every_sentence_of_a_remark_is_said_at_some_time():
    others = {f"{code}.{name}" for code, (name, _) in OTHERWISE.items()}
    assert {key for key in REMARKS if "." in key} == others
    assert set(HEALTH) | set(HAZARDS) <= set(REMARKS)


def test_help_is_named_as_it_stands_after_with():
    assert all(is_said(words) and words.islower() for words in HELP_WORDS.values())


@pytest.mark.parametrize("key", STARTERS)
def test_the_words_of_a_starter_plan_are_sentences(key):
    plan = STARTERS[key]
    assert is_sentence(plan["goal"])
    for step in plan["approximations"]:
        assert is_said(step["title"])
        assert step["title"][0].isupper()
        assert is_sentence(step["criterion"])
