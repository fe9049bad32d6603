"""Frame times from packets alone, against the decoder's own."""

from __future__ import annotations

import itertools
from fractions import Fraction
from pathlib import Path

import av
import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.media.decode.container import FilmFault
from frequens.media.decode.frames import FrameIndex, _check_whole, index_frames
from frequens.media.decode.limits import Limits
from frequens.media.decode.wholeness import missing_bytes
from frequens.media.ingest.review import make_review_copy
from frequens.simulator.camera.film import frame_ticks
from tests.long import few

from .conftest import KINDS, LENGTH_S, REMUXED, remuxed
from .edit_lists import played, trimmed


def decoded_pts(path: Path) -> list[int]:
    """What a decoder shows, in order: the outside reference (PyAV)."""
    with av.open(str(path)) as container:
        return [frame.pts for frame in container.decode(video=0)]


@pytest.mark.parametrize("kind", KINDS)
def test_packets_alone_give_the_decoders_frame_times(kind, film_of):
    path = film_of(kind)
    assert list(index_frames(path).pts) == decoded_pts(path)


@pytest.mark.parametrize("kind", [k for k, (end, _) in KINDS.items() if end in (".mp4", ".mov")])
def test_a_film_keeps_the_times_it_was_shot_at(kind, film_of, script):
    index = index_frames(film_of(kind))
    base, stamps = frame_ticks(KINDS[kind][1], script.length_s, script.seed)
    assert [p * Fraction(*index.time_base) for p in index.pts] == [s * base for s in stamps]


def test_microseconds_are_exact_to_half_a_microsecond(film_of):
    index = index_frames(film_of("variable"))
    base = Fraction(*index.time_base)
    for pts, us in zip(index.pts, index.times_us, strict=True):
        assert abs((pts - index.pts[0]) * base * 1_000_000 - us) <= Fraction(1, 2)


def test_a_film_trimmed_by_an_edit_list_shows_only_what_is_left(film_of, tmp_path):
    """Frames before zero are kept in the file for decoding, and not shown."""
    trimmed = tmp_path / "trimmed.mp4"
    with av.open(str(film_of("29.97"))) as source, av.open(str(trimmed), "w") as target:
        stream = source.streams.video[0]
        copy = target.add_stream_from_template(stream)
        for packet in source.demux(stream):
            if packet.dts is None:
                continue
            packet.pts -= round(0.5 / packet.time_base)
            packet.dts -= round(0.5 / packet.time_base)
            packet.stream = copy
            target.mux(packet)
    index = index_frames(trimmed)
    assert list(index.pts) == decoded_pts(trimmed)
    assert index.dropped > 0


def test_widths_and_lookups_on_uneven_frames():
    index = FrameIndex((1, 1000), (0, 40, 60, 140))
    assert index.times_us == (0, 40_000, 60_000, 140_000)
    assert [index.width_us(f) for f in range(4)] == [40_000, 40_000, 20_000, 80_000]
    assert index.duration_us == 180_000
    assert [index.showing(t) for t in (-5, 0, 39_999, 40_000, 139_999, 10**9)] == [0, 0, 0, 1, 2, 3]
    assert [index.first_after(t) for t in (0, 1, 40_000, 40_001, 10**9)] == [0, 1, 1, 2, 3]


@given(
    st.lists(st.integers(0, 10**7), min_size=1, max_size=60, unique=True).map(sorted),
    st.integers(-(10**6), 2 * 10**8),
)
def test_an_instant_lies_in_the_interval_of_its_mark(pts, t_us):
    """A mark on the first frame after an instant encloses it: (t - width, t]."""
    index = FrameIndex((1, 90_000), tuple(pts))
    frame = index.first_after(t_us)
    if index.times_us[0] < t_us <= index.times_us[-1]:
        assert index.times_us[frame] - index.width_us(frame) < t_us <= index.times_us[frame]
    shown = index.showing(t_us)
    assert shown == 0 or index.times_us[shown] <= t_us


@given(st.lists(st.integers(-5_000, 10**9), min_size=1, max_size=60, unique=True).map(sorted))
def test_runs_unfold_to_every_frame(pts):
    index = FrameIndex((1, 1000), tuple(pts))
    intervals = [ticks for ticks, often in index.runs for _ in range(often)]
    assert list(itertools.accumulate(intervals, initial=pts[0])) == pts
    assert all(one != other for (one, _), (other, _) in itertools.pairwise(index.runs))


def test_an_index_survives_saving(film_of, tmp_path):
    index = index_frames(film_of("turned"))
    index.save(tmp_path / "index.json")
    assert FrameIndex.load(tmp_path / "index.json") == index


