"""Drills over HTTP: one's own, and nobody else's."""

from __future__ import annotations

import datetime as dt
import secrets
import uuid
from collections.abc import Iterable, Sequence
from itertools import groupby
from typing import Any, cast

import numpy as np
from django.db.models import QuerySet
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Router, Status

from frequens.core.drill import (
    INSTANTS,
    LEVELS,
    Ran,
    Score,
    advise,
    change,
    delays_of,
)
from frequens.core.drill.from_film import LEAST_REPS
from frequens.core.reading.document_values import fault_at
from frequens.media.decode.samples import RATE
from frequens.media.sound.clicks import find_candidates, presses_in
from frequens.words import fill
from frequens.words.spoken import refusals as words

from ..accounts.api import Refusal
from ..accounts.models import workspace_of
from ..findings.store import measurements_of
from ..library.sessions import TrainingSession
from .kept_runs import drill_of, pressed_in, score_of
from .lag_in_use import learn, learned
from .models import DrillRun
from .schemas import (
    CurveOut,
    DrillIn,
    DrillOut,
    DrillRow,
    DrillSession,
    DrillsOut,
    HeardOut,
    LeaveOutIn,
    PressedIn,
    ScoredOut,
)
from .scripts import FILM_LEVEL, drawn_script, film_script

router = Router()

#: So many of one's drills are shown and reckoned with, and so many sessions offered.
MOST_RUNS, MOST_SESSIONS = 500, 50
#: A drill that was done may wait so long for its page to be on the line again.
KEPT_UNDONE = dt.timedelta(days=1)
#: Of a drill's sound. A film has to be waited for between its pieces.
MOST_SOUND_S, BYTES_A_SAMPLE = 87, 2


@router.get("", response=DrillsOut, operation_id="drills")
def drills(request: HttpRequest) -> DrillsOut:
    """One's own drills and what they say."""
    runs = list(_own(request).filter(measured__isnull=False)[:MOST_RUNS])
    rows = [_row(run, score_of(run)) for run in runs]
    counted = [row for row in rows if not row.left_out]
    return DrillsOut(
        levels=list(LEVELS),
        runs=rows,
        curves=list(_curves(counted)),
        learned=learned(runs),
        advice={
            instant: advise(
                [
                    Ran(row.level, row.caught.of, row.caught.count, row.wrong)
                    for row in reversed(counted)
                    if row.level != FILM_LEVEL and row.instant == instant
                ]
            )
            for instant in INSTANTS
        },
    )


@router.get("/sessions", response=list[DrillSession], operation_id="drill_sessions")
def drill_sessions(request: HttpRequest) -> list[DrillSession]:
    """The newest sessions whose films can be drilled on."""
    sessions = TrainingSession.objects.of(request).seen_by(request)
    filmed = sessions.filter(films__isnull=False, summary__marks__gte=LEAST_REPS).distinct()
    found = list(filmed[:MOST_SESSIONS])
    measured = measurements_of(found)
    reps = {
        session.pk: known["counts"]["attempts"]
        for session in found
        if (known := measured[session.pk].findings)
    }
    return [
        DrillSession(
            id=session.pk,
            date=session.date_now,
            learner=session.learner_now,
            behaviour=session.behaviour_now,
            reps=reps[session.pk],
        )
        for session in found
        if reps.get(session.pk, 0) >= LEAST_REPS
    ]


@router.post("", response={201: DrillOut, 422: Refusal}, operation_id="begin_drill")
def begin_drill(request: HttpRequest, sent: DrillIn) -> Any:
    """Draw a drill. It counts once it is done; those that never were go after a day."""
    given_up = timezone.now() - KEPT_UNDONE
    _own(request).filter(measured__isnull=True, created_at__lt=given_up).delete()
    seed = secrets.randbits(32) if sent.seed is None else sent.seed
    session: TrainingSession | None = None
    try:
        if sent.session_id is not None:
            session = TrainingSession.objects.get_or_404(request, sent.session_id)
            script = film_script(cast(TrainingSession, session), sent.instant, sent.seconds, seed)
        elif sent.level is not None:
            script = drawn_script(sent.level, sent.instant, sent.asked, sent.seconds, seed)
        else:
            raise ValueError(fault_at("level", "no_level"))
    except ValueError as fault:
        return Status(422, Refusal(fault=str(fault)))
    run = DrillRun.objects.create(
        workspace=workspace_of(request),
        author_id=request.user.pk,
        session=session,
        source="film" if session else "drawn",
        instant=sent.instant,
        level=FILM_LEVEL if session else sent.level or "",
        seconds=sent.seconds,
        script=script.dict(),
    )
    return Status(201, drill_of(run))


