"""A session and the edits that make up its coding."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import TYPE_CHECKING

from django.conf import settings
from django.db import models

from ..workspaces.models import Owned

if TYPE_CHECKING:
    from ..films.models import Film


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
    #: Counts and minutes of a session entered by hand, as `core.logbook` reads them.
    by_hand = models.JSONField(null=True)
    #: What lists show of it as its edits stand: LISTED facts and the number of `marks`.
    #: Written with every change, so that lists need not go through the edits.
    listed = models.JSONField(default=dict)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-created_at", "-id")

    @property
    def clips(self) -> list[Film]:
        """The session's films in the order they were shot, those that can be looked at."""
        return [film for film in self.films.order_by("place", "created_at") if film.has_index]

    @property
    def learner_now(self) -> str:
        """The learner as the edits have it; so the three below."""
        return self.listed.get("learner") or self.learner

    @property
    def behaviour_now(self) -> str:
        return self.listed.get("behaviour") or self.behaviour

    @property
    def date_now(self) -> dt.date | None:
        said = self.listed.get("date")
        return dt.date.fromisoformat(said) if said else self.date

    @property
    def trainer_now(self) -> str:
        """Who trained: what the edits say, else whoever brought the film."""
        return self.listed.get("trainer") or self.trainer

    @property
    def marks(self) -> int:
        """The number of its marks."""
        return self.listed.get("marks", 0)

    def __str__(self) -> str:
        facts = (self.learner_now, self.behaviour_now, str(self.date_now or ""))
        return " · ".join(filter(None, facts))


class Lineage(models.Model):
    """Which history the edits' numbers count: a restored backup goes on with another one.

    There is one row. Who knows edits of another history has to offer them again.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)

    def __str__(self) -> str:
        return str(self.id)

    @classmethod
    def now(cls) -> str:
        """The history that goes on here."""
        known = cls.objects.values_list("pk", flat=True).first()
        return str(known or cls.objects.create().pk)


class Measured(models.Model):
    """A session's findings as they were measured last; `state` says of which marks."""

    session = models.OneToOneField(TrainingSession, on_delete=models.CASCADE)
    state = models.TextField()
    findings = models.JSONField(null=True)
    faults = models.JSONField(default=list)
    #: The findings without their longest parts, for pages that show many sessions.
    gist = models.JSONField(null=True)
    #: What judgements ask of it: the session in short, and the plan it was filmed under.
    digest = models.JSONField(null=True)

    def __str__(self) -> str:
        return f"{self.session} as measured"


class Edit(models.Model):
    """One change to a session's marks or facts. Edits are never changed or removed.

    `id` is the order in which the server took them; `client_id` makes sending one twice
    the same as sending it once. `body` is one of::

        {"op": "put", "event": {...}}     an event as the document writes it, or with
                                          `frame` and `pts` in place of t and width
        {"op": "drop", "id": "..."}       the event with this id is gone
        {"op": "marks", "events": [...]}  these events in place of all there were
        {"op": "facts", "set": {...}}     session facts, FACTS of `folding`
        {"op": "note", "part": "...", "text": "..."}   a note beside one part of the findings
    """

    session = models.ForeignKey(TrainingSession, on_delete=models.CASCADE, related_name="edits")
    client_id = models.CharField(max_length=64)
    author = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL)
    created_at = models.DateTimeField(auto_now_add=True)
    body = models.JSONField()

    class Meta:
        ordering = ("id",)
        constraints = [
            models.UniqueConstraint(fields=["session", "client_id"], name="edit_sent_once")
        ]

    def __str__(self) -> str:
        return f"{self.body.get('op')} in {self.session}"