def test_more_frames_than_allowed_are_refused_before_they_pile_up(film_of):
    with pytest.raises(FilmFault) as fault:
        index_frames(film_of("120"), Limits(most_frames=100))
    assert fault.value.code == "too_many_frames"


def test_progress_runs_from_nothing_to_the_whole(film_of):
    shares: list[float] = []
    index_frames(film_of("120"), report=shares.append)
    assert shares == sorted(shares)
    assert 0 < shares[0] < 0.6
    assert len(shares) >= 120 * LENGTH_S // 256 - 1


@pytest.mark.parametrize("kind", few(2, ["29.97", "many B-frames", "no B-frames", "hevc"]))
@pytest.mark.parametrize(("from_s", "length_s"), [(0, 3), (2, 4), (3.5, 1.2), (0.5, 5.5)])
def test_a_film_trimmed_on_the_phone_is_read_as_it_is_shown(
    film_of, tmp_path, kind, from_s, length_s
):
    """An edit list leaves frames out at either end; the decoder's frames are the judge."""
    path = trimmed(film_of(kind), tmp_path / "trimmed.mp4", from_s, length_s)
    index = index_frames(path)
    assert list(index.pts) == decoded_pts(path)
    assert index.duration_us == pytest.approx(length_s * 1e6, abs=60_000)


@pytest.mark.parametrize("kind", few(2, ["many B-frames", "start offset", "120", "hevc"]))
@pytest.mark.parametrize(
    "edits",
    [
        [(0, 6, 0.125)],
        [(0, 2, 1), (2, 4, 0.25), (4, 6, 1)],
        [(1, 2, 1), (2, 4, 0.25), (4, 5, 1)],
        [(1.5, 4.5, 2)],
    ],
    ids=["all slow", "a stretch slow", "a stretch slow, trimmed", "fast, trimmed"],
)
def test_a_film_slowed_by_an_edit_list_is_read_by_the_clock_of_its_frames(
    film_of, tmp_path, kind, edits
):
    """Against the film as it was before it was slowed: the same frames at the same times."""
    plain = remuxed(film_of(kind), tmp_path / "plain.mp4", {})
    path = played(plain, tmp_path / "slow.mp4", *edits)
    whole = index_frames(plain)
    begin, end = edits[0][0] * 1_000_000, edits[-1][1] * 1_000_000
    # The first frame of such a film may stand a little behind its beginning.
    lead = whole.pts[0] * Fraction(*whole.time_base) if kind != "start offset" else 0
    expected = [us for us in whole.times_us if begin <= us + lead < end]
    index = index_frames(path)
    assert list(index.times_us) == [us - expected[0] for us in expected]
    make_review_copy(path, tmp_path / "copy.mp4", index, 0)


@pytest.mark.parametrize("share", [0.4, 0.9, 0.995])
@pytest.mark.parametrize("kind", ["fast start", "fragmented", "odd offset, variable, matroska"])
def test_a_film_whose_end_is_missing_is_told_and_says_what_is_there(film_of, tmp_path, kind, share):
    if kind == "fast start":
        whole = tmp_path / "whole.mp4"
        remuxed(film_of("60"), whole, {"movflags": "faststart"})
    else:
        whole = film_of(kind)
    assert missing_bytes(whole) == 0
    body = whole.read_bytes()
    path = tmp_path / f"short{whole.suffix}"
    path.write_bytes(body[: int(len(body) * share)])
    with pytest.raises(FilmFault) as fault:
        index_frames(path)
    assert fault.value.code == "cut_off"
    assert "promises more than the 0:0" in str(fault.value)


@pytest.mark.parametrize("kind", [*KINDS, *REMUXED])
def test_a_whole_film_misses_nothing(film_of, kind):
    assert missing_bytes(film_of(kind)) == 0


@pytest.mark.parametrize(
    ("promised_s", "missing_s"), [(20, 2.0), (20, 1.0), (100, 5.0), (100, 4.9)]
)
def test_what_a_header_may_promise_too_much_is_two_seconds_or_a_twentieth(promised_s, missing_s):
    base = Fraction(1, 1000)
    there = round(1000 * (promised_s - missing_s))
    _check_whole([40, 40 + there], 1000 * promised_s, base)
    if missing_s in (2.0, 5.0):
        with pytest.raises(FilmFault, match="cut off"):
            _check_whole([40, 40 + there - 1], 1000 * promised_s, base)


@pytest.mark.parametrize("promised", [None, 0])
def test_a_header_that_promises_nothing_is_held_to_nothing(promised):
    _check_whole([0, 1], promised, Fraction(1, 1000))
