"""A film that comes in pieces: each goes behind the last, and what was told as received stays.

How far it is, is the size of its file, told only once that much is safe on the disk. A phone that
lost its connection comes back by another one while the first still hangs here: whoever came last
has the turn, and the older connection writes nothing any more.
"""

from __future__ import annotations

import contextlib
import datetime as dt
import fcntl
import hashlib
import os
import uuid
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from frequens.words import fill
from frequens.words.spoken import films, refusals

from ..library.film_store import StoreFault
from ..library.models import Film
from .models import FOLDER, Arriving
from .queueing import queue_film
from .receive import CHUNK, Readable, ReceiveFault, check_room, full_disk_told, too_large

#: So long after its last piece an upload is given up.
KEPT = dt.timedelta(days=7)


def begin(arriving: Arriving) -> None:
    """Make room for a film to come. Raises ReceiveFault where it is empty, too large or no room."""
    if arriving.bytes > settings.FILM_MOST_BYTES:
        raise ReceiveFault(413, too_large())
    if arriving.bytes == 0:
        raise ReceiveFault(422, films.EMPTY)
    with full_disk_told():
        arriving.path.parent.mkdir(parents=True, exist_ok=True)
        check_room(arriving.bytes)
        arriving.path.touch()
    arriving.touched_at = timezone.now()
    arriving.save()


def received(arriving: Arriving) -> int:
    """The bytes that are here, safe on the disk. A film that is whole is taken in, if none is yet.

    Raises ReceiveFault for one that was given up meanwhile.
    """
    if arriving.is_whole:
        return arriving.bytes
    with _turn(arriving):
        return _here(arriving)


class Piece:
    """The next piece of a film, written as it comes.

    Raises ReceiveFault where it does not begin where the last one ended (409), is too long (413),
    another connection has taken over or the films' store does not answer (423), or the disk is full
    (507). Whatever came of a piece that breaks off stays.
    """

    def __init__(self, arriving: Arriving, offset: int):
        self._arriving = arriving
        self._own = uuid.uuid4().hex.encode()
        self._looked_at = 0
        with _turn(arriving) as turn:
            size = _here(arriving)
            if offset != size:
                raise ReceiveFault(
                    409, fill(refusals.NEXT_PIECE, {}, size=str(size), offset=str(offset))
                )
            os.pwrite(turn, self._own, 0)
        self._size = size
        # A film that is whole already has no file here any more.
        with full_disk_told():
            flags = os.O_WRONLY | os.O_CREAT
            self._file = None if arriving.is_whole else os.open(arriving.path, flags, 0o600)

    def write(self, chunk: bytes) -> None:
        """The next bytes."""
        if self._file is None or self._size + len(chunk) > self._arriving.bytes:
            raise ReceiveFault(413, refusals.MORE_THAN_SAID)
        with _turn(self._arriving) as turn:
            if os.pread(turn, len(self._own), 0) != self._own:
                raise ReceiveFault(423, refusals.OVERTAKEN)
            if self._size - self._looked_at > 64 * CHUNK:
                self._looked_at = self._size
                check_room(0)
            left = memoryview(chunk)
            while left:
                written = os.pwrite(self._file, left, self._size)
                self._size += written
                left = left[written:]

    def finish(self) -> int:
        """The bytes of the film that are here now; the last piece makes it one."""
        self.drop()
        here = received(self._arriving)
        Arriving.objects.filter(pk=self._arriving.pk).update(touched_at=timezone.now())
        return here

    def drop(self) -> None:
        """It broke off, or is at its end: what came stays."""
        if self._file is not None:
            os.close(self._file)
            self._file = None


def append(arriving: Arriving, offset: int, piece: Readable) -> int:
    """A piece that is read from here, where no front has received it before."""
    writing = Piece(arriving, offset)
    try:
        while chunk := piece.read(CHUNK):
            writing.write(chunk)
        return writing.finish()
    finally:
        writing.drop()


def give_up(arriving: Arriving) -> None:
    """Leave nothing of it; a film it has become stays."""
    with _turn(arriving) as turn:
        # Whoever still writes has lost the turn.
        os.ftruncate(turn, 0)
        arriving.path.unlink(missing_ok=True)
        arriving.turn_path.unlink(missing_ok=True)
        arriving.delete()


def give_up_old() -> None:
    """Uploads nobody went on with, and files that no row knows."""
    for old in Arriving.objects.filter(touched_at__lt=timezone.now() - KEPT):
        give_up(old)
    known = {str(pk) for pk in Arriving.objects.values_list("pk", flat=True)}
    for path in (Path(settings.MEDIA_ROOT) / FOLDER).glob("*"):
        # One that begins at this moment has its row a moment later.
        is_old = path.stat().st_mtime < (timezone.now() - KEPT).timestamp()
        if path.stem not in known and is_old:
            path.unlink()


def _here(arriving: Arriving) -> int:
    try:
        # Another connection may have brought the rest, or given it up.
        arriving.refresh_from_db()
    except Arriving.DoesNotExist as error:
        raise ReceiveFault(410, refusals.UPLOAD_GIVEN_UP) from error
    if not arriving.is_whole:
        size = _safe_size(arriving.path)
        if size < arriving.bytes and arriving.path.exists():
            return size
        # Its last answer, or the house, was lost on the way.
        _become_a_film(arriving)
    return arriving.bytes if arriving.is_whole else 0


def _become_a_film(arriving: Arriving) -> None:
    """The whole file gets its place, then the film its row: in this order nothing can be lost."""
    film = Film(
        pk=arriving.pk,
        workspace=arriving.workspace,
        name=arriving.name,
        trainer=arriving.trainer,
        bytes=arriving.bytes,
        zone=arriving.zone,
        written_at=arriving.written_at,
    )
    whole = arriving.path if arriving.path.exists() else film.original
    if not whole.exists():
        return
    with whole.open("rb") as file:
        film.sha256 = hashlib.file_digest(file, "sha256").hexdigest()
    try:
        kept = film.put_away({film.original.name: whole})
    except StoreFault as fault:
        # It is whole and stays; whoever asks again lets it be tried again. Locked, and not a fault
        # of the server: the protocol's clients begin anew after such a one.
        raise ReceiveFault(423, str(fault)) from fault
    if whole != film.original:
        film.folder.mkdir(parents=True, exist_ok=True)
        whole.replace(film.original)
        _safe_folder(film.folder)
        _safe_folder(film.folder.parent)
    with transaction.atomic():
        if not Film.objects.filter(pk=film.pk).exists():
            queue_film(film, kept)
        arriving.is_whole = True
        arriving.save(update_fields=["is_whole"])
    arriving.turn_path.unlink(missing_ok=True)


def _safe_size(path: Path) -> int:
    """The size of what is on the disk, and would be after a power cut."""
    try:
        file = os.open(path, os.O_RDONLY)
    except FileNotFoundError:
        return 0
    try:
        os.fsync(file)
        return os.fstat(file).st_size
    finally:
        os.close(file)


def _safe_folder(folder: Path) -> None:
    """A name in a folder is safe once the folder is."""
    file = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(file)
    finally:
        os.close(file)


@contextlib.contextmanager
def _turn(arriving: Arriving) -> Iterator[int]:
    """Alone at this film, among all processes. A full disk raises ReceiveFault."""
    with full_disk_told():
        arriving.turn_path.parent.mkdir(parents=True, exist_ok=True)
        file = os.open(arriving.turn_path, os.O_RDWR | os.O_CREAT, 0o600)
        try:
            fcntl.flock(file, fcntl.LOCK_EX)
            yield file
        finally:
            os.close(file)
