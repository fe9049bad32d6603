"""The judgement: situations with what an expert beside the trainer would say.

Common practice, with no source but use. The first word of each name says who it is about.
"""

from __future__ import annotations

import itertools
import json

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from frequens.core import read_session
from frequens.core.decisions.judging import NUMBERS, Digest, Judging, judge
from frequens.core.findings import as_plain_values
from frequens.words.english.next_session import WATCH

from .training_days import Counted, Day, codes, digest_of, judged, plan_of

BELL = plan_of("look", "nose", "mouth", "ring")
BELL_SHARE = plan_of("look", "nose", "mouth", "ring", rule="share")
DISC = plan_of("face", "touch", {"key": "peck", "answers": True}, rule="share")
WORDS = plan_of("face", "touch", {"key": "peck", "answers": True}, "anywhere")
STAY = {"key": "stand", "hold_s": 40, "until_release": True}
HOOF = plan_of("shift", "lift", {"key": "rest", "hold_s": 3, "until_release": True}, STAY, "alone")
HELPED = {"prompts": ["food_lure", "empty_hand", "gesture"]}
LIFT = {"key": "lift", "help": "gesture"}
GIRTH = plan_of("see", "girth_on", "girth_moves", rule="comfort")
PULL = {"key": "pull", "quantity": {"name": "pull", "unit": "cm", "better": "more", "target": 20}}

