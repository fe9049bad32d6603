"""A new account: what is wrong with its name and password, by field."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError


def said_by_field(invalid: ValidationError) -> dict[str, str]:
    """What is wrong, in one text for each field."""
    return {name: " ".join(said) for name, said in invalid.message_dict.items()}


def checked_user(username: str, password: str) -> Any:
    """A new account that is not kept yet. Raises ValidationError by field."""
    user = get_user_model()(username=username)
    faults: dict[str, list[str]] = {}
    try:
        user.full_clean(exclude=["password"])
    except ValidationError as invalid:
        faults = invalid.message_dict
    try:
        validate_password(password, user)
    except ValidationError as invalid:
        faults["password"] = invalid.messages
    if faults:
        raise ValidationError(faults)
    user.set_password(password)
    return user
