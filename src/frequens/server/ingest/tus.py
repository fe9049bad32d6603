"""The words of tus 1.0.0, an open protocol for uploads that can be resumed (tus.io), as headers."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Mapping

from frequens.core.reading.document_values import fault_at
from frequens.words import fill
from frequens.words.spoken import refusals as words

from .receive import ReceiveFault

VERSION = "1.0.0"
EXTENSIONS = "creation,expiration,termination"
PIECE_TYPE = "application/offset+octet-stream"


def check_version(headers: Mapping[str, str]) -> None:
    """Raise ReceiveFault (412) for a client of another version."""
    if headers.get("tus-resumable") != VERSION:
        raise ReceiveFault(412, fill(words.TUS_VERSION, {}, version=VERSION))


def length_of(headers: Mapping[str, str]) -> int:
    """The announced length of the whole file, bytes. Raises ReceiveFault where there is none."""
    return _number(headers, "upload-length")


def offset_of(headers: Mapping[str, str]) -> int:
    """Where a piece begins, bytes. Raises ReceiveFault for what is no piece.

    A page of another site can send none of these headers, so that no forged request gets here.
    """
    check_version(headers)
    if headers.get("content-type") != PIECE_TYPE:
        raise ReceiveFault(415, fill(words.TUS_PIECE, {}, type=PIECE_TYPE))
    return _number(headers, "upload-offset")


def metadata_of(headers: Mapping[str, str]) -> dict[str, str]:
    """What is said of the file, by name. Raises ReceiveFault for what cannot be read."""
    said: dict[str, str] = {}
    for pair in filter(None, headers.get("upload-metadata", "").split(",")):
        name, _, value = pair.strip().partition(" ")
        try:
            said[name] = base64.b64decode(value, validate=True).decode()
        except (binascii.Error, UnicodeDecodeError) as error:
            raise ReceiveFault(400, fill(words.TUS_METADATA, {}, name=name)) from error
    return said


def _number(headers: Mapping[str, str], name: str) -> int:
    text = headers.get(name, "")
    # More digits than any length has.
    if not (text.isascii() and text.isdigit() and len(text) <= 18):
        raise ReceiveFault(400, fault_at(name.title(), "not_bytes"))
    return int(text)
