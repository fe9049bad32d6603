"""A session led by phone on the bench: its taps as seeds, and how much they spare the hand."""

from __future__ import annotations

import datetime as dt
import random
import re
import uuid

import pytest
from playwright.sync_api import expect

from frequens.core.model.events import MICROSECONDS
from frequens.media.decode.frames import index_frames

from .conftest import shot_film, truth_of

pytestmark = pytest.mark.long

#: The camera's clock is so far off the phone's, seconds.
CLOCKS_APART_S = 6.4
#: A thumb comes so long after the reward is given, and varies so much, seconds.
THUMB_S, THUMB_SD_S = 0.8, 0.25


@pytest.fixture(scope="module")
def house(own_house):
    return own_house


@pytest.fixture(scope="module")
def shot(tmp_path_factory):
    return shot_film(tmp_path_factory.mktemp("led"), "goat.mp4", 60, seed=33, width=320, height=180)


@pytest.fixture(scope="module")
def bell(trainer):
    learner = trainer.ask("POST", "/api/learners", json={"name": "Thistle"}).json()
    body = {"learner_id": learner["id"], "starter": "bell"}
    return trainer.ask("POST", "/api/behaviours", json=body).json()


class Truth:
    """What a perfect reviewer sees: the first frame of each behaviour, reward and marker."""

    def __init__(self, path):
        index, record = index_frames(path), truth_of(path)
        self.reps = [
            (index.first_after(event.t_us), event.met)
            for event in record.ordered
            if event.kind == "onset"
        ]
        self.rewards = [index.first_after(e.t_us) for e in record.of_kind("reward")]
        self.markers = [index.first_after(e.t_us) for e in record.of_kind("marker")]
        self.onsets = [at for at, _ in self.reps]
        self.frames = len(index)
        self.onset_s = [e.t_us / MICROSECONDS for e in record.of_kind("onset")]
        self.end_s = index.duration_us / MICROSECONDS

    def nearest(self, kind, frame):
        frames = {"reward": self.rewards, "the marker": self.markers}.get(kind, self.onsets)
        return min(frames, key=lambda at: abs(at - frame))

    def met(self, frame):
        return dict(self.reps)[frame]

    def coded(self, *, by_clicks):
        """All of it; what was heard stands on no frame."""
        markers = [] if by_clicks else self.markers
        return {"onset": self.reps, "marker": markers, "reward": self.rewards}

    def rep_of(self, frame):
        return max(at for at in self.onsets if at <= frame)


@pytest.fixture(scope="module")
def truth(shot):
    return Truth(shot)


def put(kind, t, **fields):
    event = {"id": uuid.uuid4().hex, "kind": kind, "t": round(t, 3), "width": 2, "source": "tap"}
    return {"op": "put", "event": {**event, "clock": "phone", **fields}}


def taps_of(truth, step):
    """The session as its trainer tapped it: late, unevenly, and twice mistaken.

    A tap's time is a second past its press; the phone began two seconds before the film.
    """
    chance = random.Random(5)
    said = [put("bout_start", 1), put("criterion", 1, approximation=step)]
    for n, (onset_s, (_, met)) in enumerate(zip(truth.onset_s, truth.reps, strict=True)):
        pressed = 2 + onset_s + 1.6 + chance.gauss(THUMB_S, THUMB_SD_S)
        thought = not met if n in (2, 5) else met
        said.append(put("onset", pressed + 1, met=thought))
        if thought:
            said.append(put("reward", pressed + 1))
    end = 2 + truth.end_s
    return [*said, put("bout_end", end + 1), {"op": "facts", "set": {"end_s": end}}]


def led_with(trainer, bell, bodies, began):
    pk = str(uuid.uuid4())
    body = {"behaviour_id": bell["id"], "began_at": began.isoformat()}
    assert trainer.ask("PUT", f"/api/yard/sessions/{pk}", json=body).status_code == 201
    edits = [{"client_id": uuid.uuid4().hex, "body": one} for one in bodies]
    answer = trainer.ask("POST", f"/api/sessions/{pk}/edits", json={"edits": edits}).json()
    assert answer["refused"] == {}
    return pk


@pytest.fixture
def led(trainer, bell, shot, truth):
    """A led session that has met its film; the film says nothing of when it was shot."""
    bodies = taps_of(truth, "nose_to_rope")
    began = dt.datetime.now(dt.UTC)
    pk = led_with(trainer, bell, bodies, began)
    film = trainer.settled(trainer.upload(shot)["id"])
    join = f"/api/films/{film['id']}/join"
    assert trainer.ask("POST", join, json={"session_id": pk}).status_code == 200
    on = {"clips": {film["id"]: 2 - CLOCKS_APART_S}, "moved_s": None, "end_s": 60}
    said = {"client_id": uuid.uuid4().hex, "body": {"op": "facts", "set": {"taps_on": on}}}
    trainer.ask("POST", f"/api/sessions/{pk}/edits", json={"edits": [said]})
    return {**film, "session_id": pk}


