"""Who is in the workspace, in which role, and how somebody new comes in."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from allauth.core.ratelimit import consume
from django.contrib.auth import login
from django.core.exceptions import ValidationError
from django.db import transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone
from ninja import Field, Router, Schema, Status

from frequens.words import fill
from frequens.words.spoken import refusals as words

from .api import FieldFaults, Me, Refusal, me_of
from .invitations import NoInvitation, accept, invite, invited
from .models import Invitation, Membership, Role, Workspace, workspace_of
from .new_user import said_by_field

members_router = Router()
#: For whoever holds an invitation and has no account yet.
invited_router = Router()

#: Open invitations a workspace can have at once.
MOST_INVITATIONS = 50


class MemberOut(Schema):
    """Somebody in the workspace; `id` is their place's, `is_you` whether it is who asks."""

    id: int
    username: str
    role: Role
    is_you: bool


class InvitationOut(Schema):
    """A place that waits for somebody. Its code was shown once."""

    id: uuid.UUID
    role: Role
    expires_at: dt.datetime


class MembersOut(Schema):
    """The workspace's people, and the places that wait; only owners see those."""

    members: list[MemberOut]
    invitations: list[InvitationOut]
    second_look_share: float


class RoleIn(Schema):
    """What somebody may do."""

    role: Role


class InvitedOut(Schema):
    """An invitation with its code, which is not told again; the address holds it."""

    id: uuid.UUID
    role: Role
    code: str
    path: str
    expires_at: dt.datetime


class ShareIn(Schema):
    """The share of coded sessions to be proposed for a second look, 0 to 1."""

    share: float = Field(ge=0, le=1)


class CodeIn(Schema):
    """What the address of an invitation holds."""

    code: str = Field(max_length=100)


class InvitationFor(Schema):
    """Where an invitation leads."""

    workspace: str
    role: Role


class NewMemberIn(CodeIn):
    """A new account for the place an invitation stands for."""

    username: str = Field(min_length=1, max_length=150)
    password: str = Field(max_length=1000)


@members_router.get("", response=MembersOut, operation_id="members")
def members(request: HttpRequest) -> MembersOut:
    """Everybody in the workspace."""
    place = workspace_of(request)
    found = Membership.objects.filter(workspace=place).select_related("user")
    is_owner = any(m.user_id == request.user.pk and m.role == Role.OWNER for m in found)
    waiting = Invitation.objects.filter(workspace=place, expires_at__gt=timezone.now())
    return MembersOut(
        members=[_member(one, request) for one in found.order_by("user__username")],
        invitations=[
            InvitationOut(id=one.pk, role=Role(one.role), expires_at=one.expires_at)
            for one in (waiting if is_owner else ())
        ],
        second_look_share=place.second_look_share,
    )


@members_router.put("/second-look-share", response=ShareIn, operation_id="set_second_look_share")
def set_second_look_share(request: HttpRequest, sent: ShareIn) -> ShareIn:
    """How many of the coded sessions are proposed for a second look."""
    Workspace.objects.filter(pk=workspace_of(request).pk).update(second_look_share=sent.share)
    return sent


@members_router.post(
    "/invitations", response={201: InvitedOut, 409: Refusal}, operation_id="invite_member"
)
def invite_member(request: HttpRequest, sent: RoleIn) -> Any:
    """A place for somebody who has no account yet; whoever has its address takes it, once."""
    place = workspace_of(request)
    if Invitation.objects.filter(workspace=place).count() >= MOST_INVITATIONS:
        Invitation.objects.filter(workspace=place, expires_at__lte=timezone.now()).delete()
        if Invitation.objects.filter(workspace=place).count() >= MOST_INVITATIONS:
            return Status(
                409, Refusal(fault=fill(words.INVITATIONS_OPEN, {"most": MOST_INVITATIONS}))
            )
    made, code = invite(place, sent.role, request.user)
    return Status(
        201,
        InvitedOut(
            id=made.pk,
            role=sent.role,
            code=code,
            # Behind the sharp it is told to no server and stands in no log.
            path=f"/invited#{code}",
            expires_at=made.expires_at,
        ),
    )


