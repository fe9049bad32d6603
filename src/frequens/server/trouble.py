"""What is said when something fails: to the client a sentence, to the log nobody's data."""

from __future__ import annotations

import logging
import shutil
import sqlite3
import sys
import traceback
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse, JsonResponse

from frequens.words.spoken import refusals as words

from .library.film_store import StoreFault


class TroubleMiddleware:
    """Turns failures of what stands behind into answers a client can act on.

    A database somebody else holds, or a store of films that does not answer, is a 503 to be tried
    again; a full disk is a 507, after the
    room that is kept for this was given away.
    """

    def __init__(self, get_response: Callable[[HttpRequest], Any]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> Any:
        if request.method not in ("GET", "HEAD"):
            mind_the_disk()
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        return _answer_to(error)


def failed(request: HttpRequest) -> HttpResponse:
    """The answer to what nobody expected; also where it happened outside of any view."""
    error = sys.exc_info()[1]
    known = _answer_to(error) if isinstance(error, Exception) else None
    said = words.HOUSE_FAILED
    return known or JsonResponse({"fault": said, "faults": [said]}, status=500)


def _answer_to(error: Exception) -> HttpResponse | None:
    if isinstance(error, StoreFault):
        return _try_again(str(error))
    if not isinstance(error, OperationalError):
        return None
    code = getattr(error.__cause__, "sqlite_errorcode", None)
    primary = code & 0xFF if isinstance(code, int) else None
    state = getattr(error.__cause__, "sqlstate", None)
    if primary in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED) or state in _SERVER_BUSY:
        return _try_again(words.HOUSE_BUSY)
    full = (sqlite3.SQLITE_FULL, sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN)
    if primary in full or state in _SERVER_FULL:
        return JsonResponse({"fault": words.HOUSE_FULL, "faults": [words.HOUSE_FULL]}, status=507)
    return None


def _try_again(fault: str) -> HttpResponse:
    response = JsonResponse({"fault": fault, "faults": [fault]}, status=503)
    response["Retry-After"] = "1"
    return response


#: PostgreSQL's codes (its handbook's appendix A): deadlock, serialization, too many connections,
#: shutting down, cannot connect now; and disk full.
_SERVER_BUSY = frozenset({"40P01", "40001", "53300", "57P01", "57P02", "57P03"})
_SERVER_FULL = frozenset({"53100"})


def mind_the_disk() -> None:
    """Give the reserve away where the disk is nearly full; take it back where there is room."""
    ballast = settings.HOME / "ballast"
    free = shutil.disk_usage(settings.HOME).free
    if free < settings.BALLAST_BYTES // 2:
        ballast.unlink(missing_ok=True)
    elif free > settings.DISK_RESERVE_BYTES and not ballast.exists():
        with ballast.open("wb") as file:
            for _ in range(settings.BALLAST_BYTES // 2**20):
                # Zeros that a file system leaves out would keep no room.
                file.write(_NOISE)


_NOISE = bytes(range(256)) * 4096


class PlainFormatter(logging.Formatter):
    """Where something failed and what kind of failure it was, without texts of users.

    Messages of exceptions may quote what somebody wrote; only the database's own are kept.
    """

    def __init__(self) -> None:
        super().__init__("%(asctime)s %(levelname)s %(name)s: %(message)s")

    def formatException(self, ei: Any) -> str:  # logging's own name
        kind, error, trace = ei
        frames = "".join(traceback.format_tb(trace))
        said = f": {error}" if isinstance(error, OperationalError) else ""
        name = kind.__qualname__ if kind else "?"
        return f"Traceback (most recent call last):\n{frames}{name}{said}"
