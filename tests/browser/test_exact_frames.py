"""Exactness: the frame the readout names is the frame on the canvas, every time.

The simulated camera paints each frame's number into it; the number is read back from the
canvas's own pixels. Frame times are held against PyAV's decoder, to the microsecond.
"""

from __future__ import annotations

import random
from fractions import Fraction

import av
import pytest

from .conftest import shot_film

FILMS = {
    "29.97": {"fps": Fraction(30000, 1001)},
    "60": {"fps": Fraction(60)},
    "120": {"fps": Fraction(120)},
    "variable": {"variable": True},
    "B-frames": {"b_frames": 4, "key_frame_every": 250},
    "start offset": {"start_offset_s": 1.37},
    "turned": {"rotation": 90},
}
SEEKS, STEPS = 32, 32


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
        *((kind, "window") for kind in FILMS),
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


@pytest.mark.parametrize("kind", ["29.97", "variable", "start offset"])
def test_after_playing_the_frame_that_stays_is_the_one_named(films, bench_of, kind):
    film = films[kind]
    bench = bench_of(film)
    times = decoded_times_us(film["path"])
    for speed in ("0.25", "1"):
        bench.page.get_by_label("Speed").select_option(speed)
        before = bench.seek(0.1)
        bench.page.keyboard.press("Space")
        bench.page.wait_for_function(
            f"() => Number(document.querySelector('canvas[role=img]').dataset.frame) > {before + 5}"
        )
        bench.page.keyboard.press("Space")
        bench.settle()
        check(bench, times)


def test_an_address_leads_to_its_instant(films, bench_of):
    film = films["variable"]
    times = decoded_times_us(film["path"])
    for frame in (0, 17, 100):
        bench = bench_of(film, t=f"{float(times[frame]) / 1e6:.6f}")
        assert bench.frame == frame
        check(bench, times)
