"""Large files on their way in: who may send one, and where it lies until it is a film."""

from __future__ import annotations

import contextlib
import re
import uuid
from http.cookies import CookieError, SimpleCookie
from importlib import import_module
from typing import Any

from django.conf import settings

from frequens.words.spoken import refusals as words

from ..accounts.models import Membership, Workspace
from ..front.bodies import Refused
from ..who_may import TRAINING, NotAllowed
from .models import Arriving
from .pieces_in import Piece
from .receive import Incoming, Received, ReceiveFault
from .tus import offset_of

#: A film in one go, and the archive of a workspace.
PATHS = frozenset({"/api/films", "/api/me/workspace/bring_back"})
#: A piece of a film.
_PIECE = re.compile(r"/api/films/arriving/([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})")


class FilmUploads:
    """The front's uploads: the body of a large file, for somebody who is logged in."""

    def sink_for(self, scope: dict[str, Any], expected: int | None) -> _FilmSink | None:
        piece = _PIECE.fullmatch(scope["path"]) if scope["method"] == "PATCH" else None
        if piece is None and (scope["method"] != "POST" or scope["path"] not in PATHS):
            return None
        # Whether it may be a film is decided by the view; a stranger must not fill the disk.
        user = _user(scope)
        if user is None:
            raise Refused(401, words.LOGGED_OUT)
        if not Membership.objects.filter(user=int(user), role__in=TRAINING).exists():
            raise Refused(403, str(NotAllowed()))
        with _refusing():
            if piece is None:
                return _FilmSink(Incoming(expected))
            return _FilmSink(_piece_of(uuid.UUID(piece[1]), user, scope))

    def drop(self, environ: dict[str, Any]) -> None:
        received = environ.get("frequens.upload")
        if isinstance(received, Received):
            received.path.unlink(missing_ok=True)


def _piece_of(pk: uuid.UUID, user: str, scope: dict[str, Any]) -> Piece:
    workspaces = Workspace.objects.filter(members=int(user))
    arriving = Arriving.objects.filter(pk=pk, workspace__in=workspaces).first()
    if arriving is None:
        raise ReceiveFault(404, words.NO_SUCH_UPLOAD)
    headers = {name.decode("latin1"): value.decode("latin1") for name, value in scope["headers"]}
    return Piece(arriving, offset_of(headers))


class _FilmSink:
    """An Incoming, or a Piece, whose faults are the front's."""

    def __init__(self, incoming: Incoming | Piece):
        self._incoming = incoming

    def write(self, chunk: bytes) -> None:
        with _refusing():
            self._incoming.write(chunk)

    def finish(self) -> Received | int:
        with _refusing():
            return self._incoming.finish()

    def drop(self) -> None:
        self._incoming.drop()


@contextlib.contextmanager
def _refusing() -> Any:
    try:
        yield
    except ReceiveFault as fault:
        raise Refused(fault.status, str(fault)) from fault


def _user(scope: dict[str, Any]) -> str | None:
    """The key of whoever is logged in."""
    sent = b";".join(value for name, value in scope["headers"] if name == b"cookie")
    try:
        cookies = SimpleCookie(sent.decode("latin1"))
    except CookieError:
        return None
    key = cookies.get(settings.SESSION_COOKIE_NAME)
    if key is None:
        return None
    store = import_module(settings.SESSION_ENGINE).SessionStore(key.value)
    found: str | None = store.get("_auth_user_id")
    return found
