"""Stills from a confined process that stays open for a while, so that stepping is quick.

A film that makes the decoder crash takes down its own process only.
"""

from __future__ import annotations

import json
import os
import select
import struct
import subprocess
import sys
import threading
import time
from collections import OrderedDict
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from frequens.words import fill
from frequens.words.spoken import films as words

from ..decode.container import FilmFault
from ..decode.limits import GIB, Limits, confine

#: Films whose process is kept open at the same time.
_KEPT = 2
#: A frame that takes longer will not come; a process that long busy is not waited for.
DEADLINE_S = 20.0
_HEADER = struct.Struct(">BI")
_DONE, _FAULT = 0, 1


class _Gone(Exception):
    """The process ended without an answer: killed, or crashed."""


class _Late(Exception):
    """The process did not answer in time."""


class _StillProcess:
    def __init__(self, film: Path, index: Path):
        self.lock = threading.Lock()
        #: Requests that hold it or wait for it: while there are any it is not closed.
        self.leases = 0
        self._process = subprocess.Popen(
            [sys.executable, "-m", "frequens.media.ingest.still_server", str(film), str(index)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            bufsize=0,
        )

    def still(self, frame: int, rotation: int, lines: int) -> bytes:
        """One JPEG. Raises FilmFault where it cannot be had, and _Gone or _Late."""
        given = self._process.stdin
        assert given is not None
        deadline = time.monotonic() + DEADLINE_S
        try:
            given.write(json.dumps([frame, rotation, lines]).encode() + b"\n")
        except (BrokenPipeError, ValueError) as error:
            # Dead, or given up and closed by whoever had it before.
            raise _Gone from error
        kind, size = _HEADER.unpack(self._exactly(_HEADER.size, deadline))
        body = self._exactly(size, deadline)
        if kind == _FAULT:
            fault = json.loads(body)
            raise FilmFault(fault["code"], fault["text"])
        return body

    def _exactly(self, size: int, deadline: float) -> bytes:
        told = self._process.stdout
        assert told is not None
        parts = bytearray()
        while len(parts) < size:
            ready, _, _ = select.select([told], [], [], max(0.0, deadline - time.monotonic()))
            if not ready:
                raise _Late
            part = os.read(told.fileno(), size - len(parts))
            if not part:
                raise _Gone
            parts += part
        return bytes(parts)

    def close(self) -> None:
        self._process.kill()
        self._process.wait()
        for pipe in (self._process.stdin, self._process.stdout):
            if pipe is not None:
                pipe.close()


_processes: OrderedDict[Path, _StillProcess] = OrderedDict()
_change = threading.Condition()


def still_from_child(film: Path, index: Path, frame: int, rotation: int, lines: int) -> bytes:
    """Frame number `frame` of a film as JPEG; see `stills.StillReader.still`.

    Waits while other films' decoders are at work. Raises FilmFault where the frame cannot be
    decoded, where the decoder ends on it twice or does not come back.
    """
    for _ in range(2):
        with _leased(film, index) as process, process.lock:
            try:
                return process.still(frame, rotation, lines)
            except _Gone:
                # Killed from outside it says nothing of the film: once more with another one.
                _forget(film, process)
            except _Late as error:
                _forget(film, process)
                raise FilmFault(
                    "too_slow",
                    fill(words.FRAME_TOO_SLOW, {"frame": frame, "deadline_s": DEADLINE_S}),
                ) from error
    raise FilmFault("crashed", fill(words.FRAME_CRASHED, {"frame": frame}))


@contextmanager
def _leased(film: Path, index: Path) -> Iterator[_StillProcess]:
    process = _take(film, index)
    try:
        yield process
    finally:
        with _change:
            process.leases -= 1
            _change.notify_all()


def _take(film: Path, index: Path) -> _StillProcess:
    """The film's process, as soon as there may be one more; leased to the asker."""
    deadline = time.monotonic() + DEADLINE_S
    with _change:
        while True:
            process = _processes.pop(film, None)
            if process is None and len(_processes) >= _KEPT:
                idle = next((f for f, p in _processes.items() if p.leases == 0), None)
                if idle is None:
                    if not _change.wait(deadline - time.monotonic()):
                        raise FilmFault("busy", words.BUSY)
                    continue
                _processes.pop(idle).close()
            process = process or _StillProcess(film, index)
            _processes[film] = process
            process.leases += 1
            return process


def _forget(film: Path, process: _StillProcess) -> None:
    with _change:
        if _processes.get(film) is process:
            del _processes[film]
    process.close()


def serve(film: Path, index: Path, given: IO[bytes], told: IO[bytes]) -> None:
    """Answer requests for stills of one film until the input ends."""
    from ..decode.frames import FrameIndex
    from ..decode.stills import StillReader

    with StillReader(film, FrameIndex.load(index)) as reader:
        for line in given:
            try:
                kind, body = _DONE, reader.still(*_arguments(line))
            except FilmFault as fault:
                kind, body = _FAULT, json.dumps({"code": fault.code, "text": str(fault)}).encode()
            told.write(_HEADER.pack(kind, len(body)) + body)
            told.flush()


def _arguments(line: bytes) -> tuple[int, int, int]:
    frame, rotation, lines = json.loads(line)
    return frame, rotation, lines


if __name__ == "__main__":
    confine(Limits(memory_bytes=3 * GIB))
    serve(Path(sys.argv[1]), Path(sys.argv[2]), sys.stdin.buffer, sys.stdout.buffer)
