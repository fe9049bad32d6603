"""A second pair of eyes through the screen: invited, blind, compared, settled; and the roles."""

from __future__ import annotations

import os
import re
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from frequens.core.formats.session_document import write_event
from frequens.media.decode.frames import index_frames
from tests.house import PASSWORD, House, Trainer

from .axe import faults
from .conftest import Bench, coded_film, frames_of_truth, shot_film, truth_of

pytestmark = pytest.mark.long

#: The shares of `measures.md` 7 that count in stretches of ten seconds.
SHARES = (
    *("total_count", "mean_count_per_interval", "exact_count_per_interval"),
    *("scored_interval", "unscored_interval", "interval_by_interval"),
)
#: How many frames later the second reviewer marks; 30 frames a second.
LATER = {"onset": 2, "reward": -1}


@pytest.fixture(scope="module")
def house(own_house: House) -> House:
    return own_house


@pytest.fixture(scope="module")
def film(trainer: Trainer, tmp_path_factory: pytest.TempPathFactory) -> dict[str, Any]:
    path = shot_film(tmp_path_factory.mktemp("again"), "bell again.mp4", 60, seed=21)
    return coded_film(trainer, path)


@pytest.fixture(scope="module")
def plover(browser: Any, house: House, state: Any, browser_context_args: dict[str, Any]) -> Any:
    """The browser of somebody who was invited as a reviewer, by the screens of both."""
    owner = browser.new_context(**browser_context_args, storage_state=state)
    page = owner.new_page()
    page.goto(f"{house.url}/people")
    page.get_by_label("As", exact=True).select_option("reviewer")
    page.get_by_role("button", name="Make an invitation").click()
    address = page.get_by_label("The invitation's address").input_value()
    expect(page.get_by_text("reviewer, waits until")).to_be_visible()
    context = browser.new_context(**browser_context_args)
    own = context.new_page()
    own.goto(address)
    expect(own.get_by_role("heading", name="Come into Saltmarsh Steading")).to_be_visible()
    expect(own.get_by_text("looks at everything and codes, but removes nothing")).to_be_visible()
    own.get_by_label("Your name").fill("wren")
    own.get_by_label("Password").fill(PASSWORD)
    own.get_by_role("button", name="Make my account").click()
    expect(own.get_by_role("alert")).to_contain_text("already")
    own.get_by_label("Your name").fill("plover")
    own.get_by_role("button", name="Make my account").click()
    expect(own.get_by_role("navigation", name="Main")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Role of plover")).to_have_value("reviewer")
    expect(page.get_by_text("waits until")).to_have_count(0)
    own.goto(address)
    own.reload()
    expect(own.get_by_role("alert")).to_contain_text("does not hold")
    own.close()
    owner.close()
    yield context
    context.close()


def code_with_habits(reviewer: Trainer, coding_id: str, film: dict[str, Any]) -> None:
    """The truth again, each kind moved by LATER; the last reward overlooked, the first judged."""
    index = index_frames(film["path"])
    marks = []
    for event, frame in frames_of_truth(truth_of(film["path"]), index):
        mark = {k: v for k, v in write_event(event).items() if k not in ("t", "width")}
        moved = min(frame + LATER.get(event.kind, 0), len(index) - 1)
        marks.append(mark | {"frame": moved, "pts": index.pts[moved]})
    last = max((m for m in marks if m["kind"] == "reward"), key=lambda m: m["frame"])
    marks.remove(last)
    edits = [{"client_id": os.urandom(8).hex(), "body": {"op": "put", "event": m}} for m in marks]
    said = reviewer.ask("POST", f"/api/sessions/{coding_id}/edits", json={"edits": edits})
    assert said.json()["refused"] == {}


def frame_of(trainer: Trainer, film: dict[str, Any], mark_id: str) -> int | None:
    """The frame a mark of the session stands on now."""
    edits = trainer.ask("GET", f"/api/sessions/{film['session_id']}/edits").json()["edits"]
    frame = None
    for edit in edits:
        body = edit["body"]
        if body["op"] == "put" and body["event"]["id"] == mark_id:
            frame = body["event"]["frame"]
        if body["op"] == "drop" and body["id"] == mark_id:
            frame = None
    return frame


def left(page: Page) -> int:
    said = page.get_by_role("heading", level=1).inner_text()
    found = re.match(r"(\d+|One) mark", said)
    assert found, said
    return 1 if found[1] == "One" else int(found[1])


@pytest.fixture(scope="module")
def look(
    browser: Any, house: House, state: Any, browser_context_args: Any, plover, film
) -> dict[str, Any]:
    """Asked for from the bench, of plover."""
    context = browser.new_context(**browser_context_args, storage_state=state)
    page = context.new_page()
    page.goto(f"{house.url}/sessions/{film['session_id']}/bench")
    page.get_by_role("button", name="Session", exact=True).click()
    page.get_by_role("menuitem", name="Ask for a second look").click()
    page.get_by_label("By whom").first.select_option(label="by plover")
    page.get_by_role("button", name="Ask for a second look").first.click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("plover codes this session")
    look_id = page.url.rsplit("/", 1)[-1]
    context.close()
    return dict(house.trainer().ask("GET", f"/api/second-looks/{look_id}").json())


class TestFromAskingToSettled:
    """In the order of the work; each goes on where the one before ended."""

    def test_the_reviewer_codes_without_seeing_a_mark(
        self, house: House, plover: BrowserContext, look, film
    ):
        page = plover.new_page()
        # A reviewer is not offered what only trainers may.
        page.goto(f"{house.url}/films")
        expect(page.get_by_role("list", name="Films").get_by_role("listitem")).to_have_count(1)
        expect(page.get_by_role("button", name="plover")).to_be_visible()
        for name in ("Choose films", "Remove bell again.mp4"):
            expect(page.get_by_role("button", name=name)).to_have_count(0)
        learner = house.trainer().ask("POST", "/api/learners", json={"name": "Sedge"}).json()
        page.goto(f"{house.url}/plans")
        expect(page.get_by_role("button", name="About Sedge")).to_be_visible()
        expect(page.get_by_role("button", name="A new behaviour")).to_have_count(0)
        house.trainer().ask("DELETE", f"/api/learners/{learner['id']}")
        page.goto(house.url)
        page.get_by_role("link", name="Code it again").click()
        page.get_by_role("link", name="Code it", exact=True).click()
        bench = Bench(page, house.url, look["coding_id"], t="1.0")
        expect(bench.reps).to_have_count(0)
        expect(page.get_by_role("link", name="Findings")).to_have_count(0)
        page.goto(f"{house.url}/sessions/{film['session_id']}/bench")
        expect(page.get_by_role("alert")).to_contain_text("coding this session a second time")
        # One mark by hand; the rest as a script.
        bench = Bench(page, house.url, look["coding_id"], t="0.5")
        page.keyboard.press("h")
        expect(page.locator("[data-saving]")).to_contain_text("1 mark, all saved")
        code_with_habits(house.trainer("plover"), look["coding_id"], film)
        page.reload()
        expect(bench.reps.first).to_be_visible()
        page.get_by_role("button", name="I am done").click()
        expect(page.get_by_role("button", name="Not done after all")).to_be_visible()
        expect(page.get_by_text("not done yet")).to_be_visible()
        page.close()

    def test_it_opens_when_both_are_done_and_says_how_they_differ(
        self, page: Page, house: House, trainer: Trainer, look, film
    ):
        page.goto(f"{house.url}/second-looks/{look['id']}")
        page.get_by_role("button", name="It is done").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("left to settle")
        found = trainer.ask("GET", f"/api/second-looks/{look['id']}/comparison").json()
        kinds = found["agreement"]["kinds"]
        table = page.get_by_role("region", name="How far you agree")
        onset = table.get_by_role("row", name="behaviour begins")
        # Two frames of thirty a second, and no spread.
        expect(onset).to_contain_text("+67 ms")
        expect(onset).to_contain_text("100 %")
        expect(table.get_by_role("row", name="reward").first).to_contain_text("−33 ms")
        assert kinds["onset"]["bias_s"]["mean"] == pytest.approx(2 / 30, abs=0.002)
        assert kinds["marker"]["bias_s"]["sd"] == pytest.approx(0, abs=1e-9)
        assert len(kinds["reward"]["only_a"]) == 1
        assert left(page) == found["look"]["open_differences"]
        table.get_by_text("Counted in stretches of ten seconds").click()
        counted = table.get_by_role("row", name="reward").last
        shares = [f"{round(100 * kinds['reward'][name])} %" for name in SHARES]
        expect(counted.get_by_role("cell")).to_have_text([*shares, "−33 ms to −33 ms"])
        assert faults(page) == []
        # Each of them is drawn, what differs as something one can choose.
        drawn = page.locator("[data-pair]")
        expect(drawn).to_have_count(len(found["pairs"]))

    def test_it_is_settled_by_keys_and_by_frames(
        self, page: Page, house: House, trainer: Trainer, look, film
    ):
        page.goto(f"{house.url}/second-looks/{look['id']}")
        panel = page.get_by_role("region", name="What differs, one by one")
        expect(panel).to_be_visible()
        found = trainer.ask("GET", f"/api/second-looks/{look['id']}/comparison").json()
        open_ones = [p for p in found["pairs"] if p["frames"] != 0 or p["differs"]]
        onsets = [n for n, p in enumerate(open_ones) if p["kind"] == "onset"]
        first, second = open_ones[onsets[0]], open_ones[onsets[1]]
        before = left(page)

        def choose(place: int) -> None:
            at = int(panel.get_by_text(" of ").last.inner_text().split()[0]) - 1
            for _ in range((place - at) % len(open_ones)):
                page.keyboard.press("ArrowRight")
            expect(panel.get_by_text(f"{place + 1} of {len(open_ones)}")).to_be_visible()

        choose(onsets[0])
        expect(panel.get_by_role("status")).to_contain_text("plover has it 2 frames later")
        page.keyboard.press("2")
        expect(page.get_by_role("heading", level=1)).to_contain_text(f"{before - 1} marks")
        first_id = first["first"]["event"]["id"]
        assert frame_of(trainer, film, first_id) == first["second"]["frame"]
        choose(onsets[1])
        middle = second["first"]["frame"] + 1
        panel.locator(f"[data-frame='{middle}']").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text(f"{before - 2} marks")
        assert frame_of(trainer, film, second["first"]["event"]["id"]) == middle
        # What the reviewer marked by hand: nobody else saw it.
        alone = next(n for n, p in enumerate(open_ones) if p["first"] is None)
        assert open_ones[alone]["kind"] == "reach"
        choose(alone)
        expect(panel.get_by_role("status")).to_contain_text("Only plover has it.")
        page.keyboard.press("0")
        expect(page.get_by_role("heading", level=1)).to_contain_text(f"{before - 3} marks")
        # Chosen in the drawing it is there again, with who settled it.
        key = f"{first_id}|{first['second']['event']['id']}"
        page.locator(f"[data-pair='{key}']").dispatch_event("click")
        expect(panel).to_contain_text("Settled by wren: as plover has it.")
        page.reload()
        expect(page.get_by_role("heading", level=1)).to_contain_text(f"{before - 3} marks")

    def test_the_list_says_how_the_reviewers_marks_lie(self, page: Page, house: House, look):
        page.goto(f"{house.url}/second-looks")
        spreads = page.get_by_role("region", name="How marks lie from person to person")
        expect(spreads).to_contain_text("plover")
        expect(spreads).to_contain_text("later by +67 ms")
        assert faults(page) == []

    def test_it_can_be_read_on_a_phone(self, page: Page, house: House, look):
        page.set_viewport_size({"width": 390, "height": 844})
        page.goto(f"{house.url}/second-looks/{look['id']}")
        expect(page.get_by_role("heading", level=1)).to_contain_text("left to settle")
        assert page.evaluate("() => document.documentElement.scrollWidth") <= 390


def test_who_is_made_a_reader_has_the_reports_and_nothing_else(
    page: Page, house: House, plover: BrowserContext, film
):
    page.goto(f"{house.url}/people")
    page.get_by_label("Role of plover").select_option("reader")
    expect(page.get_by_label("Role of plover")).to_have_value("reader")
    own = plover.new_page()
    own.goto(house.url)
    expect(own.get_by_role("heading", name="Reports")).to_be_visible()
    tabs = own.get_by_role("navigation", name="Main").get_by_role("link")
    expect(tabs).to_have_text(["Reports"])
    own.get_by_role("link", name="Read it").first.click()
    expect(own.get_by_text("Saltmarsh Steading").or_(own.get_by_text("reps")).first).to_be_visible()
    own.goto(f"{house.url}/sessions/{film['session_id']}/findings")
    expect(own.get_by_role("alert")).to_contain_text("does not allow that")
    own.close()
    page.get_by_label("Role of plover").select_option("reviewer")
    expect(page.get_by_label("Role of plover")).to_have_value("reviewer")


def test_the_last_owner_is_told_why_they_stay(page: Page, house: House, plover):
    page.goto(f"{house.url}/people")
    page.get_by_label("Role of wren").select_option("trainer")
    expect(page.get_by_text("Somebody has to own the workspace.").first).to_be_visible()
    expect(page.get_by_label("Role of wren")).to_have_value("owner")
