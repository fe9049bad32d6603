"""The timing drill: what is drawn, what a press was worth, what somebody learns from it."""

from __future__ import annotations

import datetime as dt
import itertools

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats
from statsmodels.stats.proportion import proportion_confint

from frequens.core.drill import (
    HOLD_S,
    INSTANTS,
    LEVELS,
    Act,
    Advice,
    FilmedRep,
    FilmedSession,
    Ran,
    Shown,
    Window,
    advise,
    change,
    delays_of,
    draw_acts,
    draw_pieces,
    level_of,
    score,
    usual_lag,
    windows_of,
)
from frequens.core.drill.acts import LEAST_REST_S, MEAN_REST_S, MOST_REST_S, SECOND
from frequens.core.drill.from_film import LEAD_S, LEAST_REPS
from frequens.core.drill.scoring import AHEAD_S, FALTERS_S, LATE_S, LEAST_LAGS, SOONEST_S, spread_of
from frequens.core.statistics.summaries import summarise

FRAME_S = 1 / 60
levels = st.sampled_from(LEVELS)
instants = st.sampled_from(INSTANTS)
asked = st.sampled_from(["touch", "lift"])
seeds = st.integers(0, 2**32 - 1)


def drawn(level, instant, what, seed, seconds=60):
    acts = draw_acts(level, instant, what, seconds, seed)
    return acts, windows_of(acts, instant, what, level.both)


def dues(windows):
    return {place: w.due_s for place, w in enumerate(windows) if w.due_s is not None}


def scored(windows, presses, shown=None, picture_s=FRAME_S):
    if shown is None:
        shown = {place: Shown(due, FRAME_S) for place, due in dues(windows).items()}
    return score(windows, shown, presses, picture_s)


# What the animal does.


@given(levels, instants, asked, seeds)
def test_a_drill_can_be_answered_whatever_is_drawn(level, instant, what, seed):
    acts, windows = drawn(level, instant, what, seed)
    for one, other in itertools.pairwise(windows):
        assert one.opens_s < one.closes_s <= other.opens_s
    for window in windows:
        if window.due_s is not None:
            assert window.on == instant
            assert window.closes_s - window.due_s == pytest.approx(LATE_S)
            assert window.due_s - window.opens_s <= AHEAD_S + 1e-9
    for act in acts:
        assert act.approach_s < act.begins_s < act.ends_s < act.rests_s <= 60
    assert not windows or windows[-1].closes_s <= 60 + 1e-9


@given(levels, instants, asked, seeds)
def test_the_seed_alone_names_the_draw(level, instant, what, seed):
    assert draw_acts(level, instant, what, 30, seed) == draw_acts(level, instant, what, 30, seed)


@given(instants, asked, seeds)
def test_the_second_thing_comes_half_a_second_sooner_at_most_and_its_end_as_much_later(
    instant, what, seed
):
    acts, _ = drawn(level_of("both"), instant, what, seed)
    # What comes by itself comes after a rest.
    pairs = [(a, b) for a, b in itertools.pairwise(acts) if b.approach_s < a.ends_s]
    for first, second in pairs:
        assert (first.moved, second.moved) == (what, SECOND[what])
        lasts = first.ends_s - first.begins_s
        assert -0.5 <= second.begins_s - first.begins_s <= 0.3 * lasts
        assert -0.3 * lasts <= second.ends_s - first.ends_s <= 0.5


@given(instants, asked, seeds)
def test_where_two_things_must_hold_the_instant_is_of_both(instant, what, seed):
    acts, windows = drawn(level_of("both"), instant, what, seed)

    def holds(moved, at):
        return any(a.whole and a.moved == moved and a.begins_s <= at < a.ends_s for a in acts)

    def both(at):
        return holds(what, at) and holds(SECOND[what], at)

    just = 1e-6
    for due in dues(windows).values():
        if instant == "ends":
            assert both(due - just)
            assert not both(due + just)
        elif instant == "begins":
            assert both(due + just)
            assert not both(due - just)
        else:
            assert all(both(due - share * HOLD_S + just) for share in (0, 0.5, 1))
            assert not both(due - HOLD_S - just)


