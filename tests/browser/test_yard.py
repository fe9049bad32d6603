"""In the yard: films go in pieces through a broken network, and a session is led without one."""

from __future__ import annotations

import hashlib
import random
import time

import pytest
from playwright.sync_api import expect

from tests.house import PATIENCE_S

from .axe import faults
from .conftest import log_in
from .cut_line import CutLine

PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}
#: What a film begins with, as far as the page looks before it sends one.
HEAD = b"\0\0\0\x18ftypisom\0\0\0\0isommp42"
INTERRUPTIONS = 20


@pytest.fixture(scope="module")
def house(own_house):
    return own_house


@pytest.fixture
def handset(browser, house):
    """A phone that is logged in; what its browser keeps is its own."""
    context = browser.new_context(**PHONE)
    context.set_default_timeout(1000 * PATIENCE_S)
    page = context.new_page()
    log_in(page, house.url)
    page.goto(f"{house.url}/yard")
    expect(page.get_by_role("heading", name="In the yard")).to_be_visible()
    yield page
    context.close()


@pytest.fixture(scope="module")
def bell(trainer):
    return to_ring(trainer, "Thistle")


def to_ring(trainer, name):
    learner = trainer.ask("POST", "/api/learners", json={"name": name}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    return trainer.ask("POST", "/api/behaviours", json=body).json()


def made_film(folder, name, seed, megabytes):
    path = folder / name
    path.write_bytes(HEAD + random.Random(seed).randbytes(megabytes * 1_000_000))
    return path


def arrived(trainer, name):
    films = trainer.ask("GET", "/api/films").json()
    return next((film for film in films if film["name"] == name), None)


def wait_for(what):
    until = time.monotonic() + PATIENCE_S
    while not (found := what()):
        assert time.monotonic() < until
        time.sleep(0.1)
    return found


@pytest.fixture
def cut_line(house):
    line = CutLine(house.port, INTERRUPTIONS, seed=3)
    yield line
    line.close()


@pytest.mark.long
def test_twenty_interruptions_and_a_closed_page_lose_nothing(browser, trainer, tmp_path, cut_line):
    film = made_film(tmp_path, "goat in the rain.mp4", 1, 60)
    page = browser.new_context(**PHONE).new_page()
    page.set_default_timeout(1000 * PATIENCE_S)
    log_in(page, cut_line.url)
    page.goto(f"{cut_line.url}/yard")
    page.get_by_label("Films to send").set_input_files(film)
    expect(page.get_by_role("progressbar", name="Sending goat in the rain.mp4")).to_be_visible()
    wait_for(lambda: cut_line.left == 0 or page.wait_for_timeout(50))
    # The page is closed in the middle of it; another time the same film is chosen again.
    page.close(run_before_unload=False)
    cut_line.let_go()
    [row] = trainer.ask("GET", "/api/films/arriving").json()
    assert 0 < row["received"] < row["bytes"]
    page = page.context.new_page()
    page.goto(f"{cut_line.url}/yard")
    expect(page.get_by_text("Broke off with")).to_be_visible()
    begun = []
    page.on("request", lambda request: begun.append(request) if request.method == "PATCH" else None)
    page.get_by_label("Films to send").set_input_files(film)
    said = wait_for(lambda: arrived(trainer, film.name) or page.wait_for_timeout(100))
    assert said["sha256"] == hashlib.sha256(film.read_bytes()).hexdigest()
    # It went on where it was.
    assert int(begun[0].headers["upload-offset"]) >= row["received"]
    assert trainer.ask("GET", "/api/films/arriving").json() == []
    expect(page.get_by_text("Broke off with")).to_have_count(0)
    page.context.close()


@pytest.mark.long
def test_several_films_at_once_and_one_that_is_stopped(handset, trainer, tmp_path):
    films = [made_film(tmp_path, f"film {n}.mp4", n, 2) for n in range(4)]
    handset.get_by_label("Films to send").set_input_files(films)
    for film in films:
        said = wait_for(
            lambda film=film: arrived(trainer, film.name) or handset.wait_for_timeout(50)
        )
        assert said["sha256"] == hashlib.sha256(film.read_bytes()).hexdigest()
    network = handset.context.new_cdp_session(handset)
    slow = {"offline": False, "latency": 5, "downloadThroughput": -1, "uploadThroughput": 500_000}
    network.send("Network.enable")
    network.send("Network.emulateNetworkConditions", slow)
    long = made_film(tmp_path, "too long.mp4", 9, 20)
    handset.get_by_label("Films to send").set_input_files(long)
    expect(handset.locator("[data-upload=sending]")).to_be_visible()
    handset.get_by_role("button", name="Stop").tap()
    expect(handset.locator("[data-upload]")).to_have_count(0)
    wait_for(lambda: trainer.ask("GET", "/api/films/arriving").json() == [])
    assert arrived(trainer, long.name) is None


def taps(handset, *names):
    for name in names:
        handset.get_by_role("button", name=name, exact=True).tap()


def test_a_whole_session_without_a_network_is_there_once(handset, trainer, bell, house):
    before = {one["id"] for one in trainer.ask("GET", "/api/sessions").json()}
    expect(handset.locator("[data-offline=ready]")).to_be_visible()
    handset.context.set_offline(True)
    handset.reload()
    expect(handset.get_by_text("there is no network")).to_be_visible()
    assert faults(handset) == []
    handset.get_by_role("link", name="Thistle").first.tap()
    assert faults(handset) == []
    handset.get_by_role("button", name="Begin").tap()
    word = handset.get_by_role("status")
    expect(word).to_have_attribute("data-word", "go_on")
    assert handset.evaluate("document.documentElement.scrollWidth") <= 390
    assert faults(handset) == []
    taps(handset, "Fits", "Fits", "Fits", "Fits", "Not yet", "Take back", "Fits")
    # Five in a row: the school says raise.
    expect(word).to_have_attribute("data-word", "raise")
    taps(handset, "Step up", "Not yet", "Break", "Go on", "Walked off", "Came back")
    expect(word).not_to_have_attribute("data-word", "raise")
    # The screen was locked, and the browser forgot the page.
    handset.reload()
    expect(handset.get_by_text("0 of 1 fit")).to_be_visible()
    handset.get_by_role("button", name="Sign …").tap()
    assert faults(handset) == []
    handset.get_by_role("button", name="yawns, severe").tap()
    expect(word).to_have_attribute("data-word", "stop")
    expect(word).to_have_attribute("data-why", "distress")
    taps(handset, "End")
    expect(handset.get_by_text("The session is over.")).to_be_visible()
    expect(handset.get_by_test_id("kept")).to_contain_text("on this phone, safe")
    handset.context.set_offline(False)
    expect(handset.get_by_test_id("kept")).to_have_text("all taps are saved")
    handset.get_by_role("link", name="Back to the yard").tap()
    expect(handset.get_by_text("Waits on this phone")).to_have_count(0)
    sessions = [
        one for one in trainer.ask("GET", "/api/sessions").json() if one["id"] not in before
    ]
    [session] = sessions
    assert session["behaviour_id"] == bell["id"]
    said = trainer.ask("GET", f"/api/sessions/{session['id']}/findings").json()["findings"]
    assert (said["counts"]["attempts"], said["counts"]["rewards"]) == (6, 5)
    judged = trainer.ask("GET", f"/api/sessions/{session['id']}/judgement").json()["judgement"]
    assert (judged["decision"], judged["why"]["code"]) == ("end", "distress")


@pytest.mark.long
def test_one_that_ended_unsent_goes_when_the_yard_is_opened(handset, trainer, bell, house):
    expect(handset.locator("[data-offline=ready]")).to_be_visible()
    handset.context.set_offline(True)
    handset.get_by_role("link", name="Thistle").first.tap()
    handset.get_by_role("button", name="Begin").tap()
    taps(handset, "Fits", "Not yet", "End")
    handset.get_by_role("link", name="Back to the yard").tap()
    expect(handset.get_by_text("goes to the large screen as soon as it is there")).to_be_visible()
    before = len(trainer.ask("GET", "/api/sessions").json())
    handset.context.set_offline(False)
    expect(handset.get_by_text("Waits on this phone")).to_have_count(0)
    assert len(trainer.ask("GET", "/api/sessions").json()) == before + 1
    assert handset.evaluate("Object.keys(localStorage).filter(k => /led|edit/.test(k))") == []


@pytest.mark.long
def test_what_was_sent_already_is_there_again_without_a_network(handset, trainer, bell):
    expect(handset.locator("[data-offline=ready]")).to_be_visible()
    handset.reload()
    handset.get_by_role("link", name="Thistle").first.tap()
    handset.get_by_role("button", name="Begin").tap()
    taps(handset, "Fits", "Not yet", "Fits", "Fits", "Fits")
    expect(handset.get_by_test_id("kept")).to_have_text("all taps are saved")
    handset.context.set_offline(True)
    handset.reload()
    expect(handset.get_by_text("4 of 5 fit")).to_be_visible()
    taps(handset, "Fits", "Fits")
    # Three before the network was gone and two after it: five in a row.
    expect(handset.get_by_role("status")).to_have_attribute("data-word", "raise")
    handset.context.set_offline(False)
    expect(handset.get_by_test_id("kept")).to_have_text("all taps are saved")
    expect(handset.get_by_text("6 of 7 fit")).to_be_visible()


@pytest.fixture
def fresh(trainer):
    """An animal without a past: after a hard day the limit is a lower one."""
    return to_ring(trainer, "Pepper")


def test_the_limit_of_the_session_says_stop(fresh, handset):
    cap = 15
    handset.get_by_role("link", name="Pepper").tap()
    handset.get_by_role("button", name="Begin").tap()
    word = handset.get_by_role("status")
    for n in range(cap):
        expect(handset.get_by_role("status")).not_to_have_attribute("data-word", "stop")
        # Neither a run nor misses.
        taps(handset, "Fits" if n % 2 else "Not yet")
    expect(word).to_have_attribute("data-word", "stop")
