"""Taking a film in, stage by stage, in a worker that may be killed at any moment.

A worker that has a film holds a lease on it and renews it with every report. A film whose
lease has run out is taken up again at the first stage that is not done.
"""

from __future__ import annotations

import datetime as dt
import hashlib
import json
import logging
import shutil
import time
import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor, wait
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from frequens.media.decode.container import FilmFault
from frequens.media.decode.limits import Limits
from frequens.media.ingest.child import Interrupted, Stopped, run_stage
from frequens.media.ingest.stage import QUICK
from frequens.words.spoken import films as words

from ..coding.edit_store import append_edits
from ..library.film_files import Carry, keep_stored
from ..library.film_store import COMING, StoreFault
from ..library.filming_time import filming_time
from ..library.models import STAGES, Film, Stage
from ..library.sessions import TrainingSession
from .camera import filming
from .meeting import meet_session

_log = logging.getLogger("frequens.films")

LEASE = dt.timedelta(seconds=8)
#: Where the store of the films does not answer, it is asked again so much later.
AGAIN = dt.timedelta(seconds=20)
#: A film that has been in for so long and is held by nobody was forgotten by the queue.
FORGOTTEN = dt.timedelta(minutes=1)
#: Progress is written at most this often, seconds.
REPORT_EVERY_S = 0.3
#: Before a stage whose process was killed is run again, seconds.
WAITS_S = (0.5, 5.0)
#: Stages a film can do without: the server's own frames, or silence, take their place.
OPTIONAL = frozenset({"review", "sound"})
#: How the ids of changes begin that a film made by what it says of itself.
FILMS_WORD = "film-"
UNFINISHED = (Film.State.WAITING, Film.State.WORKING)


def plan_stages(film: Film) -> None:
    """Write down the stages a new film has before it."""
    names = (("film",) if film.origin == Film.Origin.SIMULATED else ()) + STAGES
    Stage.objects.bulk_create(
        Stage(film=film, place=place, name=name) for place, name in enumerate(names)
    )


def take_in(film_id: str, is_quick: bool = False) -> dt.timedelta | None:
    """Do what is left to do for a film; with `is_quick` only what comes before heavy work.

    Returns how long to wait before trying again where another worker still holds the film or the
    films' store does not answer, None otherwise.
    """
    film = _claim(film_id)
    if film is None:
        return LEASE if is_unfinished(film_id) else None
    try:
        # What a killed worker was writing.
        for part in film.folder.glob("part-*"):
            part.unlink(missing_ok=True)
        for stage in film.stages.exclude(state__in=(Stage.State.DONE, Stage.State.DROPPED)):
            if is_quick and stage.name not in QUICK:
                _held(film).update(lease_until=None)
                return None
            _run(film, stage)
        _finish(film)
    except Stopped:
        # Whoever has taken it up meanwhile has stages of their own under way.
        if not Film.objects.filter(pk=film.pk, state=Film.State.WORKING).exists():
            film.stages.filter(state=Stage.State.WORKING).update(state=Stage.State.WAITING, share=0)
    except FilmFault as fault:
        _fail(film, fault)
    except StoreFault as fault:
        _log.warning("%s", fault)
        if _held(film).exists():
            film.stages.filter(state=Stage.State.WORKING).update(state=Stage.State.WAITING, share=0)
            _held(film).update(lease_until=None)
        return AGAIN
    finally:
        # One that was removed while at work leaves nothing.
        if not Film.objects.filter(pk=film.pk).exists():
            film.clear_files()
    return None


def is_unfinished(film_id: str) -> bool:
    """Whether there is something left to do for a film."""
    return Film.objects.filter(pk=film_id, state__in=UNFINISHED).exists()


def forgotten_films() -> list[Any]:
    """Ids of films that have waited longer than a lease and whom nobody holds."""
    now = timezone.now()
    waiting = Film.objects.filter(state__in=UNFINISHED, created_at__lt=now - FORGOTTEN)
    free = Q(lease_until=None) | Q(lease_until__lt=now - LEASE)
    return list(waiting.filter(free).values_list("pk", flat=True))


def tell_broken_uploads() -> None:
    """Rows of uploads that broke off with the server: earlier versions made them beforehand."""
    for film in Film.objects.filter(state=Film.State.RECEIVING):
        film.clear_files()
        Film.objects.filter(pk=film.pk).update(
            state=Film.State.FAILED,
            fault_code="broke_off",
            fault_text=words.BROKE_OFF,
        )


def _claim(film_id: str) -> Film | None:
    now = timezone.now()
    free = Q(lease_until=None) | Q(lease_until__lt=now)
    claimed = Film.objects.filter(free, pk=film_id, state__in=UNFINISHED).update(
        state=Film.State.WORKING, lease_until=now + LEASE, holder=uuid.uuid4().hex
    )
    return Film.objects.get(pk=film_id) if claimed else None


