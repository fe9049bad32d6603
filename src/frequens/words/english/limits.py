"""The limits a session is measured by: what each is about, and why it is what it is at first."""

from __future__ import annotations

from collections.abc import Mapping

#: By name: what it is about, and the reason.
LIMITS: Mapping[str, tuple[str, str]] = {
    "on_time_s": (
        "a marker is on time up to",
        "Later than half a second, the animal is often doing the next thing already.",
    ),
    "reward_limit_s": (
        "a reward is soon up to",
        "Longer than three seconds after the marker, something else comes in between.",
    ),
    "dry_spell_s": (
        "nothing paid is a dry spell from",
        "Half a minute without pay is when most animals begin to look elsewhere.",
    ),
    "response_limit_s": (
        "a cue is answered within",
        "What comes later than ten seconds is hardly an answer any more.",
    ),
    "cue_repeat_s": (
        "a cue said again is the same cue within",
        "Said again while one still waits for the first, it asks for the same thing once.",
    ),
    "cue_lead_min_s": (
        "a cue comes before the help by at least",
        "Cue and help at the same moment: the help is what is seen, and the cue is not heard.",
    ),
    "return_limit_s": (
        "sent away, it comes back within",
        "Longer than half a minute is a break that the animal takes.",
    ),
    "exposure_pay_s": (
        "a touch is paid up to",
        "Food within five seconds of the end still belongs to the touch.",
    ),
    "link_window_s": (
        "a marker is of a rep up to",
        "More than three seconds after it began, or after it ended, is of something else.",
    ),
    "anticipation_s": (
        "a marker may come before the behaviour by",
        "Half a second before it begins, the trainer saw it coming; earlier it marks nothing.",
    ),
    "repeat_s": (
        "two markers are one within",
        "A second press within a second is a slip of the thumb.",
    ),
    "reward_link_s": (
        "a reward is of a marker up to",
        "After ten seconds nobody could say what the food was for.",
    ),
    "reward_lead_s": (
        "a reward may come before its marker by",
        "The hand is sometimes a moment faster than the marker.",
    ),
    "rate_window_s": (
        "the curve of the rate looks back over",
        "Half a minute is long enough to count and short enough to see it fall.",
    ),
}
