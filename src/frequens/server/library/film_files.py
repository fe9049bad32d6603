"""Where what belongs to a film lies: here, where it is worked on, and in the object store, if any.

Decoding needs files. With a store, a film's folder holds copies of what is kept there: fetched when
they are asked for, and given up again when room is wanted. A copy is the kept file if its size and
its time of writing are; so one that another machine has made anew meanwhile is seen to be old.
"""

from __future__ import annotations

import contextlib
import errno
import logging
import os
import shutil
import time
import uuid
from collections.abc import Callable, Iterable, Mapping
from functools import partial
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import models, transaction

from frequens.words.spoken import refusals as words

from .film_store import COMING, StoreFault, film_store
from .sources import FileHere, FileThere, Source

_log = logging.getLogger("frequens.films")

#: Of a larger file in the store stretches are handed on; it is not fetched for that.
FETCHED_BYTES = 8 * 1024**2
#: What was used within so many seconds is not given up for room: it may be about to be opened.
SPARED_S = 600.0
#: Between two looks at the room, seconds.
LOOK_EVERY_S = 60.0

#: How a transfer is waited for; a worker renews its lease meanwhile.
Carry = Callable[[Callable[[], None]], None]


class StoredFile(models.Model):
    """A file of a film that the store keeps, as it was when it was put there."""

    film = models.ForeignKey("films.Film", on_delete=models.CASCADE, related_name="stored_files")
    name = models.CharField(max_length=60)
    bytes = models.BigIntegerField()
    #: When its file was written, nanoseconds of the epoch.
    written_ns = models.BigIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["film", "name"], name="one_stored_file")]

    def __str__(self) -> str:
        return f"{self.name} of {self.film_id}"

    def is_this(self, path: Path) -> bool:
        """Whether this file is the one that is kept."""
        try:
            found = path.stat()
        except FileNotFoundError:
            return False
        return (found.st_size, found.st_mtime_ns) == (self.bytes, self.written_ns)


class RemovedFilm(models.Model):
    """A film that is gone while the store may still keep files of it."""

    film_id = models.UUIDField(unique=True)

    def __str__(self) -> str:
        return f"What is left of {self.film_id}"


def _at_once(move: Callable[[], None]) -> None:
    move()


