"""What the card of the next session says: what to watch, when to stop, how one works at a step."""

from __future__ import annotations

from collections.abc import Mapping

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
#: What to watch in one's own hands and help, by what was measured.
WATCH_HANDS: Mapping[str, str] = {
    "fade": "No more help than {help}.",
    "late": "Marker earlier: on the behaviour, not after it.",
    "early": "Marker not before the behaviour begins.",
    "slow_reward": "Reward sooner after the marker: have it ready, out of the moving hand.",
    "orphan_markers": "Some markers fell on nothing that counts: know beforehand what does.",
    "nothing": "The same quiet hands as last time.",
}
#: When to stop. `minutes` and `reps` are limits, `miss` misses in a row.
STOP: Mapping[str, str] = {
    "limit": "After {minutes:.1f} min, on a success.",
    "limit.reps": "After {minutes:.1f} min or {reps} reps, on a success.",
    "misses": "After {miss} misses in a row: a step back, pay, and end well.",
    "ease": "At heavy breathing, lameness, reluctance, or any strong sign of fear: at once.",
}
#: How one works at a step, by what the plan says of it.
MANNER: Mapping[str, str] = {
    "no_cue_yet": "No cue yet: it comes in at a later step.",
    "cue": "Cue: “{cue}”, once, then wait.",
    "answers": "Asked and not asked in turn: waiting while nothing was asked is paid as well.",
    "toss": "Toss the reward away, so that the next rep begins with coming back.",
    "in_position": "The next rep begins from where it stands.",
    "parts": "Parts: {parts}.",
    "no_help": "No help: what comes with help does not count here.",
    "help": "Help: {help} at most.",
    "more": "Write down the {quantity} of each rep: more is better.",
    "more.aim": "Write down the {quantity} of each rep: more is better, the aim is {aim}{unit}.",
    "less": "Write down the {quantity} of each rep: less is better.",
    "less.aim": "Write down the {quantity} of each rep: less is better, the aim is {aim}{unit}.",
    "until_release": "It is finished when you let it go: pay several times in place before you do.",
    "stay": "After the marker it stays: bring the reward to where it is.",
    "release": "The marker ends the rep: after it, it may leave its place.",
    "wait": "What does not fit is let pass: wait for the next.",
    "no_reward_marker": (
        "What does not fit: the mild “not that”, and only where it knows the step."
    ),
}
BETWEEN_PARTS = ", then "
#: Where a behaviour that stands is taken.
ELSEWHERE: Mapping[str, str] = {
    "place": "another place",
    "time": "another time of day",
    "person": "another person",
}
LAGS = "{condition}: {level}"
#: The card in lines, for a calendar program and a report. `step` and the like are titles.
LINES: Mapping[str, str] = {
    "warm_up": "Begin with {reps} easy reps: {step}.",
    "criterion": "Then: {step}.",
    "levels": "Where: {levels}.",
    "between": "A step is missing: {step}.",
    "limit": "At most {minutes} min.",
    "limit.reps": "At most {minutes} min or {reps} reps.",
    "pieces": "Prepare {pieces} rewards.",
}
LEVEL, BETWEEN_LEVELS = "{name} {level}", ", "
#: In a calendar, where nobody gave the learner a name.
NAMELESS = "Training"
#: A step put between two others, and when it fits.
STEP_BETWEEN: Mapping[str, str] = {
    "between": "Between “{low}” and “{high}”",
    "half_way": "Half-way to “{high}”",
    "hold": "It lasts {hold_s} s.",
    "more": "The {quantity} is {aim}{unit} or more.",
    "less": "The {quantity} is {aim}{unit} or less.",
}
UNIT = " {unit}"
