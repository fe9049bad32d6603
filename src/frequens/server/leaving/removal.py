"""Removing whole workspaces and accounts, on the disk and in every table."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.sessions.models import Session
from django.db import transaction

from ..accounts.models import Workspace
from ..coding.models import Edit
from ..ingest.models import Arriving
from ..ingest.pieces_in import give_up
from ..library.models import Film
from ..library.sessions import TrainingSession
from ..plans.models import Behaviour, Learner


def remove_workspace(workspace: Workspace) -> None:
    """A workspace with everything in it, and accounts that belong to no other."""
    members = list(workspace.members.all())
    for film in Film.objects.filter(workspace=workspace):
        film.delete()
    for arriving in Arriving.objects.filter(workspace=workspace):
        give_up(arriving)
    with transaction.atomic():
        for owned in (TrainingSession, Behaviour, Learner):
            owned._base_manager.filter(workspace=workspace).delete()
        workspace.delete()
        for user in members:
            if not user.workspaces.exists():
                _forget(user)


def remove_account(user: Any) -> None:
    """An account. Workspaces where nobody else is go with it; elsewhere its name does."""
    for workspace in user.workspaces.all():
        if not workspace.members.exclude(pk=user.pk).exists():
            remove_workspace(workspace)
    with transaction.atomic():
        if get_user_model().objects.filter(pk=user.pk).exists():
            _forget(user)


def _forget(user: Any) -> None:
    name, shared = user.get_username(), user.workspaces.all()
    for owned in (Film, Arriving, TrainingSession):
        owned._base_manager.filter(workspace__in=shared, trainer=name).update(trainer="")
    for session in TrainingSession.codings.filter(workspace__in=shared, summary__trainer=name):
        session.summary.pop("trainer")
        session.save(update_fields=["summary"])
    # Changes are never changed, but for this: whoever leaves is not named any more.
    said = Edit.objects.filter(session__workspace__in=shared, body__set__trainer=name)
    for edit in said:
        edit.body["set"]["trainer"] = ""
        edit.save(update_fields=["body"])
    for entry in Session.objects.all():
        if str(entry.get_decoded().get("_auth_user_id")) == str(user.pk):
            entry.delete()
    user.delete()
