"""The core's planning arithmetic by name, with arguments as they come from a form."""

from __future__ import annotations

import dataclasses
import inspect
from collections.abc import Callable, Mapping
from typing import Any

from frequens.core import planning
from frequens.core.reading import InvalidDocument

CALCULATORS: Mapping[str, Callable[..., Any]] = {
    name: getattr(planning, name)
    for name in planning.__all__
    # Dates on a calendar belong to the next session, not to the plan.
    if name != "stage_schedule"
}


def calculate(name: str, arguments: Mapping[str, Any]) -> dict[str, Any]:
    """A calculator's answer as plain values.

    Raises KeyError for an unknown calculator, InvalidDocument naming the argument for one
    that is not its, missing or out of range.
    """
    function = CALCULATORS[name]
    try:
        bound = inspect.signature(function).bind(**arguments)
        return dataclasses.asdict(function(*bound.args, **bound.kwargs))
    except (TypeError, ValueError) as fault:
        raise InvalidDocument([str(fault)]) from fault