def _held(film: Film) -> Any:
    """The film's row while this claim on it stands."""
    return Film.objects.filter(pk=film.pk, state=Film.State.WORKING, holder=film.holder)


def _run(film: Film, stage: Stage) -> None:
    if not _held(film).exists():
        raise Stopped
    Stage.objects.filter(pk=stage.pk).update(state=Stage.State.WORKING, share=0, fault_text="")
    report = _reporter(film, stage)
    film.folder.mkdir(parents=True, exist_ok=True)
    carry = _carrier(film)
    # What it makes anew is not what the store has of it any more.
    film.forget_stored(path.name for path in _made_by(film, stage.name))
    try:
        result = _tried(film, stage.name, report, carry)
        kept = film.put_away(_to_keep(film, stage.name, result), carry)
    except FilmFault as fault:
        _part(film).unlink(missing_ok=True)
        if stage.name not in OPTIONAL:
            raise
        Stage.objects.filter(pk=stage.pk).update(state=Stage.State.FAILED, fault_text=str(fault))
        return
    except Stopped:
        _part(film).unlink(missing_ok=True)
        raise
    with transaction.atomic():
        # Whoever cancels it now waits until this is written.
        if not _held(film).select_for_update().values_list("pk").first():
            _part(film).unlink(missing_ok=True)
            raise Stopped
        _apply(film, stage.name, result)
        keep_stored(kept)
        Stage.objects.filter(pk=stage.pk).update(state=Stage.State.DONE, share=1)


def _tried(film: Film, name: str, report: Callable[[float], None], carry: Carry) -> dict[str, Any]:
    """A stage's result. One whose process was killed is run again, after a while.

    Raises FilmFault and Stopped as `run_stage`, and FilmFault where it was killed each time.
    """
    wanted = _wanted(film)
    for wait_s in (*WAITS_S, None):
        try:
            made_by = filming() if name == "film" else name
            task = _task(film, name, carry)
            return run_stage(made_by, task, _limits(), report=report, wanted=wanted)
        except Interrupted:
            _part(film).unlink(missing_ok=True)
            until = time.monotonic() + (wait_s or 0)
            while time.monotonic() < until:
                if not wanted():
                    raise Stopped from None
                time.sleep(0.1)
    raise FilmFault(
        "interrupted",
        words.INTERRUPTED,
    )


def _limits() -> Limits:
    return Limits(longest_s=settings.FILM_LONGEST_S)


def _part(film: Film) -> Path:
    """Where a stage writes; its result gets its own name only when it is whole."""
    return film.folder / f"part-{film.holder}.mp4"


def _made_by(film: Film, name: str) -> tuple[Path, ...]:
    """The files a stage makes."""
    return {
        "film": (film.original, film.truth_path),
        "check": (),
        "index": (film.index_path, film.poster_path),
        "review": (film.review_path,),
        "sound": (film.sound_path, film.fine_path, film.heard_path, film.voices_path),
    }[name]


def _to_keep(film: Film, name: str, result: dict[str, Any]) -> dict[str, Path]:
    """What a stage leaves to be kept: names in the film's folder, and where each lies now."""
    lies = {path.name: path for path in _made_by(film, name)}
    if name == "film":
        lies = {film.original.name: _part(film), film.truth_path.name: Path(result["truth"])}
    elif name == "review":
        lies = {film.review_path.name: _part(film)}
    elif name == "check":
        # Films of before there was a store, and those an archive brought back.
        came = (path for path in (film.original, film.truth_path) if film.stored(path) is None)
        lies = {path.name: path for path in came}
    return {kept: path for kept, path in lies.items() if path.exists()}


def _carrier(film: Film) -> Carry:
    """Transfers in a thread of their own, so that the lease is renewed meanwhile.

    Raises Stopped, once it is through, where the film is not wanted any more.
    """
    wanted = _wanted(film)

    def carry(move: Callable[[], None]) -> None:
        with ThreadPoolExecutor(1) as thread:
            moving = thread.submit(move)
            while not wait([moving], timeout=1).done:
                wanted()
        moving.result()
        if not wanted():
            raise Stopped

    return carry