@pytest.fixture
def bare(trainer, shot):
    """The same film, of a session nobody tapped."""
    return trainer.settled(trainer.upload(shot)["id"])


class Hand:
    """A reviewer's hand: does only what can be pressed, and counts it."""

    #: Further away than this one goes there by the ribbon, frames; and lands so near.
    FAR, NEAR = 60, 12

    def __init__(self, bench, truth):
        self.bench, self.page, self.truth, self.presses = bench, bench.page, truth, 0
        self.fix = self.page.get_by_role("group", name="Fix pass")

    def press(self, key):
        self.page.keyboard.press(key)
        self.presses += 1

    def click(self, found):
        found.click()
        self.presses += 1

    def to(self, frame):
        """Until the frame is on the strip."""
        self.bench.settle()
        if abs(frame - self.bench.frame) > self.FAR:
            self.bench.seek(max(0, frame - self.NEAR) / self.truth.frames)
            self.presses += 1
        while self.on_strip(frame).count() == 0:
            away = frame - self.bench.frame
            key = "ArrowRight" if away > 0 else "ArrowLeft"
            self.press(f"Shift+{key}" if abs(away) > 9 else key)
            self.bench.settle()

    def on_strip(self, frame):
        return self.page.locator(f"button[data-frame='{frame}']")

    def point(self, frame):
        self.to(frame)
        strip = self.on_strip(frame)
        # One cannot point at what is not to be seen yet.
        self.page.wait_for_function(
            "one => one.getContext('2d').getImageData(9, 9, 1, 1).data[3] > 0",
            arg=strip.locator("canvas").element_handle(),
        )
        self.click(strip)

    def place(self, key, frame):
        self.point(frame)
        self.bench.settle()
        self.press(key)

    def take_clicks(self):
        self.click(self.page.get_by_role("button", name=re.compile("take all")))

    def begin_fix(self):
        self.bench.wait_saved()
        expect(self.page.get_by_role("button", name=re.compile("fix [1-9]"))).to_be_enabled()
        self.press("x")

    def fix_all(self):
        """The fix pass from its beginning to its end; each mark where the truth has it."""
        self.begin_fix()
        while self.fix.count():
            words = self.fix.get_by_role("status").inner_text()
            self.bench.settle()
            kind = next(k for k in ("reward", "marker is for", "the marker", "") if k in words)
            if "your first rep" in words:
                target = self.truth.reps[0][0]
            else:
                target = self.truth.nearest(kind, self.bench.frame)
            judged = self.fix.get_by_role("button", name="What you said")
            if judged.count():
                said = judged.get_attribute("data-met") == "true"
                if said != self.truth.met(target):
                    self.press("f")
            self.point(target)
            self.bench.wait_saved()
            self.bench.settle()


def coded(trainer, film):
    """What is coded, on the frames of the film."""
    path = f"/api/sessions/{film['session_id']}"
    marks = {}
    for edit in trainer.ask("GET", f"{path}/edits").json()["edits"]:
        body = edit["body"]
        if body["op"] == "put":
            marks[body["event"]["id"]] = body["event"]
        elif body["op"] == "drop":
            marks.pop(body["id"], None)
    onsets = sorted((m["frame"], m["met"]) for m in marks.values() if m["kind"] == "onset")
    frames = {
        kind: sorted(m["frame"] for m in marks.values() if m["kind"] == kind and "frame" in m)
        for kind in ("marker", "reward")
    }
    return {"onset": onsets, **frames}


def code_without_seeds(hand, truth, *, by_clicks):
    """The quickest way there is without taps: clicks taken at once where they can be heard."""
    page = hand.page
    hand.click(page.get_by_role("button", name="What holds until it is changed"))
    hand.click(page.get_by_label("A new rep fits"))
    hand.press("Escape")
    found = set()
    if by_clicks:
        hand.take_clicks()
        hand.fix_all()
        found = {truth.rep_of(frame) for frame in truth.markers}
    for frame, met in truth.reps:
        if frame not in found:
            hand.place("b", frame)
            if not by_clicks:
                for key, kind in (("m", truth.markers), ("r", truth.rewards)):
                    for at in kind:
                        if truth.rep_of(at) == frame:
                            hand.place(key, at)
                            hand.bench.wait_saved()
        if not met:
            if hand.bench.frame != frame:
                hand.point(frame)
                hand.bench.settle()
            hand.press("f")
        hand.bench.wait_saved()


