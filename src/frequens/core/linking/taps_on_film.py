"""Where what a trainer tapped while leading a session lies on the films of it.

The phone's clock and the films' run alike; only where each film begins on the phone's clock has to
be known. What happened while no camera ran is on no film. What holds until it is changed (the step,
work and its breaks, being away) still holds when the next film begins.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

#: A thumb is no shutter: what a tap says happened within so long before it, seconds (common
#: practice).
TAP_WIDTH_S = 2.0


@dataclass(frozen=True, slots=True)
class FilmedStretch:
    """A film: where it begins on the session's time and on the phone's clock, and its length, s."""

    start_s: float
    tapped_from_s: float
    length_s: float


@dataclass(frozen=True, slots=True)
class Laid:
    """A tap on the session's time: it happened in (t_s - width_s, t_s]."""

    t_s: float
    width_s: float


#: What opens a state, and what closes it.
_OPENS = {"bout_start": "bout", "off_task_start": "off_task"}
_CLOSES = {"bout_end": "bout", "off_task_end": "off_task"}


def lay_taps(
    taps: Iterable[Mapping[str, Any]], films: Sequence[FilmedStretch]
) -> Mapping[str, Laid]:
    """Where taps lie, by their ids; those on no film are left out.

    `taps` are marks with `id`, `kind`, `t` and `width` in seconds of the phone's clock; `films`
    stand in the order they were shot. Of the states that changed while no camera ran, those that
    last are laid on the edge of a film: opened ones where the next begins, closed ones where the
    last ended.
    """
    in_order = sorted(taps, key=_best)
    laid: dict[str, Laid] = {}
    held = _Held()
    rest = iter(in_order)
    tap = next(rest, None)
    before: FilmedStretch | None = None
    for film in films:
        was = held.copy()
        while tap is not None and _best(tap) < film.tapped_from_s:
            held.take(tap)
            tap = next(rest, None)
        laid |= held.since(was, film, before)
        while tap is not None and _best(tap) <= film.tapped_from_s + film.length_s:
            held.take(tap)
            laid[tap["id"]] = _on(film, tap)
            tap = next(rest, None)
        before = film
    return laid


def _best(tap: Mapping[str, Any]) -> float:
    """The best estimate of its instant, seconds of the phone's clock."""
    best: float = tap["t"] - tap.get("width", 0.0) / 2
    return best


def _on(film: FilmedStretch, tap: Mapping[str, Any]) -> Laid:
    best = film.start_s + _best(tap) - film.tapped_from_s
    # What is on the film did not happen after its end.
    half = min(tap.get("width", 0.0) / 2, film.start_s + film.length_s - best)
    return Laid(round(best + half, 6), round(max(0.0, 2 * half), 6))


class _Held:
    """What holds until it is changed: by its name the tap that began it, or ended it."""

    def __init__(self, by: Mapping[str, Mapping[str, Any]] | None = None):
        self._by = dict(by or {})

    def copy(self) -> _Held:
        return _Held(self._by)

    def take(self, tap: Mapping[str, Any]) -> None:
        kind = tap["kind"]
        name = "step" if kind == "criterion" else _OPENS.get(kind) or _CLOSES.get(kind)
        if name is not None:
            self._by[name] = tap

    def since(
        self, was: _Held, film: FilmedStretch, before: FilmedStretch | None
    ) -> dict[str, Laid]:
        """What has changed since `was` and lasts, on the edges of the films around it."""
        laid: dict[str, Laid] = {}
        for name, tap in self._by.items():
            then = was._by.get(name)
            if then is tap:
                continue
            if name == "step" or (_is_open(tap) and not _is_open(then)):
                laid[tap["id"]] = Laid(film.start_s, 0.0)
            elif _is_open(then) and not _is_open(tap) and before is not None:
                laid[tap["id"]] = Laid(before.start_s + before.length_s, 0.0)
        return laid


def _is_open(tap: Mapping[str, Any] | None) -> bool:
    return tap is not None and tap["kind"] in _OPENS
