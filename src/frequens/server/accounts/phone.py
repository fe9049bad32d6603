"""Logging a phone in by a code that the large screen shows: once, and for two minutes."""

from __future__ import annotations

import datetime as dt
import secrets
from typing import Any, cast

from django.http import HttpRequest
from django.utils import timezone

from ..secret_digest import secret_digest
from .models import PhoneCode

#: Without letters and digits that are taken for one another.
ALPHABET = "23456789ABCDEFGHJKMNPQRSTUVWXYZ"
CODE_LENGTH = 8
LASTS = dt.timedelta(minutes=2)


def make_code(request: HttpRequest) -> tuple[str, dt.datetime]:
    """A new code for the user's phone, and until when it holds; one there was before does not."""
    code = "".join(secrets.choice(ALPHABET) for _ in range(CODE_LENGTH))
    until = timezone.now() + LASTS
    PhoneCode.objects.update_or_create(
        user_id=cast(int, request.user.pk),
        defaults={"code_digest": secret_digest(code), "expires_at": until},
    )
    return code, until


def redeem(code: str) -> Any:
    """The user whose code this is; None where it is none, or used, or its time is over."""
    tidy = "".join(code.upper().split()).replace("-", "")
    found = PhoneCode.objects.filter(code_digest=secret_digest(tidy)).select_related("user").first()
    if found is None:
        return None
    # Of two at the same time one finds it gone.
    deleted, _ = PhoneCode.objects.filter(pk=found.pk, code_digest=found.code_digest).delete()
    if not deleted or found.expires_at < timezone.now() or not found.user.is_active:
        return None
    return found.user
