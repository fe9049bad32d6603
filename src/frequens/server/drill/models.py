"""Drills somebody has done: what was shown, and what they pressed."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from ..accounts.models import Owned
from ..library.sessions import TrainingSession


class DrillRun(Owned):
    """One drill: its script as it was drawn, and what was measured on the page.

    Kept is what happened, never what it was worth: that is worked out anew each time. `script`
    holds `acts`, `windows` and `pieces` as the core names them, `measured` the `presses` and, by a
    window's place, when its instant was `shown`.
    """

    class Source(models.TextChoices):
        DRAWN = "drawn"
        FILM = "film"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    author = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+"
    )
    #: The session whose film it is from; its script stays when that is removed.
    session = models.ForeignKey(
        TrainingSession, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    source = models.CharField(max_length=10, choices=Source)
    instant = models.CharField(max_length=10)
    level = models.CharField(max_length=20)
    seconds = models.FloatField()
    script = models.JSONField()
    measured = models.JSONField(null=True)
    #: Somebody was called away: it counts for nothing until it is taken in again.
    left_out = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ("-created_at", "-id")

    def __str__(self) -> str:
        return f"A drill of {self.author}"
