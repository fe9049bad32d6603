"""The rows of a workspace as lines of JSON: what the archive holds beside its open formats, so that
everything can be brought back to the row.

The first line says what it is, each further one is ``{"row": KIND, FIELD: VALUE…}``. Times are
ISO 8601. What belongs to one installation only is left out: accounts, leases, stages, what can be
worked out anew. People are named by their accounts' names.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any

from django.core.exceptions import ValidationError
from django.db.models import F, ForeignKey, Model

from frequens.core.reading.document_values import fault_at

from ..accounts.models import Workspace
from ..coding.models import Edit
from ..drill.models import DrillRun
from ..library.models import Film
from ..library.sessions import TrainingSession
from ..plans.models import Behaviour, Learner, PlanVersion
from ..second_look.models import SecondLook, Settled

FORMAT, VERSION = "frequens-archive", 1
#: Each kind of row, in an order in which nothing names what comes later.
KINDS: Mapping[str, type[Model]] = {
    "learner": Learner,
    "behaviour": Behaviour,
    "plan_version": PlanVersion,
    "session": TrainingSession,
    "film": Film,
    "edit": Edit,
    "second_look": SecondLook,
    "settled": Settled,
    "drill": DrillRun,
}
#: Fields that name somebody.
PEOPLE = frozenset({"author", "reviewer", "asked_by"})
#: Known to one installation only, or worked out again when the film is taken in.
_LEFT_OUT = {
    *("workspace", "state", "fault_code", "fault_text", "lease_until", "holder", "codec"),
    *("width", "height", "rotation", "has_sound", "sound_late", "dropped"),
}


def fields_of(model: type[Model]) -> Iterator[Any]:
    """The fields of a model that go along; numbers a database gave by itself do not."""
    for field in model._meta.concrete_fields:
        is_number = field.primary_key and field.get_internal_type() == "BigAutoField"
        if field.name not in _LEFT_OUT and not is_number:
            yield field


def lines_of(workspace: Workspace) -> Iterator[str]:
    """Every row of the workspace, a line each."""
    yield _line({"format": FORMAT, "version": VERSION, "workspace": workspace.name})
    own: dict[str, Any] = {"workspace": workspace}
    for kind, found in (
        ("learner", Learner.objects.filter(**own)),
        ("behaviour", Behaviour.objects.filter(**own)),
        ("plan_version", PlanVersion.objects.filter(behaviour__workspace=workspace)),
        ("session", _sessions(workspace)),
        ("film", Film.objects.filter(**own)),
        ("edit", Edit.objects.filter(session__workspace=workspace)),
        ("second_look", SecondLook.objects.filter(**own)),
        ("settled", Settled.objects.filter(look__workspace=workspace)),
        ("drill", DrillRun.objects.filter(**own)),
    ):
        related = [f.name for f in fields_of(KINDS[kind]) if _names_somebody(f)]
        for row in found.select_related(*related).iterator(chunk_size=500):
            yield _line({"row": kind, **_values(row)})


def _sessions(workspace: Workspace) -> Any:
    """A second coding names the first one, and so comes after it."""
    found = TrainingSession.codings.filter(workspace=workspace).select_related("plan_version")
    return found.order_by(F("second_of").asc(nulls_first=True), "-created_at", "-id")


def _line(values: Mapping[str, Any]) -> str:
    return json.dumps(values, ensure_ascii=False, default=str) + "\n"


def _names_somebody(field: Any) -> bool:
    return isinstance(field, ForeignKey) and field.name in PEOPLE


def _values(row: Model) -> dict[str, Any]:
    return {field.name: _value(row, field) for field in fields_of(type(row))}


def _value(row: Model, field: Any) -> Any:
    if _names_somebody(field):
        author = getattr(row, field.name)
        return author.get_username() if author else None
    if field.name == "plan_version":
        version: PlanVersion | None = getattr(row, field.name)
        return [str(version.behaviour_id), version.number] if version else None
    value = getattr(row, field.attname)
    return value.isoformat() if hasattr(value, "isoformat") else value


def read_value(field: Any, value: Any) -> Any:
    """A field's value as it was. Raises ValueError naming the field for one that cannot be."""
    try:
        if field.get_internal_type() == "JSONField" or value is None:
            made = value
        else:
            made = field.to_python(value)
        field.run_validators(made)
        if made is None and not field.null:
            raise ValueError(fault_at(field.name, "missing"))
    except (ValidationError, TypeError) as fault:
        said = " ".join(fault.messages) if isinstance(fault, ValidationError) else str(fault)
        raise ValueError(f"{field.name}: {said}") from fault
    return made
