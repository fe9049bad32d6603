"""The core's planning arithmetic by name, with arguments as they come from a form."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import reduce
from operator import or_
from typing import Any, get_type_hints

from pydantic import ValidationError, validate_call

from frequens.core.planning import calculators
from frequens.core.reading.document_values import InvalidDocument

CALCULATORS: Mapping[str, Callable[..., Any]] = {
    name: getattr(calculators, name) for name in calculators.__all__
}


#: What any of them answers, for the API's description.
ANSWER = reduce(or_, (get_type_hints(one)["return"] for one in CALCULATORS.values()))


def calculate(name: str, arguments: Mapping[str, Any]) -> Any:
    """A calculator's answer.

    Raises KeyError for an unknown calculator, InvalidDocument naming the argument for one
    that is not its, missing, of another kind or out of range.
    """
    try:
        return _CHECKED[name](**arguments)
    except ValidationError as invalid:
        raise InvalidDocument(
            [f"{'.'.join(map(str, fault['loc']))}: {fault['msg']}" for fault in invalid.errors()]
        ) from invalid
    except (ValueError, ArithmeticError) as fault:
        raise InvalidDocument([str(fault)]) from fault


#: The same with their arguments checked against their own annotations first.
_CHECKED = {name: validate_call(function) for name, function in CALCULATORS.items()}
