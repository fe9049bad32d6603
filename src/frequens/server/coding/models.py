"""The edits that make up a session's coding."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from ..library.sessions import TrainingSession


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


class Edit(models.Model):
    """One change to a session's marks or facts. Edits are never changed or removed.

    `id` is the order in which the server took them; `client_id` makes sending one twice
    the same as sending it once. `body` is one of::

        {"op": "put", "event": {...}}     an event as the document writes it, or with
                                          `frame` and `pts` in place of t and width
        {"op": "drop", "id": "..."}       the event with this id is gone
        {"op": "marks", "events": [...]}  these events in place of all there were
        {"op": "facts", "set": {...}}     session facts, FACTS of `edit_checks`
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
