"""An archive read into an empty workspace: everything as it was, or nothing and the reason."""

from __future__ import annotations

import contextlib
import hashlib
import shutil
import uuid
import zipfile
import zlib
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import Model

from frequens.core import InvalidSession
from frequens.core.planning.shaping import InvalidPlan, read_shaping_plan
from frequens.core.reading.acceptable import read_json
from frequens.core.reading.document_values import InvalidDocument, fault_at
from frequens.media.decode.frames import FrameIndex
from frequens.words import fill
from frequens.words.spoken import films, refusals

from ..accounts.models import Workspace
from ..coding.edit_checks import check_edit
from ..coding.edit_store import length_s
from ..coding.models import Edit
from ..coding.timeline import Timeline
from ..drill.kept_runs import check_run
from ..drill.models import DrillRun
from ..ingest.intake import plan_stages
from ..ingest.receive import check_room, incoming_folder
from ..library.film_store import StoreFault
from ..library.models import Film
from ..library.sessions import TrainingSession
from ..plans.models import Behaviour, Learner, PlanVersion
from .archive import ROWS, beside, film_name
from .rows import FORMAT, KINDS, PEOPLE, VERSION, fields_of, read_value

CHUNK = 2**20
#: A line is an edit at most; the largest is an imported session.
LONGEST_LINE = 64 * 1024**2


class BadArchive(Exception):
    """An archive that cannot be brought back; its text says why and what to do."""


def is_empty(workspace: Workspace) -> bool:
    """Whether nothing is in it yet."""
    owned: tuple[type[Any], ...] = (Learner, Behaviour, TrainingSession, Film)
    return not any(model.objects.filter(workspace=workspace).exists() for model in owned)


def bring_back(path: Path, workspace: Workspace, nameless: bool = False) -> dict[str, int]:
    """Read an archive into a workspace that has nothing in it yet.

    `nameless`: also where it names people who have no account in the workspace; what they did
    then stands without a name. Returns how many rows of each kind came back. Raises BadArchive,
    or ReceiveFault where there is no room, and nothing is changed then. Films wait to be taken in
    afterwards.
    """
    if not is_empty(workspace):
        raise BadArchive(fill(refusals.NOT_EMPTY, {}, workspace=workspace.name))
    made: list[Path] = []
    # Emptied at a start, should this be killed half-way.
    staging = incoming_folder() / uuid.uuid4().hex
    try:
        with zipfile.ZipFile(path) as archive:
            bringing = _Bringing(archive, workspace, nameless, made)
            # Copying films takes long: the database is free meanwhile.
            bringing.copy_films(staging)
            with transaction.atomic():
                counts = bringing.all()
    except BaseException as fault:
        for folder in made:
            shutil.rmtree(folder, ignore_errors=True)
        if isinstance(fault, zipfile.BadZipFile | zlib.error | EOFError | KeyError):
            raise BadArchive(refusals.NO_WHOLE_ARCHIVE) from fault
        if isinstance(fault, IntegrityError):
            raise BadArchive(refusals.ARCHIVE_HERE_ALREADY) from fault
        raise
    finally:
        shutil.rmtree(staging, ignore_errors=True)
    for film in Film.objects.filter(workspace=workspace):
        # One that cannot be put away now is when it is taken in.
        with contextlib.suppress(StoreFault):
            film.put_all_away()
    return counts


