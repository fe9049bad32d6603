"""What a plan's steps are called."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from frequens.words.spoken import judgement as words


def titles_by_key(plan: Mapping[str, Any]) -> dict[str, str]:
    """A plan's approximations' titles by their keys."""
    return {s["key"]: s.get("title") or s["key"] for s in plan.get("approximations", [])}


def titles_of(plan: Mapping[str, Any]) -> Callable[[str | None], str]:
    """Names a plan's approximations by their keys."""
    titles = titles_by_key(plan)
    return lambda key: titles.get(key or "", key or words.AT_NAMELESS)
