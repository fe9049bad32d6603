"""The wheel: it runs where there is no checkout, and keeps its things elsewhere."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
import requests

from tests.house import House

REPOSITORY = Path(__file__).resolve().parents[2]
pytestmark = pytest.mark.long


@pytest.fixture(scope="module")
def installed(tmp_path_factory):
    """A folder with the wheel's contents; the checkout it was made in is gone."""
    checkout = tmp_path_factory.mktemp("checkout")
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy2(REPOSITORY / name, checkout / name)
    ignored = shutil.ignore_patterns("__pycache__", "*.egg-info")
    shutil.copytree(REPOSITORY / "src", checkout / "src", ignore=ignored)
    shutil.copytree(REPOSITORY / "web/dist", checkout / "src/frequens/server/screens")
    pip = [sys.executable, "-m", "pip", "-q", "--disable-pip-version-check"]
    alone = ["--no-deps", "--no-build-isolation"]
    subprocess.run([*pip, "wheel", *alone, "-w", checkout / "dist", checkout], check=True)
    (wheel,) = (checkout / "dist").glob("*.whl")
    folder = tmp_path_factory.mktemp("installed")
    subprocess.run([*pip, "install", "--no-deps", "--target", folder, wheel], check=True)
    shutil.rmtree(checkout)
    return folder


def test_it_serves_its_screens_and_takes_films_in(installed, tmp_path, shot):
    with House(tmp_path, PYTHONPATH=str(installed)) as house:
        house.add_trainer()
        house.start()
        page = requests.get(house.url, timeout=20).text
        script = re.search(r'src="(/assets/index-[^"]+\.js)"', page)
        assert script
        assert requests.get(house.url + script[1], timeout=20).status_code == 200
        trainer = house.trainer()
        film = trainer.settled(trainer.upload(shot)["id"])
        assert film["state"] == "ready"
        findings = trainer.ask("GET", f"/api/sessions/{film['session_id']}/findings")
        assert findings.status_code == 200


def test_without_a_checkout_everything_lies_in_the_users_own_folder(installed, tmp_path):
    ask = (
        "import frequens; from frequens.server import settings\n"
        "print(frequens.__file__, settings.HOME, settings.WEB_DIST / 'index.html', sep='\\n')"
    )
    outside = {k: v for k, v in os.environ.items() if not k.startswith("FREQUENS_")}
    said = subprocess.run(
        [sys.executable, "-c", ask],
        env={**outside, "PYTHONPATH": str(installed), "XDG_DATA_HOME": str(tmp_path)},
        cwd=tmp_path,
        capture_output=True,
        text=True,
        check=True,
    ).stdout.split("\n")
    assert Path(said[0]).is_relative_to(installed)
    assert said[1] == str(tmp_path / "frequens")
    assert Path(said[2]).is_relative_to(installed)
    assert Path(said[2]).exists()
