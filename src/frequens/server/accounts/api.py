"""Who is logged in, and what they have set for their own work."""

import datetime as dt
from typing import Any, Literal, cast

from allauth.core.ratelimit import consume
from django.conf import settings
from django.contrib.auth import login
from django.core.exceptions import ValidationError
from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from frequens import __version__
from frequens.words.spoken import refusals as words

from ..lan_qr import qr_svg
from .first_owner import Closed, is_open, make_owner
from .models import Membership, Preferences, Role
from .new_user import said_by_field
from .phone import make_code, redeem

router = Router()
#: Before anybody could log in.
first_router = Router()
phone_router = Router()


class PreferencesIO(Schema):
    """A user's own settings; what is not set is left at its default.

    `keys`: the key of each action by name. `lag_s` and `lag_sd_s`: the reviewer's own
    reaction lag and its spread in seconds, and what they are by: learned from drills, which
    changes them with each, or set by hand, which does not.
    `marks_by`: what the bench listens for.
    """

    keys: dict[str, str] = Field(default={}, max_length=100)
    lag_s: float | None = Field(None, ge=0, le=2)
    lag_sd_s: float | None = Field(None, ge=0, le=2)
    lag_by: Literal["drill", "hand"] | None = None
    marks_by: Literal["click", "word"] = "click"


class Me(Schema):
    """The logged-in user, their settings, the workspace of their new films, and what answers.

    `role` is what they may do there.
    """

    username: str
    workspace: str
    role: Role
    preferences: PreferencesIO
    version: str


@router.get("", response=Me, operation_id="me")
def me(request: HttpRequest) -> Any:
    return me_of(request.user)


def me_of(user: Any) -> Me:
    """What somebody is told about themselves. Raises Membership.DoesNotExist without a place."""
    kept = Preferences.objects.filter(user=user.pk).first()
    places = Membership.objects.filter(user=user.pk).select_related("workspace")
    place = places.order_by("workspace_id").first()
    if place is None:
        raise Membership.DoesNotExist
    return Me(
        username=user.get_username(),
        workspace=place.workspace.name,
        role=Role(place.role),
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


class FirstOut(Schema):
    """Whether the first account of this installation is still to be made."""

    is_open: bool


class FirstIn(Schema):
    """The first account. `code` is what the server said when it started."""

    code: str = Field(max_length=100)
    workspace: str = Field(min_length=1, max_length=200)
    username: str = Field(min_length=1, max_length=150)
    password: str = Field(max_length=1000)


class FieldFaults(Schema):
    """What is wrong, by the field it stands in."""

    fields: dict[str, str]


@first_router.get("", response=FirstOut, auth=None, operation_id="first_account")
def first_account(request: HttpRequest) -> FirstOut:
    return FirstOut(is_open=is_open())


@first_router.post(
    "",
    response={201: Me, 403: FieldFaults, 422: FieldFaults, 429: FieldFaults},
    auth=None,
    operation_id="make_first_account",
)
def make_first_account(request: HttpRequest, sent: FirstIn) -> Any:
    """Make the first account and its workspace, and log in. Only with the installation's code."""
    if not consume(request, action="login"):
        return Status(429, FieldFaults(fields={"code": words.TOO_MANY_TRIES}))
    try:
        user = make_owner(sent.code, sent.workspace.strip(), sent.username.strip(), sent.password)
    except Closed:
        return Status(403, FieldFaults(fields={"code": words.WRONG_FIRST_CODE}))
    except ValidationError as invalid:
        return Status(422, FieldFaults(fields=said_by_field(invalid)))
    login(request, user)
    return Status(201, me_of(user))


class PhoneOut(Schema):
    """Where a phone on the same network finds this server; "" where it is not served there.

    `has_certificate`: the certificate it uses was made here and can be installed on the phone.
    """

    url: str
    has_certificate: bool


class PhoneCodeOut(Schema):
    """A code for the phone, the address with the code in it, and that address as a picture."""

    code: str
    url: str
    qr_svg: str
    expires_at: dt.datetime


class PhoneCodeIn(Schema):
    """The code that the large screen shows."""

    code: str = Field(max_length=40)


class Refusal(Schema):
    """Why not."""

    fault: str


@phone_router.get("", response=PhoneOut, operation_id="phone")
def phone(request: HttpRequest) -> PhoneOut:
    has_certificate = (settings.LAN_FOLDER / "authority.crt").exists()
    return PhoneOut(url=settings.LAN_URL, has_certificate=has_certificate)


@phone_router.post(
    "/code", response={200: PhoneCodeOut, 409: Refusal}, operation_id="make_phone_code"
)
def make_phone_code(request: HttpRequest) -> Any:
    """A code that logs the user's phone in once, within two minutes."""
    if not settings.LAN_URL:
        return Status(409, Refusal(fault=words.NOT_ON_THE_NETWORK))
    code, until = make_code(request)
    # Behind the sharp it is told to no server and stands in no log.
    url = f"{settings.LAN_URL}/phone#{code}"
    return PhoneCodeOut(code=code, url=url, qr_svg=qr_svg(url), expires_at=until)


@phone_router.post(
    "/enter",
    response={200: Me, 403: Refusal, 429: Refusal},
    auth=None,
    operation_id="enter_by_phone_code",
)
def enter_by_phone_code(request: HttpRequest, sent: PhoneCodeIn) -> Any:
    """Log in with the code on the large screen."""
    if not consume(request, action="login"):
        return Status(429, Refusal(fault=words.TOO_MANY_TRIES))
    user = redeem(sent.code)
    if user is None:
        return Status(403, Refusal(fault=words.WRONG_PHONE_CODE))
    login(request, user)
    return Status(200, me_of(user))
