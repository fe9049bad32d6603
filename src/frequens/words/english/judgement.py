"""What is said of a judgement, to be read in a barn."""

from __future__ import annotations

from collections.abc import Mapping

#: Help as it stands after "with".
HELP: Mapping[str, str] = {
    "physical": "a touch",
    "food_lure": "food in the hand",
    "target": "a target",
    "empty_hand": "an empty hand",
    "gesture": "a gesture",
    "none": "no help",
}
#: How the headline begins, by the decision. `at` is a step as `AT` has it.
BEGINNINGS: Mapping[str, str] = {
    "raise": "Raise from {at}",
    "hold": "Hold at {at}",
    "lower": "One step back from {at}",
    "split": "A smaller step before {at}",
    "split.after": "A step between {at} and the next",
    "fade": "Stay at {at}, with {help}",
    "proof": "Take {at} elsewhere",
    "end": "Stop {at} for today",
    "none": "Nothing to decide at {at} yet",
}
AT, AT_NAMELESS = "“{title}”", "this step"
#: How many fit.
COUNT = "{met} of {judged} fit"
COUNT_OF_SESSIONS = "{met} of {judged} fit over {sessions} sessions"
#: Beginning, count and reason, which agrees with the count, adds to it, or is against it.
HEADLINES: Mapping[str, str] = {
    "reason": "{begin}: {reason}.",
    "agrees": "{begin}: {count}, {reason}.",
    "adds": "{begin}: {count}, and {reason}.",
    "against": "{begin}: {count}, but {reason}.",
}

