"""The one place where requests enter: values that cannot be are refused before any is read."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any
from urllib.parse import parse_qsl

from django.http import HttpRequest, JsonResponse

from frequens.core.reading.acceptable import check_text, read_json
from frequens.core.reading.document_values import InvalidDocument, fault_at
from frequens.words.spoken import refusals as words

#: A value in an address: no name, key or time is longer.
MOST_QUERY = 2000
#: A request of plain values; imported sessions have a limit of their own.
MOST_BYTES = 4 * 1024**2
#: Names and passwords.
MOST_BYTES_OF_ACCOUNTS = 4 * 1024
#: What takes a body of another kind, and looks at it itself.
_NOT_PLAIN = re.compile(
    r"/api/films|/api/films/arriving(/[^/]+)?|/api/me/workspace/bring_back|/api/sessions/import"
    r"|/api/sessions/[^/]+/import|/api/drills/[^/]+/heard"
)


class DoorMiddleware:
    """Refuses requests with values that cannot be right, by name, before anything reads them."""

    def __init__(self, get_response: Callable[[HttpRequest], Any]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> Any:
        try:
            _check_address(request)
            if request.method not in ("GET", "HEAD") and not _NOT_PLAIN.fullmatch(request.path):
                _check_body(request)
        except InvalidDocument as invalid:
            return JsonResponse({"faults": list(invalid.faults)}, status=422)
        except _TooLarge:
            return JsonResponse({"faults": [words.LARGER_THAN_SUCH]}, status=413)
        return self.get_response(request)


class _TooLarge(Exception):
    pass


def _check_address(request: HttpRequest) -> None:
    check_text(request.path, "address")
    for key, value in parse_qsl(request.META.get("QUERY_STRING", ""), keep_blank_values=True):
        check_text(key, "address")
        check_text(value, key)
        if len(value) > MOST_QUERY:
            raise InvalidDocument([fault_at(key, "longer", longest=MOST_QUERY)])


def _check_body(request: HttpRequest) -> None:
    length = request.META.get("CONTENT_LENGTH") or "0"
    most = MOST_BYTES_OF_ACCOUNTS if request.path.startswith("/_allauth/") else MOST_BYTES
    if not length.isdigit() or len(length) > 15 or int(length) > most:
        raise _TooLarge
    if request.body:
        read_json(request.body)
