"""A real house and a real browser: the machine's own Chromium on the built front end."""

from __future__ import annotations

import json
import os
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from frequens.core import SessionRecord, read_session
from frequens.core.formats.session_document import write_event
from frequens.media.decode.frames import FrameIndex, index_frames
from frequens.simulator.animals import Animal
from frequens.simulator.camera import FilmOptions, script_session, shoot
from tests.conftest import MadeOnce
from tests.house import (
    CHROMIUM,
    CHROMIUM_ARGUMENTS,
    PASSWORD,
    PATIENCE_S,
    TRAINER,
    House,
    Trainer,
)

expect.set_options(timeout=1000 * PATIENCE_S)
#: Reads the number painted in a canvas's picture.
PAINTED = Path(__file__).with_name("painted.js").read_text()
#: Films are shot in processes of their own, as the house does it: an encoder may leave threads
#: behind with which no other process can be started any more.
CAMERAS = get_context("forkserver")
CAMERAS.set_forkserver_preload(["frequens.simulator.camera"])
#: Length of the film that several files code in.
SHORT_S = 14
CODED = ("criterion", "onset", "offset", "marker", "reach", "reward")


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return browser_type_launch_args | {
        "executable_path": CHROMIUM,
        # All pages of a test in one process, which stays for the next: see `kept_context`.
        "args": [*CHROMIUM_ARGUMENTS, "--renderer-process-limit=1"],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return browser_context_args | {"viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def shared_house(make_house: Any) -> Any:
    """The house of all files that do not mind what others leave in it: starting one takes long."""
    house = make_house().start()
    yield house
    house.kill()


@pytest.fixture(scope="session")
def shared_coded(shared_house: House, shot_bell: Path) -> Any:
    return coded_film(shared_house.trainer(), shot_bell)


@pytest.fixture(scope="module")
def house(shared_house: House) -> House:
    """A file that needs a house to itself puts its own in this one's place (`own_house`)."""
    return shared_house


@pytest.fixture(scope="module")
def own_house(make_house: Any) -> Any:
    house = make_house().start()
    yield house
    house.kill()


@pytest.fixture(scope="module")
def trainer(house: House) -> Trainer:
    return house.trainer()


@pytest.fixture(scope="session")
def states() -> dict[str, Any]:
    """What a browser keeps after logging in, by the address of the house."""
    return {}


@pytest.fixture(scope="module")
def state(browser: Browser, house: House, states: dict[str, Any]) -> Any:
    if house.url not in states:
        context = browser.new_context()
        log_in(context.new_page(), house.url)
        states[house.url] = context.storage_state()
        context.close()
    return states[house.url]


@pytest.fixture(scope="session")
def kept_context(browser: Browser, browser_context_args: dict[str, Any]) -> Any:
    """One context for all tests, and in it a page that does nothing but keep the process alive:
    where that has compiled the scripts before, a page is there in half the time."""
    context = browser.new_context(**browser_context_args)
    context.set_default_timeout(1000 * PATIENCE_S)
    yield context
    context.close()


@pytest.fixture
def context(kept_context: BrowserContext, house: House, state: Any) -> Any:
    """Logged in, and nothing else in it: what a test leaves is cleared away after it."""
    kept = kept_context
    if not kept.pages:
        kept.new_page().goto(f"{house.url}/mark.svg")
    kept.add_cookies(state["cookies"])
    yield kept
    keeper, *opened = kept.pages
    for page in opened:
        page.close()
    kept.unroute_all()
    kept.set_offline(False)
    kept.clear_cookies()
    devtools = kept.new_cdp_session(keeper)
    devtools.send("Storage.clearDataForOrigin", {"origin": house.url, "storageTypes": "all"})
    devtools.detach()


@pytest.fixture
def page(context: BrowserContext) -> Any:
    page = context.new_page()
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(str(error)))
    page.on(
        "console",
        lambda said: (
            faults.append(said.text)
            if "Content Security Policy" in said.text or "React" in said.text
            else None
        ),
    )
    yield page
    assert faults == []


def log_in(page: Page, url: str, password: str = PASSWORD) -> None:
    page.goto(f"{url}/login")
    page.get_by_label("Name").fill(TRAINER)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Log in").click()
    expect(page.get_by_role("navigation", name="Main")).to_be_visible()


def shot_film(
    folder: Path,
    name: str,
    length_s: float,
    seed: int,
    animal: Animal = "goat",
    **options: Any,
) -> Path:
    """A film of the simulated camera with its frame numbers painted in."""
    path = folder / name
    film = FilmOptions(**{"width": 480, "height": 270, "numbered": True, **options})
    with ProcessPoolExecutor(1, mp_context=CAMERAS) as camera:
        script = script_session(length_s, seed, animal=animal)
        camera.submit(shoot, script, path, film).result()
    return path


def truth_of(path: Path) -> SessionRecord:
    return read_session(json.loads(path.with_suffix(".frequens.json").read_text()))


def frames_of_truth(truth: SessionRecord, index: FrameIndex) -> list[tuple[Any, int]]:
    """Each true event and the first frame that can show it, in order."""
    return sorted(
        ((e, index.first_after(e.t_us)) for e in truth.events if e.kind in CODED),
        key=lambda pair: pair[1],
    )


def code_truth(trainer: Trainer, film: dict[str, Any], path: Path) -> None:
    """Code an uploaded film through the API as its truth says."""
    index = index_frames(path)
    edits = []
    for event, frame in frames_of_truth(truth_of(path), index):
        mark = {k: v for k, v in write_event(event).items() if k not in ("t", "width")}
        mark |= {"frame": frame, "pts": index.pts[frame]}
        edits.append({"client_id": os.urandom(8).hex(), "body": {"op": "put", "event": mark}})
    said = trainer.ask("POST", f"/api/sessions/{film['session_id']}/edits", json={"edits": edits})
    assert not said.json()["refused"]


@pytest.fixture(scope="session")
def shot_bell(made_once: MadeOnce) -> Path:
    """A film of 30 s."""
    made = made_once("bell", lambda folder: shot_film(folder, "bell.mp4", 30, seed=8))
    return made / "bell.mp4"


@pytest.fixture(scope="session")
def shot_short(made_once: MadeOnce) -> Path:
    """A film of `SHORT_S` with three presses."""
    made = made_once("short", lambda folder: shot_film(folder, "bell.mp4", SHORT_S, seed=21))
    return made / "bell.mp4"


@pytest.fixture(scope="session")
def shared_short(shared_house: House, shot_short: Path) -> Any:
    """That film in the shared house, for what `cleaned` takes back again."""
    trainer = shared_house.trainer()
    return trainer.settled(trainer.upload(shot_short)["id"])


@pytest.fixture(scope="module")
def coded(shared_coded: Any) -> Any:
    """A film of 30 s in the shared house, ready and coded; with its path. Only to be read."""
    return shared_coded


def coded_film(trainer: Trainer, path: Path) -> dict[str, Any]:
    """Take a film in and code it as its truth says."""
    film = trainer.settled(trainer.upload(path)["id"])
    assert film["state"] == "ready", film
    code_truth(trainer, film, path)
    return {**film, "path": path}


def cleaned(trainer: Trainer, film: dict[str, Any]) -> dict[str, Any]:
    """The film with nothing coded: what a test before marked and said is taken back.

    Much quicker than to take it in anew. `after` is the last change.
    """
    path = f"/api/sessions/{film['session_id']}/edits"
    said = trainer.ask("GET", path).json()
    marks = {e["body"]["event"]["id"] for e in said["edits"] if e["body"]["op"] == "put"}
    bodies: list[dict[str, Any]] = [{"op": "drop", "id": mark} for mark in marks]
    facts = {"av_offset_s": 0, "start_s": None, "end_s": None, "plan": None}
    facts |= {"refused_clicks": None, "refused_words": None}
    bodies.append({"op": "facts", "set": facts})
    clean = [{"client_id": os.urandom(8).hex(), "body": body} for body in bodies]
    answer = trainer.ask("POST", path, json={"edits": clean}).json()
    assert not answer["refused"]
    return film | {"after": answer["seq"]}


class Bench:
    """The bench as somebody sees and works it."""

    def __init__(self, page: Page, url: str, session_id: str, **query: str):
        self.page = page
        asked = "&".join(f"{k}={v}" for k, v in query.items())
        page.goto(f"{url}/sessions/{session_id}/bench?{asked}")
        self.canvas = page.locator("canvas[role=img]")
        self.settle()

    def settle(self) -> int:
        """Wait until the stage shows the frame asked for; returns it."""
        self.page.wait_for_function(
            """() => {
              const shown = document.querySelector('canvas[role=img]')?.dataset.frame;
              const strip = document.querySelector('[data-frame][aria-current=true]');
              return shown !== undefined && strip && strip.dataset.frame === shown
                && document.querySelector('[data-testid=frame]')?.textContent === shown;
            }"""
        )
        return self.frame

    @property
    def frame(self) -> int:
        """The frame the readout names."""
        return int(self.page.get_by_test_id("frame").inner_text())

    @property
    def time_us(self) -> int:
        return int(self.page.get_by_test_id("time").get_attribute("data-us") or -1)

    def painted(self) -> int | None:
        """The number painted in the frame, read back from the canvas."""
        number: int | None = self.canvas.evaluate(PAINTED)
        return number

    def go(self, frame: int) -> None:
        """Step to a frame with the arrow keys."""
        away = frame - self.frame
        key = "ArrowRight" if away > 0 else "ArrowLeft"
        for _ in range(abs(away) // 10):
            self.page.keyboard.press(f"Shift+{key}")
        for _ in range(abs(away) % 10):
            self.page.keyboard.press(key)
        assert self.settle() == frame

    def seek(self, share: float) -> int:
        """Click into the session ribbon."""
        box = self.page.get_by_role("slider", name="Session ribbon").bounding_box()
        assert box is not None
        self.page.mouse.click(box["x"] + share * box["width"], box["y"] + box["height"] / 2)
        return self.settle()

    @property
    def saved(self) -> str:
        return self.page.locator("[data-saving]").get_attribute("data-saving") or ""

    def wait_saved(self) -> None:
        expect(self.page.locator("[data-saving]")).to_have_attribute("data-saving", "saved")

    @property
    def reps(self) -> Any:
        return self.page.locator("[data-rep]")


@pytest.fixture
def bench_of(page: Page, house: House) -> Any:
    return lambda film, **query: Bench(page, house.url, film["session_id"], **query)
