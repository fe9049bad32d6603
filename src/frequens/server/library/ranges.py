"""Serving a file in ranges (RFC 9110, 14): without them no player can seek."""

from __future__ import annotations

import re
from pathlib import Path

from django.http import FileResponse, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase


def ranged_file(request: HttpRequest, path: Path, content_type: str) -> HttpResponseBase:
    """The file, or the one range the request asks for (206), or 416 where there is none such."""
    size = path.stat().st_size
    wanted = re.fullmatch(r"bytes=(\d{0,18})-(\d{0,18})", request.headers.get("Range", "").strip())
    if wanted is None or not any(wanted.groups()):
        response: HttpResponseBase = FileResponse(_Part(path, 0, size), content_type=content_type)
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
        part = _Part(path, start, end - start + 1)
        response = FileResponse(part, status=206, content_type=content_type)
        response["Content-Range"] = f"bytes {start}-{end}/{size}"
        response["Content-Length"] = str(end - start + 1)
    response["Accept-Ranges"] = "bytes"
    response["Cache-Control"] = "private, max-age=86400"
    return response


class _Part:
    """A stretch of a file, to be read once from its beginning."""

    def __init__(self, path: Path, start: int, length: int):
        self._file = path.open("rb")
        self._file.seek(start)
        self._left = length

    def read(self, size: int = -1) -> bytes:
        most = self._left if size < 0 else min(size, self._left)
        chunk = self._file.read(most)
        self._left -= len(chunk)
        return chunk

    def close(self) -> None:
        self._file.close()
