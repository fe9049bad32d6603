"""The review copy: the same frames at the same times, upright, quick to seek in."""

from __future__ import annotations

import shutil
import subprocess
from dataclasses import replace

import av
import pytest

from frequens.media.decode.container import FilmFault
from frequens.media.decode.frames import FrameIndex, index_frames
from frequens.media.decode.probe import probe
from frequens.media.ingest.review import ReviewOptions, make_review_copy, same_times
from frequens.simulator.camera.strip import read_number
from tests.long import few

from .conftest import KINDS
from .test_frames import decoded_pts
from .test_sound import first_loud, whole_sound


@pytest.fixture
def copy_of(film_of, tmp_path):
    def copy(kind, **options):
        path, made = film_of(kind), tmp_path / "review.mp4"
        make_review_copy(
            path, made, index_frames(path), probe(path).rotation, ReviewOptions(**options)
        )
        return made

    return copy


@pytest.mark.parametrize(("last", "is_same"), [(14_000, True), (14_001, False)])
def test_times_are_told_from_each_ones_own_first_frame_in_its_own_units(last, is_same):
    one = FrameIndex((1, 30), (4, 5, 7))
    other = FrameIndex((1, 90_000), (5_000, 8_000, last))
    assert same_times(one, other) is is_same
    assert same_times(other, one) is is_same
    assert not same_times(one, FrameIndex((1, 30), (4, 5)))


@pytest.mark.parametrize("kind", few(5, KINDS))
def test_the_copy_shows_the_same_frames_at_the_same_times(kind, film_of, copy_of):
    made = copy_of(kind)
    original, again = index_frames(film_of(kind)), index_frames(made)
    assert same_times(original, again)
    assert again.pts[0] == 0
    assert list(again.pts) == decoded_pts(made)
    with av.open(str(made)) as container:
        numbers = [read_number(f.to_ndarray(format="bgr24")) for f in container.decode(video=0)]
    assert numbers == list(range(len(original)))


def test_the_copy_is_h264_without_b_frames_and_key_frames_are_close(copy_of):
    with av.open(str(copy_of("many B-frames"))) as container:
        stream = container.streams.video[0]
        assert stream.codec_context.name == "h264"
        packets = [p for p in container.demux(stream) if p.size]
    assert [p.pts for p in packets] == [p.dts for p in packets]
    keys = [place for place, p in enumerate(packets) if p.is_keyframe]
    gaps = [b - a for a, b in zip(keys, [*keys[1:], len(packets)], strict=True)]
    assert keys[0] == 0
    assert max(gaps) <= 12


def test_sound_keeps_its_place_beside_the_picture_in_the_copy(copy_of, script):
    samples = whole_sound(copy_of("start offset"))
    for rep in script.reps:
        if rep.marker is not None and rep.step == "look":
            assert first_loud(samples, rep.marker) == pytest.approx(rep.marker, abs=0.002)


def test_the_copy_begins_with_its_table_of_contents(copy_of):
    head = copy_of("60").read_bytes()
    assert head.index(b"moov") < head.index(b"mdat")


def test_a_turned_film_comes_upright_and_smaller(copy_of):
    made = probe(copy_of("turned", lines=90))
    assert (made.width, made.height, made.rotation) == (160, 90, 0)


def test_a_copy_that_differs_is_refused(film_of, tmp_path):
    """An index that promises one frame more than the film has: the copy cannot match it."""
    path = film_of("60")
    index = index_frames(path)
    promised = replace(index, pts=(*index.pts, index.pts[-1] + 1000))
    with pytest.raises(FilmFault) as fault:
        make_review_copy(path, tmp_path / "review.mp4", promised, 0)
    assert fault.value.code == "copy_differs"


@pytest.mark.skipif(shutil.which("ffprobe") is None, reason="ffprobe is not on this machine")
@pytest.mark.parametrize("kind", ["start offset", "turned", "hevc"])
def test_another_program_reads_the_same_times_from_the_copy(kind, copy_of):
    made = copy_of(kind)
    command = "ffprobe -v error -select_streams v -show_entries frame=pts -of csv=p=0"
    said = subprocess.run([*command.split(), str(made)], capture_output=True, text=True, check=True)
    assert [int(line.strip(",")) for line in said.stdout.split()] == list(index_frames(made).pts)
