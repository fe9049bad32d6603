"""Films that were shot soon after one another: clips of one session, perhaps."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping, Sequence
from functools import reduce
from operator import or_
from typing import Any

from django.db.models import Q

from ..library.models import Film
from ..library.sessions import TrainingSession

#: The camera was off for no longer than that between clips of one session: a short rest (common
#: practice), no other session of the day.
LONGEST_OFF_S = 600.0
#: A film that begins earlier than the other ends is no next clip, but another camera.
OVERLAP_S = 1.0
#: No film is longer, so that none further back can be near.
LONGEST_FILM = dt.timedelta(hours=6)


def sessions_before(films: Sequence[Film]) -> Mapping[Any, tuple[TrainingSession, float]]:
    """By film: the session whose last clip ended shortly before it, and how long before, seconds.

    Only for films that can join one: alone in their session, and without marks.
    """
    fit = [film for film in films if can_join(film)]
    windows = [Q(filmed_at__range=(at - LONGEST_FILM, at)) for f in fit if (at := f.filmed_at)]
    if not windows:
        return {}
    of_workspaces = {film.workspace_id for film in fit}
    others = Film.objects.filter(
        reduce(or_, windows), workspace__in=of_workspaces, session__isnull=False
    ).exclude(duration_us=None)
    near: dict[Any, tuple[TrainingSession, float]] = {}
    last = _last_clips(others.select_related("session"))
    for film in fit:
        off = {other: _off_s(other, film) for other in last if _fit(other, film)}
        off = {o: s for o, s in off.items() if -OVERLAP_S <= s <= LONGEST_OFF_S}
        if off:
            closest = min(off, key=lambda other: abs(off[other]))
            if closest.session is not None:
                near[film.pk] = closest.session, max(0.0, off[closest])
    return near


def can_join(film: Film) -> bool:
    """Whether it has a time, and is alone in a session without marks."""
    session = film.session
    if session is None or film.filmed_at is None or session.marks:
        return False
    return len(session.films.all()) == 1


def _last_clips(films: Any) -> list[Film]:
    """The last film of each session."""
    last: dict[Any, Film] = {}
    for film in films:
        before = last.get(film.session_id)
        if before is None or before.filmed_at < film.filmed_at:
            last[film.session_id] = film
    return list(last.values())


def _fit(earlier: Any, film: Any) -> bool:
    """Whether nobody has said yet that they show different work; both have a session."""
    one, other = earlier.session, film.session
    if earlier.workspace_id != film.workspace_id or one.pk == other.pk:
        return False
    said = ((one.learner_now, other.learner_now), (one.behaviour_now, other.behaviour_now))
    return all(not a or not b or a == b for a, b in said)


def _off_s(earlier: Any, film: Any) -> float:
    ended = earlier.filmed_at + dt.timedelta(microseconds=earlier.duration_us)
    off: dt.timedelta = film.filmed_at - ended
    return off.total_seconds()
