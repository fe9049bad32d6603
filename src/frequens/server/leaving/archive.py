"""Everything of a workspace as one zip of open formats, made while it is sent."""

from __future__ import annotations

import contextlib
import io
import json
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from frequens.core import InvalidSession
from frequens.core.model.bouts import BoutFault
from frequens.words.spoken import exports as words

from ..accounts.models import Workspace
from ..coding.edit_store import fold
from ..coding.open_formats import export
from ..downloads import file_name
from ..library.models import Film
from ..library.sessions import TrainingSession
from ..plans.models import Behaviour, Learner
from .rows import lines_of

CHUNK = 2**20
ROWS = "rows.jsonl"


def archive_of(workspace: Workspace, films: bool) -> Iterator[bytes]:
    """The archive bit by bit; nothing of it is held in memory but what is just being written."""
    sink = _Sink()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in _texts(workspace):
            archive.writestr(_entry(name), content)
            yield sink.taken()
        with archive.open(_entry(ROWS), "w", force_zip64=True) as rows:
            for line in lines_of(workspace):
                rows.write(line.encode())
                yield sink.taken()
        for film in Film.objects.filter(workspace=workspace):
            for name, path in beside(film).items():
                if film.here(path).exists():
                    archive.writestr(_entry(name), path.read_bytes())
                    yield sink.taken()
        for film in Film.objects.filter(workspace=workspace) if films else ():
            yield from _film(archive, sink, film)
    yield sink.taken()


class _Sink(io.RawIOBase):
    """Where the archive is written to, and taken from again."""

    def __init__(self) -> None:
        self._parts: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, part: Any) -> int:
        self._parts.append(bytes(part))
        return len(part)

    def taken(self) -> bytes:
        """What was written since the last time."""
        parts, self._parts = self._parts, []
        return b"".join(parts)


def _entry(name: str, how: int = zipfile.ZIP_DEFLATED) -> zipfile.ZipInfo:
    entry = zipfile.ZipInfo(name, date_time=time.localtime()[:6])
    entry.compress_type = how
    entry.external_attr = 0o600 << 16
    return entry


def _texts(workspace: Workspace) -> Iterator[tuple[str, str]]:
    yield "README.txt", words.READ_ME
    members = [user.get_username() for user in workspace.members.all()]
    yield "workspace.json", _json({"name": workspace.name, "trainers": members})
    yield (
        "learners.json",
        _json([_learner(learner) for learner in Learner.objects.filter(workspace=workspace)]),
    )
    for behaviour in Behaviour.objects.filter(workspace=workspace):
        folder = f"plans/{_named(str(behaviour), behaviour.pk)}"
        for version in behaviour.versions.all():
            yield f"{folder}/{version.number}.frequens-plan.json", _json(version.document)
    for session in TrainingSession.objects.filter(workspace=workspace):
        yield from _session(session)


def _learner(learner: Learner) -> dict[str, Any]:
    fields = (
        "name",
        "species",
        "born",
        "size",
        "health",
        "notes",
        "piece_kj",
        "day_kj",
        "withers_cm",
    )
    return {field: getattr(learner, field) for field in fields}


def _session(session: TrainingSession) -> Iterator[tuple[str, str]]:
    folder = f"sessions/{_named(str(session), session.pk)}"
    state = fold(session)
    films = [f"films/{film_name(film)}" for film in session.films.order_by("place", "created_at")]
    beside = {key: state.facts.get(key) for key in ("tags", "report", "next_session", "script")}
    notes = {"trainer": session.trainer_now, "notes": state.notes, "films": films, **beside}
    yield f"{folder}/notes.json", _json(notes)
    if session.by_hand is not None:
        yield f"{folder}/by-hand.json", _json(session.by_hand)
    changes = session.edits.values("client_id", "created_at", "author__username", "body")
    yield f"{folder}/history.json", _json(list(changes))
    for form, ending in (("json", "frequens.json"), ("csv", "csv"), ("vtt", "vtt")):
        try:
            yield f"{folder}/marks.{ending}", export(session, form)
        except (InvalidSession, BoutFault) as fault:
            yield f"{folder}/marks.{ending}.fault.txt", f"{fault}\n"


def _film(archive: zipfile.ZipFile, sink: _Sink, film: Film) -> Iterator[bytes]:
    source = film.source(film.original)
    if source is None:
        return
    entry = _entry(f"films/{film_name(film)}", zipfile.ZIP_STORED)
    with (
        contextlib.closing(source.part(0, source.size)) as file,
        archive.open(entry, "w", force_zip64=True) as target,
    ):
        while chunk := file.read(CHUNK):
            target.write(chunk)
            yield sink.taken()


def beside(film: Film) -> dict[str, Path]:
    """What belongs to a film beside itself, by its name in the archive."""
    name = f"frames/{_named('film', film.pk)}"
    return {f"{name}.json": film.index_path, f"{name}.truth.json": film.truth_path}


def film_name(film: Film) -> str:
    """A film's name in the archive's `films/`."""
    stem, dot, ending = film.name.rpartition(".")
    return _named(stem or ending, film.pk) + (f".{file_name(ending)}" if stem and dot else "")


def _named(said: str, pk: Any) -> str:
    """A name people know, and no two alike."""
    return f"{file_name(said)}-{str(pk)[:8]}"


def _json(value: Any) -> str:
    return json.dumps(value, indent=1, ensure_ascii=False, default=str) + "\n"
