"""The processes that serve: some for the web, one that works; who dies is started again.

They are forked from the first process, which has read all code already: a start costs one reading
instead of one for each. SQLite's locks belong to a process while its memory of them is copied, so
no database may be open across a fork.
"""

from __future__ import annotations

import contextlib
import ctypes
import multiprocessing
import os
import shutil
import signal
import socket
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing.process import BaseProcess
from pathlib import Path
from typing import Literal

from django.core.management import call_command
from django.db import connections
from huey.contrib.djhuey import HUEY

from . import serving
from .keeping import fold_no_log
from .lan_certificate import LanCertificate

Role = Literal["web", "work", "lan"]

STOP_S = 4
#: What dies more often within this time, seconds, is not helped by starting it again.
DEATHS_WITHIN_S, MOST_DEATHS = 60, 8


class WontStay(Exception):
    """The processes die faster than starting them again helps."""


@dataclass(frozen=True)
class Lan:
    """The local network: a listening socket, and the certificate it is served with."""

    listening: socket.socket
    certificate: LanCertificate


class Crew:
    """The web processes on a listening socket, one for the local network where it is served, and
    the worker.

    `let_go` closes what databases the first process has open beside Django's and the queue's.
    """

    def __init__(
        self,
        listening: socket.socket,
        web: int,
        let_go: Callable[[], None],
        lan: Lan | None = None,
    ):
        self._listening, self._let_go, self._lan = listening, let_go, lan
        self._roles: list[Role] = ["work"]
        if lan is not None:
            self._roles.append("lan")
        for _ in range(web):
            self._roles.insert(0, "web")
        self._deaths: list[float] = []
        # The worker has no time to clear up after itself.
        self._scratch = new_scratch()
        self._processes = [self._start(role) for role in self._roles]

    def is_whole(self) -> bool:
        return all(process.exitcode is None for process in self._processes)

    def replace_the_dead(self) -> list[str]:
        """What was started again, in words. Raises WontStay."""
        replaced = []
        for place, process in enumerate(self._processes):
            if process.exitcode is None:
                continue
            now = time.monotonic()
            self._deaths = [at for at in self._deaths if now - at < DEATHS_WITHIN_S] + [now]
            if len(self._deaths) > MOST_DEATHS:
                raise WontStay(
                    f"Processes of Frequens ended {len(self._deaths)} times within "
                    f"{DEATHS_WITHIN_S} s; stopping the rest."
                )
            role = self._roles[place]
            self._processes[place] = self._start(role)
            replaced.append("The worker" if role == "work" else "A web process")
        return replaced

    def stop(self) -> None:
        """End all, politely first; then at once, so that their own children end with them."""
        for request in (signal.SIGTERM, signal.SIGQUIT, signal.SIGKILL):
            for process in self._processes:
                if process.exitcode is None and process.pid is not None:
                    with contextlib.suppress(ProcessLookupError):
                        os.kill(process.pid, request)
            deadline = time.monotonic() + STOP_S
            for process in self._processes:
                process.join(max(0.1, deadline - time.monotonic()))
        shutil.rmtree(self._scratch, ignore_errors=True)

    def _start(self, role: Role) -> BaseProcess:
        connections.close_all()
        HUEY.storage.close()
        self._let_go()
        _check_nothing_open()
        if role == "lan" and self._lan is not None:
            process = _forking.Process(target=_answer_lan, args=(self._lan, os.getpid()))
        elif role == "work":
            process = _forking.Process(
                target=_work, args=(self._listening, self._scratch, os.getpid())
            )
        else:
            process = _forking.Process(target=_answer, args=(self._listening, os.getpid()))
        process.start()
        return process


#: A socket's path has at most 107 bytes (`unix(7)`); the worker's has 50 below the folder for what
#: is temporary.
LONGEST_TEMPORARY = 57


def new_scratch() -> Path:
    """A new folder for what the worker needs for a while, sockets among it."""
    usual = tempfile.gettempdir()
    folder = usual if len(os.fsencode(usual)) <= LONGEST_TEMPORARY else "/tmp"
    return Path(tempfile.mkdtemp(prefix="frequens-", dir=folder))


if sys.platform == "linux":
    _forking = multiprocessing.get_context("fork")
else:
    # Elsewhere a fork does not get along with the system's libraries.
    _forking = multiprocessing.get_context("spawn")


def _check_nothing_open() -> None:
    """Raises RuntimeError where a database is open. Only Linux tells."""
    folder = Path("/proc/self/fd")
    for descriptor in folder.iterdir() if folder.exists() else ():
        # The folder's own is gone by now.
        with contextlib.suppress(FileNotFoundError):
            if ".sqlite3" in (name := os.readlink(descriptor)):
                raise RuntimeError(f"{name} is open across a fork")


def _answer(listening: socket.socket, parent: int) -> None:
    _begin("frequens web", signal.SIGTERM, parent)
    fold_no_log()
    serving.answer(listening)


def _answer_lan(lan: Lan, parent: int) -> None:
    _begin("frequens lan", signal.SIGTERM, parent)
    fold_no_log()
    serving.answer(lan.listening, lan.certificate)


def _work(listening: socket.socket, scratch: Path, parent: int) -> None:
    # A worker would first end its film; whoever takes that up finds what is done.
    _begin("frequens work", signal.SIGKILL, parent)
    listening.close()
    tempfile.tempdir = str(scratch)
    fold_no_log()
    call_command("run_huey", "--quiet")


#: `prctl(2)`: the signal a process gets when its parent has ended; and its name.
_PR_SET_PDEATHSIG, _PR_SET_NAME = 1, 15


def _begin(name: str, farewell: signal.Signals, parent: int) -> None:
    """`farewell` reaches it however the first process ends: one alone would hold the port."""
    # Ctrl-C reaches the whole group; the first process ends the others in any case.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, signal.SIG_DFL)
    if sys.platform == "linux":
        libc = ctypes.CDLL(None)
        libc.prctl(_PR_SET_PDEATHSIG, farewell)
        libc.prctl(_PR_SET_NAME, name.encode())
        # It may have ended before that was asked for.
        if os.getppid() != parent:
            os.kill(os.getpid(), farewell)
