"""Numbers put into templates: as short as they can be written, and with their noun."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from .forms import FORMS, shortest

Numbers = Mapping[str, Any]


class _Told(float):
    """A number in a template.

    ``{reps}`` is as short as it can be, ``{reps:rep|reps}`` brings the noun along, ``{s:clock}``
    has one of the `FORMS`, and what Python writes numbers by does as always.
    """

    def __format__(self, how: str) -> str:
        if "|" in how:
            one, many = how.split("|")
            return f"{shortest(self)} {one if float(self) == 1 else many}"
        if how in FORMS:
            return FORMS[how](float(self))
        return format(float(self), how) if how else shortest(self)


class _Telling:
    """What a template asks by name, numbers in their shortest form."""

    def __init__(self, numbers: Numbers, words: Mapping[str, str]):
        self._numbers, self._words = numbers, words

    def __getitem__(self, name: str) -> Any:
        value = self._words[name] if name in self._words else self._numbers[name]
        return _Told(value) if isinstance(value, int | float) else value


def fill(template: str, numbers: Numbers, **words: str) -> str:
    """The template with its numbers and names; `words` stand in a number's place.

    Raises KeyError for one that was not given.
    """
    return template.format_map(_Telling(numbers, words))


def counted(n: float, one: str) -> str:
    """A count with its noun: 1 rep, 3 reps."""
    return format(_Told(n), f"{one}|{one}s")


def joined(parts: Mapping[str, str], numbers: Numbers, between: str = ", ") -> str:
    """What is not nought of these numbers, each in its own words, in the order of `parts`."""
    return between.join(fill(said, numbers) for name, said in parts.items() if numbers.get(name))
