"""Receiving the body of a request: in time, within its limits, films straight to the disk."""

from __future__ import annotations

import asyncio
import tempfile
import time
from collections.abc import Awaitable, Callable
from typing import IO, Any, Protocol

from frequens.words import fill
from frequens.words.spoken import refusals as words

Message = dict[str, Any]

#: Without a byte for so long, or fewer bytes a second once it has gone on for a while, a body
#: is given up: the slowest mobile network is quicker.
IDLE_S, GRACE_S, SLOWEST_BYTES_PER_S = 20.0, 30.0, 500
#: Bodies that are kept in memory and looked at as values; a stranger's only ever logs in.
MOST_BYTES, MOST_BYTES_OF_STRANGERS = 8 * 1024**2 + 1, 64 * 1024
IN_MEMORY = 256 * 1024


class Refused(Exception):
    """The body is not taken. `status` is the HTTP status, the message a sentence."""

    def __init__(self, status: int, message: str):
        super().__init__(message)
        self.status = status


class Gone(Exception):
    """The client has left."""


class Sink(Protocol):
    """Takes an upload as it comes. Raises Refused where it cannot."""

    def write(self, chunk: bytes) -> None: ...

    def finish(self) -> Any: ...

    def drop(self) -> None: ...


class Uploads(Protocol):
    """What the front must know of uploads, without knowing what they are."""

    def sink_for(self, scope: Message, expected: int | None) -> Sink | None:
        """Where the body of this request goes as it comes; None for plain values.

        Raises Refused for somebody who may not upload, or more than there is room for.
        """

    def drop(self, environ: Message) -> None:
        """Remove what was received for a request and not taken over while it was worked on."""


async def receive_body(
    scope: Message,
    receive: Callable[[], Awaitable[Message]],
    uploads: Uploads,
    run: Callable[..., Awaitable[Any]],
) -> tuple[IO[bytes], Message]:
    """The body as a file, and what else its request's environment gets.

    Raises Refused for one that is too large or too slow, Gone where the client left.
    """
    expected = _announced(scope)
    has_body = scope["method"] in ("POST", "PATCH")
    sink = await run(uploads.sink_for, scope, expected) if has_body else None
    if sink is not None:
        return tempfile.SpooledTemporaryFile(IN_MEMORY), await _upload(receive, sink)
    most = MOST_BYTES if _has_session(scope) else MOST_BYTES_OF_STRANGERS
    if expected is not None and expected > most:
        raise Refused(413, fill(words.LARGER_THAN_KB, {"kb": most // 1024}))
    body = tempfile.SpooledTemporaryFile(IN_MEMORY)  # noqa: SIM115  # the caller closes it
    size = 0
    try:
        async for chunk in _chunks(receive):
            size += len(chunk)
            if size > most:
                raise Refused(413, fill(words.LARGER_THAN_KB, {"kb": most // 1024}))
            body.write(chunk)
    except BaseException:
        body.close()
        raise
    body.seek(0)
    return body, {}


async def _upload(receive: Callable[[], Awaitable[Message]], sink: Sink) -> Message:
    try:
        async for chunk in _chunks(receive):
            await asyncio.to_thread(sink.write, chunk)
        # What is announced as received is on the disk.
        return {"CONTENT_LENGTH": "0", "frequens.upload": await asyncio.to_thread(sink.finish)}
    except BaseException:
        await asyncio.shield(asyncio.to_thread(sink.drop))
        raise


async def _chunks(receive: Callable[[], Awaitable[Message]]) -> Any:
    began, size = time.monotonic(), 0
    while True:
        try:
            message = await asyncio.wait_for(receive(), IDLE_S)
        except TimeoutError as error:
            raise Refused(408, words.NOTHING_CAME) from error
        if message["type"] == "http.disconnect":
            raise Gone
        chunk = message.get("body", b"")
        size += len(chunk)
        if chunk:
            yield chunk
        if not message.get("more_body", False):
            return
        spent = time.monotonic() - began
        if spent > GRACE_S and size < SLOWEST_BYTES_PER_S * spent:
            raise Refused(408, words.TOO_SLOW)


def _announced(scope: Message) -> int | None:
    for name, value in scope["headers"]:
        if name == b"content-length":
            return int(value)
    return None


def _has_session(scope: Message) -> bool:
    return any(name == b"cookie" and b"sessionid=" in value for name, value in scope["headers"])
