"""Running a stage in its confined process, with progress, a deadline and a way to stop it."""

from __future__ import annotations

import json
import queue
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import asdict
from typing import IO, Any

from ..decode.container import FilmFault
from ..decode.limits import Limits

#: How often the parent looks whether to stop, seconds.
PULSE_S = 0.25


#: How a decoder ends that met something it cannot bear.
_CRASHES = {signal.SIGSEGV, signal.SIGABRT, signal.SIGBUS, signal.SIGILL, signal.SIGFPE}


class Stopped(Exception):
    """The stage was stopped because `wanted` said it is no longer wanted."""


class Interrupted(Exception):
    """The stage's process ended without a word, and not by the film's fault: killed or starved."""


def run_stage(
    name: str,
    task: Mapping[str, Any],
    limits: Limits = Limits(),  # noqa: B008  # frozen
    *,
    report: Callable[[float], None] = lambda share: None,
    wanted: Callable[[], bool] = lambda: True,
    wall_s: float = 4 * 3600,
) -> dict[str, Any]:
    """Run a stage of `frequens.media.ingest.stage` and return its result.

    `report` hears the share done and `wanted` is asked several times a second. Raises
    FilmFault where the film is at fault (a crash of the decoder or the deadline included),
    Interrupted where its process was killed, Stopped when it is no longer wanted.
    """
    with tempfile.TemporaryFile() as errors:
        process = subprocess.Popen(
            [sys.executable, "-m", "frequens.media.ingest.stage", name],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=errors,
        )
        assert process.stdin is not None
        assert process.stdout is not None
        try:
            process.stdin.write(json.dumps({**task, "limits": asdict(limits)}).encode())
            process.stdin.close()
            result = _follow(process.stdout, report, wanted, time.monotonic() + wall_s)
            if result is None:
                raise _ending(process.wait())
            return result
        except BrokenPipeError:
            raise _ending(process.wait()) from None
        finally:
            process.kill()
            process.wait()
            process.stdout.close()


def _ending(code: int) -> Exception:
    """What to make of a process that ended without a result: `code` as `wait` gives it."""
    if -code in _CRASHES:
        return FilmFault(
            "crashed", "The decoder on this machine crashed on this film. The film is kept."
        )
    if -code == signal.SIGXCPU:
        return FilmFault("too_slow", "The film took longer to read than one may take.")
    return Interrupted(f"the stage's process ended with {code}")


def _follow(
    output: IO[bytes],
    report: Callable[[float], None],
    wanted: Callable[[], bool],
    deadline: float,
) -> dict[str, Any] | None:
    """The stage's result; None where it ended without one."""
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
            return None
        message = json.loads(line)
        if "progress" in message:
            report(message["progress"])
        elif "fault" in message:
            raise FilmFault(message["fault"]["code"], message["fault"]["text"])
        else:
            result: dict[str, Any] = message["result"]
            return result
