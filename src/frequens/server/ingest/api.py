"""Films over HTTP: upload, progress, cancel, resume, and their frames."""

from __future__ import annotations

import random
import uuid
from pathlib import Path
from typing import Annotated, Any

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from django.utils import timezone
from ninja import Query, Router, Status

from frequens.media.decode.container import FilmFault
from frequens.media.ingest.pieces import pieces_in
from frequens.media.ingest.still_server import still_from_child
from frequens.media.sound.clicks import MERGE_S, WIDTH_S, rank
from frequens.media.sound.words import APART_S, find_words
from frequens.words import fill
from frequens.words.spoken import exports, refusals
from frequens.words.spoken import films as film_words

from ..accounts.models import workspace_of
from ..coding.clips import HasMarks, join, take_out
from ..downloads import as_download
from ..library.film_store import StoreFault, film_store
from ..library.models import Film, Stage
from ..library.ranges import ranged_file
from ..library.sessions import TrainingSession
from ..library.sources import FileHere
from .camera import camera
from .copies import drop_copy
from .intake import FILMS_WORD
from .neighbours import sessions_before
from .queueing import queue_film
from .receive import ReceiveFault, check_room, receive
from .schemas import (
    ClickOut,
    ClicksOut,
    Fault,
    FilmOut,
    FrameRunsOut,
    FramesOut,
    JoinIn,
    PieceOut,
    PlaceOut,
    PlacesOut,
    SimulateIn,
    SlowedIn,
)

router = Router()
#: More examples than these teach nothing new.
MOST_EXAMPLES = 12
#: Beyond twice the usual number, this many more can be asked for.
SPARE_CLICKS = 30
SPARE_PLACES = 10
POSTER_LINES = 200
#: Room the simulated camera's film and its review copy may need.
SIMULATED_BYTES_PER_S = 2 * 1024**2


@router.get("", response=list[FilmOut], operation_id="films")
def films(
    request: HttpRequest,
    older_than: uuid.UUID | None = None,
    most: Annotated[int, Query(ge=1, le=200)] = 50,
    under_way: bool = False,
) -> list[FilmOut]:
    """The newest films, `most` at once, or the next of them after `older_than`.

    `under_way`: only those something is still done with, to be asked often.
    """
    found = Film.objects.all()
    if under_way:
        found = found.filter(state__in=Film.UNDER_WAY)
    beside = ("stages", "stored_files") if film_store() else ("stages",)
    page = found.newest(request, older_than, most).prefetch_related(*beside)
    if under_way:
        return [FilmOut.from_film(film) for film in page]
    listed = list(page.prefetch_related("session__films"))
    near = sessions_before(listed)
    return [FilmOut.from_film(film, near.get(film.pk)) for film in listed]


@router.post(
    "",
    response={201: FilmOut, 400: Fault, 413: Fault, 422: Fault, 503: Fault, 507: Fault},
    operation_id="upload",
)
def upload(request: HttpRequest, name: Query[str]) -> Any:
    """Upload a film as the plain body of the request; `name` is its file name."""
    workspace = workspace_of(request)
    length = request.META.get("CONTENT_LENGTH")
    try:
        received = request.META.get("frequens.upload") or receive(
            request, int(length) if length else None
        )
    except ReceiveFault as fault:
        return Status(fault.status, Fault(fault=str(fault)))
    except UnreadablePostError:
        return Status(400, Fault(fault=film_words.BROKE_OFF))
    film = Film(
        workspace=workspace,
        name=name[-255:] or "film",
        trainer=request.user.get_username(),
        bytes=received.bytes,
        sha256=received.sha256,
    )
    # Its row comes last: what has one is whole.
    received.keep_as(film.original)
    try:
        queue_film(film, film.put_away({film.original.name: film.original}))
    except StoreFault as fault:
        film.clear_files()
        return Status(503, Fault(fault=str(fault)))
    except BaseException:
        film.clear_files()
        raise
    return Status(201, FilmOut.from_film(film))


