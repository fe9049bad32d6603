"""What every test of the server stands on."""

from __future__ import annotations

import fcntl
import os
import shutil
from collections.abc import Callable
from pathlib import Path

import hypothesis
import pytest

from tests.house import QUICK, House

MadeOnce = Callable[[str, Callable[[Path], object]], Path]

# A busy machine is no fault of the code; speed is shown by the benches.
hypothesis.settings.register_profile("house", deadline=None)
hypothesis.settings.load_profile("house")


@pytest.fixture(autouse=True)
def films_of_their_own(request, tmp_path):
    """A test never touches the installation's films or its queue."""
    if "tests/core" in str(request.path) or "tests/media" in str(request.path):
        return
    settings = request.getfixturevalue("settings")
    settings.MEDIA_ROOT = tmp_path / "films"
    # Slow on purpose in the real thing; a test makes many trainers.
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    # Else every client of every test looks through all files of the screens once.
    settings.WHITENOISE_AUTOREFRESH = True


@pytest.fixture(scope="session")
def made_once(tmp_path_factory: pytest.TempPathFactory) -> MadeOnce:
    """`made_once(name, make)` is a folder that `make` filled: all workers of one run share it, and
    whoever comes first makes it. Only to be read."""
    mine = tmp_path_factory.getbasetemp()
    # A worker's folder lies in its run's; without workers the run's is one's own.
    shared = mine.parent if "PYTEST_XDIST_WORKER" in os.environ else mine

    def once(name: str, make: Callable[[Path], object]) -> Path:
        folder = shared / f"once {name}"
        with Path(f"{folder}.lock").open("w") as lock:
            fcntl.flock(lock, fcntl.LOCK_EX)
            if not folder.exists():
                making = tmp_path_factory.mktemp("once")
                make(making)
                making.rename(folder)
        return folder

    return once


@pytest.fixture(scope="session")
def make_house(
    tmp_path_factory: pytest.TempPathFactory, made_once: MadeOnce
) -> Callable[..., House]:
    """Houses with one trainer, not started yet; the database is made once and copied."""
    template = made_once("house", lambda folder: House(folder, **QUICK).add_trainer())

    def make(**environment: str) -> House:
        home = tmp_path_factory.mktemp("house")
        shutil.copytree(template, home, dirs_exist_ok=True)
        return House(home, **QUICK, **environment)

    return make