@router.get("/{run_id}", response={200: ScoredOut, 409: Refusal}, operation_id="drill")
def drill(request: HttpRequest, run_id: uuid.UUID) -> Any:
    """A finished drill, mark by mark."""
    run = _run(request, run_id)
    if run.measured is None:
        return Status(409, Refusal(fault=words.DRILL_NOT_DONE))
    return Status(200, _scored(run))


@router.put(
    "/{run_id}/pressed", response={200: ScoredOut, 422: Refusal}, operation_id="finish_drill"
)
def finish_drill(request: HttpRequest, run_id: uuid.UUID, sent: PressedIn) -> Any:
    """Keep what was pressed. Sent once more it changes nothing: what came first counts."""
    run = _run(request, run_id)
    if run.measured is None:
        windows = drill_of(run).windows
        for place in sent.shown:
            if not (0 <= place < len(windows)) or windows[place].due_s is None:
                said = fault_at(f"shown.{place}", "not_asked")
                return Status(422, Refusal(fault=said))
        measured = sent.dict()
        measured["shown"] = {str(place): list(at) for place, at in sent.shown.items()}
        # Two that come at once: one of them is first.
        own = _own(request).filter(pk=run.pk, measured__isnull=True)
        own.update(measured=measured, finished_at=timezone.now())
        run.refresh_from_db()
        learn(request.user)
    return Status(200, _scored(run))


@router.post(
    "/{run_id}/heard",
    response={200: HeardOut, 413: Refusal},
    operation_id="hear_drill",
    openapi_extra={"requestBody": {"content": {"application/octet-stream": {}}}},
)
def hear_drill(request: HttpRequest, run_id: uuid.UUID) -> Any:
    """The clicks in a drill's sound: 16 bit samples, 48 000 a second, one channel. None is kept."""
    _run(request, run_id)
    if len(request.body) > MOST_SOUND_S * RATE * BYTES_A_SAMPLE:
        said = fill(words.TOO_MUCH_SOUND, {"most_s": MOST_SOUND_S})
        return Status(413, Refusal(fault=said))
    whole = len(request.body) // BYTES_A_SAMPLE * BYTES_A_SAMPLE
    samples = np.frombuffer(request.body[:whole], "<i2").astype(np.float32) / np.float32(2**15)
    return Status(200, HeardOut(clicks_s=presses_in(find_candidates(samples))))


@router.post("/{run_id}/left-out", response=DrillRow, operation_id="leave_out_drill")
def leave_out_drill(request: HttpRequest, run_id: uuid.UUID, sent: LeaveOutIn) -> DrillRow:
    """Leave a drill out of everything, or take it in again."""
    run = get_object_or_404(_own(request), pk=run_id, measured__isnull=False)
    run.left_out = sent.left_out
    run.save(update_fields=["left_out"])
    learn(request.user, anew=True)
    return _row(run, score_of(run))


def _own(request: HttpRequest) -> QuerySet[DrillRun]:
    own: QuerySet[DrillRun] = DrillRun.objects.of(request).filter(author=request.user.pk)
    return own


def _run(request: HttpRequest, run_id: uuid.UUID) -> DrillRun:
    return get_object_or_404(_own(request), pk=run_id)


def _row(run: DrillRun, score: Score) -> DrillRow:
    lag, drill = score.timing.lag_s, drill_of(run)
    return DrillRow(
        id=run.pk,
        at=cast(dt.datetime, run.finished_at),
        source=drill.source,
        instant=drill.instant,
        level=drill.level,
        by=pressed_in(run).by,
        caught=score.caught,
        wrong=score.wrong,
        marks=lag.n,
        lag_s=lag.median,
        low_s=lag.median_low,
        high_s=lag.median_high,
        spread_s=score.timing.spread_s,
        left_out=run.left_out,
    )


def _scored(run: DrillRun) -> ScoredOut:
    score, pressed = score_of(run), pressed_in(run)
    return ScoredOut(
        run=_row(run, score),
        drill=drill_of(run),
        score=score,
        delays=delays_of(score.timing.lag_s, pressed.frame_s, pressed.by),
    )


def _curves(rows: Sequence[DrillRow]) -> Iterable[CurveOut]:
    """Like with like: a curve for each kind of drill."""

    def kind(row: DrillRow) -> tuple[str, str, str]:
        return row.source, row.instant, row.level

    for _, alike in groupby(sorted(rows, key=kind), key=kind):
        told = list(alike)
        first = told[0]
        yield CurveOut(
            source=first.source,
            instant=first.instant,
            level=first.level,
            lag=change((row.at.date(), row.lag_s) for row in told if row.lag_s is not None),
            spread=change((r.at.date(), r.spread_s) for r in told if r.spread_s is not None),
        )
