"""Exactness while a film plays and when it stops: what is painted is what is named.

The numbers painted in the frames are read back from the canvas with every picture of the page.
"""

from __future__ import annotations

import random
import subprocess
import sys

import pytest

from tests.long import few

from .conftest import PAINTED, cleaned
from .exact import TakenIn

#: Those that are played and stopped again and again.
PLAYED = ("30", "60", "120", "variable", "start offset", "HEVC", "AV1")
MANY, SOME = 100, 28


@pytest.fixture(scope="module")
def films(trainer, tmp_path_factory):
    return TakenIn(trainer, tmp_path_factory.mktemp("played"))


@pytest.fixture
def busy(kind):
    """Two cores that have something else to do; for one kind only, as all others wait for it.

    They end with whoever began them, however that ends.
    """
    work = "import os\nbegun_by = os.getppid()\nwhile os.getppid() == begun_by: pass"
    is_busy = kind == "60"
    others = [subprocess.Popen([sys.executable, "-c", work]) for _ in range(2 * is_busy)]
    yield
    for other in others:
        other.kill()
        other.wait()


#: Looks at every picture of the page: which frame the readout names and which the canvas shows.
WATCH = """() => {
  const painted = PAINTED;
  const canvas = document.querySelector('canvas[role=img]');
  window.seen = {looks: 0, certain: 0, wrong: []};
  window.look = () => {
    const named = Number(document.querySelector('[data-testid=frame]').textContent);
    const certain = document.querySelector('[data-certain]').dataset.certain === 'true';
    const shown = painted(canvas);
    window.seen.looks += 1;
    window.seen.certain += certain;
    if (shown !== named) window.seen.wrong.push([named, shown, certain]);
    return shown;
  };
  const always = () => { window.look(); requestAnimationFrame(always); };
  always();
}""".replace("PAINTED", PAINTED)


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


@pytest.mark.parametrize(
    ("kind", "way", "rounds"),
    few(
        1,
        [
            ("variable", "window", SOME),
            *((kind, "window", MANY) for kind in PLAYED),
            ("60", "video", MANY),
        ],
    ),
)
def test_what_is_painted_is_named_while_it_plays_and_when_it_stops(
    films, bench_of, trainer, kind, way, rounds, busy
):
    film, chance = cleaned(trainer, films[kind]), random.Random(kind)
    bench = bench_of(film, **({} if way == "window" else {"frames": way}))
    bench.page.evaluate(WATCH)
    marked = []
    for speed, times in (("0.25", rounds // 4), ("1", rounds - rounds // 4)):
        bench.page.get_by_label("Speed").select_option(speed)
        bench.canvas.focus()
        bench.page.evaluate("document.activeElement.blur()")
        marked += [f for f, is_marked in play_and_stop(bench, chance, times) if is_marked]
    seen = bench.page.evaluate("seen")
    assert seen["wrong"] == []
    assert seen["looks"] > 5 * rounds
    assert seen["certain"] >= rounds
    bench.wait_saved()
    path = f"/api/sessions/{film['session_id']}/edits?after={film['after']}"
    said = trainer.ask("GET", path).json()["edits"]
    stored = {e["body"]["event"]["frame"] for e in said if e["body"]["op"] == "put"}
    assert stored == set(marked)


@pytest.mark.long
@pytest.mark.parametrize("way", ["window", "video", "server"])
def test_a_seek_while_it_plays_and_dragging_the_ribbon(films, bench_of, way):
    """Dragging shows pictures all the way, each under its own name."""
    film = films["variable"]
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
