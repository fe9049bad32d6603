"""Exactness: the frame the readout names is the frame on the canvas, every time.

The simulated camera paints each frame's number into it; the number is read back from the
canvas's own pixels. Frame times are held against PyAV's decoder, to the microsecond.
"""

from __future__ import annotations

import random
import shutil
import subprocess
import sys
from fractions import Fraction

import av
import pytest

from frequens.media.frames import FrameIndex, index_frames
from frequens.media.review import make_review_copy

from .conftest import cleaned, shot_film

FILMS = {
    "30": {"fps": Fraction(30)},
    "HEVC": {"codec": "hevc"},
    "AV1": {"codec": "av1"},
    "29.97": {"fps": Fraction(30000, 1001)},
    "60": {"fps": Fraction(60)},
    "120": {"fps": Fraction(120)},
    "variable": {"variable": True},
    "B-frames": {"b_frames": 4, "key_frame_every": 250},
    "start offset": {"start_offset_s": 1.37},
    "turned": {"rotation": 90},
}
SEEKS, STEPS = 32, 32
#: Those that are played and stopped again and again.
PLAYED, ROUNDS = ("30", "60", "120", "variable", "start offset", "HEVC", "AV1"), 100


@pytest.fixture(scope="module")
def films(trainer, tmp_path_factory):
    """Every film of FILMS, uploaded at once and ready."""
    folder = tmp_path_factory.mktemp("exact")
    paths = {k: shot_film(folder, f"{i}.mp4", 6, 3, **o) for i, (k, o) in enumerate(FILMS.items())}
    sent = {kind: trainer.upload(path)["id"] for kind, path in paths.items()}
    return {kind: {**trainer.settled(sent[kind]), "path": paths[kind]} for kind in FILMS}


def decoded_times_us(path):
    """Microseconds from the first shown frame, by PyAV's decoder."""
    with av.open(str(path)) as container:
        base = container.streams.video[0].time_base
        stamps = [frame.pts for frame in container.decode(video=0)]
    return [(p - stamps[0]) * base * 1_000_000 for p in stamps]


def check(bench, times):
    frame = bench.frame
    assert bench.painted() == frame
    assert abs(bench.time_us - times[frame]) <= Fraction(1, 2)


# The counts over all films make 224 seeks and 224 steps each way, in the default way.
@pytest.mark.parametrize(
    ("kind", "way"),
    [
        *((kind, "window") for kind in FILMS if kind not in ("30", "HEVC", "AV1")),
        *(("B-frames", way) for way in ("video", "server")),
        *(("turned", way) for way in ("video", "server")),
        ("start offset", "video"),
    ],
)
def test_the_canvas_shows_the_frame_the_readout_names(films, bench_of, kind, way):
    film, chance = films[kind], random.Random(f"{kind} {way}")
    times = decoded_times_us(film["path"])
    bench = bench_of(film, **({} if way == "window" else {"frames": way}))
    seen = set()
    for _ in range(SEEKS if way == "window" else 12):
        bench.seek(chance.random())
        check(bench, times)
        seen.add(bench.frame)
    assert len(seen) > 8
    bench.seek(0.4)
    for key in ("ArrowRight", "ArrowLeft"):
        before = bench.frame
        for step in range(1, (STEPS if way == "window" else 12) + 1):
            bench.page.keyboard.press(key)
            assert bench.settle() == before + (step if key == "ArrowRight" else -step)
            check(bench, times)


