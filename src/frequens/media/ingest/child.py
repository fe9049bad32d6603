"""Running a stage in its confined process, with progress, a deadline and a way to stop it."""

from __future__ import annotations

import json
import multiprocessing
import os
import signal
import tempfile
import time
from collections.abc import Callable, Mapping
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from typing import Any

from frequens.words.spoken import films as words

from ..decode.container import FilmFault
from ..decode.limits import Limits
from . import stage

#: One process has loaded what stages need, and each stage's is a fork of it: to load it anew takes
#: longer than to read a short film. Nothing but the task ever goes there, so a film that gets the
#: better of a decoder meets no other film.
_forking = multiprocessing.get_context("forkserver")
_PARTS = ["frequens.media.ingest.stage_parts"]
_forking.set_forkserver_preload(_PARTS)


def _forget_the_source() -> None:
    """A fork of this process begins one of its own: that of its parent is no child of it."""
    source: Any = forkserver._forkserver
    if source._forkserver_alive_fd is not None:
        # Else the parent's would stay for as long as this process.
        os.close(source._forkserver_alive_fd)
    source.__init__()
    source.set_forkserver_preload(_PARTS)


os.register_at_fork(after_in_child=_forget_the_source)

#: More than any stage has to say at once, bytes.
MOST_SAID = 64 * 1024 * 1024
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
    # Whoever clears old temporary folders may have taken the worker's own, while it was empty.
    os.makedirs(tempfile.gettempdir(), mode=0o700, exist_ok=True)
    heard, told = _forking.Pipe(duplex=False)
    process = _forking.Process(target=stage.work, args=(name, dict(task), limits, told))
    try:
        process.start()
        # Else nobody would hear it end.
        told.close()
        result = _follow(heard, report, wanted, time.monotonic() + wall_s)
        if result is None:
            process.join()
            raise _ending(process.exitcode)
        return result
    finally:
        if process.pid is not None:
            process.kill()
            process.join()
        told.close()
        heard.close()


def _ending(code: int | None) -> Exception:
    """What to make of a process that ended without a result, by its exit code."""
    if -(code or 0) in _CRASHES:
        return FilmFault("crashed", words.CRASHED)
    if code == -signal.SIGXCPU:
        return FilmFault("too_slow", words.TOO_SLOW)
    return Interrupted(f"the stage's process ended with {code}")


def _follow(
    heard: Connection,
    report: Callable[[float], None],
    wanted: Callable[[], bool],
    deadline: float,
) -> dict[str, Any] | None:
    """The stage's result; None where it ended without one."""
    while True:
        if not wanted():
            raise Stopped
        if time.monotonic() > deadline:
            raise FilmFault("too_slow", words.TOO_SLOW)
        if not heard.poll(PULSE_S):
            continue
        try:
            # Never a pickle: what comes from there may be a film's own doing.
            message = json.loads(heard.recv_bytes(MOST_SAID))
        except (EOFError, OSError):
            # It ended, in the middle of a word perhaps.
            return None
        if "progress" in message:
            report(message["progress"])
        elif "fault" in message:
            raise FilmFault(message["fault"]["code"], message["fault"]["text"])
        else:
            result: dict[str, Any] = message["result"]
            return result
