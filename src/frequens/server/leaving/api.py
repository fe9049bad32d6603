"""Leaving over HTTP: the archive, and removal of account and workspace."""

from __future__ import annotations

import datetime as dt
from typing import Any, cast

from allauth.core.ratelimit import consume
from django.conf import settings
from django.contrib.auth import get_user_model, logout
from django.http import HttpRequest, StreamingHttpResponse, UnreadablePostError
from ninja import Field, Router, Schema, Status

from frequens.words.spoken import refusals as words

from ..accounts.models import workspace_of
from ..downloads import as_download
from ..ingest.receive import ReceiveFault, receive
from ..ingest.schemas import Fault
from ..ingest.tasks import take_in_film
from ..library.models import Film
from ..nightly import last_good
from .archive import archive_of
from .bringing_back import BadArchive, bring_back, is_empty
from .removal import remove_account, remove_workspace

router = Router()
REMOVED: dict[int, Any] = {204: None, 403: Fault, 429: Fault}


class PasswordIn(Schema):
    """The present password, so that nobody else removes what is open in a browser."""

    password: str = Field(max_length=1000)


class BackupOut(Schema):
    """The last backup the server made by itself and read back."""

    at: dt.datetime
    bytes: int


class WorkspaceOut(Schema):
    """What would go with a workspace or an account, and how it is kept.

    `is_empty`: an archive can be brought back into it; `backups`: whether the server makes any by
    itself; `last_backup`: the last good one.
    """

    name: str
    trainers: list[str]
    is_empty: bool
    backups: bool
    last_backup: BackupOut | None


@router.get("/workspace", response=WorkspaceOut, operation_id="workspace")
def workspace(request: HttpRequest) -> WorkspaceOut:
    found = workspace_of(request)
    trainers = [user.get_username() for user in found.members.order_by("username")]
    good = last_good()
    return WorkspaceOut(
        name=found.name,
        trainers=trainers,
        is_empty=is_empty(found),
        backups=settings.BACKUPS is not None,
        last_backup=BackupOut(at=good.at, bytes=good.bytes) if good else None,
    )


@router.get("/workspace.zip", operation_id="archive")
def archive(request: HttpRequest, films: bool = True) -> Any:
    """Everything of the workspace in open formats, as one file."""
    found = workspace_of(request)
    response = StreamingHttpResponse(archive_of(found, films), content_type="application/zip")
    return as_download(response, found.name, ".zip")


class BroughtOut(Schema):
    """How many of each came back."""

    learners: int
    behaviours: int
    sessions: int
    films: int


@router.post(
    "/workspace/bring_back",
    response={200: BroughtOut, 400: Fault, 413: Fault, 422: Fault, 507: Fault},
    operation_id="bring_back",
)
def bring_back_(request: HttpRequest, nameless: bool = False) -> Any:
    """Read an archive, the plain body of the request, into the user's empty workspace.

    `nameless`: what people did who have no account in it then stands without a name.
    """
    place = workspace_of(request)
    length = request.META.get("CONTENT_LENGTH")
    try:
        received = request.META.get("frequens.upload") or receive(
            request, int(length) if length else None
        )
        try:
            counts = bring_back(received.path, place, nameless)
        finally:
            received.path.unlink(missing_ok=True)
    except ReceiveFault as fault:
        return Status(fault.status, Fault(fault=str(fault)))
    except UnreadablePostError:
        return Status(400, Fault(fault=words.SENDING_BROKE_OFF))
    except BadArchive as fault:
        return Status(422, Fault(fault=str(fault)))
    for film in Film.objects.filter(workspace=place, state=Film.State.WAITING):
        take_in_film(str(film.pk))
    kinds = {"learners": "learner", "behaviours": "behaviour", "sessions": "session"}
    return BroughtOut(films=counts["film"], **{key: counts[kind] for key, kind in kinds.items()})


@router.post(
    "/workspace/remove",
    response={204: None, 403: Fault, 429: Fault},
    operation_id="remove_workspace",
)
def remove_workspace_(request: HttpRequest, sent: PasswordIn) -> Any:
    """Remove the workspace with everything in it, and accounts that belong to no other."""
    refused = _refused(request, sent)
    if refused is not None:
        return refused
    found = workspace_of(request)
    logout(request)
    remove_workspace(found)
    return Status(204, None)


@router.post("/remove", response=REMOVED, operation_id="remove_account")
def remove_account_(request: HttpRequest, sent: PasswordIn) -> Any:
    """Remove the own account; workspaces where nobody else is go with it."""
    refused = _refused(request, sent)
    if refused is not None:
        return refused
    user: Any = get_user_model().objects.get(pk=cast(int, request.user.pk))
    logout(request)
    remove_account(user)
    return Status(204, None)


def _refused(request: HttpRequest, sent: PasswordIn) -> Any:
    # The same limit as for changing the password.
    if not consume(request, action="change_password", user=request.user):
        return Status(429, Fault(fault=words.TOO_MANY_TRIES))
    if not request.user.check_password(sent.password):
        return Status(403, Fault(fault=words.WRONG_PASSWORD))
    return None
