"""Sessions over HTTP: facts, edits, findings and open formats."""

from __future__ import annotations

import json
import uuid
from dataclasses import asdict
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from frequens.core import InvalidSession
from frequens.core.model.events import Settings
from frequens.core.reading.document_values import fault_words, without_nulls
from frequens.words.spoken import refusals as words

from ..accounts.models import workspace_of
from ..coding.edit_store import append_edits, fold, plan_of, settings_of
from ..coding.models import Lineage
from ..coding.open_formats import MEDIA_TYPES, MOST_BYTES, export, import_marks, import_session
from ..coding.plan_titles import titles_by_key
from ..downloads import as_download
from ..findings.judgements import judged
from ..findings.store import Measurement, measurement_if_idle, measurement_of
from ..ingest.meeting import meet_films
from ..ingest.schemas import FilmOut
from ..library.sessions import TrainingSession
from ..second_look.looks import check_open
from ..second_look.schemas import second_look_of
from .schemas import (
    ClipName,
    EditOut,
    EditsIn,
    EditsOut,
    Faults,
    FindingsOut,
    ImportedOut,
    JudgementOut,
    RestsOn,
    SessionOut,
    SessionRow,
    SettingsOut,
)

router = Router()


@router.get("", response=list[SessionRow], operation_id="sessions")
def sessions(
    request: HttpRequest,
    older_than: uuid.UUID | None = None,
    most: Annotated[int, Query(ge=1, le=500)] = 200,
    of: Annotated[list[uuid.UUID] | None, Query(max_length=200)] = None,
    loose: bool = False,
    led_alone: bool = False,
) -> list[SessionRow]:
    """The newest sessions, `most` at once, or the next of them after `older_than`.

    `of`: these only. `loose`: only those that came from a file, without film or behaviour.
    `led_alone`: only those that a phone led and of which there is no film.
    """
    wanted = TrainingSession.objects.all()
    if of is not None:
        wanted = wanted.filter(pk__in=of)
    if loose:
        wanted = wanted.filter(films__isnull=True, plan_version__isnull=True)
    if led_alone:
        wanted = wanted.filter(films__isnull=True, led_at__isnull=False)
    found = wanted.newest(request, older_than, most).select_related("plan_version")
    found = found.prefetch_related("films")
    return [
        SessionRow(
            id=session.pk,
            date=session.date_now,
            time=session.summary.get("time") or "",
            learner=session.learner_now,
            behaviour=session.behaviour_now,
            trainer=session.trainer_now,
            marks=session.marks,
            films=[ClipName(id=film.pk, name=film.name) for film in session.shot],
            behaviour_id=session.plan_version.behaviour_id if session.plan_version else None,
            is_led=session.led_at is not None,
        )
        for session in found
    ]


@router.post("/import", response={201: ImportedOut, 422: Faults}, operation_id="import_session")
def import_(request: HttpRequest) -> Any:
    """A new session without a film from a `frequens-session` document, the body of the request."""
    session = import_session(workspace_of(request), _text(request), request.user)
    return Status(201, ImportedOut(session_id=session.pk, marks=len(fold(session).events)))


@router.get("/{session_id}", response=SessionOut, operation_id="session")
def session(request: HttpRequest, session_id: uuid.UUID) -> SessionOut:
    return _out(_owned(request, session_id))


