"""Pictures in their true shape: pixels that are not square, turned or not."""

from __future__ import annotations

from fractions import Fraction

import av
import cv2
import numpy as np
import pytest

from frequens.media.decode.frames import index_frames
from frequens.media.decode.probe import probe
from frequens.media.decode.stills import still
from frequens.media.ingest.review import make_review_copy

WIDTH, HEIGHT = 180, 144


def round_thing(pixel):
    """A white disc that is round once every pixel is `pixel` times as wide as high."""
    picture = np.zeros((HEIGHT, WIDTH, 3), np.uint8)
    across = 50 / pixel if pixel > 1 else 50
    down = 50 if pixel > 1 else 50 * pixel
    axes = (round(float(across)), round(float(down)))
    return cv2.ellipse(picture, (WIDTH // 2, HEIGHT // 2), axes, 0, 0, 360, (255,) * 3, -1)


@pytest.fixture
def film_with(tmp_path):
    def make(pixel):
        path = tmp_path / "film.mp4"
        with av.open(str(path), "w") as film:
            stream = film.add_stream("libx264", rate=25)
            stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuv420p"
            stream.codec_context.sample_aspect_ratio = pixel
            for _ in range(20):
                film.mux(stream.encode(av.VideoFrame.from_ndarray(round_thing(pixel), "bgr24")))
            film.mux(stream.encode(None))
        return path

    return make


def roundness(picture):
    """Width over height of what is white."""
    rows, columns = np.nonzero(picture[:, :, 1] > 128)
    return np.ptp(columns) / np.ptp(rows)


@pytest.mark.parametrize("pixel", [Fraction(64, 45), Fraction(16, 15), Fraction(8, 9), Fraction(1)])
@pytest.mark.parametrize("rotation", [0, 90])
def test_a_disc_is_round_on_copy_and_still(film_with, tmp_path, pixel, rotation):
    path = film_with(pixel)
    facts, index = probe(path), index_frames(path)
    ratio = float(pixel) * WIDTH / HEIGHT
    assert facts.width / facts.height == pytest.approx(ratio, rel=0.01)
    jpeg = still(path, index, 7, rotation)
    picture = cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR)
    assert roundness(picture) == pytest.approx(1, abs=0.03)
    copy = tmp_path / "copy.mp4"
    make_review_copy(path, copy, index, rotation)
    with av.open(str(copy)) as film:
        stream = film.streams.video[0]
        assert (stream.sample_aspect_ratio or 1) == 1
        shown = next(film.decode(stream)).to_ndarray(format="bgr24")
    assert roundness(shown) == pytest.approx(1, abs=0.03)
    # No line is lost: the shorter way is stretched.
    assert min(shown.shape[:2]) >= min(WIDTH, HEIGHT)


def test_what_no_camera_makes_is_taken_for_square(film_with):
    assert probe(film_with(Fraction(9, 2))).width == WIDTH
    assert probe(film_with(Fraction(4))).width == 4 * WIDTH


@pytest.mark.parametrize(("kind", "rotation"), [("60", 0), ("turned", 90), ("upside down", 180)])
def test_a_turned_film_is_as_wide_as_it_is_shown(film_of, kind, rotation):
    facts = probe(film_of(kind))
    assert (facts.width, facts.height, facts.rotation) == (320, 180, rotation)
