"""Learners, behaviours and plans over HTTP."""

from __future__ import annotations

import json
import uuid
from typing import Annotated, Any, cast

from django.db import transaction
from django.db.models import Count
from django.http import Http404, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Query, Router, Status

from frequens.core.decisions.judging import NUMBERS
from frequens.core.planning.shaping import (
    LIMITS,
    STARTERS,
    PlanDocument,
    read_shaping_plan,
    remarks,
    steps_in_use,
)
from frequens.core.planning.shaping.document import FORMAT, VERSION
from frequens.core.reading.document_values import InvalidDocument, fault_at
from frequens.words.spoken import exports
from frequens.words.spoken import refusals as words

from ..accounts.models import workspace_of
from ..coding.edit_store import fold, plan_of
from ..coding.plan_titles import titles_by_key
from ..downloads import as_download
from ..library.sessions import TrainingSession
from ..sessions.schemas import Faults
from . import removal
from .calculators import ANSWER, CALCULATORS, calculate
from .drafts import Overtaken, add_version, keep
from .models import Behaviour, Learner, PlanVersion
from .next_card import calendar_of, card_of, put_between
from .schemas import (
    ArgumentsIn,
    BehaviourIn,
    BehaviourOut,
    BehaviourRow,
    BetweenOut,
    DraftIn,
    FilmedForIn,
    FollowedOut,
    LearnerIn,
    LearnerOut,
    LimitOut,
    NextOut,
    PlanOut,
    ReadIn,
    ReadOut,
    RemarkOut,
    ScriptOut,
    StarterOut,
    VersionOut,
)
from .scripts import followed_script, script_of
from .worked_steps import put_under, sessions_worked

learners_router = Router()
behaviours_router = Router()
plans_router = Router()


@learners_router.get("", response=list[LearnerOut], operation_id="learners")
def learners(request: HttpRequest) -> Any:
    return Learner.objects.of(request)


@learners_router.post("", response={201: LearnerOut}, operation_id="add_learner")
def add_learner(request: HttpRequest, sent: LearnerIn) -> Any:
    return Status(201, Learner.objects.create(workspace=workspace_of(request), **sent.dict()))


@learners_router.put("/{learner_id}", response=LearnerOut, operation_id="change_learner")
def change_learner(request: HttpRequest, learner_id: uuid.UUID, sent: LearnerIn) -> Any:
    found: Learner = Learner.objects.get_or_404(request, learner_id)
    for key, value in sent.dict().items():
        setattr(found, key, value)
    found.save()
    return found


@learners_router.delete("/{learner_id}", response={204: None}, operation_id="remove_learner")
def remove_learner(request: HttpRequest, learner_id: uuid.UUID, sessions: bool = False) -> Any:
    """Remove a learner with its plans; `sessions`: and its sessions with their films.

    Without, sessions keep the plan they were filmed under.
    """
    removal.remove_learner(Learner.objects.get_or_404(request, learner_id), sessions)
    return Status(204, None)


@behaviours_router.get("", response=list[BehaviourRow], operation_id="behaviours")
def behaviours(request: HttpRequest) -> list[BehaviourRow]:
    found = Behaviour.objects.of(request).annotate(filmed=Count("versions__sessions"))
    rows = []
    for behaviour in found.prefetch_related("versions"):
        document = list(behaviour.versions.all())[-1].document
        rows.append(
            BehaviourRow(
                id=behaviour.pk,
                learner_id=behaviour.learner_id,
                name=behaviour.name,
                goal=document.get("goal", ""),
                steps=_in_use(document),
                sessions=behaviour.filmed,
            )
        )
    return rows


@behaviours_router.post("", response={201: BehaviourOut, 422: Faults}, operation_id="add_behaviour")
def add_behaviour(request: HttpRequest, sent: BehaviourIn) -> Any:
    """A new behaviour. A document that cannot be a plan is refused with its faults."""
    learner = Learner.objects.get_or_404(request, sent.learner_id)
    plan = read_shaping_plan(_first_plan(request, sent))
    name = sent.name.strip() or plan.get("behaviour") or exports.NEW_BEHAVIOUR
    with transaction.atomic():
        behaviour = Behaviour.objects.create(
            workspace=learner.workspace, learner=learner, name=name
        )
        add_version(behaviour, {**plan, "behaviour": name}, request.user)
    return Status(201, _out(behaviour))


