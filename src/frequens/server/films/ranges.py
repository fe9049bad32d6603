"""Serving a file in ranges (RFC 9110, 14): without them no player can seek."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

from django.http import FileResponse, HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

CHUNK = 256 * 1024


def ranged_file(request: HttpRequest, path: Path, content_type: str) -> HttpResponseBase:
    """The file, or the one range the request asks for (206), or 416 where there is none such."""
    size = path.stat().st_size
    wanted = re.fullmatch(r"bytes=(\d*)-(\d*)", request.headers.get("Range", "").strip())
    if wanted is None or not any(wanted.groups()):
        response: HttpResponseBase = FileResponse(path.open("rb"), content_type=content_type)
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
        response = StreamingHttpResponse(
            _part(path, start, end - start + 1), status=206, content_type=content_type
        )
        response["Content-Range"] = f"bytes {start}-{end}/{size}"
        response["Content-Length"] = str(end - start + 1)
    response["Accept-Ranges"] = "bytes"
    response["Cache-Control"] = "private, max-age=86400"
    return response


def _part(path: Path, start: int, length: int) -> Iterator[bytes]:
    with path.open("rb") as file:
        file.seek(start)
        while length > 0 and (chunk := file.read(min(CHUNK, length))):
            length -= len(chunk)
            yield chunk
