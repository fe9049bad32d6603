"""The house behind an asynchronous front.

Requests are received whole and answers are sent from here, as slowly as their clients like; only
what lies between holds one of a few threads. So no number of slow clients keeps the others waiting.
"""

from __future__ import annotations

import asyncio
import contextlib
import json
from collections.abc import Awaitable, Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from typing import IO, Any

from asgiref.wsgi import WsgiToAsgiInstance

from .bodies import Gone, Refused, Uploads, receive_body

Message = dict[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]

#: Requests worked on at once in one process; the others wait their turn.
THREADS = 16
#: What is read of a file at once, bytes.
CHUNK = 256 * 1024
#: After a refusal the rest of the body is read away for so long, seconds: to close over unread
#: bytes resets the connection, and the answer may be lost with it.
LINGER_S = 2.0


class FileAnswer:
    """An answer that is a file: it is sent by the front, and no thread waits for its reader."""

    def __init__(self, file: IO[bytes], block_size: int = CHUNK):
        self.file = file

    def __iter__(self) -> Iterator[bytes]:
        while chunk := self.file.read(CHUNK):
            yield chunk

    def close(self) -> None:
        self.file.close()


class Front:
    """An ASGI application around a WSGI one.

    `uploads` takes bodies that go to the disk as they come, with who may send them.
    """

    def __init__(self, wsgi: Callable[..., Iterable[bytes]], uploads: Uploads):
        self._wsgi = wsgi
        self._uploads = uploads
        self._pool = ThreadPoolExecutor(THREADS, thread_name_prefix="work")

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            raise ValueError(f"only HTTP is answered, not {scope['type']}")
        try:
            body, more = await receive_body(scope, receive, self._uploads, self._run)
        except Refused as refused:
            await _refuse(receive, send, refused)
            return
        except Gone:
            return
        with body:
            try:
                environ = _environ(scope, body) | more
                status, headers, answer = await self._run(self._answer, environ)
            finally:
                self._uploads.drop(more)
        start = {"type": "http.response.start", "status": status, "headers": headers}
        try:
            await send(start)
            if isinstance(answer, bytes):
                await send({"type": "http.response.body", "body": answer})
                return
            await self._send_parts(answer, receive, send)
        finally:
            if not isinstance(answer, bytes):
                await self._run(answer.close)

    async def _send_parts(self, answer: Iterable[bytes], receive: Receive, send: Send) -> None:
        """Send what is read bit by bit, no further than there is somebody to read it."""
        gone = asyncio.ensure_future(receive())
        parts = iter(answer)
        try:
            while (part := await self._run(next, parts, None)) is not None:
                await send({"type": "http.response.body", "body": part, "more_body": True})
                if gone.done():
                    return
            await send({"type": "http.response.body"})
        finally:
            gone.cancel()

    async def _run(self, work: Callable[..., Any], *arguments: Any) -> Any:
        return await asyncio.get_running_loop().run_in_executor(self._pool, work, *arguments)

    def _answer(self, environ: Message) -> tuple[int, list[tuple[bytes, bytes]], Any]:
        """Status, headers and body of an answer; bodies that are not in memory are iterated."""
        said: list[Any] = []

        def start_response(status: str, headers: list[tuple[str, str]], fault: Any = None) -> None:
            said[:] = [int(status.split(" ", 1)[0]), headers]

        parts = self._wsgi(environ, start_response)
        status, headers = said
        raw = [(name.encode("latin1"), value.encode("latin1")) for name, value in headers]
        if isinstance(parts, FileAnswer) or getattr(parts, "streaming", False):
            return status, raw, parts
        try:
            return status, raw, b"".join(parts)
        finally:
            with contextlib.suppress(AttributeError):
                parts.close()  # type: ignore[attr-defined]

    def close(self) -> None:
        """Let what is under way come to its end."""
        self._pool.shutdown()


def _environ(scope: Message, body: IO[bytes]) -> Message:
    builder: Any = WsgiToAsgiInstance(None)  # type: ignore[no-untyped-call]
    builder.scope = scope
    environ: Message = builder.build_environ(scope, body)
    if environ.get("HTTP_TRANSFER_ENCODING"):
        # It came in pieces and is whole now.
        body.seek(0, 2)
        environ["CONTENT_LENGTH"] = str(body.tell())
        body.seek(0)
    # What clients call their address is believed only as far as the settings say.
    environ.setdefault("REMOTE_ADDR", "")
    environ["wsgi.file_wrapper"] = FileAnswer
    return environ


async def _refuse(receive: Receive, send: Send, refused: Refused) -> None:
    text = json.dumps({"fault": str(refused), "faults": [str(refused)]}).encode()
    headers = [
        (b"content-type", b"application/json"),
        (b"content-length", str(len(text)).encode()),
        (b"connection", b"close"),
    ]
    await send({"type": "http.response.start", "status": refused.status, "headers": headers})
    await send({"type": "http.response.body", "body": text, "more_body": True})
    with contextlib.suppress(TimeoutError):
        async with asyncio.timeout(LINGER_S):
            while (await receive()).get("more_body", False):
                pass
    await send({"type": "http.response.body"})
