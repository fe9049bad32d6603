"""Films in, as their owner sees it: progress, a sentence for each fault, stop and go on."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from .conftest import shot_film


@pytest.fixture(scope="module")
def house(own_house):
    return own_house


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return tmp_path_factory.mktemp("films")


@pytest.fixture(scope="module")
def good(folder):
    return shot_film(folder, "thistle one.mp4", 8, seed=3)


@pytest.fixture
def a_film(trainer, good):
    """The name of a film that is there, whatever other tests have left."""
    name = "thistle again.mp4"
    there = [film for film in trainer.ask("GET", "/api/films").json() if film["name"] == name]
    if not there:
        trainer.settled(trainer.upload(good, name)["id"])
    return name


def open_films(page, house):
    page.goto(f"{house.url}/films")
    expect(page.get_by_role("heading", name="Films", exact=True)).to_be_visible()


def row_of(page, name):
    return page.locator("li", has=page.get_by_role("heading", name=name, exact=True))


def test_an_empty_house_says_how_to_begin(page, house, trainer):
    for kind in ("films", "sessions"):
        while there := trainer.ask("GET", f"/api/{kind}").json():
            for one in there:
                assert trainer.ask("DELETE", f"/api/{kind}/{one['id']}").status_code == 204
    open_films(page, house)
    expect(
        page.get_by_role("heading", name="Begin with a film of one short session")
    ).to_be_visible()


@pytest.mark.long
def test_a_picture_that_cannot_be_brought_leaves_its_place_empty(page, house, a_film):
    page.route("**/poster.jpg", lambda route: route.fulfill(status=503))
    open_films(page, house)
    row = row_of(page, a_film)
    expect(row.get_by_role("link", name="Code it")).to_be_visible()
    expect(row.locator("img")).to_have_count(0)


def test_several_films_at_once_each_with_its_own_fate(page, house, folder, good):
    second = folder / "thistle two.mp4"
    second.write_bytes(good.read_bytes())
    text = folder / "letter.mp4"
    text.write_text("Dear Wren, the film is on the other phone.\n" * 30)
    cut = folder / "cut.mp4"
    cut.write_bytes(good.read_bytes()[:20_000])
    empty = folder / "empty.mp4"
    empty.write_bytes(b"")
    playlist = folder / "list.mp4"
    playlist.write_text("#EXTM3U\n#EXTINF:4,\nhttp://127.0.0.1:9/secret.ts\n")
    films = house.home / "films"
    before = set(films.iterdir()) if films.exists() else set()
    open_films(page, house)
    page.get_by_label("Films to upload").set_input_files([good, second, text, cut, empty, playlist])
    for name in (good.name, second.name):
        row = row_of(page, name)
        expect(row.get_by_role("link", name="Code it")).to_be_visible()
        expect(row).to_contain_text("240 frames")
        expect(row.locator("img")).to_have_count(1)
    for name, sentence in {
        "letter.mp4": "not a film Frequens can read",
        "cut.mp4": "cannot be opened",
        "empty.mp4": "The file is empty",
        "list.mp4": "only points at other files or addresses",
    }.items():
        expect(row_of(page, name).get_by_role("alert")).to_contain_text(sentence)
    # What failed is kept as it came, and nothing was made of it; only the user removes it.
    held = [{p.name for p in f.iterdir()} for f in set(films.iterdir()) - before]
    held = [files for files in held if files]
    assert sum(files == {"original"} for files in held) == 3
    assert len(held) == 5


def test_what_cannot_be_read_is_said_before_it_is_sent(page, house, folder):
    old = folder / "old camera.avi"
    old.write_bytes(b"RIFF\x10\0\0\0AVI LIST" + b"\0" * 5000)
    open_films(page, house)
    sent = []
    page.on("request", lambda request: sent.append(request.method + request.url))
    page.get_by_label("Films to upload").set_input_files(old)
    said = page.get_by_text("AVI films are not read here.")
    expect(said).to_contain_text("Turn it into MP4 first")
    assert not [one for one in sent if one.startswith("POST")]


def test_a_dropped_session_file_becomes_a_session(page, house, good):
    open_films(page, house)
    truth = good.with_suffix(".frequens.json")
    transfer = page.evaluate_handle(
        """text => {
          const drop = new DataTransfer();
          drop.items.add(new File([text], 'pepper.json', {type: 'application/json'}));
          return drop;
        }""",
        truth.read_text().replace("Thistle", "Pepper"),
    )
    page.locator("main").dispatch_event("drop", {"dataTransfer": transfer})
    row = page.locator("main li", has_text="Pepper")
    expect(row).to_contain_text("read from a file")
    row.get_by_role("link", name="Findings").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("“Mouth on the rope”")


def test_the_simulated_camera_films_with_progress_and_can_be_stopped(page, house):
    open_films(page, house)
    page.get_by_role("button", name="Use the simulated camera").click()
    page.get_by_label("Length, seconds").fill("60")
    page.get_by_role("button", name="Film it").click()
    row = page.locator("li", has_text="Simulated camera").first
    expect(row.get_by_label("On its way in")).to_contain_text(re.compile(r"filming \d+ %"))
    row.get_by_role("button", name="Stop").click()
    expect(row).to_contain_text("Stopped. What was done is kept.")
    row.get_by_role("button", name="Go on").click()
    expect(row.get_by_label("On its way in")).to_contain_text(re.compile(r"filming \d+ %"))


def test_a_removed_film_can_be_had_back(page, house, a_film):
    open_films(page, house)
    row = row_of(page, a_film)
    row.get_by_role("button", name=f"Remove {a_film}").click()
    expect(row).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(row).to_be_visible()


def test_learner_and_behaviour_are_written_in_place(page, house, a_film):
    open_films(page, house)
    row = row_of(page, a_film)
    row.get_by_label("Learner").fill("Bramble")
    row.get_by_label("Learner").press("Enter")
    row.get_by_role("link", name="Code it").click()
    expect(page.locator("header")).to_contain_text("Bramble")


@pytest.fixture(scope="module")
def sixty(house):
    """Sixty more films, more than a page has."""
    house.manage(
        "shell",
        "-c",
        "from frequens.server.accounts.models import Workspace as W\n"
        "from frequens.server.library.models import Film as F\n"
        "w = W.objects.get()\n"
        "for n in range(60): F.objects.create(workspace=w, name=f'old {n}', state='cancelled')",
    )


@pytest.mark.long
def test_news_does_not_give_up_older_films_that_were_asked_for(page, house, sixty):
    """What is under way is told only while the older ones are on their way."""
    news, older = [], []

    def held(waiting):
        """The first is kept back, all others go on."""
        return lambda route: route.continue_() if waiting else waiting.append(route)

    page.route("**/api/films?under_way=true*", held(news))
    page.route("**/api/films?*older_than=*", held(older))
    open_films(page, house)
    page.get_by_role("button", name="Show older films").click()
    expect(page.get_by_role("button", name="Looking for older films")).to_be_visible()
    with page.expect_response("**/api/films?under_way=true*"):
        news[0].continue_()
    page.wait_for_timeout(300)
    older[0].continue_()
    expect(page.get_by_role("button", name="older films")).to_have_count(0)


@pytest.mark.long
def test_older_films_are_shown_when_asked_for(page, house, sixty):
    """Only what is looked at is fetched, and only what is under way asked again."""
    open_films(page, house)
    rows = page.locator("[data-film]")
    expect(rows).to_have_count(50)
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    page.get_by_role("button", name="Show older films").click()
    expect(page.get_by_role("button", name="older films")).to_have_count(0)
    # The sixty, and what other tests of the house may have left.
    assert rows.count() >= 60
    names = rows.evaluate_all("rows => rows.map(row => row.dataset.film)")
    assert len(set(names)) == len(names)
    asked.clear()
    with page.expect_request("**/api/films?under_way=true*"):
        pass
    assert not [url for url in asked if "/api/films?" in url and "under_way" not in url]
