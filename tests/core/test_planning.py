"""Planning arithmetic: the common practice of the trade, with no source but use."""

import itertools
from statistics import mean

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core.planning.calculators import (
    chain_plan,
    clock_orders,
    cue_transfer,
    distance_ladder,
    dose_plan,
    duration_plan,
    height_from_withers,
    height_ladder,
    jump_span,
    lure_fading,
    numeric_ladder,
    placement_budget,
    prepare_rewards,
    side_allotment,
)


class TestLadders:
    @pytest.mark.parametrize(
        ("final", "unit", "values"),
        [
            (24, "in", (12, 16, 20, 24)),
            (60, "cm", (30, 40, 50, 60)),
            (50, "cm", (30, 40, 50)),
            (15, "cm", (15,)),
        ],
    )
    def test_a_bar_starts_at_about_half_and_goes_up_by_ten_cm_or_four_in(self, final, unit, values):
        assert height_ladder(final, unit).values == values
        assert "veterinarian" in height_ladder(final, unit).caution

    def test_a_long_jump_spans_twice_its_height(self):
        assert jump_span(20).span == 40

    def test_by_a_step_by_a_factor_and_downwards(self):
        assert numeric_ladder(1, 4, step=1).values == (1, 2, 3, 4)
        assert numeric_ladder(1, 4.5, step=1).values == (1, 2, 3, 4, 4.5)
        assert numeric_ladder(1, 10, factor=2).values == (1, 2, 4, 8, 10)
        assert numeric_ladder(40, 10, factor=2).values == (40, 20, 10)
        assert numeric_ladder(5, 5, step=1).values == (5,)

    @given(st.floats(-1e4, 1e4), st.floats(-1e4, 1e4), st.floats(1, 1e4).filter(lambda s: s > 50))
    def test_a_ladder_ends_at_its_goal_and_never_turns(self, start, goal, step):
        values = numeric_ladder(start, goal, step=step).values
        assert values[-1] == goal
        if len(values) > 1:
            assert values[0] == start
            assert list(values) == sorted(values, reverse=goal < start)
            assert max(abs(a - b) for a, b in itertools.pairwise(values)) <= step * 1.01

    @pytest.mark.parametrize(
        ("arguments", "word"),
        [
            ({"start": 1, "goal": 2}, "either step or factor"),
            ({"start": 1, "goal": 2, "step": 1, "factor": 2}, "either step or factor"),
            ({"start": 1, "goal": 2, "step": 0}, "step must be above 0"),
            ({"start": 0, "goal": 2, "factor": 2}, "start must be above 0"),
            ({"start": 1, "goal": 2, "factor": 1}, "factor must be above 1"),
            ({"start": 1, "goal": float("nan"), "step": 1}, "goal must lie"),
            ({"start": 0, "goal": 1e6, "step": 0.1}, "more than 500 steps"),
        ],
    )
    def test_what_cannot_be_a_ladder(self, arguments, word):
        with pytest.raises(ValueError, match=word):
            numeric_ladder(**arguments)

    @pytest.mark.parametrize("call", [lambda: height_ladder(0), lambda: height_ladder(20, "feet")])
    def test_what_cannot_be_a_height(self, call):
        with pytest.raises(ValueError, match="must be"):
            call()


class TestDurations:
    @given(st.floats(0.5, 600), st.integers(1, 60), st.integers(0, 999), st.floats(0, 0.9))
    def test_they_bounce_around_the_mean_within_the_spread(self, mean_s, reps, seed, spread):
        values = duration_plan(mean_s, reps, seed, spread).values
        assert len(values) == reps
        assert mean(values) == pytest.approx(mean_s, abs=0.001)
        assert all(abs(v - mean_s) <= spread * mean_s + 0.001 for v in values)

    @given(st.integers(3, 60), st.integers(0, 999))
    def test_they_never_only_get_harder(self, reps, seed):
        values = duration_plan(10, reps, seed).values
        for a, b, c in zip(values, values[1:], values[2:], strict=False):
            assert not a < b < c

    def test_the_same_seed_gives_the_same_plan_and_another_another(self):
        assert duration_plan(5, 12, 4) == duration_plan(5, 12, 4)
        assert duration_plan(5, 12, 4) != duration_plan(5, 12, 5)

    @pytest.mark.parametrize("wrong", [(0, 5, 1), (5, 0, 1), (5, 501, 1), (5, 5, 1, 0.95)])
    def test_what_cannot_be(self, wrong):
        with pytest.raises(ValueError, match="must"):
            duration_plan(*wrong)


