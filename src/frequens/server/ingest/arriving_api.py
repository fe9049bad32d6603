"""Films by pieces over HTTP, as tus 1.0.0 has it: begin, how far, next piece, give up."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse, UnreadablePostError
from django.utils import timezone
from django.utils.http import http_date
from ninja import Router, Schema

from frequens.core.reading.acceptable import check_text
from frequens.media.decode.recorded import instant_of
from frequens.words.spoken import refusals as words

from ..accounts.models import workspace_of
from ..library.filming_time import zone_named
from . import tus
from .models import Arriving
from .pieces_in import KEPT, append, begin, give_up, received
from .receive import ReceiveFault
from .tus import check_version, length_of, metadata_of, offset_of

router = Router()


class ArrivingOut(Schema):
    """A film that has not come whole: `received` of its `bytes` are here, until `kept_until`."""

    id: uuid.UUID
    name: str
    bytes: int
    received: int
    written_at: dt.datetime | None
    kept_until: dt.datetime


@router.get("", response=list[ArrivingOut], operation_id="arriving_films")
def arriving_films(request: HttpRequest) -> list[ArrivingOut]:
    """Films that broke off on their way: the same file goes on where it was."""
    found = Arriving.objects.of(request).filter(is_whole=False)
    return [
        ArrivingOut(
            id=one.pk,
            name=one.name,
            bytes=one.bytes,
            received=one.path.stat().st_size if one.path.exists() else 0,
            written_at=one.written_at,
            kept_until=one.touched_at + KEPT,
        )
        for one in found
    ]


def _spoken(view: Callable[..., HttpResponse]) -> Callable[..., HttpResponse]:
    """Answers in the protocol's words; what is wrong also as a sentence."""

    @wraps(view)
    def answer(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        try:
            response = view(request, *args, **kwargs)
        except ReceiveFault as fault:
            response = JsonResponse({"fault": str(fault)}, status=fault.status)
        except UnreadablePostError:
            response = JsonResponse({"fault": words.PIECE_BROKE_OFF}, status=400)
        response["Tus-Resumable"] = tus.VERSION
        response["Cache-Control"] = "no-store"
        return response

    return answer


@router.api_operation(["OPTIONS"], "", include_in_schema=False)
@_spoken
def abilities(request: HttpRequest) -> HttpResponse:
    """What of the protocol is spoken here."""
    headers = {
        "Tus-Version": tus.VERSION,
        "Tus-Extension": tus.EXTENSIONS,
        "Tus-Max-Size": str(settings.FILM_MOST_BYTES),
    }
    return HttpResponse(status=204, headers=headers)


@router.post("", include_in_schema=False)
@_spoken
def begin_film(request: HttpRequest) -> HttpResponse:
    """A film is going to come, so long and called so."""
    headers = _headers(request)
    check_version(headers)
    said = metadata_of(headers)
    arriving = Arriving(
        workspace=workspace_of(request),
        name=_name(said.get("filename", "")),
        trainer=request.user.get_username(),
        bytes=length_of(headers),
        zone=said.get("zone", "") if zone_named(said.get("zone", "")) else "",
        written_at=instant_of(said.get("written_at", ""), timezone.now()),
    )
    begin(arriving)
    response = HttpResponse(status=201)
    response["Location"] = f"{request.path.rstrip('/')}/{arriving.pk}"
    return _with_expiry(response, arriving)


@router.api_operation(["HEAD"], "/{uuid:film_id}", include_in_schema=False)
@_spoken
def how_far(request: HttpRequest, film_id: uuid.UUID) -> HttpResponse:
    """How much of it is here."""
    check_version(_headers(request))
    arriving: Arriving = Arriving.objects.get_or_404(request, film_id)
    response = HttpResponse(status=200)
    response["Upload-Offset"] = str(received(arriving))
    response["Upload-Length"] = str(arriving.bytes)
    return _with_expiry(response, arriving)


@router.patch("/{uuid:film_id}", include_in_schema=False)
@_spoken
def next_piece(request: HttpRequest, film_id: uuid.UUID) -> HttpResponse:
    """The next piece of it; with the last one it is a film, under the same id."""
    arriving: Arriving = Arriving.objects.get_or_404(request, film_id)
    here = request.META.get("frequens.upload")
    if here is None:
        here = append(arriving, offset_of(_headers(request)), request)
    response = HttpResponse(status=204)
    response["Upload-Offset"] = str(here)
    return _with_expiry(response, arriving)


@router.delete("/{uuid:film_id}", include_in_schema=False)
@_spoken
def give_up_film(request: HttpRequest, film_id: uuid.UUID) -> HttpResponse:
    """Leave nothing of it. What became a film is removed as a film."""
    check_version(_headers(request))
    give_up(Arriving.objects.get_or_404(request, film_id))
    return HttpResponse(status=204)


def _headers(request: HttpRequest) -> dict[str, str]:
    return {name.lower(): value for name, value in request.headers.items()}


def _with_expiry(response: HttpResponse, arriving: Arriving) -> HttpResponse:
    if not arriving.is_whole:
        response["Upload-Expires"] = http_date((arriving.touched_at + KEPT).timestamp())
    return response


def _name(text: str) -> str:
    check_text(text, "filename")
    return text[-255:] or "film"