#: Name, sessions, decision, next step, reason, beside, what must not be said.
SITUATIONS = [
    (
        "panting ends the day, however perfect the run",
        [Day(BELL).at("nose").fits(6).sign(3).fits(2)],
        ("end", "look", "distress"),
        [],
        ["rule_raise"],
    ),
    (
        "three marked signs beat eleven of eleven",
        [Day(DISC).at("touch").fits(1).sign(2).fits(3).sign(2).fits(4).sign(2).fits(3)],
        ("lower", "face", "unease"),
        [],
        ["rule_raise", "ease_first"],
    ),
    (
        "one marked sign and one walk-off, and no step below: a smaller one",
        [Day(BELL).at("look").fits(1).misses(2).sign(2).misses(2).left().misses(1)],
        ("split", "look", "unease"),
        ["rule_lower"],
        [],
    ),
    (
        "three misses go down, and the late hand is said beside it",
        [Day(BELL).at("mouth").fits(3, late=True).misses(3)],
        ("lower", "nose", "rule_lower"),
        ["mend_timing"],
        [],
    ),
    (
        "the window is not full, but five in a row failed",
        [Day(DISC).at("touch").fits(2).misses(5)],
        ("lower", "face", "five_misses"),
        [],
        [],
    ),
    (
        "three of ten by hand has no known order and is still failing",
        [Counted(BELL, 1, "nose", 3, 10, minutes=3, rewards=20)],
        ("lower", "look", "mostly_missed"),
        [],
        ["five_misses"],
    ),
    (
        "yesterday by hand and today on film fail together",
        [
            Counted(BELL_SHARE, 1, "nose", 3, 6, minutes=1, rewards=6),
            Day(BELL_SHARE, 2).at("nose").mixed("-+---"),
        ],
        ("lower", "look", "rule_lower"),
        [],
        [],
    ),
    (
        "seven of ten and too few rewards a minute: the step is too hard",
        [Day(BELL_SHARE, gap=12).at("nose").mixed("++-+++-+-+")],
        ("lower", "look", "rate_floor"),
        [],
        ["slow_pay"],
    ),
    (
        "ten of ten at the same pay: the pay is slow, the animal is not",
        [Day(BELL_SHARE, gap=12).at("nose").fits(10)],
        ("raise", "mouth", "rule_raise"),
        ["slow_pay"],
        ["rate_floor", "dry_spell"],
    ),
    (
        "forty seconds paid three times in place is well paid",
        [
            Day(
                plan_of("lift", STAY, "alone", rule="run need=3", rate_floor_per_min=6),
            )
            .at("stand")
            .fits(4, pays=3, let_go=True)
        ],
        ("raise", "alone", "rule_raise"),
        [],
        ["slow_pay", "rate_floor", "dry_spell", "mend_timing", "left_early"],
    ),
    (
        "five in a row, but it left once: ease first",
        [
            Day(plan_of("look", "nose", "mouth", rep_cap=12))
            .at("nose")
            .fits(6)
            .left()
            .misses()
            .fits(5)
        ],
        ("hold", "nose", "ease_first"),
        ["at_limit"],
        ["unease"],
    ),
    (
        "good here for the third day, failed above twice: a step is missing",
        [
            Day(BELL, 1).at("nose").fits(5).at("mouth").mixed("+---"),
            Day(BELL, 3).at("nose").fits(5).at("mouth").mixed("-+--"),
            Day(BELL, 4).at("nose").fits(6),
        ],
        ("split", "nose", "failed_above"),
        [],
        [],
    ),
    (
        "failed above a few minutes ago: not again today",
        [Day(BELL).at("nose").fits(5).at("mouth").mixed("--+-").at("nose").fits(5)],
        ("hold", "nose", "failed_above_today"),
        [],
        [],
    ),
    (
        "four of ten clicks late: first the hand",
        [Day(DISC).at("touch").fits(2).fits(2, late=True).fits(3).fits(2, late=True).fits(1)],
        ("hold", "touch", "mend_timing"),
        [],
        [],
    ),
    (
        "touches of a fifth of a second: no hand clicks inside them",
        [Day(BELL).at("nose").fits(8, lasts=0.2)],
        ("raise", "mouth", "rule_raise"),
        [],
        ["mend_timing"],
    ),
    (
        "two of eight clicks brought nothing",
        [Day(BELL).at("look").fits(3).fits(1, unpaid=True).fits(2).fits(1, unpaid=True).fits(1)],
        ("hold", "look", "mend_pay"),
        [],
        [],
    ),
    (
        "the hand moves first on four of nine",
        [Day(BELL).at("nose").fits(5, hand="after").fits(4, hand="first")],
        ("hold", "nose", "mend_hand"),
        [],
        [],
    ),
    (
        "a guiding empty hand is the help, not a fault",
        [
            Day(plan_of("shift", {"key": "lift", "help": "empty_hand"}, "rest", **HELPED))
            .at("lift")
            .fits(7, help="empty_hand", hand="first")
        ],
        ("raise", "rest", "rule_raise"),
        [],
        ["mend_hand", "help_left", "lure_long"],
    ),
    (
        "five in a row behind an empty hand where a gesture should do: less help",
        [
            Day(plan_of("shift", LIFT, "rest", **HELPED))
            .at("lift")
            .fits(1, help="food_lure")
            .fits(5, help="empty_hand")
        ],
        ("fade", "lift", "help_left"),
        [],
        ["lure_long"],
    ),
    (
        "word and gesture at once, and the word said twice",
        [
            Day(plan_of("shift", LIFT, "rest", prompts=["gesture"]), cue="lift", help="gesture")
            .at("lift")
            .fits(3, together=True, said=2)
            .fits(1, together=True)
            .fits(2)
        ],
        ("hold", "lift", "cue_overlap"),
        ["cue_repeated"],
        [],
    ),
    (
        "every cue answered, but two of five waits as well",
        [Day(WORDS, cue="peck").at("peck").fits(4).waits(3).fits(2).waits(2, shown=True).fits(2)],
        ("hold", "peck", "not_waiting"),
        [],
        ["not_tested"],
    ),
    (
        "every cue answered, but only two waits: nothing is known of waiting",
        [Day(WORDS, cue="peck").at("peck").fits(3).waits().fits(1).waits().fits(3)],
        ("hold", "peck", "not_tested"),
        [],
        ["not_waiting"],
    ),
    (
        "a third of the answers were to another question",
        [
            Day(
                plan_of(
                    {"key": "two", "answers": True},
                    "three",
                    rule="run need=3",
                    cues=[{"label": "ring", "behaviour": "ring"}],
                ),
                cue="ring",
            )
            .at("two")
            .fits(1, label="ring")
            .waits(5, paid=True)
            .misses(1, label="spin")
            .fits(1, label="ring")
            .misses(1, label="spin")
            .fits(1, label="ring")
            .misses(1, label="spin")
            .fits(3, label="ring")
        ],
        ("hold", "two", "wrong_answers"),
        [],
        ["not_waiting", "not_tested"],
    ),
    (
        "the last step, answered and waited for: prove it elsewhere",
        [Day(DISC, cue="peck").at("peck").fits(5).waits(3, paid=True).fits(5).waits(2)],
        ("proof", "peck", "last_step"),
        [],
        ["mend_pay", "not_tested", "not_waiting", "slow_pay", "mend_timing"],
    ),
    (
        "the left side two of five: hold, on the left",
        [
            Day(plan_of("shift", "lift", "rest", rule="run need=3"))
            .at("lift")
            .fits(2, conditions={"side": "right"})
            .mixed("--+-+", conditions={"side": "left"})
            .fits(3, conditions={"side": "right"})
        ],
        ("hold", "lift", "uneven"),
        [],
        [],
    ),
    (
        "signs grew towards the end, and a long wait: it has had enough",
        [Day(BELL_SHARE).at("nose").fits(8).idle(33).sign(1).misses().sign(1).fits(1)],
        ("hold", "nose", "more_signs"),
        ["dry_spell"],
        ["ease_first"],
    ),
    (
        "the hoof rests well, but comes down before the word on two of five",
        [
            Day(HOOF)
            .at("rest")
            .fits(1, let_go=True)
            .fits(1, left=True)
            .fits(1, let_go=True)
            .fits(1, left=True)
            .fits(1, let_go=True)
        ],
        ("hold", "rest", "left_early"),
        [],
        [],
    ),
    (
        "three sessions at two thirds and no better: the step is too big",
        [Day(DISC, n).at("touch").mixed("++-++-+-++-+") for n in (1, 3, 4)],
        ("split", "touch", "plateau"),
        [],
        [],
    ),
    (
        "half at first, more now: slow, but it is learning",
        [
            Day(DISC, 1).at("touch").mixed("-+-+-+-++-"),
            Day(DISC, 2).at("touch").mixed("+-+-++-+-+"),
            Day(DISC, 4).at("touch").mixed("++-+++-++-+"),
        ],
        ("hold", "touch", "between"),
        [],
        ["plateau"],
    ),
    (
        "eight goes behind food in the hand: fade it",
        [
            Day(plan_of("shift", "lift", "rest", rule="share", **HELPED), help="food_lure")
            .at("lift")
            .mixed("++-++-+-")
        ],
        ("fade", "lift", "lure_long"),
        [],
        ["help_left"],
    ),
    (
        "six lured ones, and the step allows it: first the food leaves the hand",
        [
            Day(plan_of("shift", {"key": "lift", "help": "food_lure"}, "rest", **HELPED))
            .at("lift")
            .fits(7, help="food_lure")
        ],
        ("fade", "lift", "lure_long"),
        [],
        ["help_left"],
    ),
    (
        "three good ones into the second block, and well over the time",
        [
            Day(plan_of("face", "touch", rule="block", session_cap_s=25))
            .at("touch")
            .mixed("+-++-+++")
        ],
        ("hold", "touch", "mid_block"),
        ["over_limit"],
        ["at_limit"],
    ),
    (
        "three calm sessions, one of them by hand: the girth may move",
        [
            Counted(GIRTH, 1, "girth_on", 5, 5, minutes=2),
            Day(GIRTH, 3).at("girth_on").touched(3).fits(5),
            Day(GIRTH, 5).at("girth_on").touched(2).fits(6),
        ],
        ("raise", "girth_moves", "rule_raise"),
        [],
        [],
    ),
    (
        "calm sessions of touches alone count for the comfort school",
        [Day(GIRTH, n).at("girth_on").touched(4) for n in (1, 2, 3)],
        ("raise", "girth_moves", "rule_raise"),
        [],
        ["nothing_judged"],
    ),
    (
        "three weeks ago is not today",
        [Day(BELL, 1).at("nose").fits(9), Day(BELL, 22).at("nose").fits(4)],
        ("hold", "nose", "too_few"),
        [],
        ["rule_raise"],
    ),
    (
        "nothing was judged: say what to look for",
        [Day(BELL).at("nose").unjudged(4)],
        ("none", "nose", "nothing_judged"),
        [],
        ["mend_pay"],
    ),
    (
        "three by hand and two on film make five in a row",
        [Counted(BELL, 1, "nose", 3, 3, minutes=1, rewards=3), Day(BELL, 2).at("nose").fits(2)],
        ("raise", "mouth", "rule_raise"),
        [],
        [],
    ),
    (
        "eight of eight, then one easy one to end on: no step down",
        [Day(BELL).at("nose").fits(2).at("mouth").fits(8).at("nose").fits(1)],
        ("raise", "ring", "rule_raise"),
        [],
        [],
    ),
    (
        "it offered the next step once by itself: a gift, the run goes on",
        [Day(BELL).at("nose").fits(4).fits(1, shows="mouth").fits(1)],
        ("raise", "mouth", "rule_raise"),
        [],
        [],
    ),
    (
        "food before the touch belongs to the hands",
        [Day(GIRTH).at("girth_on").touched(1).touched(3, food_first=True).fits(2)],
        ("hold", "girth_on", "too_few"),
        ["food_first"],
        [],
    ),
]


