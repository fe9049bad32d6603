"""A session that a phone led and the film of it meet: whichever comes last finds the other."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable

from frequens.core.linking.taps_on_film import TAP_WIDTH_S
from frequens.core.model.events import MICROSECONDS

from ..coding.clips import join
from ..coding.edit_store import fold
from ..library.models import Film
from ..library.sessions import TrainingSession
from .neighbours import LONGEST_FILM, OVERLAP_S, can_join

#: A film shows a session when at least so much of the shorter of the two is in the other.
LEAST_COMMON = 0.5


def meet_session(film: Film) -> None:
    """Make a film a clip of the session that its trainer led meanwhile, where there is just one."""
    session = _session_led_then(film)
    if session is not None:
        join(film, session)


def _session_led_then(film: Film) -> TrainingSession | None:
    span = _span_of(film)
    if span is None or not film.trainer:
        return None
    led = TrainingSession.objects.filter(
        workspace=film.workspace_id,
        trainer=film.trainer,
        led_at__range=(span[0] - LONGEST_FILM, span[1]),
    )
    found = [session for session in led if _shows(span, session)]
    return found[0] if len(found) == 1 else None


def meet_films(session: TrainingSession) -> None:
    """Give a session that a phone has led to its end the films its trainer shot of it."""
    led = _led(session)
    if led is None:
        return
    shot = Film.objects.filter(
        workspace=session.workspace_id,
        trainer=session.trainer,
        filmed_at__range=(led[0] - LONGEST_FILM, led[1]),
    )
    for film in shot.order_by("filmed_at"):
        if can_join(film) and film.has_index and _session_led_then(film) == session:
            join(film, session)


Span = tuple[dt.datetime, dt.datetime]


def _shows(span: Span, session: TrainingSession) -> bool:
    """Whether a film shows a led session, and no camera of its own does at that time."""
    led = _led(session)
    if led is None or _common_s(span, led) < LEAST_COMMON * min(_length_s(span), _length_s(led)):
        return False
    return not _overlaps(span, session.films.all())


def _overlaps(span: Span, clips: Iterable[Film]) -> bool:
    spans = [_span_of(clip) for clip in clips]
    return any(other is None or _common_s(span, other) > OVERLAP_S for other in spans)


def _span_of(film: Film) -> Span | None:
    if film.filmed_at is None or film.duration_us is None:
        return None
    return film.filmed_at, film.filmed_at + dt.timedelta(seconds=film.duration_us / MICROSECONDS)


def _led(session: TrainingSession) -> Span | None:
    """From its beginning to its end, or the last that is known of it."""
    if session.led_at is None:
        return None
    state = fold(session)
    # Once a film is there the session's end is the film's.
    end_s = (state.facts.get("taps_on") or state.facts).get("end_s") or 0.0
    last_s = max((tap["t"] for tap in state.taps.values()), default=0.0) - TAP_WIDTH_S / 2
    return session.led_at, session.led_at + dt.timedelta(seconds=max(end_s, last_s))


def _common_s(one: Span, other: Span) -> float:
    return (min(one[1], other[1]) - max(one[0], other[0])).total_seconds()


def _length_s(span: Span) -> float:
    return (span[1] - span[0]).total_seconds()