@router.delete("/{session_id}", response={204: None}, operation_id="remove_session")
def remove(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """Remove a session with its marks and its films."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    session.remove()
    return Status(204, None)


@router.get("/{session_id}/edits", response=EditsOut, operation_id="edits")
def edits(request: HttpRequest, session_id: uuid.UUID, after: int = 0) -> EditsOut:
    return _edits_after(_owned(request, session_id), after)


@router.post("/{session_id}/edits", response=EditsOut, operation_id="append_edits")
def append(request: HttpRequest, session_id: uuid.UUID, sent: EditsIn) -> Any:
    """Append changes. None is taken twice; those that cannot be are refused with their faults."""
    found = _owned(request, session_id)
    check_open(found)
    taken, refused = append_edits(
        found, ((edit.client_id, edit.body) for edit in sent.edits), request.user
    )
    if found.led_at is not None and any(_ends(edit.body) for edit in sent.edits):
        meet_films(found)
    answer = _edits_after(found, sent.after)
    answer.taken, answer.refused = taken, refused
    if not sent.findings:
        return answer
    # Asked for with every mark, and plain values already: written without another look.
    now = measurement_if_idle(found)
    body = answer.dict() | {"findings": now and _findings_body(now)}
    return HttpResponse(json.dumps(body, allow_nan=False), content_type="application/json")


@router.get("/{session_id}/findings", response=FindingsOut, operation_id="findings")
def findings(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """The session measured as it stands."""
    found = _owned(request, session_id)
    # Asked for after every mark, and plain values already: written without another look.
    body = json.dumps(_findings_body(measurement_of(found)), allow_nan=False)
    return HttpResponse(body, content_type="application/json")


def _findings_body(measurement: Measurement) -> dict[str, Any]:
    return {key: getattr(measurement, key) for key in ("seq", "findings", "faults")}


@router.get(
    "/{session_id}/judgement", response={200: JudgementOut, 422: Faults}, operation_id="judgement"
)
def judgement(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """What to do next, judged with all sessions of the behaviour up to this one."""
    found: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    known = judged(found)
    if known is None:
        return Status(422, Faults(faults=[words.NOT_MEASURABLE]))
    facts = fold(found).facts
    said, printed = known.judgement, facts.get("printed")
    return JudgementOut(
        judgement=said,
        rests_on=[
            RestsOn(
                session_id=known.sessions[place].pk,
                date=known.sessions[place].date_now,
                by_hand=known.sessions[place].by_hand is not None,
                judged=count,
                met=met,
            )
            for place, count, met in said.rests_on
        ],
        titles=titles_by_key(known.plan),
        disagrees=facts.get("disagrees") or None,
        changed=printed if printed and printed != said.headline else None,
    )


@router.get("/{session_id}/export.{form}", operation_id="export")
def export_(
    request: HttpRequest, session_id: uuid.UUID, form: Literal["json", "csv", "vtt"]
) -> Any:
    """The coded session as a file."""
    found = _owned(request, session_id)
    response = HttpResponse(export(found, form), content_type=f"{MEDIA_TYPES[form]}; charset=utf-8")
    return as_download(response, str(found), ".frequens.json" if form == "json" else f".{form}")


@router.post(
    "/{session_id}/import", response={200: ImportedOut, 422: Faults}, operation_id="import_marks"
)
def import_into(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """Replace the marks by those of a JSON, CSV or WebVTT text, the body of the request."""
    found = _owned(request, session_id)
    check_open(found)
    return ImportedOut(session_id=found.pk, marks=import_marks(found, _text(request), request.user))


def _ends(body: dict[str, Any]) -> bool:
    """Whether a change says when the session was over."""
    facts = body.get("set")
    return isinstance(facts, dict) and facts.get("end_s") is not None


def _text(request: HttpRequest) -> str:
    body = request.read(MOST_BYTES + 1)
    if len(body) > MOST_BYTES:
        raise InvalidSession([fault_words("larger_than_mb", mb=MOST_BYTES // 1024**2)])
    try:
        return body.decode("utf-8")
    except UnicodeDecodeError as error:
        raise InvalidSession([fault_words("not_utf8", byte=error.start)]) from error


def _owned(request: HttpRequest, session_id: uuid.UUID) -> TrainingSession:
    found: TrainingSession = TrainingSession.codings.get_or_404(request, session_id)
    return found


def _edits_after(session: TrainingSession, after: int) -> EditsOut:
    found = [
        EditOut(seq=edit.pk, client_id=edit.client_id, body=edit.body)
        for edit in session.edits.filter(pk__gt=after)
    ]
    last = found[-1].seq if found else session.edits.values_list("pk", flat=True).last() or 0
    seq = found[-1].seq if found else after
    return EditsOut(history=Lineage.now(), last=last, seq=seq, edits=found)


def _out(session: TrainingSession) -> SessionOut:
    state = fold(session)
    version = session.plan_version
    return SessionOut(
        id=session.pk,
        date=state.facts.get("date") or session.date,
        learner=state.facts.get("learner") or session.learner,
        behaviour=state.facts.get("behaviour") or session.behaviour,
        plan=without_nulls(plan_of(session, state)),
        settings=SettingsOut(**asdict(Settings(**settings_of(session, state)))),
        marks=len(state.events),
        films=[FilmOut.from_film(film) for film in session.shot],
        behaviour_id=version.behaviour_id if version else None,
        plan_number=version.number if version else None,
        trainer=session.trainer_now,
        time=state.facts.get("time") or "",
        handler=state.facts.get("handler") or "",
        place=state.facts.get("place") or "",
        tags=state.facts.get("tags") or [],
        notes={part: text for part, text in state.notes.items() if text},
        by_hand=session.by_hand,
        report=without_nulls(state.facts.get("report") or {}),
        second_look=second_look_of(session),
    )
