"""The camera that films by itself, as `settings.CAMERA` names it: here a simulated one."""

from __future__ import annotations

from collections.abc import Mapping
from importlib import import_module
from typing import Protocol, cast

from django.conf import settings


class Camera(Protocol):
    """A module. Its `film` is run as a stage: `media.ingest.stage.stage_named`."""

    #: Whom it can film, and in which size, pixels.
    SUBJECTS: tuple[str, ...]
    SIZES: Mapping[str, Mapping[str, int]]


def camera() -> Camera:
    """The camera there is."""
    return cast(Camera, import_module(settings.CAMERA))


def filming() -> str:
    """The name of the stage in which it films."""
    return f"{settings.CAMERA}:film"