@pytest.mark.parametrize(
    ("days", "wanted", "beside", "never"),
    [pytest.param(*rest, id=name) for name, *rest in SITUATIONS],
)
def test_an_expert_would_say(days, wanted, beside, never):
    said = judged(*days)
    assert (said.decision, said.next_step, said.why.code) == wanted
    assert set(beside) <= codes(said)
    assert not set(never) & codes(said)
    titles = max((len(step) for step in [said.step or "", "the next"]), default=0)
    assert len(said.headline) - titles <= 140
    assert said.why.code not in [one.code for one in said.beside]


def test_the_moving_criterion_moves_within_the_step_and_ends_at_its_target():
    plan = plan_of("nose", PULL, "far", rule="percentile")

    def with_values(*values):
        day = Day(plan).at("pull")
        for value in values:
            day.fits(1, value=value)
        return judged(day)

    # Galbicka (1994): the next must beat the 5th smallest of the last 9.
    assert with_values(12, 14, 15, 18, 19, 21, 22, 19, 23).decision == "hold"
    reached = with_values(14, 15, 18, 20, 21, 22, 19, 23, 24)
    assert (reached.decision, reached.next_step) == ("raise", "far")
    assert reached.school.numbers["criterion"] == 20
    assert with_values(20, 21, 22).why.code == "too_few"