def test_levels_are_what_they_say():
    def counts(key):
        found = [
            w.on
            for seed in range(60)
            for w in drawn(level_of(key), "begins", "lift", seed)[1]
            if w.on != "not_yet"
        ]
        return {on: found.count(on) / len(found) for on in set(found)}

    # 60 drills of some twenty acts: a share of a quarter is known to about 0.013.
    assert "fake" not in counts("clear")
    assert counts("fakes")["fake"] == pytest.approx(0.25, abs=0.04)
    assert counts("short_fakes")["fake"] == pytest.approx(0.3, abs=0.04)
    assert counts("both")["one_of_two"] == pytest.approx(0.35, abs=0.04)
    lasts = {
        key: max(
            a.ends_s - a.begins_s
            for seed in range(20)
            for a in draw_acts(level_of(key), "begins", "lift", 60, seed)
        )
        for key in ("clear", "short", "short_fakes")
    }
    assert lasts["clear"] > 1.3 > 0.6 >= lasts["short"] > 0.5 >= lasts["short_fakes"]


def test_some_stays_are_too_short_for_a_hold():
    windows = [w for s in range(40) for w in drawn(level_of("clear"), "hold", "lift", s)[1]]
    held = sum(w.on == "hold" for w in windows)
    short = sum(w.on == "too_short" for w in windows)
    assert short / (held + short) == pytest.approx(0.25, abs=0.06)


def test_however_long_one_has_waited_the_next_is_no_likelier():
    """Kolmogorov and Smirnov's test by scipy: rests beyond the least are exponential."""
    rests = []
    for seed in range(80):
        acts = draw_acts(level_of("clear"), "begins", "lift", 90, seed)
        rests += [b.approach_s - a.rests_s - LEAST_REST_S for a, b in itertools.pairwise(acts)]
    assert min(rests) >= 0
    assert max(rests) <= MOST_REST_S + 1e-9
    assert stats.kstest(rests, stats.expon(scale=MEAN_REST_S).cdf).pvalue > 0.01


def test_a_look_cannot_be_asked_for():
    with pytest.raises(ValueError, match="touch or a lift"):
        draw_acts(LEVELS[0], "begins", "look", 60, 1)


def test_windows_of_a_drill_written_by_hand():
    acts = [
        Act("lift", 2.0, 2.4, 3.4, 3.7),
        Act("lift", 5.0, 5.3, 5.5, 5.8, whole=False),
        Act("look", 7.0, 7.3, 8.0, 8.3),
        Act("touch", 10.0, 10.4, 11.0, 11.3),
        Act("lift", 13.0, 13.9, 14.4, 14.7),
    ]
    assert windows_of(acts, "begins", "lift", both=False) == [
        Window("begins", 2.0, 2.4, 3.4),
        Window("fake", 5.0, None, 5.8),
        Window("look", 7.0, None, 8.3),
        Window("other", 10.0, None, 11.3),
        # It was seen coming for longer than a press can answer it.
        Window("not_yet", 13.0, None, 13.4),
        Window("begins", 13.4, 13.9, 14.9),
    ]
    held = windows_of(acts, "hold", "lift", both=False)
    # A hold is counted from when it began: at its instant nothing moves.
    assert [(w.on, w.due_s, w.since_s) for w in held] == [
        ("not_yet", None, None),
        ("hold", 3.4, 2.4),
        ("fake", None, None),
        ("look", None, None),
        ("other", None, None),
        ("too_short", None, None),
    ]
    ends = windows_of(acts, "ends", "lift", both=False)
    assert [w.due_s for w in ends if w.due_s is not None] == [3.4, 14.4]


# What a press was worth.