@members_router.delete(
    "/invitations/{uuid:invitation_id}", response={204: None}, operation_id="take_back_invitation"
)
def take_back_invitation(request: HttpRequest, invitation_id: uuid.UUID) -> Any:
    """Nobody can take that place any more."""
    own = Invitation.objects.filter(workspace=workspace_of(request))
    get_object_or_404(own, pk=invitation_id).delete()
    return Status(204, None)


@members_router.put(
    "/{int:member_id}", response={200: MemberOut, 409: Refusal}, operation_id="change_member"
)
def change_member(request: HttpRequest, member_id: int, sent: RoleIn) -> Any:
    """Give a member another role."""
    with transaction.atomic():
        found = _of(request, member_id)
        if sent.role != Role.OWNER and _is_last_owner(found):
            return Status(409, Refusal(fault=words.LAST_OWNER))
        found.role = sent.role
        found.save(update_fields=["role"])
    return Status(200, _member(found, request))


@members_router.delete(
    "/{int:member_id}", response={204: None, 409: Refusal}, operation_id="remove_member"
)
def remove_member(request: HttpRequest, member_id: int) -> Any:
    """Somebody leaves the workspace; what they did stays under their name."""
    with transaction.atomic():
        found = _of(request, member_id)
        if _is_last_owner(found):
            return Status(409, Refusal(fault=words.LAST_OWNER))
        found.delete()
    return Status(204, None)


@invited_router.post(
    "",
    response={200: InvitationFor, 403: Refusal, 429: Refusal},
    auth=None,
    operation_id="read_invitation",
)
def read_invitation(request: HttpRequest, sent: CodeIn) -> Any:
    """What an invitation is for, before it is taken."""
    if not consume(request, action="login"):
        return Status(429, Refusal(fault=words.TOO_MANY_TRIES))
    try:
        found = invited(sent.code)
    except NoInvitation:
        return Status(403, Refusal(fault=words.NO_INVITATION))
    return Status(200, InvitationFor(workspace=found.workspace.name, role=Role(found.role)))


@invited_router.post(
    "/accept",
    response={201: Me, 403: FieldFaults, 422: FieldFaults, 429: FieldFaults},
    auth=None,
    operation_id="accept_invitation",
)
def accept_invitation(request: HttpRequest, sent: NewMemberIn) -> Any:
    """Make an account in the place an invitation stands for, and log in."""
    if not consume(request, action="login"):
        return Status(429, FieldFaults(fields={"code": words.TOO_MANY_TRIES}))
    try:
        user = accept(sent.code, sent.username.strip(), sent.password)
    except NoInvitation:
        return Status(403, FieldFaults(fields={"code": words.NO_INVITATION}))
    except ValidationError as invalid:
        return Status(422, FieldFaults(fields=said_by_field(invalid)))
    login(request, user)
    return Status(201, me_of(user))


def _of(request: HttpRequest, member_id: int) -> Membership:
    places = Membership.objects.filter(workspace=workspace_of(request)).select_related("user")
    # Of two owners who demote each other at the same time one waits.
    Workspace.objects.select_for_update().get(pk=workspace_of(request).pk)
    return get_object_or_404(places, pk=member_id)


def _is_last_owner(member: Membership) -> bool:
    owners = Membership.objects.filter(workspace=member.workspace_id, role=Role.OWNER)
    return member.role == Role.OWNER and not owners.exclude(pk=member.pk).exists()


def _member(member: Membership, request: HttpRequest) -> MemberOut:
    return MemberOut(
        id=member.pk,
        username=member.user.get_username(),
        role=Role(member.role),
        is_you=member.user_id == request.user.pk,
    )