def _first_plan(request: HttpRequest, sent: BehaviourIn) -> Any:
    if sent.document is not None:
        return sent.document
    if sent.copy_of is not None:
        original: Behaviour = Behaviour.objects.get_or_404(request, sent.copy_of)
        return original.current.document
    if sent.starter is not None:
        if sent.starter not in STARTERS:
            raise InvalidDocument([fault_at("starter", "no_starter", value=repr(sent.starter))])
        return STARTERS[sent.starter]
    return {"format": FORMAT, "version": VERSION}


@behaviours_router.get("/{behaviour_id}", response=BehaviourOut, operation_id="behaviour")
def behaviour(request: HttpRequest, behaviour_id: uuid.UUID) -> BehaviourOut:
    return _out(Behaviour.objects.get_or_404(request, behaviour_id))


@behaviours_router.delete("/{behaviour_id}", response={204: None}, operation_id="remove_behaviour")
def remove_behaviour(request: HttpRequest, behaviour_id: uuid.UUID, sessions: bool = False) -> Any:
    """Remove a behaviour and its plans; `sessions`: and its sessions with their films.

    Without, sessions keep the plan they were filmed under.
    """
    removal.remove_behaviour(Behaviour.objects.get_or_404(request, behaviour_id), sessions)
    return Status(204, None)


@behaviours_router.put(
    "/{behaviour_id}/plan",
    response={200: PlanOut, 409: PlanOut, 422: Faults},
    operation_id="keep_plan",
)
def keep_plan(request: HttpRequest, behaviour_id: uuid.UUID, draft: DraftIn) -> Any:
    """Keep a draft. Where the plan has gone on since, 409 and the plan as it stands."""
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    try:
        kept = keep(found, draft.document, draft.number, draft.revision, request.user)
    except Overtaken as overtaken:
        return Status(409, _plan_out(overtaken.current))
    return _plan_out(kept)


@behaviours_router.get(
    "/{behaviour_id}/versions", response=list[VersionOut], operation_id="plan_versions"
)
def versions(request: HttpRequest, behaviour_id: uuid.UUID) -> list[VersionOut]:
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    return [
        VersionOut(
            number=version.number,
            saved_at=version.saved_at,
            steps=_in_use(version.document),
            sessions=version.filmed,
        )
        for version in found.versions.annotate(filmed=Count("sessions"))
    ]


@behaviours_router.get(
    "/{behaviour_id}/versions/{number}", response=PlanOut, operation_id="plan_version"
)
def version(request: HttpRequest, behaviour_id: uuid.UUID, number: int) -> PlanOut:
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    wanted = found.versions.filter(number=number).first()
    if wanted is None:
        raise Http404
    return _plan_out(wanted)


@behaviours_router.get("/{behaviour_id}/plan.json", operation_id="export_plan")
def export_plan(request: HttpRequest, behaviour_id: uuid.UUID) -> HttpResponse:
    """The plan as a `frequens-plan` file."""
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    body = json.dumps(found.current.document, indent=1, ensure_ascii=False) + "\n"
    response = HttpResponse(body, content_type="application/json; charset=utf-8")
    return as_download(response, str(found), ".frequens-plan.json")


@behaviours_router.post("/{behaviour_id}/sessions", response={204: None}, operation_id="filmed_for")
def filmed_for(request: HttpRequest, behaviour_id: uuid.UUID, sent: FilmedForIn) -> Any:
    """Say that a session was filmed for this behaviour: it takes the plan as it is now."""
    found: Behaviour = Behaviour.objects.get_or_404(request, behaviour_id)
    session: TrainingSession = TrainingSession.objects.get_or_404(request, sent.session_id)
    put_under(session, found.current, request.user)
    return Status(204, None)


