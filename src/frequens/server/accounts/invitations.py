"""Places in a workspace for people who have no account yet: taken once, within a week."""

from __future__ import annotations

import datetime as dt
import secrets
from typing import Any

from django.db import transaction
from django.utils import timezone

from ..secret_digest import secret_digest
from .models import Invitation, Workspace, join_workspace
from .new_user import checked_user

LASTS = dt.timedelta(days=7)


class NoInvitation(Exception):
    """There is no such invitation, or it was taken, taken back, or its time is over."""


def invite(workspace: Workspace, role: str, made_by: Any) -> tuple[Invitation, str]:
    """A new invitation and its code, which nobody is told again."""
    code = secrets.token_urlsafe(24)
    made = Invitation.objects.create(
        workspace=workspace,
        role=role,
        code_digest=secret_digest(code),
        made_by=made_by,
        expires_at=timezone.now() + LASTS,
    )
    return made, code


def invited(code: str) -> Invitation:
    """The invitation with this code. Raises NoInvitation."""
    found = (
        Invitation.objects.filter(
            code_digest=secret_digest(code.strip()), expires_at__gt=timezone.now()
        )
        .select_related("workspace")
        .first()
    )
    if found is None:
        raise NoInvitation
    return found


def accept(code: str, username: str, password: str) -> Any:
    """A new account in the place the code stands for.

    Raises NoInvitation, and ValidationError for a name or a password that cannot be, by field.
    """
    invitation = invited(code)
    user = checked_user(username, password)
    with transaction.atomic():
        # Of two at the same time one finds it gone.
        taken, _ = Invitation.objects.filter(pk=invitation.pk).delete()
        if not taken:
            raise NoInvitation
        user.save()
        join_workspace(user, invitation.workspace, invitation.role)
    return user
