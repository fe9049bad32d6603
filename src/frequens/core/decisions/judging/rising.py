"""Whether pauses or returns rose so much that it is tiredness and not chance."""

from __future__ import annotations

from ...rules.judgement_numbers import Judging
from .digest import Rise


def has_risen(rise: Rise | None, numbers: Judging) -> bool:
    """Beyond chance (Kendall's p), and by enough to notice."""
    if rise is None or rise.p is None or rise.first_s is None or rise.last_s is None:
        return False
    least = max(numbers.pause_rise_s, rise.first_s / 2)
    is_trend = rise.n >= numbers.pauses and rise.p < numbers.pause_p
    return is_trend and rise.last_s - rise.first_s >= least
