"""Who is logged in, and what they have set for their own work."""

from typing import Any, Literal, cast

from django.http import HttpRequest
from ninja import Field, Router, Schema

from frequens import __version__

from .models import Preferences, workspace_of

router = Router()


class PreferencesIO(Schema):
    """A user's own settings; what is not set is left at its default.

    `keys`: the key of each action by name. `lag_s` and `lag_sd_s`: the reviewer's own
    reaction lag and its spread in seconds, as the tap test found them or as set by hand.
    `marks_by`: what the bench listens for.
    """

    keys: dict[str, str] = Field(default={}, max_length=100)
    lag_s: float | None = Field(None, ge=0, le=2)
    lag_sd_s: float | None = Field(None, ge=0, le=2)
    marks_by: Literal["click", "word"] = "click"


class Me(Schema):
    """The logged-in user, their settings, the workspace of their new films, and what answers."""

    username: str
    workspace: str
    preferences: PreferencesIO
    version: str


@router.get("", response=Me, operation_id="me")
def me(request: HttpRequest) -> Any:
    kept = Preferences.objects.filter(user=request.user.pk).first()
    return Me(
        username=request.user.get_username(),
        workspace=workspace_of(request).name,
        preferences=PreferencesIO(**(kept.values if kept else {})),
        version=__version__,
    )


@router.put("/preferences", response=PreferencesIO, operation_id="set_preferences")
def set_preferences(request: HttpRequest, sent: PreferencesIO) -> PreferencesIO:
    """Keep the user's settings, all of them."""
    Preferences.objects.update_or_create(
        user_id=cast(int, request.user.pk), defaults={"values": sent.dict(exclude_none=True)}
    )
    return sent