_MORE = "{more} more would do"
#: Each code's reason as it ends the headline, and its whole sentence. LACKING has `lacking`.
REASONS: Mapping[str, tuple[str, str]] = {
    "distress": (
        "a strong sign of strain was seen",
        "{signs:strong sign|strong signs} of strain: stop, give distance and rest. Where fear or "
        "pain may be behind it, ask a veterinarian or a qualified behaviour professional.",
    ),
    "unease": (
        "it was not at ease",
        "{signs:marked sign|marked signs} and {opt_outs:time|times} it left the work: make it "
        "easier, shorter and better paid.",
    ),
    "rule_lower": (
        "too many did not fit",
        "Only {met} of the last {size} fit: easier, so that it succeeds again.",
    ),
    "rule_lower.window": (
        "too many did not fit",
        "Only {met} of the last {window} fit: easier, so that it succeeds again.",
    ),
    "rule_lower.misses": (
        "too many did not fit",
        "The last {misses} reps all missed; {miss} in a row mean: easier.",
    ),
    "rule_lower.clean": (
        "too many did not fit",
        "It showed strain at this step: go back to where it was at ease.",
    ),
    "five_misses": (
        "the last {misses} all missed",
        "The last {misses} reps all missed: help it before it learns to fail.",
    ),
    "mostly_missed": (
        "lately it mostly fails",
        "Only {met} of the last {judged} fit: it is mostly failing.",
    ),
    "rate_floor": (
        "it is paid only {per_min:.1f} times a minute",
        "{per_min:.1f} rewards a minute at the end, {rate_floor_per_min:.1f} is the least, and too "
        "few reps fit: an easier step pays more often.",
    ),
    "slow_pay": (
        "the pay is slow",
        "{per_min:.1f} rewards a minute at the end, {rate_floor_per_min:.1f} is the least. It does "
        "its part: pay inside the stay, shorten the ways, keep the tin nearer.",
    ),
    "ease_first": (
        "its ease comes first",
        "Not quite at ease: {ease}. Nothing harder until that is gone.",
    ),
    "failed_above": (
        "the next step failed twice",
        "The next step was tried {tries} times lately and mostly failed: a step is missing between "
        "the two.",
    ),
    "failed_above_today": (
        "the next step failed today",
        "The next step was tried today and mostly failed: not again in this session.",
    ),
    "mend_timing": (
        "first mend the marker's timing",
        "The marker missed on {missed} of {n} ({kinds}): it tells the animal something else. Mend "
        "that first.",
    ),
    "mend_pay": (
        "first pay every marker",
        "{unpaid:marker|markers} of {n} brought no reward: every marker is a promise, also a "
        "mistaken one.",
    ),
    "mend_hand": (
        "the hand moves first",
        "The hand moved before the marker on {before_marker} of {n}: it may be watching the hand. "
        "Keep it still until the marker.",
    ),
    "help_left": (
        "most were done with help",
        "Most of what counted was done with more help than this step allows.",
    ),
    "lure_long": (
        "food was long in the hand",
        "Food was in the hand on {lured} reps, {lure_reps} are the usual most: soon it follows the "
        "food and not the task.",
    ),
    "cue_overlap": (
        "cue and help come together",
        "Cue and help came together on {overlapped} of {n}: the cue first, then a clear pause, "
        "then the help.",
    ),
    "cue_repeated": (
        "the cue is said twice",
        "The cue was said more than once on {repeated} of {n}: once, then wait.",
    ),
    "not_waiting": (
        "it also comes unasked",
        "It came unasked in {alarms} of {windows:wait|waits}: pay the waiting as well.",
    ),
    "not_tested": (
        "the waiting is not tested",
        "Only {windows:wait|waits} without a cue, {wanted} tell something: wait in between, and "
        "pay it for waiting.",
    ),
    "wrong_answers": (
        "it mixes up the cues",
        "{wrong} of {n:cue|cues} were answered with something else: fewer cues at a time, further "
        "apart.",
    ),
    "uneven": (
        "it is weak at {condition} {level}",
        "At {condition} {level} only {met} of the last {judged} fit: work there before the step "
        "gets harder.",
    ),
    "rising_pause": (
        "it comes back ever more slowly",
        "It came back after {first_s:seconds} at first and {last_s:seconds} at the end: it is "
        "getting tired. A shorter session.",
    ),
    "more_signs": (
        "signs of strain grew",
        "{first_third:sign|signs} in the first third, {last_third} in the last: a shorter session.",
    ),
    "dry_spell": (
        "it waited {longest_s:.0f} s for pay",
        "{longest_s:.0f} s without pay towards the end, {limit_s:.0f} s is the limit: a shorter "
        "session, or an easy rep in between.",
    ),
    "left_early": (
        "it leaves before it is let go",
        "{kept} of the last {n} stayed until let go: let go sooner, and pay before it leaves.",
    ),
    "plateau": (
        "it gets no further",
        "{met} of {judged} over {sessions:session|sessions}, and no better at the end than at "
        "first: the step is too big.",
    ),
    "last_step": (
        "and it is the plan's last step",
        "The last step stands. Now other places, other people, other times, one at a time; then "
        "now and then, to keep it.",
    ),
    "rule_raise": (
        "{met} of the last {window}",
        "{met} of the last {window} fit.",
    ),
    "rule_raise.need": (
        "the last {run} in a row",
        "{run:rep|reps} in a row fit; {need} are asked for.",
    ),
    "rule_raise.clean": (
        "{clean:session|sessions} in a row at ease",
        "{clean:session|sessions} in a row at ease at this step; {clean_sessions} are asked for.",
    ),
    "rule_raise.target": (
        "and most reach the step's aim",
        "Most of the last {window} reach {target}: the next step may come.",
    ),
    "rule_raise.size": (
        "{met} of a block of {size}",
        "{met} of a block of {size} fit, and what came since.",
    ),
    "too_few": ("too few to go on", "Too few reps to decide. {lacking}"),
    "too_few.more": (_MORE, "Too few reps to decide. {lacking}"),
    "between": (
        "neither up nor down",
        "Neither enough to go on nor so few as to go back. {lacking}",
    ),
    "between.more": (_MORE, "Neither enough to go on nor so few as to go back. {lacking}"),
    "mid_block": ("the block is not full", "The block is judged at its end. {lacking}"),
    "mid_block.more": (_MORE, "The block is judged at its end. {lacking}"),
    "nothing_judged": (
        "mark where the behaviour begins",
        "Nothing is coded yet: mark where the behaviour begins, the marker and the reward.",
    ),
    "nothing_judged.judge": (
        "say of each rep whether it fits",
        "No rep is judged: say of each whether it fits the criterion. Then it can be said whether "
        "to go on.",
    ),
    "at_limit": (
        "the session was long enough",
        "The plan's limit was reached: end on a success.",
    ),
    "over_limit": (
        "the session was too long",
        "{minutes:.1f} min and {attempts:rep|reps}: more than a fifth over the plan's limit. Stop "
        "earlier.",
    ),
    "food_first": (
        "food comes before the touch",
        "Food came first on {food_first} of {n} touches: first the touch, then the food.",
    ),
}
#: What is missing for a raise, by the number that says it.
LACKING: Mapping[str, str] = {
    "more": "{more:more that fits|more that fit} would do.",
    "criterion": "The next rep is paid if it is better than {criterion}.",
    "values": "{values:measured rep|measured reps} so far; {window} are looked at.",
    "clean": "{clean:session|sessions} in a row at ease of {clean_sessions}.",
}
#: What was seen of its ease, where it was seen.
EASE: Mapping[str, str] = {
    "signs": "{signs:marked sign|marked signs}",
    "mild": "{mild:slight sign|slight signs}",
    "opt_outs": "it left {opt_outs:time|times}",
}
#: How markers missed, inside a sentence and in that of the hands.
MISSED: Mapping[str, str] = {
    "early": "{early} early",
    "late": "{late} late",
    "over": "{over} after it was over",
}
#: The trainer's own hands, where there is anything to say of them.
HANDS: Mapping[str, str] = {
    "hand_first": "hand before the marker on {hand_first} of {hand_of}",
    "early": "marker early on {early}",
    "late": "marker late on {late}",
    "over": "marker after it was over on {over}",
    "unpaid": "{unpaid:marker|markers} without a reward",
    "food_first": "food before the touch on {food_first} of {food_of}",
}
BETWEEN_HANDS, HANDS_SENTENCE = "; ", "{first}{rest}."

