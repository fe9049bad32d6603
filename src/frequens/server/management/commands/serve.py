"""Runs Frequens: the web server and the background worker together, until Ctrl-C."""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import socket
import subprocess
import sys
import time
from argparse import ArgumentParser
from collections.abc import Callable
from functools import partial
from pathlib import Path
from types import FrameType
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from ...accounts.first_owner import open_door
from ...coding.models import Lineage
from ...ingest.sweeping import sweep
from ...keeping import LogKeeper, alone, check_database, make_secret_key

START_S = 60
STOP_S = 4
#: What dies more often within this time, seconds, is not helped by starting it again.
DEATHS_WITHIN_S, MOST_DEATHS = 60, 8


class Command(BaseCommand):
    """Brings the database up to date, starts both processes and stops both together."""

    help = "Serve Frequens: web server and background worker in one process group."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8765")))
        parser.add_argument("--uds", metavar="PATH", help="a unix socket for a proxy, no port")
        parser.add_argument("--processes", type=int, default=2, help="web processes (default 2)")

    def handle(self, *args: Any, **options: Any) -> None:
        with alone():
            self._serve(options)

    def prepare(self) -> None:
        """What is done before anything is started; the database is up to date."""

    def greet(self) -> None:
        """What is said beside the address once it answers."""

    def _serve(self, options: dict[str, Any]) -> None:
        # Earlier versions left it open to everybody on the machine.
        settings.HOME.chmod(0o700)
        make_secret_key()
        check_database()
        call_command("migrate", verbosity=0)
        call_command("createcachetable", verbosity=0)
        # Before several processes could each make one.
        Lineage.now()
        sweep()
        self.prepare()
        # From here on the log is folded in by this process, so that no request waits for it.
        environment = {**os.environ, "FREQUENS_LOG_PAGES": "20000"}
        listening = _listen(options["uds"], options["host"], options["port"])
        web = [sys.executable, "-m", "frequens.server.serving", str(listening.fileno())]
        worker = [sys.executable, "-m", "frequens.server.manage", "run_huey", "--quiet"]
        commands = [web] * max(1, options["processes"]) + [worker]
        crew = _Crew(commands, environment, listening.fileno())
        stopping = False

        def stop(signal_number: int, frame: FrameType | None) -> None:
            nonlocal stopping
            stopping = True

        signal.signal(signal.SIGINT, stop)
        signal.signal(signal.SIGTERM, stop)
        try:
            if not self._wait(listening, crew.processes, lambda: stopping):
                return
            address = options["uds"] or f"http://localhost:{options['port']}"
            self.stdout.write(f"\nFrequens answers at {address}")
            code = open_door()
            if code:
                root = "" if options["uds"] else address
                self.stdout.write(
                    f"Nobody has an account here yet. Make yours at {root}/first?code={code}"
                )
            self.greet()
            self.stdout.write("Ctrl-C stops it.")
            self.stdout.flush()
            log = LogKeeper()
            while not stopping:
                log.tick()
                for what in crew.replace_the_dead():
                    self.stderr.write(f"{what} ended by itself and was started again.")
                time.sleep(0.2)
        finally:
            _stop(crew.processes)
            listening.close()
            if options["uds"]:
                Path(options["uds"]).unlink(missing_ok=True)

    def _wait(
        self,
        listening: socket.socket,
        processes: list[subprocess.Popen[bytes]],
        is_stopping: Callable[[], bool],
    ) -> bool:
        """Until it answers; False where it was stopped before."""
        deadline = time.monotonic() + START_S
        while time.monotonic() < deadline:
            ended = any(process.poll() is not None for process in processes)
            # Ctrl-C ends them too: that is no failed start.
            if is_stopping():
                return False
            if ended:
                raise CommandError("Frequens did not start.")
            if _answers(listening):
                return True
            time.sleep(0.1)
        raise CommandError(f"Frequens did not answer within {START_S} s.")


class _Crew:
    """The web processes and the worker; one that dies is started again, the others go on."""

    def __init__(self, commands: list[list[str]], environment: dict[str, str], listening: int):
        self._commands, self._environment, self._listening = commands, environment, listening
        self.processes = [self._start(place) for place in range(len(commands))]
        self._deaths: list[float] = []

    def replace_the_dead(self) -> list[str]:
        """What was started again. Raises CommandError where they die faster than that helps."""
        replaced = []
        for place, process in enumerate(self.processes):
            if process.poll() is None:
                continue
            now = time.monotonic()
            self._deaths = [at for at in self._deaths if now - at < DEATHS_WITHIN_S] + [now]
            if len(self._deaths) > MOST_DEATHS:
                raise CommandError(
                    f"Processes of Frequens ended {len(self._deaths)} times within "
                    f"{DEATHS_WITHIN_S} s; stopping the rest."
                )
            self.processes[place] = self._start(place)
            replaced.append("The worker" if self._is_worker(place) else "A web process")
        return replaced

    def _is_worker(self, place: int) -> bool:
        return place == len(self._commands) - 1

    def _start(self, place: int) -> subprocess.Popen[bytes]:
        is_worker = self._is_worker(place)
        # A worker would first end its film; whoever takes that up finds what is done.
        farewell = signal.SIGKILL if is_worker else signal.SIGTERM
        return subprocess.Popen(
            self._commands[place],
            env=self._environment,
            preexec_fn=partial(_prepare_child, farewell),
            pass_fds=[] if is_worker else [self._listening],
        )


def _listen(path: str | None, host: str, port: int) -> socket.socket:
    """A listening socket, taken before anything is started."""
    try:
        if path:
            Path(path).unlink(missing_ok=True)
            listening = socket.socket(socket.AF_UNIX)
            listening.bind(path)
            # The proxy is another user; who else may come is the folder's business.
            Path(path).chmod(0o666)
        else:
            listening = socket.create_server((host, port), backlog=2048)
    except OSError as error:
        where = path or f"{host}:{port}"
        raise CommandError(f"Frequens cannot listen at {where}: {error.strerror}.") from error
    listening.listen(2048)
    return listening


def _answers(listening: socket.socket) -> bool:
    """Whether a request is answered."""
    try:
        with socket.socket(listening.family) as asking:
            asking.settimeout(2)
            asking.connect(listening.getsockname())
            asking.sendall(b"GET / HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n")
            return asking.recv(16).startswith(b"HTTP/1.1")
    except OSError:
        return False


def _ignore_ctrl_c() -> None:
    """Ctrl-C reaches the whole group; a process still starting would answer it with a fault.

    Both set their own handlers once they have started, and this one ends them in any case.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)


#: `prctl(2)`: the signal a process gets when its parent has ended.
_PR_SET_PDEATHSIG = 1


def _prepare_child(farewell: signal.Signals) -> None:
    """`farewell` reaches it however the first process ends: one alone would hold the port."""
    _ignore_ctrl_c()
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, farewell)


def _stop(processes: list[subprocess.Popen[bytes]]) -> None:
    """End both, politely first; then at once, so that their own children end with them."""
    for request in (signal.SIGTERM, signal.SIGQUIT, signal.SIGKILL):
        for process in processes:
            if process.poll() is None:
                process.send_signal(request)
        deadline = time.monotonic() + STOP_S
        for process in processes:
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(max(0.1, deadline - time.monotonic()))
