"""A film's file as something to be read in stretches, wherever it lies."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

from .film_store import FilmStore, Part


class Source(Protocol):
    """A whole file that can be read in stretches."""

    @property
    def size(self) -> int: ...

    def part(self, start: int, length: int) -> Part: ...


class FileHere:
    """A file on this machine."""

    def __init__(self, path: Path):
        self._path, self.size = path, path.stat().st_size

    def part(self, start: int, length: int) -> Part:
        return _Stretch(self._path, start, length)


class FileThere:
    """A file the store keeps."""

    def __init__(self, store: FilmStore, name: str, size: int):
        self._store, self._name, self.size = store, name, size

    def part(self, start: int, length: int) -> Part:
        return self._store.part(self._name, start, length)


class _Stretch:
    def __init__(self, path: Path, start: int, length: int):
        self._file = path.open("rb")
        self._file.seek(start)
        self._left = length

    def read(self, size: int = -1, /) -> bytes:
        most = self._left if size < 0 else min(size, self._left)
        chunk = self._file.read(most)
        self._left -= len(chunk)
        return chunk

    def close(self) -> None:
        self._file.close()
