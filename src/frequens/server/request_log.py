"""Where a setting says so: a line for each request, without anything anybody wrote."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest

logger = logging.getLogger(__name__)


class RequestLogMiddleware:
    """Logs what was asked, how it ended and how long that took.

    Of an address only its path is written: names of films stand behind it.
    """

    def __init__(self, get_response: Callable[[HttpRequest], Any]):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> Any:
        began = time.monotonic()
        response = self.get_response(request)
        took_ms = 1000 * (time.monotonic() - began)
        # What ends a line, or begins another, is none of a path's business.
        path = request.path.encode("ascii", "backslashreplace").decode()
        path = path.replace("\r", "").replace("\n", "")
        logger.info("%s %s %d %.0f ms", request.method, path, response.status_code, took_ms)
        return response
