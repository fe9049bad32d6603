"""Learners, what each is taught, and the plans for it with their history."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from frequens.core.planning.shaping import Learner as CoreLearner

from ..accounts.models import Owned


class Learner(Owned):
    """An animal that is taught. `health` holds codes of the core's `Health`."""

    class Size(models.TextChoices):
        UNKNOWN = ""
        SMALL = "small"
        MEDIUM = "medium"
        LARGE = "large"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=200)
    species = models.CharField(max_length=200, blank=True)
    born = models.DateField(null=True)
    size = models.CharField(max_length=10, choices=Size, blank=True)
    health = models.JSONField(default=list)
    notes = models.TextField(blank=True)
    #: Energy of a usual piece of its reward and of its whole day's food, kJ.
    piece_kj = models.FloatField(null=True)
    day_kj = models.FloatField(null=True)
    #: Its height at the withers, cm.
    withers_cm = models.FloatField(null=True)

    class Meta:
        ordering = ("name", "id")

    def __str__(self) -> str:
        return self.name

    @property
    def as_core(self) -> CoreLearner:
        """What of it the core's cautions look at."""
        return CoreLearner(
            self.name, self.species, frozenset(self.health), self.size, self.withers_cm
        )


class Behaviour(Owned):
    """One thing one learner is taught; its plan is the newest of its versions."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    learner = models.ForeignKey(Learner, on_delete=models.CASCADE, related_name="behaviours")
    name = models.CharField(max_length=200)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("created_at", "id")

    def __str__(self) -> str:
        return f"{self.learner} · {self.name}"

    @property
    def current(self) -> PlanVersion:
        """The plan as it is now."""
        return self.versions.latest("number")


class PlanVersion(models.Model):
    """A behaviour's plan over one stretch of its history, as a `frequens-plan` document.

    `revision` counts its drafts. Once a session was filmed under it, or after a pause in
    the writing, the next draft begins a new version.
    """

    behaviour = models.ForeignKey(Behaviour, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    revision = models.PositiveIntegerField(default=1)
    document = models.JSONField()
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    saved_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ("number",)
        constraints = [
            models.UniqueConstraint(fields=["behaviour", "number"], name="one_plan_a_number")
        ]

    def __str__(self) -> str:
        return f"{self.behaviour}, plan {self.number}"


class CalendarAddress(Owned):
    """A private address at which one trainer's calendar program asks for a workspace's days.

    Whoever has it needs no password; so only a digest of its secret is kept, and it can be revoked.
    """

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    secret_digest = models.CharField(max_length=64, unique=True)
    created_at = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"Calendar of {self.user}"
