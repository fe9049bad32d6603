"""Connections with time limits, and a fair share of them for each client.

A connection that waits (for the rest of a header, for the next request, for a reader) costs a
little memory and no thread. It is closed when it has waited too long, and before that where one
client has more of them than its share: then the one that has waited longest goes.
"""

from __future__ import annotations

import asyncio
from collections import defaultdict
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

#: A whole header must be there after so long; a reader must take something within so long.
HEADER_S, READER_S = 10.0, 120.0
#: A header larger than this (and what one read brings) is none of a browser's, bytes.
MOST_HEADER = 64 * 1024
#: Connections of one address, and of all together, in one process.
MOST_A_CLIENT, MOST = 400, 2000
_OPEN: dict[str, set[PatientProtocol]] = defaultdict(set)


class PatientProtocol(HttpToolsProtocol):
    """uvicorn's HTTP/1.1 with deadlines for header and reader, and limits per client."""

    _deadline: asyncio.TimerHandle | None = None
    _in_header = True
    _header_bytes = 0
    #: Since when it has been waiting for its client, by the loop's clock; None while at work.
    waiting_since: float | None = None

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        # Behind a proxy all connections are the proxy's, which has limits of its own.
        self._who = self.client[0] if self.client else ""
        own = _OPEN[self._who]
        if self._who and len(own) >= MOST_A_CLIENT:
            _close_longest_waiting(own)
        if sum(map(len, _OPEN.values())) >= MOST:
            _close_longest_waiting({one for some in _OPEN.values() for one in some})
        own.add(self)
        self._wait(HEADER_S)

    def connection_lost(self, exc: Exception | None) -> None:
        self._end_wait()
        _OPEN[self._who].discard(self)
        if not _OPEN[self._who]:
            del _OPEN[self._who]
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self._in_header:
            self._header_bytes += len(data)
            if self._header_bytes > MOST_HEADER:
                self.give_up()

    def on_message_begin(self) -> None:
        super().on_message_begin()
        self._in_header, self._header_bytes = True, 0
        self._wait(HEADER_S)

    def on_headers_complete(self) -> None:
        self._end_wait()
        self._in_header = False
        super().on_headers_complete()
        # Whoever receives the body says how slowly it may come.
        self.waiting_since = self.loop.time()

    def on_message_complete(self) -> None:
        self.waiting_since = None
        super().on_message_complete()

    def on_response_complete(self) -> None:
        super().on_response_complete()
        # The time between requests is limited by uvicorn itself.
        self.waiting_since = self.loop.time()

    def pause_writing(self) -> None:
        super().pause_writing()
        self._wait(READER_S)

    def resume_writing(self) -> None:
        self._end_wait()
        super().resume_writing()

    def give_up(self) -> None:
        """End it at once: closing politely would wait for the client again."""
        if self.transport is not None:
            self.transport.abort()

    def _wait(self, longest_s: float) -> None:
        self._end_wait()
        self.waiting_since = self.loop.time()
        self._deadline = self.loop.call_later(longest_s, self.give_up)

    def _end_wait(self) -> None:
        self.waiting_since = None
        if self._deadline is not None:
            self._deadline.cancel()
            self._deadline = None


def _close_longest_waiting(connections: set[PatientProtocol]) -> None:
    waiting = [one for one in connections if one.waiting_since is not None]
    if waiting:
        min(waiting, key=lambda one: one.waiting_since or 0.0).give_up()