def test_the_ends_of_the_film_can_be_reached_and_not_passed(films, bench_of):
    film = films["29.97"]
    bench = bench_of(film)
    times = decoded_times_us(film["path"])
    bench.seek(0.999)
    for _ in range(5):
        bench.page.keyboard.press("Shift+ArrowRight")
    assert bench.settle() == len(times) - 1
    check(bench, times)
    for _ in range(len(times) // 10 + 2):
        bench.page.keyboard.press("Shift+ArrowLeft")
    assert bench.settle() == 0
    check(bench, times)


def test_the_copy_is_used_where_it_is_made_already(films, bench_of, page, house):
    """A copy under way: its first piece decoded in the page, the rest by the server, all exact."""
    film = films["60"]
    index, times = index_frames(film["path"]), decoded_times_us(film["path"])
    folder = house.home / "films" / film["id"] / "pieces"
    half = FrameIndex(index.time_base, index.pts[: len(index) // 24 * 12])
    make_review_copy(film["path"], folder.with_name("half.mp4"), half, 0, pieces=folder)

    def under_way(route):
        answer = route.fetch()
        session = answer.json()
        for one in session["films"]:
            one["review_ready"] = False
        route.fulfill(response=answer, json=session)

    asked = []
    page.route(f"**/api/sessions/{film['session_id']}", under_way)
    page.on("request", lambda request: asked.append(request.url))
    bench = bench_of(film)
    for share in (0.1, 0.3, 0.45, 0.8, 0.2):
        frame = bench.seek(share)
        check(bench, times)
        is_still = any(f"/frames/{frame}.jpg" in url for url in asked)
        assert is_still == (frame >= len(half))
    page.keyboard.press("ArrowRight")
    bench.settle()
    check(bench, times)
    shutil.rmtree(folder)


@pytest.fixture
def busy():
    """Two cores that have something else to do."""
    work = "while True: pass"
    others = [subprocess.Popen([sys.executable, "-c", work]) for _ in range(2)]
    yield
    for other in others:
        other.kill()
        other.wait()


#: Looks at every picture of the page: which frame the readout names and which the canvas shows.
WATCH = """() => {
  const canvas = document.querySelector('canvas[role=img]');
  const pen = canvas.getContext('2d');
  const painted = () => {
    const strip = Math.max(8, Math.floor(canvas.height / 16));
    const y = canvas.height - Math.floor(strip / 2);
    const line = pen.getImageData(0, y, canvas.width, 1).data;
    const cells = Array.from({length: 24}, (_, i) =>
      line[4 * Math.floor((i + 0.5) * canvas.width / 24)] > 127 ? 1 : 0);
    const bits = cells.slice(2, 22);
    const parity = bits.reduce((a, b) => a + b, 0) & 1;
    const whole = cells[0] === 1 && cells[1] === 0 && cells[23] === 1 && cells[22] === parity;
    return whole ? bits.reduce((n, bit) => 2 * n + bit, 0) : null;
  };
  window.seen = {looks: 0, certain: 0, wrong: []};
  window.look = () => {
    const named = Number(document.querySelector('[data-testid=frame]').textContent);
    const certain = document.querySelector('[data-certain]').dataset.certain === 'true';
    const shown = painted();
    window.seen.looks += 1;
    window.seen.certain += certain;
    if (shown !== named) window.seen.wrong.push([named, shown, certain]);
    return shown;
  };
  const always = () => { window.look(); requestAnimationFrame(always); };
  always();
}"""


def play_and_stop(bench, chance, rounds):
    """Play and stop again and again; yields the frame that stays, marked where the third asks."""
    for number in range(rounds):
        bench.page.keyboard.press("Space")
        bench.page.wait_for_timeout(chance.uniform(30, 220))
        bench.page.keyboard.press("Space")
        bench.page.evaluate("look()")
        is_marked = number % 5 == 0
        if is_marked:
            # At once, while the exact picture may still be on its way.
            bench.page.keyboard.press("r")
        bench.page.wait_for_selector("[data-certain=true]")
        yield bench.page.evaluate("look()"), is_marked
        if bench.frame > 120:
            bench.seek(0.05)


@pytest.mark.parametrize(("kind", "way"), [*((k, "window") for k in PLAYED), ("60", "video")])
def test_what_is_painted_is_named_while_it_plays_and_when_it_stops(
    films, bench_of, trainer, kind, way, busy
):
    film, chance = cleaned(trainer, films[kind]), random.Random(kind)
    bench = bench_of(film, **({} if way == "window" else {"frames": way}))
    bench.page.evaluate(WATCH)
    marked = []
    for speed, rounds in (("0.25", ROUNDS // 4), ("1", ROUNDS - ROUNDS // 4)):
        bench.page.get_by_label("Speed").select_option(speed)
        bench.canvas.focus()
        bench.page.evaluate("document.activeElement.blur()")
        marked += [f for f, is_marked in play_and_stop(bench, chance, rounds) if is_marked]
    seen = bench.page.evaluate("seen")
    assert seen["wrong"] == []
    assert seen["looks"] > 5 * ROUNDS
    assert seen["certain"] >= ROUNDS
    bench.wait_saved()
    path = f"/api/sessions/{film['session_id']}/edits?after={film['after']}"
    said = trainer.ask("GET", path).json()["edits"]
    stored = {e["body"]["event"]["frame"] for e in said if e["body"]["op"] == "put"}
    assert stored == set(marked)


@pytest.mark.parametrize("way", ["window", "video", "server"])
def test_a_seek_while_it_plays_and_dragging_the_ribbon(films, bench_of, way):
    """Dragging shows pictures all the way, each under its own name."""
    film = films["29.97"]
    bench = bench_of(film, **({} if way == "window" else {"frames": way}))
    bench.page.evaluate(WATCH)
    for share in (0.2, 0.7, 0.4):
        if way != "server":
            bench.page.keyboard.press("Space")
            bench.page.wait_for_timeout(120)
        bench.seek(share)
        bench.page.wait_for_selector("[data-certain=true]")
    box = bench.page.get_by_role("slider", name="Session ribbon").bounding_box()
    y = box["y"] + box["height"] / 2
    bench.page.mouse.move(box["x"] + 0.1 * box["width"], y)
    bench.page.mouse.down()
    shown = set()
    for move in range(40):
        bench.page.mouse.move(box["x"] + (0.1 + 0.02 * move) * box["width"], y)
        bench.page.wait_for_timeout(40)
        shown.add(bench.page.evaluate("look()"))
    bench.page.mouse.up()
    bench.page.wait_for_selector("[data-certain=true]")
    assert bench.page.evaluate("seen.wrong") == []
    assert len(shown) > {"window": 20, "video": 15, "server": 8}[way]


def test_an_address_leads_to_its_instant(films, bench_of):
    film = films["variable"]
    times = decoded_times_us(film["path"])
    for frame in (0, 17, 100):
        bench = bench_of(film, t=f"{float(times[frame]) / 1e6:.6f}")
        assert bench.frame == frame
        check(bench, times)