class TestClockAndSides:
    def test_from_the_sides_to_behind(self):
        stages = clock_orders(4).stages
        assert [s.positions for s in stages] == [
            (3, 9, 3, 9),
            (4, 8, 4, 8),
            (5, 7, 5, 7),
            (6, 6, 6, 6),
        ]
        assert clock_orders(2, "left").stages[1].positions == (8, 4)

    @given(st.integers(2, 200), st.floats(0.5, 0.9), st.integers(1, 20))
    def test_sides_add_up_the_easy_one_first_and_the_weak_one_more(self, reps, share, block):
        plan = side_allotment(reps, "left", "right", share, block)
        assert plan.blocks[0].side == "left"
        assert sum(b.reps for b in plan.blocks) == sum(plan.totals.values()) == reps
        assert plan.totals["left"] >= 1
        for side in ("left", "right"):
            assert sum(b.reps for b in plan.blocks if b.side == side) == plan.totals[side]
        assert max(b.reps for b in plan.blocks) <= block

    def test_ten_reps_six_of_them_on_the_weak_side(self):
        plan = side_allotment(10)
        assert [(b.side, b.reps) for b in plan.blocks] == [("left", 4), ("right", 4), ("right", 2)]

    @pytest.mark.parametrize(
        "call",
        [
            lambda: clock_orders(0),
            lambda: clock_orders(4, "up"),
            lambda: side_allotment(1),
            lambda: side_allotment(10, "left", "left"),
            lambda: side_allotment(10, weak_share=0.3),
        ],
    )
    def test_what_cannot_be(self, call):
        with pytest.raises(ValueError, match="must"):
            call()

    @pytest.mark.parametrize(("reps", "block", "wrong"), [(201, 4, "reps"), (10, 21, "block")])
    def test_what_is_beyond_its_limits_is_named(self, reps, block, wrong):
        side_allotment(200, block=20)
        with pytest.raises(ValueError, match=f"^{wrong} "):
            side_allotment(reps, block=block)


class TestPreparing:
    def test_three_quarters_away_and_a_quarter_on(self):
        assert placement_budget(20).rewards == {"off": 15, "on": 5}

    @given(
        st.integers(1, 10_000),
        st.lists(st.integers(1, 50), min_size=1, max_size=6),
    )
    def test_shares_become_whole_rewards_that_add_up(self, rewards, weights):
        mix = {str(n): w / sum(weights) for n, w in enumerate(weights)}
        shared = placement_budget(rewards, mix).rewards
        assert sum(shared.values()) == rewards
        assert all(abs(shared[p] - rewards * s) < 1 for p, s in mix.items())

    def test_as_many_as_ten_thousand_are_shared_out(self):
        assert placement_budget(10_000).rewards == {"off": 7500, "on": 2500}

    def test_pieces_and_their_share_of_the_days_energy(self):
        # 5 min at 8 a minute are 40; a fifth more is 48; 48 pieces of 6 kJ are 288 kJ.
        found = prepare_rewards(5, 8, piece_kj=6, day_kj=2400)
        assert (found.pieces, found.energy_kj) == (48, 288)
        assert found.energy_share == pytest.approx(0.12)
        assert found.over is True
        assert prepare_rewards(5, 8, piece_kj=6, day_kj=2880).over is False
        assert prepare_rewards(5, 8).energy_share is None

    @pytest.mark.parametrize(
        "call",
        [
            lambda: placement_budget(0),
            lambda: placement_budget(10_001),
            lambda: placement_budget(5, {"on": 0.6}),
            lambda: placement_budget(5, {}),
            lambda: prepare_rewards(0, 8),
            lambda: prepare_rewards(5, 8, spare=-0.1),
            lambda: prepare_rewards(5, 8, piece_kj=-1),
        ],
    )
    def test_what_cannot_be(self, call):
        with pytest.raises(ValueError, match="must"):
            call()


