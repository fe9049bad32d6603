"""Serving a file in ranges (RFC 9110, 14): without them no player can seek."""

from __future__ import annotations

import re

from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase

from .sources import Source


def ranged_file(request: HttpRequest, source: Source, content_type: str) -> HttpResponseBase:
    """The file, or the one range the request asks for (206), or 416 where there is none such."""
    size = source.size
    wanted = re.fullmatch(r"bytes=(\d{0,18})-(\d{0,18})", request.headers.get("Range", "").strip())
    if wanted is None or not any(wanted.groups()):
        response: HttpResponseBase = FileResponse(source.part(0, size), content_type=content_type)
        response["Content-Length"] = str(size)
    else:
        first, last = wanted.groups()
        if first:
            start, end = int(first), min(int(last) if last else size - 1, size - 1)
        else:
            start, end = max(0, size - int(last)), size - 1
        if start > end or start >= size:
            response = HttpResponse(status=416)
            response["Content-Range"] = f"bytes */{size}"
            return response
        part = source.part(start, end - start + 1)
        response = FileResponse(part, status=206, content_type=content_type)
        response["Content-Range"] = f"bytes {start}-{end}/{size}"
        response["Content-Length"] = str(end - start + 1)
    response["Accept-Ranges"] = "bytes"
    response["Cache-Control"] = "private, max-age=86400"
    return response
