"""The judgement's words: every code's reason in short and in full, to be read in a barn.

Nothing here proposes correction, pressure or pain.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

Numbers = Mapping[str, Any]

#: Help in words, as it stands after "with".
HELP_WORDS: Mapping[str, str] = {
    "physical": "a touch",
    "food_lure": "food in the hand",
    "target": "a target",
    "empty_hand": "an empty hand",
    "gesture": "a gesture",
    "none": "no help",
}
#: How a marker missed, in words.
MISSED_WORDS: Mapping[str, str] = {"early": "early", "late": "late", "over": "after it was over"}


def counted(n: float, one: str) -> str:
    """A count with its noun: 1 rep, 3 reps."""
    return f"{n:g} {one}" if n == 1 else f"{n:g} {one}s"


def _seconds(value: float) -> str:
    return f"{value:.0f} s" if value >= 10 else f"{value:.1f} s"


#: Each code: the reason as it ends the headline, and the whole sentence with its numbers.
REASONS: Mapping[str, tuple[Callable[[Numbers], str], Callable[[Numbers], str]]] = {
    "distress": (
        lambda n: "a strong sign of strain was seen",
        lambda n: (
            f"{counted(n['signs'], 'strong sign')} of strain: stop, give distance and rest. Where "
            "fear or pain may be behind it, ask a veterinarian or a qualified behaviour "
            "professional."
        ),
    ),
    "unease": (
        lambda n: "it was not at ease",
        lambda n: (
            f"{counted(n['signs'], 'marked sign')} and {counted(n['opt_outs'], 'time')} it left "
            "the work: make it easier, shorter and better paid."
        ),
    ),
    "rule_lower": (
        lambda n: "too many did not fit",
        lambda n: _lower_words(n),
    ),
    "five_misses": (
        lambda n: f"the last {n['misses']:g} all missed",
        lambda n: f"The last {n['misses']:g} reps all missed: help it before it learns to fail.",
    ),
    "mostly_missed": (
        lambda n: "lately it mostly fails",
        lambda n: f"Only {n['met']:g} of the last {n['judged']:g} fit: it is mostly failing.",
    ),
    "rate_floor": (
        lambda n: f"it is paid only {n['per_min']:.1f} times a minute",
        lambda n: (
            f"{n['per_min']:.1f} rewards a minute at the end, {n['rate_floor_per_min']:.1f} is the "
            "least, and too few reps fit: an easier step pays more often."
        ),
    ),
    "slow_pay": (
        lambda n: "the pay is slow",
        lambda n: (
            f"{n['per_min']:.1f} rewards a minute at the end, {n['rate_floor_per_min']:.1f} is the "
            "least. It does its part: pay inside the stay, shorten the ways, keep the tin nearer."
        ),
    ),
    "ease_first": (
        lambda n: "its ease comes first",
        lambda n: f"Not quite at ease: {_ease(n)}. Nothing harder until that is gone.",
    ),
    "failed_above": (
        lambda n: "the next step failed twice",
        lambda n: (
            f"The next step was tried {n['tries']:g} times lately and mostly failed: a step is "
            "missing between the two."
        ),
    ),
    "failed_above_today": (
        lambda n: "the next step failed today",
        lambda n: "The next step was tried today and mostly failed: not again in this session.",
    ),
    "mend_timing": (
        lambda n: "first mend the marker's timing",
        lambda n: (
            f"The marker missed on {n['missed']:g} of {n['n']:g} ({_kinds(n)}): it tells the "
            "animal something else. Mend that first."
        ),
    ),
    "mend_pay": (
        lambda n: "first pay every marker",
        lambda n: (
            f"{counted(n['unpaid'], 'marker')} of {n['n']:g} brought no reward: every marker is a "
            "promise, also a mistaken one."
        ),
    ),
    "mend_hand": (
        lambda n: "the hand moves first",
        lambda n: (
            f"The hand moved before the marker on {n['before_marker']:g} of {n['n']:g}: it may be "
            "watching the hand. Keep it still until the marker."
        ),
    ),
    "help_left": (
        lambda n: "most were done with help",
        lambda n: "Most of what counted was done with more help than this step allows.",
    ),
    "lure_long": (
        lambda n: "food was long in the hand",
        lambda n: (
            f"Food was in the hand on {n['lured']:g} reps, {n['lure_reps']:g} are the usual most: "
            "soon it follows the food and not the task."
        ),
    ),
    "cue_overlap": (
        lambda n: "cue and help come together",
        lambda n: (
            f"Cue and help came together on {n['overlapped']:g} of {n['n']:g}: the cue first, then "
            "a clear pause, then the help."
        ),
    ),
    "cue_repeated": (
        lambda n: "the cue is said twice",
        lambda n: (
            f"The cue was said more than once on {n['repeated']:g} of {n['n']:g}: once, then wait."
        ),
    ),
    "not_waiting": (
        lambda n: "it also comes unasked",
        lambda n: (
            f"It came unasked in {n['alarms']:g} of {counted(n['windows'], 'wait')}: pay the "
            "waiting as well."
        ),
    ),
    "not_tested": (
        lambda n: "the waiting is not tested",
        lambda n: (
            f"Only {counted(n['windows'], 'wait')} without a cue, {n['wanted']:g} tell something: "
            "wait in between, and pay it for waiting."
        ),
    ),
    "wrong_answers": (
        lambda n: "it mixes up the cues",
        lambda n: (
            f"{n['wrong']:g} of {counted(n['n'], 'cue')} were answered with something else: fewer "
            "cues at a time, further apart."
        ),
    ),
    "uneven": (
        lambda n: f"it is weak at {n['condition']} {n['level']}",
        lambda n: (
            f"At {n['condition']} {n['level']} only {n['met']:g} of the last {n['judged']:g} fit: "
            "work there before the step gets harder."
        ),
    ),
    "rising_pause": (
        lambda n: "it comes back ever more slowly",
        lambda n: (
            f"It came back after {_seconds(n['first_s'])} at first and {_seconds(n['last_s'])} at "
            "the end: it is getting tired. A shorter session."
        ),
    ),
    "more_signs": (
        lambda n: "signs of strain grew",
        lambda n: (
            f"{counted(n['first_third'], 'sign')} in the first third, {n['last_third']:g} in the "
            "last: a shorter session."
        ),
    ),
    "dry_spell": (
        lambda n: f"it waited {n['longest_s']:.0f} s for pay",
        lambda n: (
            f"{n['longest_s']:.0f} s without pay towards the end, {n['limit_s']:.0f} s is the "
            "limit: a shorter session, or an easy rep in between."
        ),
    ),
    "left_early": (
        lambda n: "it leaves before it is let go",
        lambda n: (
            f"{n['kept']:g} of the last {n['n']:g} stayed until let go: let go sooner, and pay "
            "before it leaves."
        ),
    ),
    "plateau": (
        lambda n: "it gets no further",
        lambda n: (
            f"{n['met']:g} of {n['judged']:g} over {counted(n['sessions'], 'session')}, and no "
            "better at the end than at first: the step is too big."
        ),
    ),
    "last_step": (
        lambda n: "and it is the plan's last step",
        lambda n: (
            "The last step stands. Now other places, other people, other times, one at a time; "
            "then now and then, to keep it."
        ),
    ),
    "rule_raise": (
        lambda n: _raise_reason(n),
        lambda n: _raise_words(n),
    ),
    "too_few": (
        lambda n: _more(n, "too few to go on"),
        lambda n: f"Too few reps to decide. {_more_words(n)}".strip(),
    ),
    "between": (
        lambda n: _more(n, "neither up nor down"),
        lambda n: f"Neither enough to go on nor so few as to go back. {_more_words(n)}".strip(),
    ),
    "mid_block": (
        lambda n: _more(n, "the block is not full"),
        lambda n: f"The block is judged at its end. {_more_words(n)}".strip(),
    ),
    "nothing_judged": (
        lambda n: (
            "say of each rep whether it fits"
            if n["attempts"]
            else "mark where the behaviour begins"
        ),
        lambda n: (
            "No rep is judged: say of each whether it fits the criterion. Then it can be said "
            "whether to go on."
            if n["attempts"]
            else "Nothing is coded yet: mark where the behaviour begins, the marker and the reward."
        ),
    ),
    "at_limit": (
        lambda n: "the session was long enough",
        lambda n: "The plan's limit was reached: end on a success.",
    ),
    "over_limit": (
        lambda n: "the session was too long",
        lambda n: (
            f"{n['minutes']:.1f} min and {counted(n['attempts'], 'rep')}: more than a fifth over "
            "the plan's limit. Stop earlier."
        ),
    ),
    "food_first": (
        lambda n: "food comes before the touch",
        lambda n: (
            f"Food came first on {n['food_first']:g} of {n['n']:g} touches: first the touch, then "
            "the food."
        ),
    ),
}


def _lower_words(n: Numbers) -> str:
    if "misses" in n:
        return f"The last {n['misses']:g} reps all missed; {n['miss']:g} in a row mean: easier."
    if "clean" in n:
        return "It showed strain at this step: go back to where it was at ease."
    of = n.get("window", n.get("size", 0))
    return f"Only {n['met']:g} of the last {of:g} fit: easier, so that it succeeds again."


def _raise_reason(n: Numbers) -> str:
    if "need" in n:
        return f"the last {n['run']:g} in a row"
    if "clean" in n:
        return f"{counted(n['clean'], 'session')} in a row at ease"
    if "target" in n:
        return "and most reach the step's aim"
    if "size" in n:
        return f"{n['met']:g} of a block of {n['size']:g}"
    return f"{n['met']:g} of the last {n['window']:g}"


def _raise_words(n: Numbers) -> str:
    if "need" in n:
        return f"{counted(n['run'], 'rep')} in a row fit; {n['need']:g} are asked for."
    if "clean" in n:
        return (
            f"{counted(n['clean'], 'session')} in a row at ease at this step; "
            f"{n['clean_sessions']:g} are asked for."
        )
    if "target" in n:
        return f"Most of the last {n['window']:g} reach {n['target']:g}: the next step may come."
    if "size" in n:
        return f"{n['met']:g} of a block of {n['size']:g} fit, and what came since."
    return f"{n['met']:g} of the last {n['window']:g} fit."


def _more(n: Numbers, otherwise: str) -> str:
    more = n.get("more")
    return otherwise if more is None else f"{more:g} more would do"


def _more_words(n: Numbers) -> str:
    more = n.get("more")
    if more is not None:
        return f"{more:g} more that fit{'s' if more == 1 else ''} would do."
    if "criterion" in n:
        return f"The next rep is paid if it is better than {n['criterion']:g}."
    if "values" in n:
        return f"{counted(n['values'], 'measured rep')} so far; {n['window']:g} are looked at."
    if "clean" in n:
        return f"{counted(n['clean'], 'session')} in a row at ease of {n['clean_sessions']:g}."
    return ""


def _ease(n: Numbers) -> str:
    said = []
    if n["signs"]:
        said.append(counted(n["signs"], "marked sign"))
    if n["mild"]:
        said.append(counted(n["mild"], "slight sign"))
    if n["opt_outs"]:
        said.append(f"it left {counted(n['opt_outs'], 'time')}")
    return ", ".join(said)


def _kinds(n: Numbers) -> str:
    return ", ".join(f"{n[kind]:g} {said}" for kind, said in MISSED_WORDS.items() if n.get(kind))


def in_full(code: str, numbers: Numbers) -> str:
    """A code's whole sentence. Raises KeyError for a code nobody has words for."""
    return REASONS[code][1](numbers)


