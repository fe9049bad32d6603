"""Arguments that cannot be right are refused by name."""

from __future__ import annotations

import math


def positive(name: str, value: float) -> float:
    """The value, if it is a finite number above zero. Raises ValueError otherwise."""
    if not (math.isfinite(value) and value > 0):
        raise ValueError(f"{name} must be above 0, not {value!r}")
    return value


def between(name: str, value: float, low: float, high: float) -> float:
    """The value, if it lies from low to high. Raises ValueError otherwise."""
    if not (math.isfinite(value) and low <= value <= high):
        raise ValueError(f"{name} must lie from {low:g} to {high:g}, not {value!r}")
    return value


def whole(name: str, value: int, low: int, high: int) -> int:
    """The value, if it is a whole number from low to high. Raises ValueError otherwise."""
    if isinstance(value, bool) or int(value) != value or not low <= value <= high:
        raise ValueError(f"{name} must be a whole number from {low} to {high}, not {value!r}")
    return int(value)
