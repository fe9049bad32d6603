"""Leaving over HTTP: the archive, and removal of account and workspace."""

from __future__ import annotations

import datetime as dt
from typing import Any, cast

from allauth.core.ratelimit import consume
from django.conf import settings
from django.contrib.auth import get_user_model, logout
from django.http import HttpRequest, StreamingHttpResponse
from ninja import Field, Router, Schema, Status

from ..accounts.models import workspace_of
from ..downloads import as_download
from ..ingest.schemas import Fault
from ..nightly import last_good
from .archive import archive_of
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

    `backups`: whether the server makes any by itself; `last_backup`: the last good one.
    """

    name: str
    trainers: list[str]
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
        backups=settings.BACKUPS is not None,
        last_backup=BackupOut(at=good.at, bytes=good.bytes) if good else None,
    )


@router.get("/workspace.zip", operation_id="archive")
def archive(request: HttpRequest, films: bool = True) -> Any:
    """Everything of the workspace in open formats, as one file."""
    found = workspace_of(request)
    response = StreamingHttpResponse(archive_of(found, films), content_type="application/zip")
    return as_download(response, found.name, ".zip")


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
        return Status(429, Fault(fault="Too many tries. Wait a minute, then try again."))
    if not request.user.check_password(sent.password):
        return Status(403, Fault(fault="The password is not right. Nothing was removed."))
    return None
