"""A script beside the session filmed under it, against an aligner written another way."""

from __future__ import annotations

from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.proportion import confint_proportions_2indep, proportion_confint

from frequens.core.programme.followed import LEFT_OUT, Done, _cost, followed
from frequens.core.programme.script import ScriptLine

STEPS = ("look", "touch", "pull")


def planned(text, levels=None, cue=None):
    """A letter a line: l, t, p are reps of a step, w a wait, . a break."""
    made = []
    for letter in text:
        if letter in ".w":
            sort = {".": "break", "w": "wait"}[letter]
            made.append(ScriptLine(sort, "work", None, {}, None, None, 1))
        else:
            step = next(step for step in STEPS if step[0] == letter)
            made.append(ScriptLine("rep", "work", step, levels or {}, cue, None, 1))
    return made


def coded(text, met=None, levels=None, cue=None):
    return [
        Done(
            str(place),
            "wait" if letter == "w" else "rep",
            None if letter == "w" else next(step for step in STEPS if step[0] == letter),
            levels or {},
            cue,
            None if met is None else met[place] == "1",
        )
        for place, letter in enumerate(text)
    ]


def kinds(found):
    return [line.kept for line in found.lines]


def test_as_it_was_planned():
    found = followed(planned("ll.tt.w"), coded("llttw", "11010"))
    assert kinds(found) == ["as_planned"] * 5
    # Places are those of the whole script, breaks with it.
    assert [line.planned for line in found.lines] == [0, 1, 3, 4, 6]
    assert [line.done for line in found.lines] == list("01234")


def test_one_left_out_and_one_more_than_asked():
    assert kinds(followed(planned("ltp"), coded("lp"))) == ["as_planned", "skipped", "as_planned"]
    found = followed(planned("ltp"), coded("lttp"))
    assert sorted(kinds(found)) == ["as_planned"] * 3 + ["repeated"]
    assert kinds(followed(planned("ll"), coded("llp"))) == ["as_planned", "as_planned", "extra"]


def test_another_step_and_another_level_are_said():
    found = followed(planned("ltt"), coded("lpt"))
    assert [(line.kept, line.differs) for line in found.lines][1] == ("swapped", ("step",))
    found = followed(planned("t", levels={"side": "left"}), coded("t", levels={"side": "right"}))
    assert [(line.kept, line.differs) for line in found.lines] == [("swapped", ("levels",))]
    found = followed(planned("t", cue="bell"), coded("t", cue="horn"))
    assert [(line.kept, line.differs) for line in found.lines] == [("swapped", ("cue",))]


def test_what_nobody_coded_differs_in_nothing():
    found = followed(planned("t", levels={"side": "left"}, cue="bell"), coded("t"))
    assert kinds(found) == ["as_planned"]


def test_asking_where_waiting_was_planned_is_no_swap():
    assert sorted(kinds(followed(planned("w"), coded("t")))) == ["swapped"]
    assert followed(planned("w"), coded("t")).lines[0].differs == ("sort",)


@pytest.mark.parametrize(("script", "session"), [("", ""), ("", "l"), ("l", "")])
def test_nothing_on_a_side(script, session):
    assert len(followed(planned(script), coded(session)).lines) == len(script or session)


def test_whether_it_mattered():
    """Intervals against statsmodels: Wilson's, and Newcombe's of the difference."""
    found = followed(planned("ttttttttt"), coded("ttttttpppp", "1111011000"))
    as_planned, otherwise = found.as_planned, found.otherwise
    assert (as_planned.count, as_planned.of) == (5, 6)
    assert (otherwise.count, otherwise.of) == (1, 4)
    low, high = proportion_confint(5, 6, method="wilson")
    assert (as_planned.low, as_planned.high) == pytest.approx((low, high))
    low, high = confint_proportions_2indep(5, 6, 1, 4, method="newcomb", compare="diff")
    assert (found.difference.low, found.difference.high) == pytest.approx((low, high))


def test_where_everything_went_one_way_there_is_nothing_to_compare():
    for fits, done in (("11", "tt"), ("10", "pp")):
        found = followed(planned("tt"), coded(done, fits))
        assert (found.p, found.better) == (None, None)


@pytest.mark.parametrize(
    ("fits", "better"),
    [
        # 7 of 8 against 0 of 1: Newcombe's interval leaves 0 out, and one rep tells nothing.
        (("11111110", "0"), None),
        (("11111111", "000"), "as_planned"),
        (("11111111", "00"), "as_planned"),
        (("1111111", "0"), None),
        (("000", "11111111"), "otherwise"),
    ],
)
def test_a_few_reps_tell_only_what_they_can(fits, better):
    """Against scipy's Fisher test."""
    kept, other = fits
    found = followed(
        planned("t" * len(kept)), coded("t" * len(kept) + "p" * len(other), "".join(fits))
    )
    table = [[one.count("1"), one.count("0")] for one in fits]
    assert found.p == pytest.approx(stats.fisher_exact(table).pvalue)
    assert found.better == better
    assert (found.p <= 0.05) == (better is not None)


letters = st.text("ltpw", max_size=7)


@given(letters, letters)
def test_no_other_alignment_costs_less(script, session):
    """Against the plain recursion over all alignments."""
    lines, done = planned(script), coded(session)

    @cache
    def least(i, j):
        ways = []
        if i and j:
            ways.append(least(i - 1, j - 1) + _cost(lines[i - 1], done[j - 1]))
        if i:
            ways.append(least(i - 1, j) + LEFT_OUT)
        if j:
            ways.append(least(i, j - 1) + LEFT_OUT)
        return min(ways, default=0.0)

    cost = 0.0
    for line in followed(lines, done).lines:
        if line.planned is None or line.done is None:
            cost += LEFT_OUT
        else:
            cost += _cost(lines[line.planned], done[int(line.done)])
    assert cost == pytest.approx(least(len(lines), len(done)))


@given(letters, letters)
def test_each_line_and_each_rep_stands_there_once_and_in_order(script, session):
    found = followed(planned(script), coded(session)).lines
    assert [line.planned for line in found if line.planned is not None] == list(range(len(script)))
    assert [line.done for line in found if line.done is not None] == [
        str(n) for n in range(len(session))
    ]