@plans_router.get(
    "/next/{uuid:session_id}", response={200: NextOut, 422: Faults}, operation_id="next_session"
)
def next_(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """The card of the session after this one."""
    card = card_of(TrainingSession.objects.get_or_404(request, session_id))
    if card is None:
        return Status(422, Faults(faults=[words.NOT_MEASURABLE]))
    return card


@plans_router.get("/next/{uuid:session_id}.ics", operation_id="next_session_calendar")
def next_calendar(request: HttpRequest, session_id: uuid.UUID) -> HttpResponse:
    """The next session as a calendar entry."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    card = card_of(session)
    if card is None:
        raise Http404
    body = calendar_of(session, card, timezone.now())
    response = HttpResponse(body, content_type="text/calendar; charset=utf-8")
    return as_download(response, f"{session} next", ".ics")


@plans_router.get(
    "/next/{uuid:session_id}/script",
    response={200: ScriptOut, 422: Faults},
    operation_id="next_script",
)
def next_script(
    request: HttpRequest,
    session_id: uuid.UUID,
    seed: Annotated[int | None, Query(ge=0, le=2**53)] = None,
) -> Any:
    """The script of the session after this one: the one taken along, or one of its own seed."""
    found = script_of(TrainingSession.objects.get_or_404(request, session_id), seed)
    if found is None:
        return Status(422, Faults(faults=[words.NOT_MEASURABLE]))
    card, lines = found.made.card, found.script.lines
    return ScriptOut(
        seed=found.script.seed,
        lines=list(lines),
        is_kept=found.is_kept,
        reps=sum(line.sort != "break" for line in lines),
        rewards=sum(line.pays for line in lines),
        minutes=card["changed"].get("minutes") or card["minutes"],
        levels=card["levels"],
        titles=card["titles"],
        criteria={
            step["key"]: step["criterion"]
            for step in found.made.plan.get("approximations", [])
            if step.get("criterion")
        },
        stop_rules=card["stop_rules"],
    )


@plans_router.get(
    "/followed/{uuid:session_id}",
    response=FollowedOut | None,
    operation_id="followed_script",
)
def followed_(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """A session beside the script that was taken along to it; null where none was."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    found = followed_script(session)
    if found is None:
        return None
    script, kept = found
    return FollowedOut(
        seed=script.seed,
        script=list(script.lines),
        followed=kept,
        titles=titles_by_key(plan_of(session, fold(session))),
    )


@plans_router.get("/starters", response=list[StarterOut], operation_id="starters")
def starters(request: HttpRequest) -> list[StarterOut]:
    return [
        StarterOut(key=key, document=cast(PlanDocument, dict(plan)))
        for key, plan in STARTERS.items()
    ]


@plans_router.get("/limits", response=list[LimitOut], operation_id="limits")
def limits(request: HttpRequest) -> Any:
    """The limits a plan may set, with the usual ones."""
    return LIMITS


@plans_router.get("/judging", response=list[LimitOut], operation_id="judging")
def judging(request: HttpRequest) -> Any:
    """The numbers of the judgement's rules a plan may set, with the usual ones."""
    return NUMBERS


@plans_router.post(
    "/next/{uuid:session_id}/between",
    response={200: BetweenOut, 409: Faults},
    operation_id="put_step_between",
)
def put_step_between(request: HttpRequest, session_id: uuid.UUID) -> Any:
    """Write the step that is missing into the behaviour's plan, half-way where that can be said."""
    session: TrainingSession = TrainingSession.objects.get_or_404(request, session_id)
    step = put_between(session, request.user)
    if step is None or session.plan_version is None:
        return Status(409, Faults(faults=[words.NO_PLACE_IN_PLAN]))
    return BetweenOut(behaviour_id=session.plan_version.behaviour_id, step=step)


@plans_router.post("/read", response=ReadOut, operation_id="read_plan")
def read_plan(request: HttpRequest, sent: ReadIn) -> ReadOut:
    """What can be said of a plan while it is written. Nothing is kept."""
    learner = None
    if sent.learner_id is not None:
        learner = Learner.objects.get_or_404(request, sent.learner_id).as_core
    try:
        plan = read_shaping_plan(sent.document)
    except InvalidDocument as invalid:
        return ReadOut(remarks=[], faults=list(invalid.faults))
    return ReadOut(remarks=[RemarkOut.from_orm(r) for r in remarks(plan, learner)], faults=[])


@plans_router.post(
    "/calculators/{name}", response={200: ANSWER, 422: Faults}, operation_id="calculate"
)
def calculate_(request: HttpRequest, name: str, sent: ArgumentsIn) -> Any:
    """One of the core's planning calculators; a bad argument is refused by name."""
    if name not in CALCULATORS:
        raise Http404
    return calculate(name, sent.arguments)


def _in_use(document: dict[str, Any]) -> int:
    return len(steps_in_use(document))


def _plan_out(version: PlanVersion) -> PlanOut:
    return PlanOut(
        number=version.number,
        revision=version.revision,
        saved_at=version.saved_at,
        document=version.document,
    )


def _out(behaviour: Behaviour) -> BehaviourOut:
    return BehaviourOut(
        id=behaviour.pk,
        name=behaviour.name,
        learner=LearnerOut.from_orm(behaviour.learner),
        plan=_plan_out(behaviour.current),
        filmed=sessions_worked(behaviour),
    )