def _task(film: Film, name: str, carry: Carry) -> dict[str, Any]:
    if name == "film":
        return {**film.request, "film": str(_part(film))}
    original = film.here(film.original, carry)
    task: dict[str, Any] = {"film": str(original), "slowed": film.slowed or 1}
    if name == "index":
        paths = {"index": str(film.index_path), "poster": str(film.poster_path)}
        return {**task, **paths, "rotation": film.rotation}
    if name != "check":
        task |= {"index": str(film.here(film.index_path, carry))}
    if name == "review":
        return {
            **task,
            "review": str(_part(film)),
            "pieces": str(film.pieces_path),
            "rotation": film.rotation,
            "lines": settings.REVIEW_LINES,
            "mb_per_min": settings.REVIEW_MB_PER_MIN,
        }
    heard = {
        "sound": film.sound_path,
        "fine": film.fine_path,
        "heard": film.heard_path,
        "voices": film.voices_path,
    }
    return {**task, **{name: str(path) for name, path in heard.items()}}


def _apply(film: Film, name: str, result: dict[str, Any]) -> None:
    """Keep what a stage found out."""
    is_new = film.session is None
    if name == "film":
        _part(film).replace(film.original)
        Path(result["truth"]).replace(film.truth_path)
        film.bytes = film.original.stat().st_size
        film.sha256 = _sha256(film)
    elif name == "check":
        for fact in ("codec", "width", "height", "rotation", "has_sound", "sound_late"):
            setattr(film, fact, result[fact])
        film.recorded_at, film.device = result["recorded_at"], result["device"]
        if film.slowed is None:
            film.slowed = result["slowed"]
        film.has_sound = film.has_sound and film.slowed == 1
    elif name == "index":
        for fact in ("frames", "duration_us", "dropped"):
            setattr(film, fact, result[fact])
        said = filming_time(film)
        film.filmed_at = said.at if said else None
        if film.session is None:
            film.session = _session_for(film)
    elif name == "review":
        _part(film).replace(film.review_path)
        shutil.rmtree(film.pieces_path, ignore_errors=True)
    elif name == "sound":
        # What earlier versions heard.
        (film.folder / "clicks.json").unlink(missing_ok=True)
    film.save(
        update_fields=[
            *("bytes", "sha256", "codec", "width", "height", "rotation", "has_sound"),
            *("sound_late", "frames", "duration_us", "dropped", "session"),
            *("recorded_at", "device", "slowed", "filmed_at"),
        ]
    )
    if name == "index" and is_new:
        meet_session(film)


def _session_for(film: Film) -> TrainingSession:
    """The session a new film belongs to; a simulated one knows who works on what."""
    session = TrainingSession(workspace=film.workspace, date=_day_of(film), trainer=film.trainer)
    if film.has(film.truth_path):
        truth = json.loads(film.here(film.truth_path).read_text(encoding="utf-8"))
        session.learner = truth["session"]["learner"]
        session.behaviour = truth["session"]["behaviour"]
        session.plan = truth["plan"]
    session.save()
    said = filming_time(film)
    if said is not None and said.knows_the_wall:
        facts = {"op": "facts", "set": {"time": f"{said.at:%H:%M}"}}
        append_edits(session, [(f"{FILMS_WORD}{film.pk}", facts)])
    return session


def _day_of(film: Film) -> dt.date:
    """The day on the clock where it was filmed, if anything says so; else today."""
    said = filming_time(film)
    return said.at.date() if said else timezone.localdate()


def _sha256(film: Film) -> str:
    with film.original.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def _wanted(film: Film) -> Callable[[], bool]:
    """Whether the film should still be worked on; renews the lease while it should."""
    renewed = time.monotonic()

    def wanted() -> bool:
        nonlocal renewed
        if time.monotonic() - renewed < LEASE.total_seconds() / 4:
            return bool(_held(film).exists())
        renewed = time.monotonic()
        return bool(_held(film).update(lease_until=timezone.now() + LEASE))

    return wanted


def _reporter(film: Film, stage: Stage) -> Callable[[float], None]:
    last = 0.0

    def report(share: float) -> None:
        nonlocal last
        now = time.monotonic()
        if now - last >= REPORT_EVERY_S:
            last = now
            Stage.objects.filter(pk=stage.pk).update(share=share)

    return report


def _finish(film: Film) -> None:
    _held(film).update(state=Film.State.READY, lease_until=None, holder="")


def _fail(film: Film, fault: FilmFault) -> None:
    """A film that cannot be used keeps its file, and its row says why in a sentence.

    What somebody uploaded is removed by them alone; it may play elsewhere, and a later version
    may read it.
    """
    if not _held(film).exists():
        return
    Stage.objects.filter(film=film, state=Stage.State.WORKING).update(
        state=Stage.State.FAILED, fault_text=str(fault)
    )
    _held(film).update(
        state=Film.State.FAILED,
        fault_code=fault.code,
        fault_text=str(fault),
        lease_until=None,
        holder="",
    )
    came = (film.original, film.truth_path)
    made = {film.folder / kept.name for kept in film.stored_files.all()}
    for path in (made | set(film.folder.glob("*"))) - set(came):
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        elif not path.name.startswith(COMING):
            film.discard(path)
