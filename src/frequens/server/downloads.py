"""Names of files that go out: in any script, and such as every system can keep."""

from __future__ import annotations

import unicodedata
from typing import TypeVar

from django.http.response import HttpResponseBase
from django.utils.http import content_disposition_header

Response = TypeVar("Response", bound=HttpResponseBase)
#: File systems hold names of 255 bytes; a letter has up to four.
LONGEST = 60
#: What some system uses for something else.
_TAKEN = frozenset('<>:"/\\|?*')


def file_name(said: str, ending: str = "") -> str:
    """What was said as a file's name; letters of any script stay as they are."""
    plain = "".join(
        "-" if c in _TAKEN or unicodedata.category(c)[0] == "C" or c.isspace() else c
        for c in unicodedata.normalize("NFC", said).replace(" · ", "-")
    )
    # A name that begins with a dot is hidden, one that ends in one is cut by some systems.
    return (plain[:LONGEST].strip(".-") or "frequens") + ending


def as_download(response: Response, said: str, ending: str = "") -> Response:
    """The response as a file to be kept under this name (RFC 6266)."""
    stem, dot, own = said.rpartition(".")
    if not ending and stem and len(own) <= 5:
        said, ending = stem, dot + own
    header = content_disposition_header(True, file_name(said, ending))
    response.headers["Content-Disposition"] = header or "attachment"
    return response
