"""A line to a house that breaks: connections are cut anywhere in what is sent, as in a yard."""

from __future__ import annotations

import contextlib
import random
import socket
import threading


class CutLine:
    """Listens on a port of its own and passes everything on to `port`.

    So many times it cuts every connection, each after a random number of bytes towards the house;
    after the last cut it holds back what is sent until `let_go`.
    """

    def __init__(self, port: int, cuts: int, seed: int, most: int = 1_800_000):
        self._port, self._most = port, most
        self._random = random.Random(seed)
        self._lock = threading.Lock()
        self._open: set[socket.socket] = set()
        self._may_pass = threading.Event()
        self._may_pass.set()
        self.left = cuts
        self._budget = self._next()
        self._door = socket.create_server(("localhost", 0))
        self.url = f"http://localhost:{self._door.getsockname()[1]}"
        threading.Thread(target=self._listen, daemon=True).start()

    def let_go(self) -> None:
        """From now on everything passes."""
        self._may_pass.set()

    def close(self) -> None:
        self.let_go()
        self._door.close()
        self._cut()

    def _next(self) -> int:
        return self._random.randint(200_000, self._most)

    def _listen(self) -> None:
        with contextlib.suppress(OSError):
            while True:
                here, _ = self._door.accept()
                there = socket.create_connection(("localhost", self._port))
                with self._lock:
                    self._open |= {here, there}
                for one, other, is_up in ((here, there, True), (there, here, False)):
                    threading.Thread(
                        target=self._pass, args=(one, other, is_up), daemon=True
                    ).start()

    def _pass(self, one: socket.socket, other: socket.socket, is_up: bool) -> None:
        with contextlib.suppress(OSError):
            while data := one.recv(65536):
                if is_up and self._is_cut(len(data)):
                    self._cut()
                    break
                if is_up and len(data) > 20_000:
                    self._may_pass.wait(120)
                other.sendall(data)
        for end in (one, other):
            with contextlib.suppress(OSError):
                end.close()

    def _is_cut(self, count: int) -> bool:
        with self._lock:
            self._budget -= count
            if self.left == 0 or self._budget > 0:
                return False
            self.left -= 1
            self._budget = self._next()
            if self.left == 0:
                self._may_pass.clear()
            return True

    def _cut(self) -> None:
        with self._lock:
            ends, self._open = self._open, set()
        for end in ends:
            with contextlib.suppress(OSError):
                end.shutdown(socket.SHUT_RDWR)
            end.close()
