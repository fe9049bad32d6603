"""Runs Frequens: the web server and the background worker together, until Ctrl-C."""

from __future__ import annotations

import contextlib
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from argparse import ArgumentParser
from types import FrameType
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from ...demo.steading import PASSWORD, TRAINERS

START_S = 60
STOP_S = 4


class Command(BaseCommand):
    """Brings the database up to date, starts both processes and stops both together."""

    help = "Serve Frequens: web server and background worker in one process group."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8765")))
        parser.add_argument("--demo", action="store_true", help="make the demo data first")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0)
        call_command("createcachetable", verbosity=0)
        if options["demo"]:
            call_command("make_demo", stdout=self.stdout)
        processes = [
            subprocess.Popen(command, preexec_fn=_ignore_ctrl_c)
            for command in _commands(options["host"], options["port"])
        ]
        stopping = False

        def stop(signal_number: int, frame: FrameType | None) -> None:
            nonlocal stopping
            stopping = True

        signal.signal(signal.SIGINT, stop)
        signal.signal(signal.SIGTERM, stop)
        try:
            address = f"http://localhost:{options['port']}"
            self._wait(address, processes)
            self.stdout.write(f"\nFrequens answers at {address}")
            if options["demo"]:
                self.stdout.write(f"Log in as {TRAINERS[0]} with the password {PASSWORD}")
            self.stdout.write("Ctrl-C stops it.")
            self.stdout.flush()
            while not stopping:
                if any(process.poll() is not None for process in processes):
                    raise CommandError("A process of Frequens ended by itself; stopping the other.")
                time.sleep(0.2)
        finally:
            _stop(processes)

    def _wait(self, address: str, processes: list[subprocess.Popen[bytes]]) -> None:
        deadline = time.monotonic() + START_S
        while time.monotonic() < deadline:
            if any(process.poll() is not None for process in processes):
                raise CommandError("Frequens did not start: is the port taken?")
            try:
                urllib.request.urlopen(address, timeout=2).close()
                return
            except urllib.error.HTTPError:
                return
            except OSError:
                time.sleep(0.1)
        raise CommandError(f"Frequens did not answer within {START_S} s.")


def _commands(host: str, port: int) -> list[list[str]]:
    web = [sys.executable, "-m", "gunicorn", "frequens.server.wsgi:application"]
    web += ["--bind", f"{host}:{port}", "--threads", "12", "--timeout", "120"]
    web += ["--log-level", "warning", "--no-control-socket"]
    worker = [sys.executable, "-m", "frequens.server.manage", "run_huey", "--quiet"]
    return [web, worker]


def _ignore_ctrl_c() -> None:
    """Ctrl-C reaches the whole group; a process still starting would answer it with a fault.

    Both set their own handlers once they have started, and this one ends them in any case.
    """
    signal.signal(signal.SIGINT, signal.SIG_IGN)


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
