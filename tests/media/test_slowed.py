"""Slow motion told by the film's own words, and films that begin between key frames."""

from __future__ import annotations

from fractions import Fraction

import av
import pytest

from frequens.media.decode.frames import index_frames
from frequens.media.decode.probe import probe
from frequens.media.decode.slowed import slowed_by
from frequens.media.ingest.review import make_review_copy, same_times
from frequens.simulator.camera import FilmOptions, script_session, shoot


@pytest.mark.parametrize(
    ("said", "shown", "slowed"),
    [
        ({"com.android.capture.fps": "240.000000"}, Fraction(30), 8),
        ({"com.android.capture.fps": "120"}, Fraction(30000, 1001), 4),
        ({"com.android.capture.fps": "240"}, Fraction(240), 1),
        ({"com.android.capture.fps": "30"}, Fraction(30), 1),
        ({"com.android.capture.fps": "960"}, Fraction(30), 32),
        ({"com.android.capture.fps": "990"}, Fraction(30), 1),
        ({"com.android.capture.fps": "60"}, Fraction(30), 2),
        # Between two whole numbers nobody knows.
        ({"com.android.capture.fps": "75"}, Fraction(30), 1),
        ({"com.android.capture.fps": "fast"}, Fraction(30), 1),
        ({"com.android.capture.fps": "nan"}, Fraction(30), 1),
        ({"com.android.capture.fps": "9e9"}, Fraction(30), 1),
        ({"com.android.capture.fps": "240"}, None, 1),
        ({"encoder": "x"}, Fraction(30), 1),
    ],
)
def test_the_films_own_words_say_how_slow_it_plays(said, shown, slowed):
    assert slowed_by(said, shown) == slowed


@pytest.fixture(scope="module")
def slow(tmp_path_factory):
    """Filmed at 120 frames a second, written to play at 30, and saying so."""
    folder = tmp_path_factory.mktemp("slow")
    fast, slow = folder / "fast.mp4", folder / "slow.mp4"
    shoot(script_session(6, 3), fast, FilmOptions(Fraction(120), width=320, height=180))
    options = {"movflags": "use_metadata_tags"}
    with av.open(str(fast)) as source, av.open(str(slow), "w", options=options) as target:
        target.metadata["com.android.capture.fps"] = "120"
        picture = source.streams.video[0]
        stream = target.add_stream_from_template(picture)
        for packet in source.demux(picture):
            if packet.dts is not None:
                packet.pts, packet.dts = 4 * packet.pts, 4 * packet.dts
                packet.duration = 4 * (packet.duration or 0)
                packet.stream = stream
                target.mux(packet)
    return fast, slow


def test_a_slowed_film_is_measured_in_the_time_of_life(slow, tmp_path):
    fast, slowed = slow
    facts = probe(slowed)
    assert facts.slowed == 4
    assert probe(fast).slowed == 1
    index = index_frames(slowed, slowed=facts.slowed)
    real = index_frames(fast)
    assert index.times_us == real.times_us
    assert index_frames(slowed).duration_us == pytest.approx(4 * real.duration_us, abs=10)
    # The copy plays at the speed of life.
    copy = tmp_path / "copy.mp4"
    make_review_copy(slowed, copy, index, 0)
    assert same_times(real, index_frames(copy))


def decodable_pts(path):
    with av.open(str(path)) as container:
        return [frame.pts for frame in container.decode(video=0)]


@pytest.mark.parametrize("b_frames", [0, 3])
@pytest.mark.parametrize("codec", ["h264", "hevc"])
def test_a_film_that_begins_between_key_frames_shows_what_can_be_decoded(tmp_path, codec, b_frames):
    whole, cut = tmp_path / "whole.mp4", tmp_path / "cut.ts"
    options = FilmOptions(b_frames=b_frames, key_frame_every=40, codec=codec, width=320, height=180)
    shoot(script_session(5, 3), whole, options)
    with av.open(str(whole)) as source, av.open(str(cut), "w") as target:
        picture = source.streams.video[0]
        stream = target.add_stream_from_template(picture)
        for number, packet in enumerate(source.demux(picture)):
            if packet.dts is not None and number >= 17:
                packet.stream = stream
                target.mux(packet)
    index = index_frames(cut)
    assert list(index.pts) == decodable_pts(cut)
    assert index.dropped == 40 - 17
    assert len(index) == 150 - 40
