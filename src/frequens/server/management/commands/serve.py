"""Runs Frequens: the web server and the background worker together, until Ctrl-C."""

from __future__ import annotations

import os
import signal
import socket
import time
from argparse import ArgumentParser
from collections.abc import Callable
from pathlib import Path
from types import FrameType
from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.utils import timezone

from ...accounts.first_owner import open_door
from ...coding.models import Lineage
from ...crew import Crew, Lan, WontStay
from ...ingest.sweeping import sweep
from ...keeping import LogKeeper, alone, check_database, make_secret_key
from ...lan_certificate import lan_certificate
from ...lan_network import lan_address
from ...lan_qr import qr_blocks

START_S = 60
LAN_WORDS = """The phone's browser will warn of the certificate: it was made on this computer, and
no company vouches for it. What travels is encrypted all the same. Go on past the
warning, or install the certificate once: /lan/certificate.crt at that address. Then
log the phone in with the code that Films shows under "Bring your phone".
"""


class Command(BaseCommand):
    """Brings the database up to date, starts both processes and stops both together."""

    help = "Serve Frequens: web server and background worker in one process group."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=int(os.environ.get("PORT", "8765")))
        parser.add_argument("--uds", metavar="PATH", help="a unix socket for a proxy, no port")
        parser.add_argument(
            "--lan",
            nargs="?",
            const="",
            metavar="ADDRESS",
            help="also serve the local network, over HTTPS; at this address of this computer",
        )
        parser.add_argument("--lan-port", type=int, default=8766)
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
        listening = listen(options["uds"], options["host"], options["port"])
        lan = None if options["lan"] is None else _lan(options["lan"], options["lan_port"])
        stopping = False

        def stop(signal_number: int, frame: FrameType | None) -> None:
            nonlocal stopping
            stopping = True

        signal.signal(signal.SIGINT, stop)
        signal.signal(signal.SIGTERM, stop)
        log = LogKeeper()
        crew = Crew(listening, max(1, options["processes"]), log.close, lan)
        try:
            if not self._wait(listening, crew, lambda: stopping):
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
            if lan is not None:
                self._show_lan()
            self.stdout.write("Ctrl-C stops it.")
            self.stdout.flush()
            while not stopping:
                log.tick()
                for what in crew.replace_the_dead():
                    self.stderr.write(f"{what} ended by itself and was started again.")
                time.sleep(0.2)
        except WontStay as error:
            raise CommandError(str(error)) from error
        finally:
            crew.stop()
            listening.close()
            if lan is not None:
                lan.listening.close()
            if options["uds"]:
                Path(options["uds"]).unlink(missing_ok=True)

    def _show_lan(self) -> None:
        url = settings.LAN_URL
        self.stdout.write(f"\nFor phones on the same network: {url}\n\n{qr_blocks(url)}")
        self.stdout.write(LAN_WORDS)

    def _wait(
        self,
        listening: socket.socket,
        crew: Crew,
        is_stopping: Callable[[], bool],
    ) -> bool:
        """Until it answers; False where it was stopped before."""
        deadline = time.monotonic() + START_S
        while time.monotonic() < deadline:
            # Ctrl-C ends them too: that is no failed start.
            is_whole = crew.is_whole()
            if is_stopping():
                return False
            if not is_whole:
                raise CommandError("Frequens did not start.")
            if _answers(listening):
                return True
            time.sleep(0.1)
        raise CommandError(f"Frequens did not answer within {START_S} s.")


def _lan(wanted: str, port: int) -> Lan:
    """The local network at an address of this computer. From here on the server answers to it."""
    address = wanted or lan_address()
    if address is None:
        raise CommandError("This computer is on no local network. Say its address: --lan ADDRESS.")
    try:
        certificate = lan_certificate(settings.LAN_FOLDER, [address], timezone.now())
    except ValueError as error:
        raise CommandError(f"{error}.") from error
    host = f"[{address}]" if ":" in address else address
    listening = listen(None, address, port)
    settings.LAN_URL = f"https://{host}:{listening.getsockname()[1]}"
    settings.ALLOWED_HOSTS = [*settings.ALLOWED_HOSTS, host]
    # Where processes are not forked they read the settings anew.
    os.environ["FREQUENS_LAN_URL"] = settings.LAN_URL
    os.environ["FREQUENS_HOSTS"] = ",".join(settings.ALLOWED_HOSTS)
    return Lan(listening, certificate)


def listen(path: str | None, host: str, port: int) -> socket.socket:
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
    # Made from its number again it knows its protocol. Where that is not known, asyncio leaves
    # small answers to wait for the client's acknowledgement: 40 ms each.
    return socket.socket(fileno=listening.detach())


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
