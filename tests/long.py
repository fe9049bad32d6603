"""Which cases of many `make test` tries; the others are `long`."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import pytest


def few(number: int, cases: Iterable[Any]) -> list[Any]:
    """All cases for `parametrize`: the first so many as they are, the others long."""
    return [case if n < number else _long(case) for n, case in enumerate(cases)]


def _long(case: Any) -> Any:
    values = case if isinstance(case, tuple) else (case,)
    return pytest.param(*values, marks=pytest.mark.long)
