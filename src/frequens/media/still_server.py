"""Stills from a confined process that stays open for a while, so that stepping is quick.

A film that makes the decoder crash takes down its own process only.
"""

from __future__ import annotations

import json
import struct
import subprocess
import sys
import threading
from collections import OrderedDict
from pathlib import Path
from typing import IO

from .container import FilmFault
from .limits import GIB, Limits, confine

#: Films whose process is kept open.
_KEPT = 2
_HEADER = struct.Struct(">BI")
_DONE, _FAULT = 0, 1


class _StillProcess:
    def __init__(self, film: Path, index: Path):
        self.lock = threading.Lock()
        self._process = subprocess.Popen(
            [sys.executable, "-m", "frequens.media.still_server", str(film), str(index)],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
        )

    def still(self, frame: int, rotation: int, lines: int) -> bytes:
        """One JPEG. Raises FilmFault where it cannot be had, EOFError where the process died."""
        given, told = self._process.stdin, self._process.stdout
        assert given is not None
        assert told is not None
        try:
            given.write(json.dumps([frame, rotation, lines]).encode() + b"\n")
            given.flush()
        except BrokenPipeError as error:
            raise EOFError from error
        kind, size = _HEADER.unpack(_exactly(told, _HEADER.size))
        body = _exactly(told, size)
        if kind == _FAULT:
            fault = json.loads(body)
            raise FilmFault(fault["code"], fault["text"])
        return body

    def close(self) -> None:
        self._process.kill()
        self._process.wait()


def _exactly(stream: IO[bytes], size: int) -> bytes:
    body = stream.read(size)
    if len(body) < size:
        raise EOFError
    return body


_processes: OrderedDict[Path, _StillProcess] = OrderedDict()
_processes_lock = threading.Lock()


def still_from_child(film: Path, index: Path, frame: int, rotation: int, lines: int) -> bytes:
    """Frame number `frame` of a film as JPEG; see `stills.still`.

    Raises FilmFault where the frame cannot be decoded or the decoder crashed on it.
    """
    process = _process_for(film, index)
    with process.lock:
        try:
            return process.still(frame, rotation, lines)
        except EOFError as error:
            _forget(film, process)
            raise FilmFault(
                "crashed", f"Frame {frame} makes the decoder crash: the film is damaged there."
            ) from error


def _process_for(film: Path, index: Path) -> _StillProcess:
    with _processes_lock:
        process = _processes.pop(film, None) or _StillProcess(film, index)
        _processes[film] = process
        oldest = _processes.popitem(last=False)[1] if len(_processes) > _KEPT else None
    if oldest is not None:
        with oldest.lock:
            oldest.close()
    return process


def _forget(film: Path, process: _StillProcess) -> None:
    with _processes_lock:
        if _processes.get(film) is process:
            del _processes[film]
    process.close()


def serve(film: Path, index: Path, given: IO[bytes], told: IO[bytes]) -> None:
    """Answer requests for stills of one film until the input ends."""
    from .frames import FrameIndex
    from .stills import still

    times = FrameIndex.load(index)
    for line in given:
        try:
            kind, body = _DONE, still(film, times, *_arguments(line))
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
