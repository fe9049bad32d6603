"""A second look at a session, and what was settled after it."""

from __future__ import annotations

import uuid
from typing import Any

from django.conf import settings
from django.db import models

from ..accounts.models import Owned
from ..library.sessions import TrainingSession


class SecondLook(Owned):
    """A session coded once more by somebody who has not seen its marks.

    `coding` holds the second marks, and names the session (`TrainingSession.second_of`). Each of
    the two says when it is done: that coding is compared as the edit whose client id is `first_at`
    or `second_at` left it, whatever comes later. It is opened when both have.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    coding = models.OneToOneField(
        TrainingSession, on_delete=models.CASCADE, related_name="second_look"
    )
    reviewer = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    created_at = models.DateTimeField(auto_now_add=True)
    first_at = models.CharField(max_length=64, blank=True)
    second_at = models.CharField(max_length=64, blank=True)
    opened_at = models.DateTimeField(null=True)
    #: By kind of mark, how far apart the two placed what both have, seconds, second minus first.
    differences_s = models.JSONField(default=dict)

    class Meta:
        ordering = ("-created_at", "-id")

    def __str__(self) -> str:
        return f"A second look at {self.first}"

    @property
    def first(self) -> TrainingSession:
        """The session as it was coded first."""
        session: TrainingSession | None = self.coding.second_of
        if session is None:
            raise TrainingSession.DoesNotExist
        return session


class Settled(models.Model):
    """What was decided about one mark on which two codings differ; the last one counts.

    `first` and `second` are the marks as the two had them (null where one had none), `event` what
    stands in the session since (null where it has none). Rows are never changed or removed.
    """

    class Chosen(models.TextChoices):
        FIRST = "first"
        SECOND = "second"
        FRAME = "frame"
        NONE = "none"

    look = models.ForeignKey(SecondLook, on_delete=models.CASCADE, related_name="settled")
    first = models.JSONField(null=True)
    second = models.JSONField(null=True)
    chosen = models.CharField(max_length=10, choices=Chosen)
    event = models.JSONField(null=True)
    author = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("id",)

    def __str__(self) -> str:
        return f"{self.chosen} in {self.look}"

    @property
    def pair(self) -> tuple[str | None, str | None]:
        """The ids of the two marks it is about."""
        return _id(self.first), _id(self.second)


def _id(event: dict[str, Any] | None) -> str | None:
    return event["id"] if event else None
