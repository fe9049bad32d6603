"""The limits a session is measured by: what each is for, and why it is what it is at first.

All of them are common practice and have no source but use; a plan may set its own.
"""

from __future__ import annotations

from dataclasses import dataclass

from frequens.words.spoken import limits as said

from ...model.events import Settings


@dataclass(frozen=True, slots=True)
class Limit:
    """One limit in seconds: its name in `Settings`, what it is about, its default, the reason."""

    name: str
    words: str
    default: float
    why: str


#: Every limit there is, those a trainer is most likely to change first.
LIMITS: tuple[Limit, ...] = tuple(
    Limit(name, words, float(getattr(Settings(), name)), why)
    for name, (words, why) in said.LIMITS.items()
)
