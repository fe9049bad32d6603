"""One stage of taking a film in, run as a confined process of its own.

`work` tells in JSON what becomes of it: ``{"progress": 0.4}`` while it works, then
``{"result": {...}}`` or ``{"fault": {"code": ..., "text": ...}}``. A crash of the decoder ends
this process and nothing else.
"""

from __future__ import annotations

import contextlib
import errno
import json
import multiprocessing
import os
import signal
import threading
from collections.abc import Callable, Mapping
from dataclasses import asdict
from importlib import import_module
from multiprocessing.connection import Connection
from pathlib import Path
from typing import TYPE_CHECKING, Any

from frequens.words import fill
from frequens.words.spoken import films as words

from ..decode.container import FilmFault
from ..decode.limits import Limits, confine, short_of_memory

if TYPE_CHECKING:
    from ..decode.frames import FrameIndex

Report = Callable[[float], None]
Task = Mapping[str, Any]
DISK_FULL = FilmFault("disk_full", words.DISK_FULL)
TOO_LARGE = FilmFault("too_large", words.NO_MEMORY)


def check(task: Task, limits: Limits, report: Report) -> dict[str, Any]:
    """Can the film be read? Result: its facts."""
    from ..decode.probe import probe

    return asdict(probe(Path(task["film"]), limits))


def index(task: Task, limits: Limits, report: Report) -> dict[str, Any]:
    """Every frame's time to `index`, a picture to `poster`. Result: frames, duration, dropped."""
    from ..decode.frames import index_frames

    found = index_frames(Path(task["film"]), limits, report, task["slowed"])
    if found.duration_us > limits.longest_s * 1_000_000:
        raise FilmFault(
            "too_long",
            fill(
                words.TOO_LONG,
                {"minutes": found.duration_us / 60e6, "most": limits.longest_s / 60},
            ),
        )
    found.save(Path(task["index"]))
    _poster(task, found)
    return {"frames": len(found), "duration_us": found.duration_us, "dropped": found.dropped}


def _poster(task: Task, found: FrameIndex) -> None:
    """A picture of the film for lists, to `poster`: a third in, where something goes on."""
    from ..decode.stills import still

    # Lists can do without; the bench says what is wrong with a frame.
    with contextlib.suppress(FilmFault):
        picture = still(Path(task["film"]), found, len(found) // 3, task["rotation"], 200)
        Path(task["poster"]).write_bytes(picture)


def review(task: Task, limits: Limits, report: Report) -> dict[str, Any]:
    """The review copy to `review`, and meanwhile to `pieces`. Result: its size in bytes."""
    from ..decode.frames import FrameIndex
    from .review import ReviewOptions, make_review_copy

    copy = Path(task["review"])
    make_review_copy(
        Path(task["film"]),
        copy,
        FrameIndex.load(Path(task["index"])),
        task["rotation"],
        ReviewOptions(lines=task["lines"], mb_per_min=task["mb_per_min"]),
        report,
        Path(task["pieces"]),
    )
    return {"bytes": copy.stat().st_size}


def sound(task: Task, limits: Limits, report: Report) -> dict[str, Any]:
    """The sound to `sound`, closely to `fine`, heard clicks to `heard` and what voices
    leave in it to `voices`. Result: is there any?"""
    from ..decode.frames import FrameIndex
    from ..sound.track import read_sound

    if task["slowed"] != 1:
        # Its sound, if it has any, does not belong to the time of life.
        return {"sound": False}
    index = FrameIndex.load(Path(task["index"]))
    with Path(task["fine"]).open("wb") as fine:
        read = read_sound(Path(task["film"]), index, report, fine)
    if read is not None:
        Path(task["sound"]).write_bytes(read.overview.to_bytes())
        read.clicks.save(Path(task["heard"]))
        read.voices.save(Path(task["voices"]))
    return {"sound": read is not None}


STAGES: Mapping[str, Callable[[Task, Limits, Report], dict[str, Any]]] = {
    "check": check,
    "index": index,
    "review": review,
    "sound": sound,
}


#: What does not take about as long as the film; while the rest runs somebody may look at frames.
QUICK = frozenset({"check", "index"})


def stage_named(name: str) -> Callable[[Task, Limits, Report], dict[str, Any]]:
    """One of STAGES, or a camera's own: ``module:function``."""
    if ":" not in name:
        return STAGES[name]
    module, function = name.split(":")
    found: Callable[[Task, Limits, Report], dict[str, Any]]
    found = getattr(import_module(module), function)
    return found


def work(name: str, task: Task, limits: Limits, told: Connection) -> None:
    """Run one stage in this process, which does nothing else; every outcome is told."""
    _be_quiet()
    threading.Thread(target=_end_with_the_asker, daemon=True).start()
    if name not in QUICK:
        os.nice(10)
    confine(limits)
    last = -1.0

    def say(message: Mapping[str, Any]) -> None:
        told.send_bytes(json.dumps(message).encode())

    def report(share: float) -> None:
        nonlocal last
        if share - last >= 0.005:
            last = share
            say({"progress": round(share, 4)})

    try:
        say({"result": stage_named(name)(task, limits, report)})
    except Exception as error:
        fault = _fault_of(error, limits)
        if fault is None:
            raise
        say({"fault": {"code": fault.code, "text": str(fault)}})


def _fault_of(error: Exception, limits: Limits) -> FilmFault | None:
    """What a stage's error says of its film; None where it is none of the film's."""
    if isinstance(error, MemoryError) or short_of_memory(limits):
        return TOO_LARGE
    if isinstance(error, FilmFault):
        return error
    full = (errno.ENOSPC, errno.EDQUOT, errno.EFBIG)
    return DISK_FULL if isinstance(error, OSError) and error.errno in full else None


def _end_with_the_asker() -> None:
    asker = multiprocessing.parent_process()
    if asker is not None:
        # This one's own parent is the process it was forked from, which stays while it works.
        asker.join()
        os.kill(os.getpid(), signal.SIGKILL)


def _be_quiet() -> None:
    """What decoders write about a film is nothing for the house's log."""
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 2)
    os.close(nowhere)