def headline(
    decision: str,
    code: str,
    numbers: Numbers,
    step: str | None,
    count: str,
    split: Sequence[str | None] | None = None,
    help_level: str | None = None,
) -> str:
    """One decision, the count it rests on, one reason.

    `step` is the step's title, where one is named, `split` are those of the steps around a new one.
    """
    reason = REASONS[code][0](numbers)
    at = f"“{step}”" if step is not None else "this step"
    begin = {
        "raise": f"Raise from {at}",
        "hold": f"Hold at {at}",
        "lower": f"One step back from {at}",
        "split": f"A smaller step before {at}",
        "fade": f"Stay at {at}, with {HELP_WORDS[help_level or 'none']}",
        "proof": f"Take {at} elsewhere",
        "end": f"Stop {at} for today",
        "none": f"Nothing to decide at {at} yet",
    }[decision]
    if decision == "split" and split and step is not None and split[0] == step:
        begin = f"A step between {at} and the next"
    if not count:
        return f"{begin}: {reason}."
    link = ", " if decision in ("raise", "proof") or code in HOLDING else ", but "
    if code in FAILING:
        link = ", and "
    return f"{begin}: {count}{link}{reason}."


#: Reasons of the school itself: no "but" before them.
HOLDING = frozenset(
    {"too_few", "between", "mid_block", "rule_raise", "last_step", "nothing_judged"}
)
#: Reasons that go the same way as a poor count.
FAILING = frozenset(
    {"rule_lower", "five_misses", "mostly_missed", "rate_floor", "plateau", "distress", "unease"}
)


