"""The numbers of the judgement's rules: what each is about, and why it is what it is at first."""

from __future__ import annotations

from collections.abc import Mapping

#: By name: what it is about, and the reason.
NUMBERS: Mapping[str, tuple[str, str]] = {
    "memory_days": (
        "days a session is remembered",
        "What was sure three weeks ago is not sure today.",
    ),
    "try_reps": ("judged reps at the step above that are a try", "One or two are an accident."),
    "try_share": ("a try failed below this share", "Less than half means that it was not ready."),
    "sure_reps": ("judged reps after which the step above was done", "Fewer are luck."),
    "sure_share": ("it was done from this share on", "Four of five is what most call sure."),
    "unease_signs": (
        "marked signs that are unease",
        "Three times it said the same: it is no accident any more.",
    ),
    "unease_opt_outs": ("times it left that are unease", "Once may be a fly; twice is an answer."),
    "opt_out_share": (
        "and at least this share of its attempts",
        "In a long session two are few, in a short one many.",
    ),
    "misses": ("misses in a row that go down, whatever the school", "Five failures teach failing."),
    "low_reps": ("of the last reps", "Ten tell a poor stretch from a poor moment."),
    "low_share": ("below this share it goes down", "Less than four of ten is mostly failing."),
    "good_share": ("success that is enough", "With four of five the step is not too hard."),
    "last_reps": ("looking at the last reps", "What came last counts most."),
    "cycle_s": (
        "seconds one rep takes beside hold and way",
        "Marker, reward and coming back take about ten seconds: six a minute.",
    ),
    "two_signs": ("marked signs that keep the step", "Two are a question; ease comes first."),
    "mild_signs": ("slight signs that keep the step", "Each by itself is little; four are not."),
    "mild_per_min": ("and at least so many a minute", "In a long session four may be far apart."),
    "missed": ("missed markers that are mended first", "Three are no slip any more."),
    "missed_share": ("and at least this share", "A third of wrong clicks teaches something else."),
    "unpaid": ("unpaid markers that are mended first", "Each marker is a promise."),
    "unpaid_share": ("and at least this share", "One of five broken, and it stops believing."),
    "hand": ("reps with the hand first that are mended first", "It begins to watch the hand."),
    "hand_share": ("and at least this share", "Then the hand is the cue."),
    "lure_reps": ("reps with food in the hand, at most", "Beyond a handful the food is the cue."),
    "lure_recent": ("and one of the last reps", "A lure that is gone is no fault."),
    "cue": ("cues at fault that are mended first", "Three are a habit."),
    "cue_share": ("and at least this share", "A third is enough to learn the wrong thing."),
    "windows": ("waits it takes to know of waiting", "Fewer say nothing of what it does unasked."),
    "alarms": ("times unasked that are too many", "Once is once."),
    "alarm_share": ("and more than this share", "One of five is more than a slip."),
    "wrong": ("wrong answers that are too many", "Once is once."),
    "wrong_share": ("and more than this share", "One of five is more than a slip."),
    "level_reps": ("judged reps that tell of a condition", "Fewer may be chance."),
    "level_last": ("looking at the last reps with it", "What came last counts most."),
    "level_share": ("weak below this share", "It fails there more often than not."),
    "pauses": ("pauses it takes to see a trend", "Fewer rise and fall by chance."),
    "pause_p": ("chance that is small enough", "One in twenty."),
    "pause_rise_s": ("and slower by at least", "Less than a second nobody notices."),
    "more_signs": ("more signs at the end than at first", "One more is chance."),
    "stays": ("looking at the last stays", "What came last counts most."),
    "kept_share": ("stays until let go that are enough", "Four of five is what most call sure."),
    "plateau_reps": ("reps without getting further", "Thirty are enough to have learnt it."),
    "plateau_sessions": ("over sessions", "A poor day is no plateau."),
    "plateau_low": ("from this share", "Below, it is too hard."),
    "plateau_high": ("up to this share", "Above, it is nearly there."),
    "plateau_gain": ("growing by less than", "What grows needs no other step."),
    "over": ("times the limit that is too long", "A fifth over is no rounding any more."),
    "easy_end": ("easy reps at the end that count for nothing", "Ending well is no step down."),
}
