"""A remark on a plan in words."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from frequens.words import fill
from frequens.words.spoken import judgement, remarks

from .which import which

Numbers = Mapping[str, Any]


def remark_words(code: str, numbers: Numbers) -> tuple[str, str]:
    """The title and the sentence of a remark. Raises KeyError for a code nobody has words for."""
    title, text = remarks.REMARKS[which(code, numbers)]
    words: dict[str, str] = {}
    if "raised" in numbers:
        raised = [remarks.DIMENSIONS[one] for one in numbers["raised"]]
        words["raised"] = remarks.BETWEEN_DIMENSIONS.join(raised)
    if "help" in numbers:
        words["help"] = judgement.HELP[numbers["help"]]
    if "name" in numbers:
        words["name"] = numbers["name"] or remarks.NAMELESS
    return fill(title, numbers, **words), fill(text, numbers, **words)
