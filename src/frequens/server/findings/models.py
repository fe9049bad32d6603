"""Findings as they are kept: of which state of the marks, whole and in short."""

from __future__ import annotations

from django.db import models

from ..library.sessions import TrainingSession


class KeptFindings(models.Model):
    """A session's findings as they were measured last; `state` says of which marks."""

    session = models.OneToOneField(TrainingSession, on_delete=models.CASCADE)
    state = models.TextField()
    findings = models.JSONField(null=True)
    faults = models.JSONField(default=list)
    #: The findings without their longest parts, for pages that show many sessions.
    outline = models.JSONField(null=True)
    #: What judgements ask of it: the session in short, and the plan it was filmed under.
    digest = models.JSONField(null=True)

    class Meta:
        app_label = "reviews"

    def __str__(self) -> str:
        return f"{self.session} as measured"
