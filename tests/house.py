"""A running Frequens of its own for tests, benches and screenshots: own folder, own port."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import requests

ROOT = Path(__file__).resolve().parents[1]
#: Debian's browser without a window, and how to start it with nothing calling out.
CHROMIUM = "/usr/bin/chromium-headless-shell"
CHROMIUM_ARGUMENTS = [
    *("--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-sync"),
    *("--disable-background-networking", "--disable-component-update"),
    "--autoplay-policy=no-user-gesture-required",
]
#: How long a test waits for what must come. A loaded machine is slow, not wrong; how fast
#: things are is shown by the benches.
PATIENCE_S = 120
#: What houses are told where nobody measures how long logging in takes.
QUICK = {
    "DJANGO_SETTINGS_MODULE": "tests.house_settings",
    "PYTHONPATH": os.pathsep.join(filter(None, (str(ROOT), os.environ.get("PYTHONPATH")))),
}
TRAINER, PASSWORD = "wren", "bell-rope-and-barley"
WORKSPACE = "Saltmarsh Steading"


class House:
    """Server and worker in one process group, started by the same command users run."""

    def __init__(self, home: Path, **environment: str):
        self.home = home
        self.port = _free_port()
        self.url = f"http://localhost:{self.port}"
        # A house has everything in its own folder, unless it is told otherwise.
        elsewhere = ("DATABASE_URL", "FREQUENS_QUEUE", "FREQUENS_FILMS")
        outer = {k: v for k, v in os.environ.items() if k not in elsewhere}
        self._environment = {**outer, "FREQUENS_HOME": str(home), **environment}
        self._process: subprocess.Popen[str] | None = None

    def __enter__(self) -> House:
        return self

    def __exit__(self, *fault: object) -> None:
        self.kill()

    def manage(self, *command: str) -> str:
        """Run a management command and return what it printed."""
        done = subprocess.run(
            [sys.executable, "-m", "frequens.server.manage", *command],
            env=self._environment,
            text=True,
            capture_output=True,
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    def add_trainer(self, name: str = TRAINER, workspace: str = WORKSPACE) -> None:
        self.manage("migrate", "-v0")
        self.manage("add_trainer", name, "--workspace", workspace, "--password", PASSWORD)

    def start(self, *options: str, command: str = "serve", timeout_s: float = PATIENCE_S) -> House:
        manage = [sys.executable, "-m", "frequens.server.manage", command]
        self.log = (self.home / "house.log").open("a")
        self._process = subprocess.Popen(
            [*manage, "--port", str(self.port), *options],
            env=self._environment,
            stdout=self.log,
            stderr=subprocess.STDOUT,
            text=True,
            start_new_session=True,
        )
        deadline = time.monotonic() + timeout_s
        while time.monotonic() < deadline:
            assert self._process.poll() is None, (self.home / "house.log").read_text()
            try:
                requests.get(self.url, timeout=10)
                return self
            except (requests.ConnectionError, requests.Timeout):
                time.sleep(0.1)
        raise TimeoutError(f"no answer at {self.url}")

    def stop(self) -> int:
        """End it as Ctrl-C would; returns the exit status."""
        assert self._process is not None
        os.killpg(self._process.pid, signal.SIGINT)
        return self._process.wait(PATIENCE_S)

    def kill(self) -> None:
        """Take server, worker and all they started away at once, as a power cut would."""
        if self._process is not None and self._process.poll() is None:
            os.killpg(self._process.pid, signal.SIGKILL)
            self._process.wait()

    def crew(self) -> dict[int, str]:
        """The processes that serve, by their ids: what each is called."""
        assert self._process is not None
        parent = self._process.pid
        ids = Path(f"/proc/{parent}/task/{parent}/children").read_text().split()
        return {int(pid): Path(f"/proc/{pid}/comm").read_text().strip() for pid in ids}

    def said(self) -> str:
        """What it wrote to its log."""
        return (self.home / "house.log").read_text()

    def wait_said(self, what: str) -> str:
        """Its log once this stands in it."""
        deadline = time.monotonic() + PATIENCE_S
        while what not in self.said():
            if time.monotonic() > deadline:
                raise TimeoutError(f"{what!r} was not said: {self.said()}")
            time.sleep(0.1)
        return self.said()

    def trainer(self, name: str = TRAINER) -> Trainer:
        return Trainer(self.url, name)


class Trainer(requests.Session):
    """A logged-in trainer who speaks to the API as the page does."""

    def __init__(self, url: str, name: str):
        super().__init__()
        self.url = url
        self.get(url)
        entered = self.ask(
            "POST", "/_allauth/browser/v1/auth/login", json={"username": name, "password": PASSWORD}
        )
        assert entered.status_code == 200, entered.text

    def ask(self, method: str, path: str, **more: Any) -> requests.Response:
        headers = {
            "X-CSRFToken": self.cookies.get("csrftoken") or "",
            # Browsers trust localhost with secure cookies; this library would keep them back.
            "Cookie": "; ".join(f"{c.name}={c.value}" for c in self.cookies),
            **more.pop("headers", {}),
        }
        return self.request(method, self.url + path, headers=headers, **more)

    def upload(self, film: Path, name: str | None = None) -> dict[str, Any]:
        with film.open("rb") as body:
            sent = self.ask("POST", "/api/films", params={"name": name or film.name}, data=body)
        assert sent.status_code == 201, sent.text
        answer: dict[str, Any] = sent.json()
        return answer

    def film(self, film_id: str) -> dict[str, Any]:
        answer: dict[str, Any] = self.ask("GET", f"/api/films/{film_id}").json()
        return answer

    def settled(self, film_id: str, timeout_s: float = 2 * PATIENCE_S) -> dict[str, Any]:
        """The film once nothing is at work on it any more."""
        deadline = time.monotonic() + timeout_s
        while time.monotonic() < deadline:
            film = self.film(film_id)
            if film["state"] in ("ready", "failed", "cancelled"):
                return film
            time.sleep(0.2)
        raise TimeoutError(f"{film['name']} is still {film['state']}: {film['stages']}")


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