class _Bringing:
    def __init__(
        self, archive: zipfile.ZipFile, workspace: Workspace, nameless: bool, made: list[Path]
    ):
        self.archive, self.workspace, self.made = archive, workspace, made
        self.nameless = nameless
        self.members = {user.get_username(): user for user in workspace.members.all()}
        self.unknown: set[str] = set()
        self.named: dict[tuple[type[Model], Any], Any] = {}
        self.counts = dict.fromkeys(KINDS, 0)
        #: Versions by behaviour and number: their own numbers are the database's.
        self.versions: dict[tuple[str, int], PlanVersion] = {}
        self.timelines: dict[str, tuple[Timeline, float | None]] = {}
        #: Films copied out of the archive by their names in it, each with its SHA-256.
        self.films: dict[str, tuple[Path, str]] = {}

    def copy_films(self, staging: Path) -> None:
        """The films as they came, to lie ready. Raises ReceiveFault where there is no room."""
        found = [i for i in self.archive.infolist() if i.filename.startswith("films/")]
        check_room(sum(info.file_size for info in found))
        staging.mkdir(parents=True)
        for place, info in enumerate(found):
            path, digest = staging / str(place), hashlib.sha256()
            with self.archive.open(info) as source, path.open("wb") as target:
                while chunk := source.read(CHUNK):
                    digest.update(chunk)
                    target.write(chunk)
            self.films[info.filename] = path, digest.hexdigest()

    def all(self) -> dict[str, int]:
        waiting: list[Edit] = []
        for place, values in enumerate(self._lines(), start=2):
            try:
                waiting = self._take(values, waiting)
            except (ValueError, InvalidSession) as fault:
                raise BadArchive(
                    fill(refusals.ARCHIVE_LINE, {"line": place}, file=ROWS, fault=str(fault))
                ) from fault
        self._write(waiting)
        if self.unknown and not self.nameless:
            names = ", ".join(sorted(self.unknown))
            name = self.workspace.name
            raise BadArchive(fill(refusals.ARCHIVE_PEOPLE, {}, names=names, workspace=name))
        return self.counts

    def _lines(self) -> Iterator[Mapping[str, Any]]:
        with self.archive.open(ROWS) as file:
            head = self._read(file.readline(LONGEST_LINE))
            if head.get("format") != FORMAT:
                raise BadArchive(refusals.NO_ARCHIVE)
            if head.get("version") != VERSION:
                found = repr(head.get("version"))
                raise BadArchive(fill(refusals.ARCHIVE_VERSION, {"known": VERSION}, version=found))
            while line := file.readline(LONGEST_LINE):
                yield self._read(line)

    def _read(self, line: bytes) -> Mapping[str, Any]:
        try:
            found = read_json(line)
        except InvalidDocument as fault:
            raise BadArchive(f"{ROWS}: {fault}") from fault
        if not isinstance(found, dict):
            raise BadArchive(fill(refusals.ARCHIVE_NO_OBJECT, {}, file=ROWS))
        return found

    def _take(self, values: Mapping[str, Any], waiting: list[Edit]) -> list[Edit]:
        kind = str(values.get("row"))
        if kind not in KINDS:
            raise ValueError(fill(refusals.ARCHIVE_ROW, {}, kind=repr(kind)))
        row = self._made(KINDS[kind], values)
        # A second coding is part of its second look.
        self.counts[kind] += not getattr(row, "second_of_id", None)
        if isinstance(row, Edit):
            self._check(row)
            waiting.append(row)
            return self._write(waiting) if len(waiting) >= 500 else waiting
        if not isinstance(row, Edit) and waiting:
            # A second look may name the last of them.
            waiting = self._write(waiting)
        self._save(row)
        if isinstance(row, PlanVersion):
            self.versions[str(row.behaviour_id), row.number] = row
        if isinstance(row, Film):
            self._files(row)
        return waiting

    def _made(self, model: type[Model], values: Mapping[str, Any]) -> Model:
        row = model()
        for field in fields_of(model):
            value = values.get(field.name)
            if field.name in PEOPLE:
                setattr(row, field.name, self._person(value))
            elif field.name == "plan_version":
                row.__setattr__("plan_version", self._version(value))
            elif field.is_relation:
                setattr(row, field.name, self._own(field, read_value(field, value)))
            else:
                setattr(row, field.attname, read_value(field, value))
        if hasattr(row, "workspace_id"):
            row.workspace_id = self.workspace.pk
        if isinstance(row, DrillRun):
            check_run(row)
        if isinstance(row, PlanVersion):
            try:
                read_shaping_plan(row.document)
            except InvalidPlan as fault:
                raise ValueError(str(fault)) from fault
        return row

    def _own(self, field: Any, key: Any) -> Any:
        """A row may only name rows of its own archive."""
        if key is None:
            return None
        model = field.related_model
        if (model, key) not in self.named:
            found = model._base_manager.filter(pk=key, workspace=self.workspace).first()
            if found is None:
                raise ValueError(fill(refusals.ARCHIVE_LACKS, {}, name=field.name))
            self.named[model, key] = found
        return self.named[model, key]

    def _person(self, name: Any) -> Any:
        if name is None:
            return None
        if name not in self.members:
            self.unknown.add(str(name))
        return self.members.get(name)

    def _version(self, named: Any) -> PlanVersion | None:
        if named is None:
            return None
        try:
            return self.versions[str(named[0]), int(named[1])]
        except (KeyError, TypeError, IndexError, ValueError):
            raise ValueError(fill(refusals.ARCHIVE_LACKS, {}, name="plan_version")) from None

    def _save(self, row: Model) -> None:
        """As it was: also the times the database would write anew."""
        written = [
            field.attname
            for field in fields_of(type(row))
            if getattr(field, "auto_now_add", False) or getattr(field, "auto_now", False)
        ]
        were = {name: getattr(row, name) for name in written}
        row.save(force_insert=True)
        if were:
            type(row)._base_manager.filter(pk=row.pk).update(**were)

    def _check(self, edit: Edit) -> None:
        session = edit.session
        key = str(session.pk)
        if key not in self.timelines:
            timeline = Timeline.of(session)
            self.timelines[key] = timeline, length_s(session, timeline)
        if not isinstance(edit.body, dict):
            raise ValueError(fault_at("body", "not_object"))
        check_edit(edit.body, *self.timelines[key])

    def _write(self, waiting: list[Edit]) -> list[Edit]:
        when = [edit.created_at for edit in waiting]
        made = Edit.objects.bulk_create(waiting)
        for edit, at in zip(made, when, strict=True):
            edit.created_at = at
        Edit.objects.bulk_update(made, ["created_at"], batch_size=200)
        return []

    def _files(self, film: Film) -> None:
        """The film as it came, where it is in the archive, and its frames' times."""
        film.folder.mkdir(parents=True)
        self.made.append(film.folder)
        names = set(self.archive.namelist())
        for name, path in beside(film).items():
            if name in names:
                path.write_bytes(self.archive.read(name))
        if film.has_index:
            try:
                FrameIndex.load(film.index_path)
            except (ValueError, KeyError, TypeError) as fault:
                raise ValueError(fill(refusals.ARCHIVE_TIMES, {}, film=film.name)) from fault
        if f"films/{film_name(film)}" in self.films:
            self._original(film)
            film.state = Film.State.WAITING
            film.save(update_fields=["state"])
            plan_stages(film)
            film.stages.filter(name="film").delete()
        else:
            film.state, film.fault_code = Film.State.FAILED, "not_in_archive"
            film.fault_text = films.NOT_IN_ARCHIVE
            film.save(update_fields=["state", "fault_code", "fault_text"])

    def _original(self, film: Film) -> None:
        copied, digest = self.films[f"films/{film_name(film)}"]
        if film.sha256 and digest != film.sha256:
            raise ValueError(fill(refusals.ARCHIVE_FILM, {}, film=film.name))
        copied.replace(film.original)