ONE = [Window("begins", 1.5, 2.0, 3.0), Window("fake", 4.0, None, 5.0)]


@pytest.mark.parametrize(
    ("press", "what"),
    [
        (1.5, "early"),
        (1.9999, "early"),
        (2.0, "caught"),
        (2.25, "caught"),
        (3.0, "caught"),
    ],
)
def test_the_first_press_within_reach_answers(press, what):
    found = scored(ONE, [press])
    assert [(a.what, a.lag_s) for a in found.answers] == [(what, pytest.approx(press - 2.0))]
    assert found.false_marks == ()
    assert (found.caught.count, found.early) == ((1, 0) if what == "caught" else (0, 1))


@pytest.mark.parametrize(
    ("press", "on"),
    [(1.4999, "nothing"), (3.0001, "nothing"), (4.0, "fake"), (5.0, "fake"), (5.0001, "nothing")],
)
def test_a_press_out_of_reach_marks_something_else(press, on):
    found = scored(ONE, [press])
    assert [m.on for m in found.false_marks] == [on]
    assert [a.what for a in found.answers] == ["missed"]
    assert (found.wrong, found.false_on) == (1, {on: 1})


def test_a_second_press_marks_it_twice():
    found = scored(ONE, [2.4, 2.2])
    assert found.answers[0].lag_s == pytest.approx(0.2)
    assert [(m.press_s, m.on) for m in found.false_marks] == [(2.4, "twice")]


def test_the_lag_is_from_the_frame_that_showed_it():
    found = scored(ONE, [2.25], {0: Shown(2.012, FRAME_S)})
    assert found.answers[0].lag_s == pytest.approx(0.238)


@pytest.mark.parametrize(
    ("shown", "picture_s", "what"),
    [
        ({0: Shown(2.0, FALTERS_S)}, FRAME_S, "caught"),
        ({0: Shown(2.0, FALTERS_S + 1e-6)}, FRAME_S, "faltered"),
        # A film of 15 pictures a second does not falter by being one.
        ({0: Shown(2.0, 1 / 15)}, 1 / 15, "caught"),
        ({0: Shown(2.0, 2 / 15)}, 1 / 15, "faltered"),
        ({}, FRAME_S, "faltered"),
    ],
)
def test_what_the_display_did_not_show_in_time_counts_for_nothing(shown, picture_s, what):
    found = scored(ONE, [2.25], shown, picture_s)
    assert found.answers[0].what == what
    assert (found.caught.of, found.faltered) == ((1, 0) if what == "caught" else (0, 1))
    assert found.timing.lag_s.n == found.caught.of


@pytest.mark.parametrize(
    ("press", "gap_s", "on"),
    [
        (3.25, 0.4, None),
        (3.2 + LATE_S, 0.4, None),
        (3.2 + LATE_S + 0.01, 0.4, "fake"),
        # Shown in its time, the answer came too late.
        (3.25, FRAME_S, "nothing"),
    ],
)
def test_what_was_shown_late_may_be_answered_as_late(press, gap_s, on):
    found = scored(ONE, [press], {0: Shown(3.2, gap_s)})
    assert [mark.on for mark in found.false_marks] == ([] if on is None else [on])
    assert found.wrong == (on is not None)
    assert found.answers[0].press_s == (press if on is None else None)
    # It counts for nothing either way, and a second press is on something again.
    assert found.answers[0].lag_s is None
    assert scored(ONE, [press, press + 0.01], {0: Shown(3.2, gap_s)}).wrong >= 1


def test_what_is_not_to_be_marked_has_no_frame_to_be_late():
    found = scored(ONE, [2.25, 5.2], {0: Shown(2.0, FRAME_S), 1: Shown(4.9, 0.4)})
    assert [(mark.press_s, mark.on) for mark in found.false_marks] == [(5.2, "nothing")]
    assert [answer.what for answer in found.answers] == ["caught"]


