"""The first account of an installation, made in the browser by whoever can read its folder."""

from __future__ import annotations

import os
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import transaction

from .models import Workspace, join_workspace
from .new_user import checked_user


class Closed(Exception):
    """There is an account already, or the code is not the installation's."""


def is_open() -> bool:
    """Whether nobody has an account here yet."""
    return not get_user_model().objects.exists()


def open_door() -> str | None:
    """The code that makes the first account; None where there is an account already.

    It stays the same until it was used, and lies in the installation's folder, which only its
    owner reads.
    """
    path = _code_file()
    if not is_open():
        path.unlink(missing_ok=True)
        return None
    if not path.exists():
        descriptor = os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600)
        with os.fdopen(descriptor, "w", encoding="ascii") as file:
            file.write(secrets.token_urlsafe(12))
    return path.read_text(encoding="ascii")


def make_owner(code: str, workspace: str, username: str, password: str) -> Any:
    """The first account and its workspace.

    Raises Closed, and ValidationError for a name or a password that cannot be, by field.
    """
    if not is_open() or not secrets.compare_digest(_code().encode(), code.strip().encode()):
        raise Closed
    user = checked_user(username, password)
    try:
        # Of two at the same time one finds it gone.
        _code_file().unlink()
    except FileNotFoundError:
        raise Closed from None
    with transaction.atomic():
        user.save()
        place = Workspace.objects.create(name=workspace)
        join_workspace(user, place)
    return user


def _code_file() -> Path:
    return Path(settings.HOME) / "first_account_code"


def _code() -> str:
    try:
        return _code_file().read_text(encoding="ascii")
    except FileNotFoundError:
        # Nothing is equal to what nobody knows.
        return secrets.token_urlsafe(12)
