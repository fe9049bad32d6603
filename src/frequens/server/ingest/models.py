"""Films that come in piece by piece, and are not whole yet."""

from __future__ import annotations

import uuid
from pathlib import Path

from django.conf import settings
from django.db import models

from ..accounts.models import Owned

#: Where they lie, in the folder of the films.
FOLDER = "arriving"


class Arriving(Owned):
    """A film on its way in by pieces. Its id becomes the film's, so that it can only become one."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=255)
    trainer = models.CharField(max_length=200, blank=True)
    #: Of the whole film.
    bytes = models.BigIntegerField()
    #: What the sender's own clock goes by, as IANA calls it, and when the file was last written.
    zone = models.CharField(max_length=64, blank=True)
    written_at = models.DateTimeField(null=True)
    created_at = models.DateTimeField(auto_now_add=True)
    #: The last piece came then; long after it the upload is given up.
    touched_at = models.DateTimeField()
    #: It has become a film, which may be gone again.
    is_whole = models.BooleanField(default=False)

    class Meta:
        ordering = ("-created_at", "-id")

    def __str__(self) -> str:
        return self.name

    @property
    def path(self) -> Path:
        """What came so far."""
        return Path(settings.MEDIA_ROOT) / FOLDER / str(self.pk)

    @property
    def turn_path(self) -> Path:
        """Which connection may write, and the lock for it."""
        return self.path.with_suffix(".turn")