def test_two_that_were_shown_late_at_once_are_each_answered():
    windows = [Window("begins", 0.5, 1.0, 2.0), Window("begins", 2.1, 2.6, 3.6)]
    shown = {0: Shown(4.0, 2.0), 1: Shown(4.0, 2.0)}
    assert scored(windows, [4.2, 4.5], shown).wrong == 0
    # A third press is on something again.
    assert scored(windows, [4.2, 4.5, 4.8], shown).false_on == {"nothing": 1}


@pytest.mark.parametrize(("lag", "foreseen"), [(0.0, 1), (SOONEST_S - 1e-6, 1), (SOONEST_S, 0)])
def test_sooner_than_anybody_answers_is_foreseen(lag, foreseen):
    found = scored([Window("begins", 0.0, 0.0, 1.0)], [lag])
    assert (found.foreseen, found.early) == (foreseen, 0)


@given(levels, instants, asked, seeds, st.lists(st.floats(0, 60), max_size=60))
def test_every_press_and_every_instant_is_counted_once(level, instant, what, seed, presses):
    _, windows = drawn(level, instant, what, seed)
    found = scored(windows, presses)
    answered = [a for a in found.answers if a.press_s is not None]
    assert len(answered) + len(found.false_marks) == len(presses)
    assert found.caught.count + found.early + found.missed == found.caught.of == len(dues(windows))
    assert found.wrong == found.early + len(found.false_marks)
    assert sum(found.false_on.values()) == len(found.false_marks)


def test_a_hand_of_known_lag_and_spread_is_measured():
    """The lag's interval holds it about 95 times in 100, the spread is right in the middle."""
    lot = np.random.default_rng(5)
    held, spreads = 0, []
    for seed in range(100):
        _, windows = drawn(level_of("short"), "begins", "lift", seed, 90)
        places = dues(windows)
        shown = {
            place: Shown(due + lot.uniform(0, FRAME_S), FRAME_S) for place, due in places.items()
        }
        presses = [s.at_s + lot.normal(0.26, 0.04) for s in shown.values()]
        found = score(windows, shown, presses, FRAME_S).timing
        held += found.lag_s.median_low <= 0.26 <= found.lag_s.median_high
        spreads.append(found.spread_s)
    # By chance fewer than 91 of 100 would be three times in a hundred.
    assert held >= 91
    assert np.median(spreads) == pytest.approx(0.04, rel=0.1)


def test_the_share_caught_has_wilsons_interval():
    """statsmodels' proportion_confint, method wilson."""
    windows = [Window("begins", 10.0 * n, 10.0 * n + 1, 10.0 * n + 2) for n in range(20)]
    caught = scored(windows, [10.0 * n + 1.3 for n in range(17)]).caught
    low, high = proportion_confint(17, 20, method="wilson")
    assert (caught.low, caught.high) == (pytest.approx(low), pytest.approx(high))


def test_the_spread_is_a_normal_ones():
    """scipy's interquartile range on the normal scale."""
    lags = np.random.default_rng(2).normal(0.25, 0.05, 31)
    found = spread_of(list(lags))
    assert found.spread_s == pytest.approx(stats.iqr(lags, scale="normal"), rel=1e-4)
    # One far off moves it little.
    assert spread_of([*lags, 0.99]).spread_s == pytest.approx(found.spread_s, rel=0.15)


@pytest.mark.parametrize("n", [LEAST_LAGS - 1, LEAST_LAGS])
def test_few_marks_say_nothing_about_a_hand(n):
    lag = usual_lag([0.2] * n)
    assert (lag is not None) == (n >= LEAST_LAGS)
    if lag:
        assert (lag.lag_s, lag.sd_s, lag.marks) == (0.2, 0.01, n)


def test_nobody_is_taken_to_press_before_they_see():
    assert usual_lag([-0.2] * 8).lag_s == 0


# How much of it is the machine's.