def count_of(met: int, judged: int, sessions: int) -> str:
    """How many fit, over how many sessions."""
    if judged == 0:
        return ""
    over = f" over {sessions} sessions" if sessions > 1 else ""
    return f"{met} of {judged} fit{over}"


def hands_sentence(
    kinds: Mapping[str, int],
    hand_first: tuple[int, int],
    unpaid: tuple[int, int],
    food_first: tuple[int, int],
) -> str | None:
    """One sentence on the trainer's own mechanics, None where nothing is wrong.

    `food_first` is given only where it is often enough to matter.
    """
    said: list[str] = []
    if hand_first[0]:
        said.append(f"hand before the marker on {hand_first[0]} of {hand_first[1]}")
    said += [f"marker {MISSED_WORDS[kind]} on {n}" for kind, n in kinds.items() if n]
    if unpaid[0]:
        said.append(f"{counted(unpaid[0], 'marker')} without a reward")
    if food_first[0]:
        said.append(f"food before the touch on {food_first[0]} of {food_first[1]}")
    if not said:
        return None
    whole = "; ".join(said)
    return f"{whole[0].upper()}{whole[1:]}."


#: What to watch next time, by the code of what was found.
WATCH: Mapping[str, str] = {
    "distress": "Its ease comes first: stop at the first sign.",
    "unease": "Its ease comes first: easier, shorter, better paid; stop at the first sign.",
    "ease_first": "Its ease before anything harder.",
    "rising_pause": "How soon it comes back: slower means enough for today.",
    "more_signs": "The last minute: signs of strain grew there.",
    "dry_spell": "If nothing is paid for a quarter minute, make it easier at once.",
    "mend_pay": "Every marker is followed by a reward, also a mistaken one.",
    "mend_hand": "Hand still until after the marker.",
    "cue_overlap": "The cue first, a clear pause, then the help.",
    "cue_repeated": "Say it once, then wait.",
    "food_first": "First the touch, then the food; the tin out of sight.",
    "rate_floor": "If nothing is paid for a quarter minute, make it easier at once.",
    "slow_pay": "Pay sooner: inside the stay, on shorter ways, from a nearer tin.",
    "left_early": "Let it go before it leaves by itself.",
    "not_waiting": "Wait now and then without asking, and pay the waiting.",
    "not_tested": "Wait now and then without asking, five times at least, and pay the waiting.",
    "wrong_answers": "One cue several times before the other.",
    "failed_above_today": "Not the next step again before this one is sure.",
    "help_left": "Less help from the first rep on.",
    "lure_long": "No food in the moving hand.",
    "over_limit": "The watch: the last session was too long.",
}
