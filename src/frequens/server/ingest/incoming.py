"""Large files on their way in: who may send one, and where it lies until it is a film."""

from __future__ import annotations

import contextlib
from http.cookies import CookieError, SimpleCookie
from importlib import import_module
from typing import Any

from django.conf import settings

from ..front.bodies import Refused
from .receive import Incoming, Received, ReceiveFault

#: A film, and the archive of a workspace.
PATHS = frozenset({"/api/films", "/api/me/workspace/bring_back"})


class FilmUploads:
    """The front's uploads: the body of a large file, for somebody who is logged in."""

    def sink_for(self, scope: dict[str, Any], expected: int | None) -> _FilmSink | None:
        if scope["path"] not in PATHS:
            return None
        # Whether it may be a film is decided by the view; a stranger must not fill the disk.
        if not _is_logged_in(scope):
            raise Refused(401, "You are logged out. Log in again; nothing is lost.")
        try:
            return _FilmSink(Incoming(expected))
        except ReceiveFault as fault:
            raise Refused(fault.status, str(fault)) from fault

    def drop(self, environ: dict[str, Any]) -> None:
        received = environ.get("frequens.upload")
        if isinstance(received, Received):
            received.path.unlink(missing_ok=True)


class _FilmSink:
    """An Incoming whose faults are the front's."""

    def __init__(self, incoming: Incoming):
        self._incoming = incoming

    def write(self, chunk: bytes) -> None:
        with _refusing():
            self._incoming.write(chunk)

    def finish(self) -> Received:
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


def _is_logged_in(scope: dict[str, Any]) -> bool:
    sent = b";".join(value for name, value in scope["headers"] if name == b"cookie")
    try:
        cookies = SimpleCookie(sent.decode("latin1"))
    except CookieError:
        return False
    key = cookies.get(settings.SESSION_COOKIE_NAME)
    if key is None:
        return False
    store = import_module(settings.SESSION_ENGINE).SessionStore(key.value)
    return "_auth_user_id" in store