def test_a_record_says_on_what_it_rests():
    said = judged(
        Day(BELL, 1).at("nose").mixed("+-+"),
        Counted(BELL, 3, "nose", 2, 4, minutes=2),
        Day(BELL, 5).at("nose").mixed("++-"),
    )
    assert as_plain_values(said.record) | {"low": 0, "high": 0} == {
        "sessions": 3, "judged": 10, "met": 6, "low": 0, "high": 0, "by_hand": 1,
        "since": "2026-05-01",
    }  # fmt: skip
    assert said.rests_on == ((0, 3, 2), (1, 4, 2), (2, 3, 2))
    assert said.headline.startswith("Hold at “nose”: 6 of 10 fit over 3 sessions")
    assert len(said.attempts) == 6


def test_a_step_above_that_was_judged_begins_the_record_anew():
    said = judged(
        Day(BELL, 1).at("nose").fits(4), Day(BELL, 2).at("mouth").fits(1).at("nose").fits(4)
    )
    assert (said.step, said.record.judged, said.decision) == ("nose", 4, "hold")


def test_the_way_back_the_plan_names_is_taken():
    plan = plan_of("look", "nose", {"key": "mouth", "fallback": "look"}, "ring")
    said = judged(Day(plan).at("mouth").misses(3))
    assert (said.decision, said.next_step) == ("lower", "look")