def test_what_is_left_is_the_trainers_own():
    """Against 200 000 draws of what is not known (JCGM 101:2008), to a hundredth."""
    lags = np.random.default_rng(1).normal(0.25, 0.04, 25)
    told = summarise(lags)
    found = delays_of(told, FRAME_S, "key")
    lot = np.random.default_rng(9)
    half = (told.median_high - told.median_low) / 2
    draws = (
        lot.normal(told.median, half / stats.norm.ppf(0.975), 200_000)
        - lot.uniform(FRAME_S, 2 * FRAME_S, 200_000)
        - lot.uniform(0.005, 0.035, 200_000)
    )
    assert found.own.value_s == pytest.approx(draws.mean(), abs=1e-3)
    assert found.own.u_s == pytest.approx(draws.std(), rel=0.01)


def test_of_few_marks_only_the_machine_is_told():
    found = delays_of(summarise([0.2] * 5), FRAME_S, "touch")
    assert found.own is None
    assert found.display.value_s == pytest.approx(0.025)
    assert found.press.value_s == pytest.approx(0.06)


# Over the weeks.


def test_the_change_a_week_is_least_squares():
    """statsmodels' OLS with its interval, on each day's mean."""
    lot = np.random.default_rng(4)
    first = dt.date(2026, 9, 1)
    days = [first + dt.timedelta(days=int(d)) for d in (0, 3, 7, 8, 15, 21, 30)]
    values = [0.32 - 0.01 * (d - first).days / 7 + lot.normal(0, 0.01) for d in days]
    # The third day had two drills.
    found = change([*zip(days, values, strict=True), (days[2], values[2] + 0.02)])
    y = np.array(values)
    y[2] += 0.01
    x = sm.add_constant(np.array([(d - first).days / 7 for d in days]))
    model = sm.OLS(y, x).fit()
    assert found.days == 7
    assert found.per_week_s == pytest.approx(model.params[1])
    assert (found.low_s, found.high_s) == tuple(pytest.approx(v) for v in model.conf_int()[1])
    assert (found.first_s, found.last_s) == (
        pytest.approx(model.fittedvalues[0]),
        pytest.approx(model.fittedvalues[-1]),
    )


@pytest.mark.parametrize("n", [4, 5])
def test_of_few_days_no_change_is_claimed(n):
    first = dt.date(2026, 9, 1)
    found = change(
        [(first + dt.timedelta(days=d), 0.3 - 0.01 * d + 0.001 * (d % 2)) for d in range(n)]
    )
    assert (found.low_s is not None) == (n >= 5)
    assert found.per_week_s is not None


def test_one_day_has_no_line():
    found = change([(dt.date(2026, 9, 1), 0.3)] * 3)
    assert (found.days, found.per_week_s, found.first_s) == (1, None, None)


# Which level next.


def ran(level, caught, wrong=0, due=10):
    return Ran(level, due, caught, wrong)


@pytest.mark.parametrize(
    ("runs", "level", "why"),
    [
        ([], "clear", "first"),
        ([ran("clear", 0, due=0)], "clear", "first"),
        ([ran("clear", 10)], "clear", "stay"),
        ([ran("clear", 8), ran("clear", 8, 1)], "fakes", "raise"),
        ([ran("clear", 8), ran("clear", 7)], "clear", "stay"),
        ([ran("clear", 8), ran("clear", 8, 2)], "clear", "stay"),
        ([ran("clear", 10), ran("fakes", 10)], "fakes", "stay"),
        ([ran("short", 5)], "short", "stay"),
        ([ran(LEVELS[-2].key, 10)] * 2, LEVELS[-1].key, "raise"),
        ([ran("short", 4)], "fakes", "lower"),
        ([ran("clear", 0)], "clear", "stay"),
        ([ran("both", 10), ran("both", 10)], "both", "stay"),
    ],
)
def test_the_next_level(runs, level, why):
    assert advise(runs) == Advice(level, why)


