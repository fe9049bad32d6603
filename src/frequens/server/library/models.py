"""A film and the stages it goes through on its way in."""

from __future__ import annotations

import shutil
import uuid
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.db import models, transaction

from frequens.media.decode.frames import FrameIndex
from frequens.media.sound.clicks import Candidates, Sound
from frequens.media.sound.words import Voices

from ..accounts.models import Owned
from .film_files import FilmFiles, RemovedFilm, remove_leftovers
from .film_store import film_store

#: Folders of films that are being removed begin with it.
REMOVED = "removed-"
#: The stages after the file is there, in their order.
STAGES = ("check", "index", "review", "sound")


class Film(FilmFiles, Owned):
    """One film file. Sizes in pixels as displayed, times in microseconds."""

    class State(models.TextChoices):
        RECEIVING = "receiving"
        WAITING = "waiting"
        WORKING = "working"
        READY = "ready"
        FAILED = "failed"
        CANCELLED = "cancelled"

    #: In these something is still done with it.
    UNDER_WAY = (State.RECEIVING, State.WAITING, State.WORKING)

    class Origin(models.TextChoices):
        UPLOAD = "upload"
        SIMULATED = "simulated"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    session = models.ForeignKey(
        "reviews.TrainingSession", null=True, on_delete=models.SET_NULL, related_name="films"
    )
    #: Its place among the clips of its session.
    place = models.PositiveSmallIntegerField(default=0)
    name = models.CharField(max_length=255)
    #: Who brought it, and is taken for the trainer in it until somebody says otherwise.
    trainer = models.CharField(max_length=200, blank=True)
    origin = models.CharField(max_length=10, choices=Origin, default=Origin.UPLOAD)
    #: What the simulated camera was asked for.
    request = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State, default=State.RECEIVING)
    fault_code = models.CharField(max_length=40, blank=True)
    fault_text = models.TextField(blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    #: Until when the worker that has the film may be believed alive.
    lease_until = models.DateTimeField(null=True)
    #: Which claim on it holds the lease: one that was overtaken must not write any more.
    holder = models.CharField(max_length=32, blank=True)

    bytes = models.BigIntegerField(null=True)
    sha256 = models.CharField(max_length=64, blank=True)
    codec = models.CharField(max_length=40, blank=True)
    width = models.PositiveIntegerField(null=True)
    height = models.PositiveIntegerField(null=True)
    rotation = models.PositiveIntegerField(default=0)
    has_sound = models.BooleanField(default=False)
    sound_late = models.BooleanField(default=False)
    #: When and with what, as the film itself says; ISO 8601 with its zone.
    recorded_at = models.CharField(max_length=40, blank=True)
    device = models.CharField(max_length=100, blank=True)
    #: What the sender's clock went by, as IANA calls it, and when the file was last written there.
    zone = models.CharField(max_length=64, blank=True)
    written_at = models.DateTimeField(null=True)
    #: When its first frame was filmed, as far as anything says so; see `filming_time`.
    filmed_at = models.DateTimeField(null=True)
    #: How many times slower than life it plays; null until it has been looked at.
    slowed = models.PositiveSmallIntegerField(null=True)
    frames = models.PositiveIntegerField(null=True)
    duration_us = models.BigIntegerField(null=True)
    dropped = models.PositiveIntegerField(null=True)

    class Meta:
        ordering = ("-created_at", "-id")

    def __str__(self) -> str:
        return self.name

    @property
    def index(self) -> FrameIndex:
        """Every frame's time. Only once the frames are indexed."""
        return _load_index(self.here(self.index_path))

    @property
    def heard(self) -> Sound:
        """What may have been a click, in time order; none where the sound was not read."""
        path = self.here(self.heard_path)
        return _load_heard(path) if path.exists() else Sound(Candidates.none())

    @property
    def voices(self) -> Voices:
        """What voices leave in the sound; nothing where it was not read."""
        path = self.here(self.voices_path)
        return _load_voices(path) if path.exists() else Voices.none()

    @property
    def has_index(self) -> bool:
        """Whether its frames' times are known, and so marks can stand on them."""
        return self.has(self.index_path)

    def stage_done(self, name: str) -> bool:
        """Whether this stage has come to a good end."""
        return self.stages.filter(name=name, state=Stage.State.DONE).exists()

    def delete(self, *args: Any, **kwargs: Any) -> Any:
        # Once the row is gone the film has no id, and so no folder, any more.
        folder, pk = self.folder, self.pk
        with transaction.atomic():
            if film_store() is not None:
                RemovedFilm.objects.get_or_create(film_id=pk)
            deleted = super().delete(*args, **kwargs)
        transaction.on_commit(remove_leftovers)
        # Under a name that says so, should the house be killed half-way.
        going = folder.with_name(REMOVED + folder.name)
        if folder.exists():
            folder.replace(going)
        shutil.rmtree(going, ignore_errors=True)
        return deleted


@lru_cache(maxsize=32)
def _load_index(path: Path) -> FrameIndex:
    # A film's index never changes once written, and its folder's name is its own.
    return FrameIndex.load(path)


@lru_cache(maxsize=32)
def _load_heard(path: Path) -> Sound:
    return Sound(Candidates.load(path))


@lru_cache(maxsize=8)
def _load_voices(path: Path) -> Voices:
    return Voices.load(path)


class Stage(models.Model):
    """One step of taking a film in, with its share done (0 to 1)."""

    class State(models.TextChoices):
        WAITING = "waiting"
        WORKING = "working"
        DONE = "done"
        FAILED = "failed"
        #: Done once; what it made was removed to save room.
        DROPPED = "dropped"

    film = models.ForeignKey(Film, on_delete=models.CASCADE, related_name="stages")
    place = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=10)
    state = models.CharField(max_length=10, choices=State, default=State.WAITING)
    share = models.FloatField(default=0)
    fault_text = models.TextField(blank=True)

    class Meta:
        ordering = ("place",)
        constraints = [models.UniqueConstraint(fields=["film", "name"], name="one_stage")]

    def __str__(self) -> str:
        return f"{self.name} of {self.film}"
