"""A judgement in words: its headline, its reasons, what was looked at, and the trainer's hands."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from frequens.words import fill, joined
from frequens.words.spoken import judgement as said

from .which import LACKING, which

Numbers = Mapping[str, Any]
#: Reasons of the school itself: they agree with the count.
AGREES = frozenset({"too_few", "between", "mid_block", "rule_raise", "last_step", "nothing_judged"})
#: Reasons that go the same way as a poor count.
ADDS = frozenset(
    {"rule_lower", "five_misses", "mostly_missed", "rate_floor", "plateau", "distress", "unease"}
)


def in_short(code: str, numbers: Numbers) -> str:
    """A code's reason as it ends the headline. Raises KeyError for one nobody has words for."""
    return fill(said.REASONS[which(code, numbers)][0], numbers)


def in_full(code: str, numbers: Numbers) -> str:
    """A code's whole sentence. Raises KeyError for a code nobody has words for."""
    template = said.REASONS[which(code, numbers)][1]
    words: dict[str, str] = {}
    if "{ease}" in template:
        words["ease"] = joined(said.EASE, numbers)
    elif "{kinds}" in template:
        words["kinds"] = joined(said.MISSED, numbers)
    elif "{lacking}" in template:
        lacking = LACKING(numbers)
        words["lacking"] = fill(said.LACKING[lacking], numbers) if lacking else ""
    return fill(template, numbers, **words).strip()


def headline(
    decision: str,
    code: str,
    numbers: Numbers,
    step: str | None,
    count: str,
    *,
    is_after: bool = False,
    help_level: str | None = None,
) -> str:
    """One decision, the count it rests on, one reason.

    `step` is the step's title, where one is named; a new step `is_after` it, or before it.
    """
    beginning = "split.after" if decision == "split" and is_after else decision
    at = said.AT_NAMELESS if step is None else fill(said.AT, {}, title=step)
    begin = fill(said.BEGINNINGS[beginning], {}, at=at, help=said.HELP[help_level or "none"])
    whole = said.HEADLINES[_link(decision, code) if count else "reason"]
    return fill(whole, {}, begin=begin, count=count, reason=in_short(code, numbers))


def _link(decision: str, code: str) -> str:
    if code in ADDS:
        return "adds"
    return "agrees" if decision in ("raise", "proof") or code in AGREES else "against"


def count_of(met: int, judged: int, sessions: int) -> str:
    """How many fit, over how many sessions."""
    if judged == 0:
        return ""
    count = said.COUNT_OF_SESSIONS if sessions > 1 else said.COUNT
    return fill(count, {"met": met, "judged": judged, "sessions": sessions})


def hands_sentence(
    kinds: Mapping[str, int],
    hand_first: tuple[int, int],
    unpaid: tuple[int, int],
    food_first: tuple[int, int],
) -> str | None:
    """One sentence on the trainer's own mechanics, None where nothing is wrong.

    `food_first` is given only where it is often enough to matter.
    """
    numbers = {
        **kinds,
        **dict(zip(("hand_first", "hand_of"), hand_first, strict=True)),
        "unpaid": unpaid[0],
        **dict(zip(("food_first", "food_of"), food_first, strict=True)),
    }
    whole = joined(said.HANDS, numbers, said.BETWEEN_HANDS)
    if not whole:
        return None
    return fill(said.HANDS_SENTENCE, {}, first=whole[0].upper(), rest=whole[1:])


def checked_words(code: str, numbers: Numbers) -> tuple[str, str]:
    """The question of a line that was asked, and what was found."""
    question, found = said.CHECKED[which(f"checked.{code}", numbers).removeprefix("checked.")]
    words = {"help": said.HELP[numbers["help"]]} if "help" in numbers else {}
    return question, fill(found, numbers, **words)
