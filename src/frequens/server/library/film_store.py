"""The object store films are kept in, where a setting names one: Django's storage called `films`.

Everything that is asked of it is asked here. What it cannot do now, or does not have, is a
StoreFault.
"""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from functools import cached_property
from pathlib import Path
from time import monotonic
from typing import Any, Protocol

from django.conf import settings
from django.core.files import File
from django.core.files.storage import storages

from frequens.words.spoken import refusals as words

ALIAS = "films"
#: How files begin that are on their way here from the store.
COMING = "coming-"
#: Where a question got no answer at all nobody waits for the next ones, for so many seconds: each
#: would hold a thread that marks are waiting for.
PAUSE_S = 5.0


class StoreFault(Exception):
    """The store does not answer, or not with what it was given; the message is a sentence."""


class Part(Protocol):
    """A stretch of a file, to be read once from its beginning."""

    def read(self, size: int = -1, /) -> bytes: ...

    def close(self) -> None: ...


def film_store() -> FilmStore | None:
    """The store of this installation; none where films simply lie in their folder."""
    return FilmStore() if ALIAS in settings.STORAGES else None


class FilmStore:
    """Files under names like ``FILM/review.mp4``."""

    def put(self, path: Path, name: str) -> None:
        """Keep a whole file under a name; what had it before is gone."""
        with _answering(), path.open("rb") as file:
            self._storage.save(name, File(file, name=path.name))

    def fetch(self, name: str, path: Path) -> None:
        """Write a kept file to a path."""
        with _answering():
            self._object(name).download_file(str(path))

    def part(self, name: str, start: int, length: int) -> Part:
        """So many bytes of a kept file from `start` on, as they come."""
        with _answering():
            wanted = f"bytes={start}-{start + length - 1}"
            body: Part = self._object(name).get(Range=wanted)["Body"]
            return body

    def remove(self, folder: str) -> None:
        """Everything whose name begins with this folder's."""
        with _answering():
            self._storage.bucket.objects.filter(Prefix=self._key(folder) + "/").delete()

    def remove_file(self, name: str) -> None:
        """One file, where it is there."""
        with _answering():
            self._storage.delete(name)

    def look(self) -> None:
        """Raise StoreFault where the store does not answer, or has no such bucket."""
        with _answering():
            self._storage.connection.meta.client.head_bucket(Bucket=self._storage.bucket_name)

    @cached_property
    def _storage(self) -> Any:
        return storages[ALIAS]

    def _key(self, name: str) -> str:
        return "/".join(part for part in (self._storage.location, name) if part)

    def _object(self, name: str) -> Any:
        return self._storage.bucket.Object(self._key(name))


#: Until when nothing is asked of the store, by the machine's steady clock.
_asked_again_at = 0.0


@contextlib.contextmanager
def _answering() -> Iterator[None]:
    # Only an installation with a store needs these packages.
    from boto3.exceptions import Boto3Error
    from botocore.exceptions import (
        BotoCoreError,
        ClientError,
        ConnectTimeoutError,
        ReadTimeoutError,
    )

    global _asked_again_at
    if monotonic() < _asked_again_at:
        raise StoreFault(words.STORE_SILENT)
    try:
        yield
    except (ConnectTimeoutError, ReadTimeoutError) as error:
        _asked_again_at = monotonic() + PAUSE_S
        raise StoreFault(words.STORE_SILENT) from error
    except ClientError as error:
        # It may be another bucket by mistake: what was kept is not given up for that.
        is_missing = error.response.get("Error", {}).get("Code") in ("404", "NoSuchKey")
        raise StoreFault(words.STORE_LACKS if is_missing else words.STORE_SILENT) from error
    except (Boto3Error, BotoCoreError) as error:
        raise StoreFault(words.STORE_SILENT) from error
