"""A training session: who, what, when, and what it was filmed under."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import TYPE_CHECKING

from django.db import models

from ..accounts.models import Owned

if TYPE_CHECKING:
    from .models import Film


class TrainingSession(Owned):
    """One training session: who, what, when, and the plan it was filmed under.

    `plan` and `settings` are written as in a `frequens-session` document. The marks are
    not here: they are folded from the session's edits.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    date = models.DateField(null=True)
    learner = models.CharField(max_length=200, blank=True)
    behaviour = models.CharField(max_length=200, blank=True)
    trainer = models.CharField(max_length=200, blank=True)
    plan = models.JSONField(default=dict)
    #: The shaping plan it was filmed under, where there is one.
    plan_version = models.ForeignKey(
        "plans.PlanVersion", null=True, on_delete=models.SET_NULL, related_name="sessions"
    )
    settings = models.JSONField(default=dict)
    #: Of a session without a film of its own, as its document says.
    duration_s = models.FloatField(null=True)
    #: Counts and minutes of a session entered by hand, as `core.history.logbook` reads them.
    by_hand = models.JSONField(null=True)
    #: When it began, where a phone led it: its taps lie on the clock on the wall from there.
    led_at = models.DateTimeField(null=True)
    #: What lists show of it as its edits stand: SUMMARISED facts and the number of `marks`.
    #: Written with every change, so that lists need not go through the edits.
    summary = models.JSONField(default=dict)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        app_label = "reviews"
        ordering = ("-created_at", "-id")

    @property
    def clips(self) -> list[Film]:
        """The session's films in the order they were shot, those that can be looked at."""
        # Sorted here, so that films fetched with many sessions are not asked for again.
        in_order = sorted(self.films.all(), key=lambda film: (film.place, film.created_at))
        return [film for film in in_order if film.has_index]

    @property
    def learner_now(self) -> str:
        """The learner as the edits have it; so the three below."""
        return self.summary.get("learner") or self.learner

    @property
    def behaviour_now(self) -> str:
        return self.summary.get("behaviour") or self.behaviour

    @property
    def date_now(self) -> dt.date | None:
        said = self.summary.get("date")
        return dt.date.fromisoformat(said) if said else self.date

    @property
    def trainer_now(self) -> str:
        """Who trained: what the edits say, else whoever brought the film."""
        return self.summary.get("trainer") or self.trainer

    @property
    def marks(self) -> int:
        """The number of its marks."""
        return self.summary.get("marks", 0)

    def remove(self) -> None:
        """It goes with its marks, its history and its films."""
        for film in self.films.all():
            film.delete()
        self.delete()

    def __str__(self) -> str:
        facts = (self.learner_now, self.behaviour_now, str(self.date_now or ""))
        return " · ".join(filter(None, facts))