@pytest.mark.parametrize(("by_clicks", "share"), [(True, 0.95), (False, 0.5)])
def test_seeds_spare_the_hand(bench_of, led, bare, truth, trainer, by_clicks, share):
    """The same film to the same frames, with what was tapped and without it.

    Where every marker is a click that can be heard, those are seeds already: there is little left
    to spare. Where none is, half of all presses.
    """
    hand = Hand(bench_of(led), truth)
    if by_clicks:
        hand.take_clicks()
    hand.fix_all()
    if not by_clicks:
        # Once one is marked the others are asked for.
        hand.place("m", truth.markers[0])
        hand.fix_all()
        # What was paid although it was tapped as "not yet".
        for kind, key, frames in (("marker", "m", truth.markers), ("reward", "r", truth.rewards)):
            for at in set(frames) - set(coded(trainer, led)[kind]):
                hand.place(key, at)
                hand.bench.wait_saved()
    assert coded(trainer, led) == truth.coded(by_clicks=by_clicks)
    alone = Hand(bench_of(bare), truth)
    code_without_seeds(alone, truth, by_clicks=by_clicks)
    assert coded(trainer, bare) == truth.coded(by_clicks=by_clicks)
    assert hand.presses <= share * alone.presses
    said = trainer.ask("GET", f"/api/sessions/{led['session_id']}/findings").json()["findings"]
    assert said["led"] | {"differ": said["led"]["differ"]["count"]} == {
        "tapped": len(truth.reps),
        "open": 0,
        "unseen": 0,
        "untapped": 0,
        "differ": 2,
        "only_tapped": 0,
        "only_filmed": 2,
    }
    assert {rep["approximation"] for rep in said["reps"]} == {"nose_to_rope"}


def test_a_camera_that_knows_no_time_is_told_by_hand(page, house, trainer, bell, shot, truth):
    bodies = taps_of(truth, "nose_to_rope")
    pk = led_with(trainer, bell, bodies, dt.datetime.now(dt.UTC) - dt.timedelta(hours=3))
    trainer.settled(trainer.upload(shot, "no clock.mp4")["id"])
    page.goto(f"{house.url}/films")
    row = page.locator("li", has=page.get_by_role("heading", name="no clock.mp4", exact=True))
    row.get_by_label("One more clip of").select_option(pk)
    expect(row).to_contain_text("what you tapped lies on it")
    row.get_by_role("link", name="Go on coding").click()
    # It begins with the session, for want of anything better, until the first rep is found.
    expect(page.get_by_test_id("taps")).to_contain_text("by the two clocks")


class TestOnTheBench:
    def test_one_frame_moves_all_along_and_one_key_takes_it_back(
        self, bench_of, led, truth, trainer
    ):
        bench = bench_of(led)
        page = bench.page
        taps = page.get_by_test_id("taps")
        expect(taps).to_contain_text("by the two clocks")
        ticks = page.locator("[data-tap]")
        hand = Hand(bench, truth)
        before = [ticks.nth(n).get_attribute("d") for n in range(ticks.count())]
        hand.begin_fix()
        expect(hand.fix).to_contain_text("All others move along.")
        hand.point(truth.onsets[0])
        expect(hand.fix).to_contain_text("reward")
        hand.press("x")
        expect(taps).not_to_contain_text("by the two clocks")
        # Two reps that had been off camera are on it now.
        expect(taps).not_to_contain_text("off camera")
        # Work had begun before the film did; only the step that came with this rep goes along.
        bench.wait_saved()
        state = trainer.ask("GET", f"/api/sessions/{led['session_id']}/findings").json()
        assert state["findings"]["training_time_s"] == pytest.approx(truth.end_s, abs=3)
        hand.press("Control+z")
        expect(taps).to_contain_text("by the two clocks")
        assert [ticks.nth(n).get_attribute("d") for n in range(ticks.count())] == before
        hand.press("Control+Shift+z")
        page.get_by_role("button", name="begin with one again").click()
        expect(hand.fix).to_contain_text("All others move along.")

    def test_a_mark_placed_at_a_tap_is_that_tap(self, bench_of, led, truth):
        bench = bench_of(led)
        hand = Hand(bench, truth)
        hand.begin_fix()
        hand.point(truth.onsets[0])
        hand.press("x")
        expect(bench.reps).to_have_count(len(truth.reps))
        hand.place("b", truth.onsets[5])
        bench.wait_saved()
        # It was tapped as "not yet", and nobody has judged it otherwise.
        expect(bench.reps).to_have_count(len(truth.reps))
        expect(bench.reps.nth(5)).to_contain_text("not yet")
        hand.press("f")
        hand.press("f")
        expect(bench.reps.nth(5)).to_contain_text("you: not yet")

    def test_what_was_thought_stands_in_the_findings(self, bench_of, led, truth, house):
        bench = bench_of(led)
        hand = Hand(bench, truth)
        hand.take_clicks()
        hand.begin_fix()
        for frame in (truth.onsets[0], truth.rewards[0]):
            hand.point(frame)
            bench.wait_saved()
        hand.press("f")
        hand.point(truth.onsets[1])
        bench.wait_saved()
        page = bench.page
        page.goto(f"{house.url}/sessions/{led['session_id']}/findings")
        part = page.locator("#led")
        expect(part).to_contain_text("1 of 2")
        expect(part).to_contain_text("11 reps you tapped are still to be looked at")
        part.get_by_role("link", name="1 fit on the film").click()
        expect(page.locator("main table").last.locator("tbody tr")).to_have_count(1)
