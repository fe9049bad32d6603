"""Clients that take their time: with half a header, half a body, or without reading the answer."""

from __future__ import annotations

import contextlib
import socket
import threading
import time
from collections.abc import Iterator
from urllib.parse import urlsplit

KINDS = ("header", "upload", "reader")


@contextlib.contextmanager
def slow_clients(
    url: str, kind: str, number: int, cookie: str, large: str
) -> Iterator[list[socket.socket]]:
    """So many connections of a kind, each saying a little every half second.

    `large` is the address of something large, for readers that stop reading.
    """
    where = urlsplit(url)
    head = f"Host: {where.netloc}\r\nCookie: {cookie}\r\n"
    start = {
        "header": "GET /api/me HTTP/1.1\r\nX-Slow: ",
        "upload": "POST /api/films?name=slow.mp4 HTTP/1.1\r\n"
        f"{head}Content-Length: 9000000\r\n\r\n",
        "reader": f"GET {large} HTTP/1.1\r\n{head}\r\n",
    }[kind]
    open_ones: list[socket.socket] = []
    for _ in range(number):
        one = socket.socket()
        if kind == "reader":
            one.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        one.settimeout(10)
        one.connect((where.hostname or "localhost", where.port or 80))
        one.sendall(start.encode())
        open_ones.append(one)
    stop = threading.Event()

    def drip() -> None:
        while not stop.wait(0.5):
            for one in open_ones:
                with contextlib.suppress(OSError):
                    if kind != "reader":
                        one.send(b"x" * (600 if kind == "upload" else 1))
                time.sleep(0.001)

    thread = threading.Thread(target=drip, daemon=True)
    thread.start()
    try:
        yield open_ones
    finally:
        stop.set()
        thread.join()
        for one in open_ones:
            one.close()