@router.post("/simulate", response={201: FilmOut, 507: Fault}, operation_id="simulate")
def simulate(request: HttpRequest, wanted: SimulateIn) -> Any:
    """Let the simulated camera film a made-up session."""
    try:
        check_room(int(wanted.length_s * SIMULATED_BYTES_PER_S))
    except ReceiveFault as fault:
        return Status(fault.status, Fault(fault=str(fault)))
    seed = wanted.seed if wanted.seed is not None else random.randrange(2**31)
    now = timezone.now()
    film = Film(
        workspace=workspace_of(request),
        name=fill(exports.SIMULATED_FILM, {}, day=f"{now:%Y-%m-%d}", time=f"{now:%H.%M.%S}"),
        origin=Film.Origin.SIMULATED,
        trainer=request.user.get_username(),
        request={
            "animal": wanted.animal,
            "length_s": wanted.length_s,
            "seed": seed,
            "lateness_s": wanted.lateness_s,
            "options": {
                "fps": wanted.fps,
                "variable": wanted.variable,
                **camera().SIZES[wanted.animal],
            },
        },
    )
    queue_film(film)
    return Status(201, FilmOut.from_film(film))


@router.get("/{film_id}", response=FilmOut, operation_id="film")
def film(request: HttpRequest, film_id: uuid.UUID) -> FilmOut:
    return FilmOut.from_film(Film.objects.get_or_404(request, film_id))