class TestSchedules:
    def test_work_is_cut_into_blocks_with_breaks(self):
        found = dose_plan(300)
        assert (found.blocks_s, found.over_practice) == ((150, 150), False)
        assert dose_plan(90).break_s == 0
        assert dose_plan(301).over_practice is True

    @given(st.floats(1, 4 * 3600), st.floats(10, 600))
    def test_blocks_add_up_and_none_is_too_long(self, work, block):
        found = dose_plan(work, block)
        assert sum(found.blocks_s) == pytest.approx(work)
        assert max(found.blocks_s) <= block * (1 + 1e-9)

    @pytest.mark.parametrize(
        "call",
        [
            lambda: dose_plan(0),
            lambda: dose_plan(60, 0),
        ],
    )
    def test_what_cannot_be(self, call):
        with pytest.raises(ValueError, match="must"):
            call()


class TestTransfer:
    @given(st.integers(3, 200))
    def test_the_new_cue_first_a_growing_pause_and_the_old_signal_fades(self, reps):
        plan = cue_transfer(reps).reps
        assert [r.rep for r in plan] == list(range(1, reps + 1))
        signals = [r.old_signal for r in plan]
        assert signals == sorted(signals, key=["full", "smaller", "none"].index)
        assert set(signals) == {"full", "smaller", "none"}
        pauses = [r.pause_s for r in plan if r.pause_s is not None]
        assert pauses == sorted(pauses)
        assert pauses[0] >= 0.5
        assert pauses[-1] <= 2.0

    def test_a_lure_goes_within_a_handful_of_reps(self):
        assert lure_fading(2, 1, 1, 1).levels == (
            "food_lure",
            "food_lure",
            "empty_hand",
            "gesture",
            "none",
        )
        assert lure_fading(5).over_practice is False
        assert lure_fading(6).over_practice is True

    def test_parts_alone_then_joined_from_either_end(self):
        parts = ("step up", "turn", "bow")
        alone = (("step up",), ("turn",), ("bow",))
        assert chain_plan(parts, "forward").stages == (*alone, ("step up", "turn"), parts)
        assert chain_plan(parts).stages == (*alone, ("turn", "bow"), parts)

    @pytest.mark.parametrize(
        "call",
        [
            lambda: cue_transfer(2),
            lambda: cue_transfer(12, 0.2),
            lambda: cue_transfer(12, 3, 2),
            lambda: lure_fading(-1),
            lambda: lure_fading(0, 0, 0, 0),
            lambda: chain_plan(("one",)),
            lambda: chain_plan(("one", "one")),
            lambda: chain_plan(("one", "two"), "sideways"),
        ],
    )
    def test_what_cannot_be(self, call):
        with pytest.raises(ValueError, match=r"must|at least"):
            call()


def test_every_plan_carries_its_practice_and_its_caution():
    plans = [
        height_ladder(60),
        jump_span(20),
        clock_orders(),
        side_allotment(10),
        placement_budget(20),
        prepare_rewards(5, 8),
        dose_plan(120),
        cue_transfer(),
        lure_fading(),
        chain_plan(("one", "two")),
    ]
    for plan in plans:
        assert plan.practice.endswith(".")
        assert plan.caution.endswith(".")
    assert duration_plan(5, 5, 1).practice.endswith(".")


@pytest.mark.parametrize(
    ("size", "goal", "values"),
    [
        # Common practice: two, three and five strides.
        ("small", 5, (2, 3, 4, 5)),
        ("medium", 5, (3, 4, 5)),
        ("large", 7, (5, 6, 7)),
        ("large", 4, (4,)),
        ("large", 5, (5,)),
    ],
)
def test_a_first_distance_fits_the_animals_size(size, goal, values):
    assert distance_ladder(size, goal).values == values


@pytest.mark.parametrize(("size", "goal"), [("huge", 5), ("small", 0), ("small", -1)])
def test_a_distance_that_cannot_be_is_refused(size, goal):
    with pytest.raises(ValueError, match=r"size|goal"):
        distance_ladder(size, goal)


@pytest.mark.parametrize(
    ("withers", "share", "unit", "values"),
    [
        (61.9, 1, "cm", (31, 41, 51, 61)),
        (60, 0.5, "cm", (20, 30)),
        # 61 cm are 24.02 inches.
        (61, 1, "in", (12, 16, 20, 24)),
    ],
)
def test_heights_from_the_withers(withers, share, unit, values):
    assert height_from_withers(withers, share, unit).values == values


@pytest.mark.parametrize(("withers", "share"), [(0, 1), (50, 0.05), (50, 2.1), (float("nan"), 1)])
def test_no_height_from_what_cannot_be(withers, share):
    with pytest.raises(ValueError, match="must"):
        height_from_withers(withers, share)
