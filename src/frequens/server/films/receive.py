"""Receiving an upload: streamed to disk and hashed on its way, whole or not at all."""

from __future__ import annotations

import errno
import hashlib
import shutil
from pathlib import Path
from typing import Protocol

from django.conf import settings

CHUNK = 1024 * 1024


class Readable(Protocol):
    """Something that gives the next bytes of an upload."""

    def read(self, size: int, /) -> bytes: ...


class ReceiveFault(Exception):
    """The upload cannot be taken. `status` is the HTTP status, the message a sentence."""

    def __init__(self, status: int, message: str):
        super().__init__(message)
        self.status = status


DISK_FULL = "The disk is full: there is no room for this film. Make room, then upload it again."


def receive(upload: Readable, expected: int | None, target: Path) -> tuple[int, str]:
    """Stream `upload` to `target`; returns its size and SHA-256.

    `expected` is the announced size in bytes, where known. Raises ReceiveFault if it is
    empty, too large, breaks off or the disk is full; then nothing stays on the disk.
    """
    if expected is not None and expected > settings.FILM_MOST_BYTES:
        raise ReceiveFault(413, _too_large())
    target.parent.mkdir(parents=True, exist_ok=True)
    part = target.with_name(target.name + ".part")
    try:
        _check_room(target.parent, expected or 0)
        size, digest = _stream(upload, part)
        if size == 0:
            raise ReceiveFault(422, "The file is empty: nothing was recorded or copied.")
        if expected is not None and size != expected:
            raise ReceiveFault(400, "The upload broke off. Upload the film again.")
        part.replace(target)
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            raise ReceiveFault(507, DISK_FULL) from error
        raise
    finally:
        part.unlink(missing_ok=True)
    return size, digest


def _stream(upload: Readable, part: Path) -> tuple[int, str]:
    size, digest = 0, hashlib.sha256()
    with part.open("wb") as file:
        while chunk := upload.read(CHUNK):
            size += len(chunk)
            if size > settings.FILM_MOST_BYTES:
                raise ReceiveFault(413, _too_large())
            digest.update(chunk)
            file.write(chunk)
            if size % (64 * CHUNK) < CHUNK:
                _check_room(part.parent, 0)
    return size, digest.hexdigest()


def _check_room(folder: Path, needed: int) -> None:
    if shutil.disk_usage(folder).free < needed + settings.DISK_RESERVE_BYTES:
        raise ReceiveFault(507, DISK_FULL)


def _too_large() -> str:
    return f"The film is larger than {settings.FILM_MOST_BYTES / 1024**3:.0f} GB, the limit here."
