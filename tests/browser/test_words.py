"""Marker words: places to look at after two or three marks, and never a mark by themselves."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect

from frequens.media.decode.frames import index_frames

from .conftest import cleaned, shot_film, truth_of

pytestmark = pytest.mark.long


@pytest.fixture(scope="module")
def shot(tmp_path_factory):
    """Bramble, marked by a word, upright."""
    folder = tmp_path_factory.mktemp("words")
    return shot_film(folder, "yip.mp4", 60, 6, "pony", width=270, height=480)


@pytest.fixture(scope="module")
def taken_in(trainer, shot):
    return trainer.settled(trainer.upload(shot)["id"])


@pytest.fixture
def film(trainer, taken_in):
    yield cleaned(trainer, taken_in)
    # What one listens for goes with the person, also into other files' tests.
    trainer.ask("PUT", "/api/me/preferences", json={"keys": {}})


@pytest.fixture(scope="module")
def said_s(shot):
    return sorted(e.t_us / 1e6 for e in truth_of(shot).events if e.kind == "marker")


@pytest.fixture(scope="module")
def index(shot):
    return index_frames(shot)


def mark(trainer, film, index, instants):
    edits = []
    for n, at in enumerate(instants):
        frame = index.first_after(round(at * 1e6))
        event = {"id": f"w{n}", "kind": "marker", "marker": "event", "frame": frame}
        event["pts"] = index.pts[frame]
        body = {"op": "put", "event": event}
        edits.append({"client_id": f"{film['after']}-{len(instants)}-{n}", "body": body})
    path = f"/api/sessions/{film['session_id']}/edits"
    assert not trainer.ask("POST", path, json={"edits": edits}).json()["refused"]


def said_since(trainer, film):
    path = f"/api/sessions/{film['session_id']}/edits?after={film['after']}"
    return [e["body"] for e in trainer.ask("GET", path).json()["edits"]]


def test_places_are_learned_from_marks_and_placed_by_hand(bench_of, trainer, film, index, said_s):
    bench = bench_of(film)
    page = bench.page
    page.get_by_label("Listen for").select_option("word")
    expect(page.get_by_text("mark the word twice: the rest is looked for")).to_be_visible()
    mark(trainer, film, index, said_s[:1])
    page.reload()
    expect(page.get_by_text("mark the word once more")).to_be_visible()
    mark(trainer, film, index, said_s[:3])
    page.reload()
    bench.settle()
    expect(page.get_by_role("group", name="Places to look at")).to_contain_text("place")
    # Nothing is ever taken unseen.
    expect(page.get_by_role("button", name="take all")).to_have_count(0)
    page.get_by_label("Fewer or more places").fill(str(len(said_s) - 3))
    expect(page.locator("[data-heard]")).to_have_count(len(said_s) - 3)
    page.get_by_role("button", name="look").click()
    page.wait_for_function("() => document.querySelector('[data-testid=frame]').textContent > 0")
    frame = bench.settle()
    here = index.times_us[frame] / 1e6
    assert min(abs(at - here) for at in said_s[3:]) < 0.1
    heard = page.locator("[data-heard]")
    instants = heard.evaluate_all("all => all.map(e => e.dataset.heard)")
    at = min(instants, key=lambda s: abs(float(s) - here))
    # Enter takes heard clicks; here the frame is the reviewer's to place.
    page.keyboard.press("Enter")
    page.keyboard.press("m")
    expect(page.locator(f"[data-heard='{at}']")).to_have_count(0)
    bench.wait_saved()
    placed = [b["event"] for b in said_since(trainer, film) if b["op"] == "put"]
    assert placed[-1]["frame"] == frame
    assert len({event["id"] for event in placed}) == 4


def test_a_refused_place_is_not_offered_again(bench_of, trainer, film, index, said_s):
    mark(trainer, film, index, said_s[:3])
    bench = bench_of(film)
    page = bench.page
    page.get_by_label("Listen for").select_option("word")
    page.get_by_label("Fewer or more places").fill("4")
    heard = page.locator("[data-heard]")
    expect(heard).to_have_count(4)
    at = min(float(s) for s in heard.evaluate_all("all => all.map(e => e.dataset.heard)"))
    page.get_by_role("button", name="look").click()
    page.get_by_role("button", name="not the word").click()
    expect(page.locator(f"[data-heard='{at}']")).to_have_count(0)
    bench.wait_saved()
    (refused,) = next(
        b["set"]["refused_words"] for b in said_since(trainer, film) if b["op"] == "facts"
    )
    assert refused == pytest.approx(at, abs=0.001)
