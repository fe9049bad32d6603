"""Workspaces: the walls between one team's films and another's."""

from __future__ import annotations

from typing import Any, Self

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.http import HttpRequest
from django.shortcuts import get_object_or_404


class Workspace(models.Model):
    """A team and everything it owns."""

    name = models.CharField(max_length=200)
    members = models.ManyToManyField(
        settings.AUTH_USER_MODEL, through="Membership", related_name="workspaces"
    )

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """A user's place in a workspace."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "user"], name="one_membership")]


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
        """Only what belongs to a workspace of the request's user."""
        return self.filter(workspace__in=Workspace.objects.filter(members=request.user.pk))

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
            last = self.get_or_404(request, older_than)
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
    return get_object_or_404(Workspace.objects.filter(members=request.user.pk).order_by("pk")[:1])