def test_a_step_between_names_the_two_it_lies_between():
    above = judged(
        Day(BELL, 1).at("nose").fits(5).at("mouth").misses(3),
        Day(BELL, 2).at("nose").fits(5).at("mouth").misses(3),
        Day(BELL, 3).at("nose").fits(5),
    )
    assert above.split_between == ("nose", "mouth")
    first = judged(Day(BELL).at("look").misses(5))
    assert (first.decision, first.split_between) == ("split", (None, "look"))


def test_the_others_answer_on_the_same_record():
    said = judged(Day(BELL).at("nose").fits(5))
    assert set(said.other_schools) == {"share", "block", "percentile", "comfort"}
    assert said.other_schools["block"].decision == "raise"
    assert said.other_schools["share"].reason == "too_few"


def test_every_line_before_the_one_that_decided_says_what_it_found():
    said = judged(Day(BELL).at("nose").fits(4))
    asked = [line.code for line in said.checked]
    assert asked[:4] == ["distress", "unease", "rule_lower", "five_misses"]
    assert asked[-2:] == ["plateau", "lure_long"]
    assert all(line.question.endswith("?") and line.found for line in said.checked)


def test_what_stands_beside_comes_in_the_order_ease_hands_pay_plan():
    day = Day(BELL, gap=12).at("nose").fits(4, late=True).sign(2, 2)
    day.fits(1, unpaid=True).fits(1, unpaid=True).misses(3)
    beside = [said.code for said in judged(day).beside]
    order = ["ease_first", "mend_timing", "mend_pay"]
    assert [code for code in beside if code in order] == order


def test_a_digest_is_the_same_after_it_was_written_down():
    for _, days, *_ in SITUATIONS:
        for day in days:
            short = digest_of(day)
            assert Digest.read(json.loads(json.dumps(short.as_plain_values()))) == short


def test_an_empty_history_is_refused():
    with pytest.raises(ValueError, match="no session"):
        judge([], None)  # type: ignore[arg-type]


def test_every_code_and_number_has_its_words():
    assert {n.name for n in NUMBERS} == set(Judging.__dataclass_fields__)
    said = " ".join([n.words + " " + n.why for n in NUMBERS] + list(WATCH.values()))
    for _, days, *_ in SITUATIONS:
        one = judged(*days)
        said += " ".join([one.headline, one.hands or "", one.why.text])
        said += " ".join(beside.text for beside in one.beside)
    for word in ("punish", "scold", "pressure", "force", "jerk", "dominan", "correction", " p ="):
        assert word not in said.lower()


HISTORY = st.lists(st.text("+-", min_size=1, max_size=8), min_size=1, max_size=4)
RULES = st.sampled_from(["run", "share window=5", "block", "run need=3 miss=2"])
RANK = {"end": 0, "lower": 1, "split": 1, "none": 2, "hold": 2, "fade": 2, "raise": 3, "proof": 3}


@given(HISTORY, RULES)
@settings(max_examples=60, deadline=None)
def test_one_more_that_fits_never_turns_raise_into_lower(patterns, rule):
    plan = plan_of("look", "nose", "mouth", rule=rule)
    days = [Day(plan, n + 1).at("nose").mixed(p) for n, p in enumerate(patterns)]
    before = judged(*days)
    days[-1] = Day(plan, len(patterns)).at("nose").mixed(patterns[-1] + "+")
    after = judged(*days)
    if before.decision in ("raise", "proof"):
        assert RANK[after.decision] >= 2


