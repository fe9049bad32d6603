"""How the core's own words read: whole sentences, nobody shouting, each code with its own."""

from __future__ import annotations

import re
from dataclasses import fields

import pytest

from frequens.core.planning.shaping import STARTERS
from frequens.core.planning.shaping.remarks import HAZARDS, HEALTH
from frequens.core.rules.judgement_numbers import NUMBERS, Judging
from frequens.core.words import which
from frequens.core.words.of_judgement import checked_words, in_full, in_short
from frequens.words import fill
from frequens.words.english.judgement import CHECKED, HANDS, HELP, REASONS
from frequens.words.english.next_session import MANNER, STOP, WATCH, WATCH_HANDS
from frequens.words.english.remarks import REMARKS

from .training_days import Day, judged, plan_of

#: What decides which of several sentences a code has.
TELLING = (
    *("misses", "clean", "need", "target", "size", "criterion", "values", "more", "window"),
    *("attempts", "per_min", "first_s", "back_first_s", "reps", "is_own"),
)
#: Numbers that are always there, and whose value decides.
ALWAYS = {"attempts": 0, "per_min": None, "reps": None, "is_own": False}
CODES = sorted({key.split(".")[0] for key in REASONS})


class Some(dict):
    """Numbers of whatever name is asked for: three of each."""

    def __missing__(self, name):
        return {"condition": "place", "level": "yard"}.get(name, 3)


def is_said(text):
    """Words as somebody would say them: not in capitals, nothing left over around them."""
    return text == text.strip() and "  " not in text and not re.search(r"[A-Z]{2}|[a-z][A-Z]", text)


def is_sentence(text):
    return is_said(text) and bool(re.match(r"[A-Z0-9“].*[.]$", text))


def told_all_ways():
    """Numbers with each of those that decide, and with none of them."""
    yield Some(ALWAYS)
    yield from (Some({**ALWAYS, name: 3}) for name in TELLING)
    yield Some({**ALWAYS, "first_s": 3, "back_first_s": 3})


@pytest.mark.parametrize("code", CODES)
def test_a_reason_is_said_in_short_and_in_full(code):
    for numbers in told_all_ways():
        numbers["per_min"] = 3
        short = in_short(code, numbers)
        # It ends the headline.
        assert is_said(short)
        assert re.match(r"[a-z0-9].*[^.]$", short)
        assert is_sentence(in_full(code, numbers))


@pytest.mark.parametrize("said", [REASONS, REMARKS, CHECKED], ids=["reasons", "remarks", "checked"])
def test_there_is_no_sentence_that_is_never_said(said):
    before = "checked." if said is CHECKED else ""
    codes = {key.split(".")[0] for key in said}
    meant = {which(f"{before}{code}", numbers) for code in codes for numbers in told_all_ways()}
    assert {key.removeprefix(before) for key in meant} == set(said)


@pytest.mark.parametrize("code", sorted({key.split(".")[0] for key in CHECKED}))
def test_what_was_looked_at_is_a_question_and_an_answer(code):
    for numbers in told_all_ways():
        if code == "help_left":
            numbers["help"] = "target"
        question, found = checked_words(code, numbers)
        assert is_said(question)
        assert question[0].isupper()
        assert question.endswith("?")
        assert is_said(found)


@pytest.mark.parametrize("name", HANDS)
def test_the_hands_are_told_inside_a_sentence(name):
    assert is_said(fill(HANDS[name], Some()))
    assert re.match(r"[a-z{].*[^.]$", HANDS[name])


@pytest.mark.parametrize("said", [*STOP.values(), *MANNER.values(), *WATCH_HANDS.values()])
def test_the_card_speaks_in_sentences(said):
    assert re.match(r"[A-Z].*[.]$", said)
    assert is_said(re.sub(r"[{}_:]", "", said))


def test_what_to_watch_is_said_of_codes_there_are():
    assert set(WATCH) <= set(CODES)
    assert all(is_sentence(said) for said in WATCH.values())
    # Whatever is mended first has a word for the next session.
    mended = {code for code in CODES if code.startswith(("mend_", "cue_"))}
    assert mended - set(WATCH) == {"mend_timing"}


def test_what_is_asked_next_depends_on_whether_there_is_anything_to_judge():
    none, some = {"attempts": 0}, {"attempts": 4}
    assert in_short("nothing_judged", none) == "mark where the behaviour begins"
    assert in_short("nothing_judged", some) == "say of each rep whether it fits"
    assert in_full("nothing_judged", none).startswith("Nothing is coded yet")
    assert in_full("nothing_judged", some).startswith("No rep is judged")


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


def test_every_hazard_and_state_of_health_has_a_remark():
    assert set(HEALTH) | set(HAZARDS) <= set(REMARKS)


def test_help_is_named_as_it_stands_after_with():
    assert all(is_said(words) and words.islower() for words in HELP.values())


@pytest.mark.parametrize("key", STARTERS)
def test_the_words_of_a_starter_plan_are_sentences(key):
    plan = STARTERS[key]
    assert is_sentence(plan["goal"])
    assert is_said(plan["behaviour"])
    assert plan["behaviour"][0].isupper()
    for step in plan["approximations"]:
        assert is_said(step["title"])
        assert step["title"][0].isupper()
        assert is_sentence(step["criterion"])