class FilmFiles:
    """What a film has in files. Paths are where something lies while it is here.

    Whatever speaks to the store raises StoreFault where that does not answer.
    """

    pk: Any
    slowed: Any
    stored_files: Any

    @property
    def folder(self) -> Path:
        """Everything of this film on disk lies here."""
        return Path(settings.MEDIA_ROOT) / str(self.pk)

    @property
    def original(self) -> Path:
        return self.folder / "original"

    @property
    def index_path(self) -> Path:
        return self.folder / f"index{self._speed}.json"

    @property
    def _speed(self) -> str:
        """In the names of what is kept for one speed, so that it can never be another's."""
        return f"-{self.slowed}" if self.slowed and self.slowed > 1 else ""

    @property
    def poster_path(self) -> Path:
        """A picture for lists; films of earlier versions have none."""
        return self.folder / "poster.jpg"

    @property
    def review_path(self) -> Path:
        return self.folder / "review.mp4"

    @property
    def pieces_path(self) -> Path:
        """Pieces of the review copy that can be used while it is under way, on this machine."""
        return self.folder / f"pieces{self._speed}"

    @property
    def sound_path(self) -> Path:
        return self.folder / "sound.bin"

    @property
    def fine_path(self) -> Path:
        """The sound as one looks at it closely, row after row."""
        return self.folder / "fine.bin"

    @property
    def heard_path(self) -> Path:
        """Candidates of heard clicks, as `frequens.media.sound.clicks` writes them."""
        return self.folder / "heard.npz"

    @property
    def voices_path(self) -> Path:
        """What voices leave in the sound, as `frequens.media.sound.words` writes it."""
        return self.folder / "voices.npz"

    @property
    def truth_path(self) -> Path:
        """What the simulated camera filmed, as a `frequens-session` document."""
        return self.folder / "truth.frequens.json"

    def stored(self, path: Path) -> StoredFile | None:
        """What the store keeps under this path's name."""
        if film_store() is None:
            return None
        return next((one for one in self.stored_files.all() if one.name == path.name), None)

    def has(self, path: Path) -> bool:
        """Whether it is anywhere."""
        return path.exists() or self.stored(path) is not None

    def here(self, path: Path, carry: Carry = _at_once) -> Path:
        """The path, with its file there if it is anywhere: one that the store keeps is fetched."""
        store, kept = film_store(), self.stored(path)
        if store is None or kept is None:
            return path
        if kept.is_this(path):
            # It was asked for now: what nobody asked for longest is given up first. One that
            # another process gives up at this moment is fetched again.
            with contextlib.suppress(FileNotFoundError):
                os.utime(path, ns=(time.time_ns(), kept.written_ns))
                return path
        path.parent.mkdir(parents=True, exist_ok=True)
        coming = path.with_name(f"{COMING}{uuid.uuid4().hex}")
        try:
            carry(partial(store.fetch, self._name(path.name), coming))
            os.utime(coming, ns=(time.time_ns(), kept.written_ns))
            coming.replace(path)
        except OSError as error:
            if error.errno not in (errno.ENOSPC, errno.EDQUOT):
                raise
            raise StoreFault(words.NO_ROOM_TO_FETCH) from error
        finally:
            coming.unlink(missing_ok=True)
        make_room()
        return path

    def source(self, path: Path) -> Source | None:
        """The file to be read in stretches, from here or straight from the store; None: nowhere."""
        store, kept = film_store(), self.stored(path)
        is_far = kept is not None and kept.bytes > FETCHED_BYTES and not kept.is_this(path)
        if store is not None and kept is not None and is_far:
            return FileThere(store, self._name(path.name), kept.bytes)
        try:
            return FileHere(self.here(path))
        except FileNotFoundError:
            return None

    def put_away(self, files: Mapping[str, Path], carry: Carry = _at_once) -> list[StoredFile]:
        """Give the store files under their names; `keep_stored` then writes down that it has them.

        In this order, so that what is written down is there.
        """
        store = film_store()
        if store is None:
            return []
        kept = []
        for name, path in files.items():
            found = path.stat()
            carry(partial(store.put, path, self._name(name)))
            row = {"name": name, "bytes": found.st_size, "written_ns": found.st_mtime_ns}
            kept.append(StoredFile(film_id=self.pk, **row))
        make_room()
        return kept

    def put_all_away(self) -> int:
        """Give the store whatever is here and it does not keep yet; returns how many files."""
        came_or_looked = (self.original, self.truth_path, self.index_path, self.poster_path)
        heard = (self.sound_path, self.fine_path, self.heard_path, self.voices_path)
        ours = (*came_or_looked, self.review_path, *heard)
        waiting = [path for path in ours if path.exists() and self.stored(path) is None]
        keep_stored(self.put_away({path.name: path for path in waiting}))
        return len(waiting)

    def take_back(self) -> int:
        """Fetch all the store keeps, and leave it there as nobody's; returns how many files.

        From then on the folder here is where they lie.
        """
        kept = list(self.stored_files.all())
        for one in kept:
            self.here(self.folder / one.name)
            one.delete()
        return len(kept)

    def forget_stored(self, names: Iterable[str]) -> None:
        """What the store keeps under these names is not this film's any more: it is made anew."""
        if film_store() is not None:
            self.stored_files.filter(name__in=list(names)).delete()

    def discard(self, path: Path) -> None:
        """Remove one file, here and in the store."""
        store, kept = film_store(), self.stored(path)
        path.unlink(missing_ok=True)
        if store is not None and kept is not None:
            kept.delete()
            store.remove_file(self._name(path.name))

    def clear_files(self) -> None:
        """Remove everything of this film from the disk and from the store."""
        shutil.rmtree(self.folder, ignore_errors=True)
        if film_store() is not None:
            RemovedFilm.objects.get_or_create(film_id=self.pk)
            transaction.on_commit(remove_leftovers)

    def _name(self, name: str) -> str:
        return f"{self.pk}/{name}"


def keep_stored(kept: Iterable[StoredFile]) -> None:
    """Write down what `put_away` gave the store."""
    for one in kept:
        values = {"bytes": one.bytes, "written_ns": one.written_ns}
        StoredFile.objects.update_or_create(values, film_id=one.film_id, name=one.name)


def remove_leftovers() -> None:
    """What the store still keeps of films that are gone; tried again later where it fails."""
    store = film_store()
    if store is None:
        return
    for gone in RemovedFilm.objects.all():
        try:
            store.remove(str(gone.film_id))
        except StoreFault as fault:
            _log.warning("%s (%r) What is left goes later.", fault, fault.__cause__)
            return
        gone.delete()


_looked_at = -LOOK_EVERY_S


def make_room() -> None:
    """Give up copies that were not asked for longest, until films take no more than they may here.

    Only what the store keeps as it is goes; nothing where there is no store.
    """
    global _looked_at
    if film_store() is None or time.monotonic() - _looked_at < LOOK_EVERY_S:
        return
    _looked_at = time.monotonic()
    files = []
    for path in Path(settings.MEDIA_ROOT).glob("*/*"):
        # What goes at this moment is no matter.
        with contextlib.suppress(FileNotFoundError):
            files += [(path, path.stat())] if path.is_file() else []
    over = sum(found.st_size for _, found in files) - settings.FILMS_HERE_BYTES
    for path, found in sorted(files, key=lambda pair: pair[1].st_atime_ns):
        if over <= 0 or time.time() - found.st_atime < SPARED_S:
            return
        kept = _kept_as(path)
        if kept is not None and kept.is_this(path):
            path.unlink(missing_ok=True)
            over -= found.st_size


def _kept_as(path: Path) -> StoredFile | None:
    try:
        film = uuid.UUID(path.parent.name)
    except ValueError:
        # Uploads on their way lie beside the films.
        return None
    return StoredFile.objects.filter(film_id=film, name=path.name).first()
