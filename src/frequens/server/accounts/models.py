"""Workspaces: the walls between one team's films and another's, and who may do what inside."""

from __future__ import annotations

import uuid
from typing import Any, Self

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.http import HttpRequest
from django.shortcuts import get_object_or_404


class Role(models.TextChoices):
    """What somebody may do in a workspace; `server.who_may` says what each may.

    OWNER: everything, and who else may. TRAINER: all the work. REVIEWER: look at everything and
    code, remove nothing. READER: read reports.
    """

    OWNER = "owner"
    TRAINER = "trainer"
    REVIEWER = "reviewer"
    READER = "reader"


class Workspace(models.Model):
    """A team and everything it owns."""

    name = models.CharField(max_length=200)
    #: Of the coded sessions so large a share is proposed for a second look, 0 to 1.
    second_look_share = models.FloatField(default=0.2, db_default=0.2)
    members = models.ManyToManyField(
        settings.AUTH_USER_MODEL, through="Membership", related_name="workspaces"
    )

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """A user's place in a workspace."""

    role = models.CharField(max_length=10, choices=Role, default=Role.TRAINER, db_default="trainer")
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "user"], name="one_membership")]

    def __str__(self) -> str:
        return f"{self.user}, {self.role} in {self.workspace}"


class Invitation(models.Model):
    """A place in a workspace that somebody can take once; only its code's digest is kept."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    role = models.CharField(max_length=10, choices=Role)
    code_digest = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    expires_at = models.DateTimeField()

    class Meta:
        ordering = ("expires_at",)

    def __str__(self) -> str:
        return f"An invitation to {self.workspace} as {self.role}"


class Preferences(models.Model):
    """What a user has set for their own work: keys, reaction lag, layout."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    values = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"Preferences of {self.user}"


class PhoneCode(models.Model):
    """A code by which a user's phone logs in once; only its digest is kept."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    code_digest = models.CharField(max_length=64, unique=True)
    expires_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"Code of {self.user}"


class OwnedQuerySet(models.QuerySet[Any]):
    """Every query of owned things starts here."""

    def of(self, request: HttpRequest) -> Self:
        """Only what belongs to a workspace in which the request's user may do what it asks."""
        return self.filter(workspace__in=workspaces_of(request))

    def get_or_404(self, request: HttpRequest, pk: Any) -> Any:
        """The owned thing; somebody else's is as absent as one that never was."""
        return get_object_or_404(self.of(request), pk=pk)

    def newest(self, request: HttpRequest, older_than: Any, most: int) -> Self:
        """A page of what was made last, going on after the one with the key `older_than`.

        What comes in meanwhile moves nothing: a page begins at a thing, not at a number. Raises
        Http404 where that thing is not there (any more).
        """
        found = self.of(request).order_by("-created_at", "-id")
        if older_than is not None:
            # Its place alone is asked for, whatever else may be kept from whoever asks.
            last = get_object_or_404(self.of(request), pk=older_than)
            earlier = Q(created_at__lt=last.created_at)
            found = found.filter(earlier | Q(created_at=last.created_at, id__lt=last.id))
        return found[:most]


class Owned(models.Model):
    """Something that belongs to a workspace."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)

    objects = OwnedQuerySet.as_manager()

    class Meta:
        abstract = True


def workspace_of(request: HttpRequest) -> Workspace:
    """The workspace new things of this user go to. Raises Http404 for a user without one."""
    return get_object_or_404(workspaces_of(request).order_by("pk")[:1])


def workspaces_of(request: HttpRequest) -> models.QuerySet[Workspace]:
    """The workspaces in which the request's user may do what it asks.

    A request for which nobody asked who may (`server.who_may`) finds none.
    """
    roles = getattr(request, "roles", ())
    return Workspace.objects.filter(membership__user=request.user.pk, membership__role__in=roles)


def join_workspace(user: Any, workspace: Workspace, role: str = Role.TRAINER) -> Membership:
    """Give a user a place in a workspace. Whoever comes first owns it, whatever was said."""
    if not workspace.members.exists():
        role = Role.OWNER
    return Membership.objects.create(workspace=workspace, user=user, role=role)
