"""Running a stage in its confined process, with progress, a deadline and a way to stop it."""

from __future__ import annotations

import json
import queue
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import IO, Any

from .container import FilmFault
from .limits import Limits

#: How often the parent looks whether to stop, seconds.
PULSE_S = 0.25


class Stopped(Exception):
    """The stage was stopped because `wanted` said it is no longer wanted."""


def run_stage(
    name: str,
    task: Mapping[str, Any],
    limits: Limits = Limits(),  # noqa: B008  # frozen
    *,
    report: Callable[[float], None] = lambda share: None,
    wanted: Callable[[], bool] = lambda: True,
    wall_s: float = 4 * 3600,
) -> dict[str, Any]:
    """Run a stage of `frequens.media.stage` and return its result.

    `report` hears the share done and `wanted` is asked several times a second. Raises
    FilmFault where the film is at fault (a crash or the deadline included), Stopped when
    it is no longer wanted.
    """
    with tempfile.TemporaryFile() as errors:
        process = subprocess.Popen(
            [sys.executable, "-m", "frequens.media.stage", name],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=errors,
        )
        assert process.stdin is not None
        assert process.stdout is not None
        try:
            process.stdin.write(json.dumps({**task, "limits": asdict(limits)}).encode())
            process.stdin.close()
            return _follow(process.stdout, report, wanted, time.monotonic() + wall_s)
        finally:
            process.kill()
            process.wait()
            process.stdout.close()


def _follow(
    output: IO[bytes],
    report: Callable[[float], None],
    wanted: Callable[[], bool],
    deadline: float,
) -> dict[str, Any]:
    lines: queue.SimpleQueue[bytes | None] = queue.SimpleQueue()

    def read() -> None:
        for line in output:
            lines.put(line)
        lines.put(None)

    threading.Thread(target=read, daemon=True).start()
    while True:
        if not wanted():
            raise Stopped
        if time.monotonic() > deadline:
            raise FilmFault("too_slow", "The film took longer to read than one may take.")
        try:
            line = lines.get(timeout=PULSE_S)
        except queue.Empty:
            continue
        if line is None:
            raise FilmFault("crashed", "The film made the decoder crash: it is damaged.")
        message = json.loads(line)
        if "progress" in message:
            report(message["progress"])
        elif "fault" in message:
            raise FilmFault(message["fault"]["code"], message["fault"]["text"])
        else:
            result: dict[str, Any] = message["result"]
            return result