#: Each line that was asked: the question, and what was found.
CHECKED: Mapping[str, tuple[str, str]] = {
    "distress": ("Strong signs of strain?", "{signs}"),
    "unease": ("Ease: marked signs, and leaving the work?", "{signs}, and {opt_outs}"),
    "rule_lower": ("Does the school say lower?", "{decision}"),
    "five_misses": ("Misses in a row?", "{misses}"),
    "mostly_missed": ("Mostly failing?", "{met} of the last {judged} fit"),
    "rate_floor": (
        "Paid often enough?",
        "{per_min:.1f} a minute, {rate_floor_per_min:.1f} is the least",
    ),
    "rate_floor.unknown": ("Paid often enough?", "too little work to tell"),
    "ease_first": (
        "Quite at ease: slight signs, marked signs, leaving?",
        "{mild}, {signs}, {opt_outs}",
    ),
    "failed_above": ("Failed at the next step lately?", "{tries:time|times}"),
    "failed_above_today": ("And today?", "{tries:time|times}"),
    "mend_timing": ("Markers that missed?", "{missed} of {n}"),
    "mend_pay": ("Markers without a reward?", "{unpaid} of {n}"),
    "mend_hand": ("The hand before the marker?", "{before_marker} of {n}"),
    "help_left": ("More help than the step allows?", "{help} is allowed"),
    "lure_long": ("Food in the hand?", "on {lured:rep|reps}"),
    "cue_overlap": ("Cue and help together?", "{overlapped} of {n}"),
    "cue_repeated": ("Cue said more than once?", "{repeated} of {n}"),
    "not_waiting": ("Shown unasked?", "{alarms} of {windows}"),
    "not_tested": ("Waits without a cue?", "{windows}"),
    "wrong_answers": ("Answered with something else?", "{wrong} of {n}"),
    "uneven": ("Weak in one condition?", "{levels} looked at"),
    "rising_pause": (
        "Slower and slower?",
        "{first_s:.1f} s at first, {last_s:.1f} s at the end",
    ),
    "rising_pause.both": (
        "Slower and slower?",
        "{first_s:.1f} s at first, {last_s:.1f} s at the end; "
        "{back_first_s:.1f} s at first, {back_last_s:.1f} s at the end",
    ),
    "rising_pause.unknown": ("Slower and slower?", "too few to tell"),
    "more_signs": ("More signs at the end?", "{first_third} at first, {last_third} at the end"),
    "dry_spell": ("A long wait for pay?", "{longest_s:.0f} s at most"),
    "left_early": ("Left before it was let go?", "{left:time|times}"),
    "plateau": ("No further for long?", "{judged} reps on record"),
}