@router.delete("/{film_id}", response={204: None}, operation_id="remove_film")
def remove(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """Remove a film and its files, and its session where no mark was ever made in it.

    Marks on an only film keep their times; those on one clip of several go with it.
    """
    found = Film.objects.get_or_404(request, film_id)
    session = found.session
    take_out(found, request.user)
    found.delete()
    if session and not _is_worked_on(session) and not session.films.exists():
        session.delete()
    return Status(204, None)


@router.post("/{film_id}/join", response={200: FilmOut, 409: Fault}, operation_id="join_film")
def join_(request: HttpRequest, film_id: uuid.UUID, sent: JoinIn) -> Any:
    """Make a film the next clip of another session."""
    found = _indexed(request, film_id)
    session: TrainingSession = TrainingSession.objects.get_or_404(request, sent.session_id)
    try:
        join(found, session)
    except HasMarks:
        return Status(
            409,
            Fault(fault=refusals.CODED_ALREADY),
        )
    return FilmOut.from_film(found)


@router.post("/{film_id}/cancel", response=FilmOut, operation_id="cancel_film")
def cancel(request: HttpRequest, film_id: uuid.UUID) -> FilmOut:
    """Stop the background work on a film; what is done is kept.

    A film that is ready, or failed, has none: it stays as it is.
    """
    found = Film.objects.get_or_404(request, film_id)
    Film.objects.filter(pk=found.pk, state__in=Film.UNDER_WAY).update(
        state=Film.State.CANCELLED, lease_until=None, holder=""
    )
    found.refresh_from_db()
    return FilmOut.from_film(found)


@router.post("/{film_id}/resume", response={200: FilmOut, 409: Fault}, operation_id="resume_film")
def resume(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """Go on with what was cancelled, failed or dropped: a film, or a stage it can do without."""
    found = Film.objects.get_or_404(request, film_id)
    is_stopped = found.state in (Film.State.CANCELLED, Film.State.FAILED)
    lacking = found.stages.filter(state__in=(Stage.State.FAILED, Stage.State.DROPPED))
    lacks_a_stage = found.state == Film.State.READY and lacking.exists()
    if not is_stopped and not lacks_a_stage:
        return FilmOut.from_film(found)
    if not (found.has(found.original) or found.origin == Film.Origin.SIMULATED):
        return Status(409, Fault(fault=refusals.FILM_GONE))
    found.stages.filter(state=Stage.State.DROPPED).update(state=Stage.State.WAITING)
    queue_film(found)
    return FilmOut.from_film(found)


@router.post("/{film_id}/slowed", response={200: FilmOut, 409: Fault}, operation_id="set_slowed")
def set_slowed(request: HttpRequest, film_id: uuid.UUID, said: SlowedIn) -> Any:
    """Say how many times slower than life a film plays; it is taken in anew.

    Only before anything is marked: marks would stand at other times without anybody seeing it.
    """
    found = Film.objects.get_or_404(request, film_id)
    if found.slowed == said.slowed:
        return FilmOut.from_film(found)
    if found.state in (Film.State.WAITING, Film.State.WORKING):
        return Status(409, Fault(fault=refusals.BEING_TAKEN_IN))
    if found.session is not None and found.session.marks:
        return Status(409, Fault(fault=refusals.MARKED_ALREADY))
    if not found.has(found.original):
        return Status(409, Fault(fault=refusals.FILM_GONE))
    found.slowed = said.slowed
    with transaction.atomic():
        found.stages.exclude(name="film").update(state=Stage.State.WAITING, share=0)
        queue_film(found)
    found.discard(found.review_path)
    return FilmOut.from_film(found)


@router.post("/{film_id}/drop_copy", response={200: FilmOut, 409: Fault}, operation_id="drop_copy")
def drop(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """Remove the review copy to save room; `resume` makes it again."""
    found = Film.objects.get_or_404(request, film_id)
    if not found.has(found.original):
        return Status(409, Fault(fault=refusals.ONLY_COPY))
    drop_copy(found)
    return FilmOut.from_film(found)


@router.get("/{film_id}/frames", response=FramesOut, operation_id="frames")
def frames(request: HttpRequest, film_id: uuid.UUID) -> Any:
    index = _indexed(request, film_id).index
    return FramesOut(
        time_base=index.time_base,
        pts=list(index.pts),
        times_us=list(index.times_us),
        nominal_us=index.nominal_us,
    )


@router.get("/{film_id}/frame-runs", response=FrameRunsOut, operation_id="frame_runs")
def frame_runs(request: HttpRequest, film_id: uuid.UUID) -> Any:
    index = _indexed(request, film_id).index
    return FrameRunsOut(
        time_base=index.time_base,
        first_pts=index.pts[0],
        runs=index.runs,
        nominal_us=index.nominal_us,
    )


@router.get("/{film_id}/frames/{frame}.jpg", operation_id="still", response={422: Fault})
def still(request: HttpRequest, film_id: uuid.UUID, frame: int, lines: int = 720) -> Any:
    """One frame, decoded by the server from the original."""
    found = _indexed(request, film_id)
    if not 0 <= frame < (found.frames or 0):
        raise Http404
    try:
        jpeg = still_from_child(
            found.here(found.original),
            found.here(found.index_path),
            frame,
            found.rotation,
            max(16, min(lines, 2160)),
        )
    except FilmFault as fault:
        return Status(422, Fault(fault=str(fault)))
    response = HttpResponse(jpeg, content_type="image/jpeg")
    response["Cache-Control"] = "private, max-age=86400, immutable"
    return response


@router.get("/{film_id}/poster.jpg", operation_id="poster", response={422: Fault})
def poster(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """A small picture of the film for lists, made when it was taken in."""
    found = _indexed(request, film_id)
    if not found.has(found.poster_path):
        return still(request, film_id, (found.frames or 0) // 3, POSTER_LINES)
    response = _file(request, found, found.poster_path, "image/jpeg")
    response["Cache-Control"] = "private, max-age=86400"
    return response


@router.get("/{film_id}/review.mp4", operation_id="review_copy")
def review_copy(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """The review copy, in ranges."""
    found = _indexed(request, film_id)
    return _file(request, found, found.review_path, "video/mp4")


@router.get("/{film_id}/pieces", response=list[PieceOut], operation_id="pieces")
def pieces(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """What there is of the review copy while it is under way; none once it is whole."""
    return pieces_in(_indexed(request, film_id).pieces_path)


@router.get("/{film_id}/pieces/{first}.mp4", operation_id="piece")
def piece(request: HttpRequest, film_id: uuid.UUID, first: int) -> Any:
    """The piece that begins with this frame, as an MP4 whose clock begins there."""
    folder = _indexed(request, film_id).pieces_path
    found = next((one for one in pieces_in(folder) if one.first == first), None)
    if found is None or not (folder / found.name).exists():
        raise Http404
    response: Any = ranged_file(request, FileHere(folder / found.name), "video/mp4")
    # The same name is another file once the copy is begun anew.
    response["Cache-Control"] = "no-store"
    return response


@router.get("/{film_id}/sound.bin", operation_id="sound")
def sound(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """The sound's overview: three rows of int8 at 200 a second (low, high, click band in dB)."""
    found = _indexed(request, film_id)
    return _file(request, found, found.sound_path, "application/octet-stream")


@router.get("/{film_id}/fine.bin", operation_id="fine_sound")
def fine_sound(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """The sound closely: rows of three int8 (low, high, click band in dB), 2000 a second.

    Ask for a stretch by its range of bytes.
    """
    found = _indexed(request, film_id)
    return _file(request, found, found.fine_path, "application/octet-stream")


@router.get("/{film_id}/clicks", response=ClicksOut, operation_id="clicks")
def clicks(
    request: HttpRequest,
    film_id: uuid.UUID,
    confirmed: Query[list[float] | None] = None,
    refused: Query[list[float] | None] = None,
) -> ClicksOut:
    """Heard clicks, never data by themselves.

    `confirmed`: sound times in seconds at which a click was confirmed, as examples for the rest;
    `refused`: where somebody said that it was none.
    """
    heard = _indexed(request, film_id).heard
    found = rank(heard, (confirmed or [])[-MOST_EXAMPLES:], (refused or [])[-MOST_EXAMPLES:])
    most = 2 * found.usual + SPARE_CLICKS
    best = zip(found.t_s[:most].tolist(), found.score[:most].tolist(), strict=True)
    return ClicksOut(
        clicks=[ClickOut(t_s=t_s, score=score) for t_s, score in best],
        usual=found.usual,
        learned=found.learned,
        alone_s=list(found.alone_s),
        merge_s=MERGE_S,
        width_s=WIDTH_S,
    )


@router.get("/{film_id}/words", response=PlacesOut, operation_id="words")
def words(
    request: HttpRequest,
    film_id: uuid.UUID,
    marked: Query[list[float]],
    refused: Query[list[float] | None] = None,
) -> PlacesOut:
    """Places where a marked word may have been said again: to look at, never data. Experimental.

    `marked`: sound times in seconds at which the word was marked; `refused`: where somebody said
    that it was another.
    """
    voices = _indexed(request, film_id).voices
    found = find_words(voices, marked[:MOST_EXAMPLES], (refused or [])[-MOST_EXAMPLES:])
    most = 2 * found.usual + SPARE_PLACES
    best = zip(found.t_s[:most].tolist(), found.score[:most].tolist(), strict=True)
    return PlacesOut(
        places=[PlaceOut(t_s=t_s, score=score) for t_s, score in best],
        usual=found.usual,
        learned=found.learned,
        apart_s=APART_S,
    )


@router.get("/{film_id}/original", operation_id="original")
def original(request: HttpRequest, film_id: uuid.UUID) -> Any:
    """The untouched original, as a download."""
    found = _indexed(request, film_id)
    response = _file(request, found, found.original, "application/octet-stream")
    return as_download(response, found.name)


def _indexed(request: HttpRequest, film_id: uuid.UUID) -> Film:
    found: Film = Film.objects.get_or_404(request, film_id)
    if not found.stage_done("index") or not found.has_index:
        raise Http404
    return found


def _file(request: HttpRequest, film: Film, path: Path, content_type: str) -> Any:
    source = film.source(path)
    if source is None:
        raise Http404
    return ranged_file(request, source, content_type)


def _is_worked_on(session: TrainingSession) -> bool:
    """Whether anybody has changed anything; the time of day is the film's own word."""
    return session.edits.exclude(client_id__startswith=FILMS_WORD).exists()
