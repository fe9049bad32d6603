"""Exactness: the frame the readout names is the frame on the canvas, wherever one goes.

The simulated camera paints each frame's number into it; the number is read back from the
canvas's own pixels.
"""

from __future__ import annotations

import random
import shutil

import pytest

from frequens.media.decode.frames import FrameIndex, index_frames
from frequens.media.ingest.review import make_review_copy
from tests.long import few

from .exact import FILMS, TakenIn, check, decoded_times_us

KINDS = [kind for kind in FILMS if kind not in ("30", "HEVC", "AV1")]
MANY, SOME = 32, 12


@pytest.fixture(scope="module")
def films(trainer, tmp_path_factory):
    return TakenIn(trainer, tmp_path_factory.mktemp("exact"))


# The counts over all films make 224 seeks and 224 steps each way, in the default way.
@pytest.mark.parametrize(
    ("kind", "way", "count"),
    few(
        1,
        [
            # The most awkward film.
            ("variable", "window", SOME),
            *((kind, "window", MANY) for kind in KINDS),
            *(("B-frames", way, SOME) for way in ("video", "server")),
            *(("turned", way, SOME) for way in ("video", "server")),
            ("start offset", "video", SOME),
        ],
    ),
)
def test_the_canvas_shows_the_frame_the_readout_names(films, bench_of, kind, way, count):
    film, chance = films[kind], random.Random(f"{kind} {way}")
    times = decoded_times_us(film["path"])
    bench = bench_of(film, **({} if way == "window" else {"frames": way}))
    seen = set()
    for _ in range(count):
        bench.seek(chance.random())
        check(bench, times)
        seen.add(bench.frame)
    assert len(seen) > 8
    bench.seek(0.4)
    for key in ("ArrowRight", "ArrowLeft"):
        before = bench.frame
        for step in range(1, count + 1):
            bench.page.keyboard.press(key)
            assert bench.settle() == before + (step if key == "ArrowRight" else -step)
            check(bench, times)


def test_the_ends_of_the_film_can_be_reached_and_not_passed(films, bench_of):
    film = films["variable"]
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


@pytest.mark.long
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


@pytest.mark.long
def test_an_address_leads_to_its_instant(films, bench_of):
    film = films["variable"]
    times = decoded_times_us(film["path"])
    for frame in (0, 17, 100):
        bench = bench_of(film, t=f"{float(times[frame]) / 1e6:.6f}")
        assert bench.frame == frame
        check(bench, times)