# From one's own films.


def reps_of(count, every=6.0, lasts=1.6, clip="a"):
    return [FilmedRep(clip, 4 + every * n, 4 + every * n + lasts) for n in range(count)]


@given(
    st.lists(st.tuples(st.floats(1.2, 9), st.floats(0.2, 3)), min_size=8, max_size=25),
    instants,
    st.floats(30, 90),
    seeds,
)
def test_pieces_of_film_show_what_is_asked_for(gaps, instant, seconds, seed):
    at, reps = 0.0, []
    for rest, lasts in gaps:
        reps.append(FilmedRep("a", at + rest, at + rest + lasts))
        at += rest + lasts
    filmed = FilmedSession({"a": at + 5}, reps)
    try:
        pieces, windows = draw_pieces(filmed, instant, seconds, seed)
    except ValueError:
        return
    assert pieces[0].at_s == 0
    for one, other in itertools.pairwise(pieces):
        assert other.at_s == pytest.approx(one.at_s + one.to_s - one.from_s)
    onsets = [rep.onset_s for rep in reps]
    asked_of = {"begins": onsets, "ends": [rep.offset_s for rep in reps]}
    asked_of["hold"] = [onset + HOLD_S for onset in onsets]
    for window in windows:
        piece = [p for p in pieces if p.at_s <= window.opens_s + 1e-9][-1]
        assert 0 <= piece.from_s < piece.to_s <= at + 5
        assert window.closes_s <= piece.at_s + piece.to_s - piece.from_s + 1e-6
        if window.due_s is not None:
            on_film = window.due_s - piece.at_s + piece.from_s
            assert min(abs(on_film - due) for due in asked_of[instant]) < 1e-6
    for one, other in itertools.pairwise(windows):
        assert one.closes_s <= other.opens_s + 1e-9


@given(st.floats(0.3, 6.0), seeds)
def test_a_piece_begins_once_what_was_before_is_gone_where_there_is_room(rest, seed):
    lasts, gone_s = 1.0, 0.3
    reps = [FilmedRep("a", 4 + n * (lasts + rest), 5 + n * (lasts + rest)) for n in range(12)]
    pieces, _ = draw_pieces(FilmedSession({"a": 200.0}, reps), "begins", 60, seed)
    for piece in pieces:
        shown = [rep for rep in reps if piece.from_s <= rep.onset_s <= piece.to_s]
        before = [rep.offset_s for rep in reps if shown and rep.offset_s < shown[0].onset_s]
        if before and max(before) + gone_s < shown[0].onset_s - LEAD_S[0] - 1e-6:
            assert piece.from_s >= max(before) + gone_s - 1e-9


@pytest.mark.parametrize(("further", "last"), [(0.0, 2 * LATE_S), (0.01, LATE_S)])
def test_a_piece_goes_on_until_the_next_in_it_can_be_answered(further, last):
    """Also what comes in the very instant in which it would have ended."""
    onsets = [8.0 * n for n in range(1, 10)]
    reps = [
        FilmedRep("a", at, at + 0.1) for onset in onsets for at in (onset, onset + LATE_S + further)
    ]
    pieces, _ = draw_pieces(FilmedSession({"a": 100.0}, reps), "begins", 200, 1)
    ends = {round(p.to_s - at, 6) for p in pieces for at in onsets if p.from_s < at < p.to_s}
    assert round(last, 6) in ends
    assert (round(LATE_S, 6) in ends) == (further > 0)


def test_no_two_drills_show_a_film_alike_and_each_lead_is_another():
    filmed = FilmedSession({"a": 200.0}, reps_of(30))
    one, other = (draw_pieces(filmed, "begins", 60, seed)[0] for seed in (1, 2))
    assert [p.from_s for p in one] != [p.from_s for p in other]
    _, windows = draw_pieces(filmed, "begins", 90, 3)
    due = sorted(dues(windows).values())
    assert np.std(np.diff(due)) > 0.3