@given(HISTORY, RULES, st.integers(1, 3), st.integers(1, 3))
@settings(max_examples=60, deadline=None)
def test_a_worse_sign_never_makes_it_harder_for_the_animal(patterns, rule, one, other):
    plan = plan_of("look", "nose", "mouth", rule=rule)
    mild, worse = sorted((one, other))

    def with_sign(severity):
        days = [Day(plan, n + 1).at("nose").mixed(p) for n, p in enumerate(patterns)]
        return judged(*days[:-1], days[-1].sign(severity))

    assert RANK[with_sign(worse).decision] <= RANK[with_sign(mild).decision]


@given(HISTORY, RULES, st.integers(1, 6))
@settings(max_examples=60, deadline=None)
def test_one_more_session_by_hand_with_all_met_never_lowers(patterns, rule, reps):
    plan = plan_of("look", "nose", "mouth", rule=rule)
    days = [Day(plan, n + 1).at("nose").mixed(p) for n, p in enumerate(patterns)]
    before = judged(*days)
    after = judged(*days, Counted(plan, len(patterns) + 1, "nose", reps, reps, minutes=2))
    # A window or block that this fills is judged for the first time: that is another thing.
    if before.decision not in ("lower", "split") and before.school.reason in ("met", "between"):
        # Nor is it a step down that a plateau, or that it mostly failed, is known only once there
        # are reps enough.
        is_known_now = (
            before.record.judged < Judging().low_reps and after.why.code == "mostly_missed"
        )
        assert after.decision not in ("lower", "end") or is_known_now
        assert after.decision != "split" or after.why.code == "plateau"


def test_that_it_mostly_failed_is_known_once_there_are_reps_enough_also_by_hand():
    plan = plan_of("look", "nose", "mouth")
    day = Day(plan, 1).at("nose").mixed("-------+")

    def with_by_hand(reps):
        return judged(day, Counted(plan, 2, "nose", reps, reps, minutes=2))

    assert with_by_hand(1).decision == "hold"
    assert with_by_hand(2).why.code == "mostly_missed"
    assert with_by_hand(3).decision == "hold"


def test_a_plateau_is_known_once_there_are_reps_enough_also_by_hand():
    plan = plan_of("look", "nose", "mouth")
    patterns = ("----+++", "-++---+", "---++", "+---++-")
    days = [Day(plan, n + 1).at("nose").mixed(p) for n, p in enumerate(patterns)]

    def with_by_hand(reps):
        return judged(*days, Counted(plan, 5, "nose", reps, reps, minutes=2))

    assert with_by_hand(3).decision == "hold"
    assert with_by_hand(4).why.code == "plateau"


@given(HISTORY, st.randoms())
@settings(max_examples=30, deadline=None)
def test_the_order_of_files_changes_nothing(patterns, chance):
    days = [Day(BELL, n + 1).at("nose").mixed(p) for n, p in enumerate(patterns)]
    mixed = list(days)
    chance.shuffle(mixed)
    assert judged(*days) == judged(*mixed)


def test_times_of_one_day_come_in_their_order_and_those_without_first():
    early, late, unsaid = (Day(BELL, 1).at("nose") for _ in range(3))
    early.facts, late.facts = {"time": "08:15"}, {"time": "17:30"}
    early.fits(2)
    late.misses(3)
    unsaid.fits(2)
    orders = itertools.permutations([digest_of(d) for d in (early, late, unsaid)])
    plan = read_session(late.document()).plan
    said = {judge(list(order), plan).why.code for order in orders}
    assert said == {"rule_lower"}


def test_a_session_of_which_nothing_was_judged_is_on_record_only_where_ease_is_judged():
    unjudged, clear = Day(BELL).at("nose").unjudged(3), Day(BELL, 2).at("nose").fits(3)
    record = judged(unjudged, clear).record
    assert (record.sessions, record.judged) == (1, 3)
    assert record.since == clear.document()["session"]["date"]
    at_ease = [Day(GIRTH, n).at("girth_on").touched(4) for n in (1, 2)]
    record = judged(*at_ease).record
    assert (record.sessions, record.judged) == (2, 0)
