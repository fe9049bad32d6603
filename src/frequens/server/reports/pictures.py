"""The frames a report shows: those the trainer chose, else three that tell most."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from frequens.core import InvalidSession
from frequens.media.decode.container import FilmFault
from frequens.media.ingest.still_server import still_from_child
from frequens.words import fill
from frequens.words.spoken import report as words

from ..coding.edit_checks import MOST_PICTURES
from ..coding.edit_store import fold
from ..coding.timeline import Timeline
from ..library.models import Film
from ..library.sessions import TrainingSession

#: Lines of the shorter side: a quarter of a page is not wider.
LINES = 480


@dataclass(frozen=True)
class Picture:
    """One frame as a JPEG with what it shows in words; `mark` is the event it stands on."""

    mark: str
    jpeg: bytes
    caption: str


@dataclass(frozen=True)
class Candidate:
    """A mark whose frame may be chosen."""

    mark: str
    caption: str
    film_id: str
    frame: int


def candidates(session: TrainingSession, findings: Mapping[str, Any]) -> list[Candidate]:
    """Every onset and marker of a rep that stands on a frame, in time order."""
    timeline = Timeline.of(session)
    events = fold(session).events
    found = []
    for number, rep in enumerate(findings["reps"], 1):
        for mark, caption in _marks_of(number, rep):
            stored = events.get(mark)
            if stored is None or "frame" not in stored:
                continue
            try:
                clip = timeline.clip_of(stored)
            except InvalidSession:
                # Its film has been taken out of the session.
                continue
            found.append(Candidate(mark, caption, clip.film_id, stored["frame"]))
    return found


def _marks_of(number: int, rep: Mapping[str, Any]) -> list[tuple[str, str]]:
    numbers = {"number": number, "onset_s": rep["onset_s"]}
    marks = [(rep["id"], fill(words.ONSET[rep["met"]], numbers))]
    if rep["marker_id"] is not None:
        caption = fill(
            words.MARKER,
            {"number": number, "latency_s": rep["marker_latency_s"]},
            when=words.MARKER_WHEN.get(rep["timing"], ""),
            over=words.MARKER_OVER if rep["behaviour_over"] else "",
        )
        marks.append((rep["marker_id"], caption))
    return marks


def usual_choice(findings: Mapping[str, Any]) -> list[str]:
    """The best-timed marker of a rep that fits, where that rep begins, and the latest marker."""
    timed = [r for r in findings["reps"] if r["timing_error_s"] is not None]
    good = [r for r in timed if r["met"] is not False and r["timing"] == "on_time"] or timed
    if not good:
        return [r["id"] for r in findings["reps"] if r["met"]][-1:]
    best = min(good, key=lambda r: abs(r["timing_error_s"]))
    worst = max(timed, key=lambda r: r["timing_error_s"])
    chosen = [best["id"], best["marker_id"]]
    return chosen if worst is best else [*chosen, worst["marker_id"]]


def pictures(
    session: TrainingSession, findings: Mapping[str, Any], chosen: Sequence[str] | None
) -> list[Picture]:
    """The chosen frames, as many as there is room for; one that cannot be read is left out."""
    known = {c.mark: c for c in candidates(session, findings)}
    marks = usual_choice(findings) if chosen is None else chosen
    wanted = [known[mark] for mark in marks if mark in known]
    films = {str(film.pk): film for film in session.clips}
    found = []
    for candidate in wanted[:MOST_PICTURES]:
        film: Film = films[candidate.film_id]
        try:
            jpeg = still_from_child(
                film.here(film.original),
                film.here(film.index_path),
                candidate.frame,
                film.rotation,
                LINES,
            )
        except FilmFault:
            continue
        found.append(Picture(candidate.mark, jpeg, candidate.caption))
    return found