def test_pieces_without_anything_are_among_them_rather_with_something_else():
    filmed = FilmedSession({"a": 260.0}, reps_of(30), others=[("a", 220.0)])
    pieces, windows = draw_pieces(filmed, "begins", 90, 4)
    empty = [p for p in pieces if p.from_s > 190]
    assert empty
    assert all(p.from_s <= 220.0 <= p.to_s or p.to_s < 220 for p in empty)
    assert [w.on for w in windows if w.due_s is None and w.on == "other"]


@pytest.mark.parametrize("n", [LEAST_REPS - 1, LEAST_REPS])
def test_too_few_reps_are_no_drill(n):
    filmed = FilmedSession({"a": 200.0}, reps_of(n))
    if n < LEAST_REPS:
        with pytest.raises(ValueError, match=f"{n} of this session's reps can be asked for"):
            draw_pieces(filmed, "begins", 60, 1)
    else:
        assert draw_pieces(filmed, "begins", 60, 1)[0]


def dues_on_film(pieces, windows):
    """Where on the film the instants lie that are asked for, seconds."""
    return [
        w.due_s - piece.at_s + piece.from_s
        for w in windows
        for piece in pieces
        if w.due_s is not None and piece.at_s <= w.due_s <= piece.at_s + piece.to_s - piece.from_s
    ]


def test_a_hold_is_asked_for_where_it_was_held():
    long = [FilmedRep("a", rep.onset_s, rep.onset_s + HOLD_S) for rep in reps_of(10)]
    short = [FilmedRep("a", rep.onset_s, rep.onset_s + HOLD_S - 0.01) for rep in reps_of(10)]
    pieces, windows = draw_pieces(FilmedSession({"a": 200.0}, long), "hold", 60, 1)
    on_film = dues_on_film(pieces, windows)
    assert on_film
    assert {round((s - 4 - HOLD_S) % 6, 6) % 6 for s in on_film} == {0}
    for reps in (short, [FilmedRep("a", rep.onset_s, None) for rep in long]):
        with pytest.raises(ValueError, match="0 of this"):
            draw_pieces(FilmedSession({"a": 200.0}, reps), "hold", 60, 1)


def test_an_end_that_was_not_coded_is_not_asked_for():
    reps = [FilmedRep("a", rep.onset_s, None) for rep in reps_of(10)]
    with pytest.raises(ValueError, match="0 of this"):
        draw_pieces(FilmedSession({"a": 200.0}, reps), "ends", 60, 1)
    # And where one without an end is close by, nobody could say that a press was wrong.
    near = [*reps_of(8), FilmedRep("a", 4 + 6 * 3 - 1.5, None)]
    pieces, _ = draw_pieces(FilmedSession({"a": 200.0}, near), "ends", 90, 1)
    assert not any(p.from_s <= 4 + 6 * 3 - 1.5 <= p.to_s for p in pieces)


@pytest.mark.parametrize(
    ("from_onset_s", "is_asked"),
    [
        (-2 * LEAD_S[1] - 0.01, True),
        (-2 * LEAD_S[1] + 0.01, False),
        (1 + LATE_S - 0.01, False),
        (1 + LATE_S + 0.01, True),
    ],
)
def test_how_near_an_end_that_was_not_coded_may_be(from_onset_s, is_asked):
    onsets = [20.0 * n for n in range(1, 9)]
    reps = [FilmedRep("a", at, at + 1) for at in onsets]
    unknown = FilmedRep("a", onsets[4] + from_onset_s, None)
    pieces, windows = draw_pieces(FilmedSession({"a": 200.0}, [*reps, unknown]), "ends", 600, 1)
    on_film = {round(due, 3) for due in dues_on_film(pieces, windows)}
    assert on_film == {at + 1 for at in onsets if is_asked or at != onsets[4]}
