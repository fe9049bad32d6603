"""Receiving an upload: to the disk as it comes, hashed on its way, whole or not at all.

Until it is whole it lies in a folder of its own, which is empty whenever nobody uploads.
"""

from __future__ import annotations

import contextlib
import errno
import hashlib
import os
import shutil
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from django.conf import settings

from frequens.words import fill
from frequens.words.spoken import films, refusals

CHUNK = 1024 * 1024


class Readable(Protocol):
    """Something that gives the next bytes of an upload."""

    def read(self, size: int, /) -> bytes: ...


class ReceiveFault(Exception):
    """The upload cannot be taken. `status` is the HTTP status, the message a sentence."""

    def __init__(self, status: int, message: str):
        super().__init__(message)
        self.status = status


@dataclass(frozen=True)
class Received:
    """A whole file that came in: where it lies, its size in bytes and its SHA-256."""

    path: Path
    bytes: int
    sha256: str

    def keep_as(self, target: Path) -> None:
        """Give it its place; it is on the disk already, whole."""
        target.parent.mkdir(parents=True, exist_ok=True)
        self.path.replace(target)


class Incoming:
    """An upload on its way in.

    `expected` is the announced size in bytes, where known. Each step raises ReceiveFault where the
    upload is empty, too large, breaks off or the disk is full; after `drop` nothing of it is left.
    """

    def __init__(self, expected: int | None):
        if expected is not None and expected > settings.FILM_MOST_BYTES:
            raise ReceiveFault(413, too_large())
        folder = incoming_folder()
        with full_disk_told():
            folder.mkdir(parents=True, exist_ok=True)
            check_room(expected or 0)
            self._path = folder / uuid.uuid4().hex
            self._file = self._path.open("xb")
        self._expected, self._size, self._digest = expected, 0, hashlib.sha256()
        self._looked_at = 0

    def write(self, chunk: bytes) -> None:
        """The next bytes."""
        self._size += len(chunk)
        if self._size > settings.FILM_MOST_BYTES:
            raise ReceiveFault(413, too_large())
        self._digest.update(chunk)
        with full_disk_told():
            self._file.write(chunk)
            if self._size - self._looked_at > 64 * CHUNK:
                self._looked_at = self._size
                check_room(0)

    def finish(self) -> Received:
        """The whole, safe on the disk."""
        if self._size == 0:
            raise ReceiveFault(422, films.EMPTY)
        if self._expected is not None and self._size != self._expected:
            raise ReceiveFault(400, refusals.SENDING_BROKE_OFF)
        with full_disk_told():
            self._file.flush()
            os.fsync(self._file.fileno())
            self._file.close()
        return Received(self._path, self._size, self._digest.hexdigest())

    def drop(self) -> None:
        """Leave nothing of it."""
        with contextlib.suppress(OSError):
            self._file.close()
        self._path.unlink(missing_ok=True)


def receive(upload: Readable, expected: int | None) -> Received:
    """An upload that is read from here, where no front has received it before."""
    incoming = Incoming(expected)
    try:
        while chunk := upload.read(CHUNK):
            incoming.write(chunk)
        return incoming.finish()
    except BaseException:
        incoming.drop()
        raise


def incoming_folder() -> Path:
    """Where uploads lie until they are whole."""
    return Path(settings.MEDIA_ROOT) / "incoming"


def check_room(needed: int) -> None:
    """Raise ReceiveFault where so many bytes more would leave the database none."""
    folder = Path(settings.MEDIA_ROOT)
    folder.mkdir(parents=True, exist_ok=True)
    if shutil.disk_usage(folder).free < needed + settings.DISK_RESERVE_BYTES:
        raise ReceiveFault(507, refusals.NO_ROOM)


@contextlib.contextmanager
def full_disk_told() -> Iterator[None]:
    """A disk that is full raises ReceiveFault."""
    try:
        yield
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            raise ReceiveFault(507, refusals.NO_ROOM) from error
        raise


def too_large() -> str:
    """What is said of a file beyond the limit."""
    return fill(refusals.FILE_TOO_LARGE, {"most_gb": settings.FILM_MOST_BYTES / 1024**3})
