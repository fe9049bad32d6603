"""The sound lies where it sounded, through every container."""

from __future__ import annotations

import io
from fractions import Fraction

import av
import numpy as np
import pytest

from frequens.media.decode.frames import index_frames
from frequens.media.decode.probe import probe
from frequens.media.decode.samples import RATE, SamplePlacer
from frequens.media.sound.track import (
    FINE_RATE,
    FLOOR_DB,
    OVERVIEW_RATE,
    _FineWriter,
    placed_sound,
    read_sound,
)


def whole_sound(path):
    index = index_frames(path)
    origin = index.pts[0] * Fraction(*index.time_base)
    samples = np.zeros(round(index.duration_us / 1e6 * RATE) + RATE, np.float32)
    for position, block in placed_sound(path, origin):
        block = block[max(0, -position) :]
        start = max(0, position)
        end = min(len(samples), start + len(block))
        samples[start:end] = block[: max(0, end - start)]
    return samples


def first_loud(samples, around_s):
    """Where the sound first passes a tenth of full scale near an instant, seconds."""
    start = round((around_s - 0.06) * RATE)
    loud = np.flatnonzero(np.abs(samples[start : start + round(0.12 * RATE)]) > 0.1)
    return None if len(loud) == 0 else (start + int(loud[0])) / RATE


@pytest.mark.parametrize("kind", ["29.97", "start offset", "many B-frames", "vp9", "hevc"])
def test_clicks_lie_within_two_milliseconds_of_their_markers(kind, film_of, script):
    samples = whole_sound(film_of(kind))
    marked = [rep for rep in script.reps if rep.marker is not None and rep.step == "look"]
    assert marked
    for rep in marked:
        assert first_loud(samples, rep.marker) == pytest.approx(rep.marker, abs=0.002)


def test_the_overview_stands_out_at_clicks(film_of, script):
    path = film_of("60")
    overview = read_sound(path, index_frames(path)).overview
    for rep in script.reps:
        if rep.marker is not None:
            at = int(rep.marker * OVERVIEW_RATE)
            near = overview.click_db[max(0, at - 2) : at + 4]
            assert near.max() > np.median(overview.click_db) + 20
    rows = len(overview.to_bytes()) / 3
    assert rows == index_frames(path).duration_us * OVERVIEW_RATE // 1_000_000


def test_closely_a_click_stands_where_it_was_pressed(film_of, script):
    """To a millisecond, row after row, and as long as the film; the overview says the same."""
    path = film_of("start offset")
    index, file = index_frames(path), io.BytesIO()
    overview = read_sound(path, index, fine=file).overview
    rows = np.frombuffer(file.getvalue(), np.int8).reshape(-1, 3).astype(float)
    assert len(rows) == index.duration_us * FINE_RATE // 1_000_000
    markers = [rep.marker for rep in script.reps if rep.marker is not None]
    assert markers
    for marker in markers:
        around = rows[int((marker - 0.01) * FINE_RATE) : int((marker + 0.01) * FINE_RATE), 2]
        # The codec sounds a little before the click itself, 40 dB lower.
        risen = np.argmax(around > around.max() - 25) / FINE_RATE - 0.01
        assert abs(risen) <= 0.001
    each = FINE_RATE // OVERVIEW_RATE
    whole = rows[: len(overview.low) * each].reshape(-1, each, 3)
    np.testing.assert_array_equal(
        np.maximum(whole[:, :, 1].max(axis=1), 0), overview.high[: len(whole)]
    )


def test_closely_what_begins_late_or_early_keeps_its_place():
    samples = np.linspace(0.1, 0.9, 4800, dtype=np.float32)
    for position in (-1000, 0, 777):
        file = io.BytesIO()
        writer = _FineWriter(file, 300)
        for start in range(0, len(samples), 1024):
            block = samples[start : start + 1024]
            writer.add(position + start, block, block)
        writer.finish()
        rows = np.frombuffer(file.getvalue(), np.int8).reshape(-1, 3)
        assert len(rows) == 300
        track = np.zeros(300 * 24, np.float32)
        first = max(0, position)
        heard = samples[max(0, -position) :][: len(track) - first]
        track[first : first + len(heard)] = heard
        groups = track.reshape(-1, 24)
        np.testing.assert_array_equal(rows[:, 0], np.round(groups.min(axis=1) * 127))
        np.testing.assert_array_equal(rows[:, 1], np.round(groups.max(axis=1) * 127))


def test_what_is_louder_than_can_be_written_is_as_loud_as_can_be():
    """Films hold sound as floating numbers, too, and those may pass full scale."""
    file = io.BytesIO()
    writer = _FineWriter(file, 2)
    wave = np.repeat(np.array([-1.5, 1.5, -0.5, 0.5], np.float32), _FineWriter.GROUP // 2)
    writer.add(0, wave, wave)
    writer.finish()
    rows = np.frombuffer(file.getvalue(), np.int8).reshape(-1, 3)
    assert rows[:, :2].tolist() == [[-128, 127], [-64, 64]]


def test_a_silent_film_has_no_overview(film_of, tmp_path):
    silent = tmp_path / "silent.mp4"
    with av.open(str(film_of("60"))) as source, av.open(str(silent), "w") as target:
        stream = source.streams.video[0]
        copy = target.add_stream_from_template(stream)
        for packet in source.demux(stream):
            if packet.dts is not None:
                packet.stream = copy
                target.mux(packet)
    assert read_sound(silent, index_frames(silent)) is None


def placed(*starts_and_lengths):
    """Blocks of ones fed at these sample positions, as the placer lays them."""
    placer = SamplePlacer(Fraction(0))
    laid = []
    for start, length in starts_and_lengths:
        frame = av.AudioFrame.from_ndarray(
            np.ones((1, length), np.float32), format="fltp", layout="mono"
        )
        frame.sample_rate, frame.pts, frame.time_base = RATE, start, Fraction(1, RATE)
        laid += list(placer.feed(frame))
    laid += list(placer.feed(None))
    return laid


def test_missing_sound_is_filled_with_silence_and_later_sound_keeps_its_place():
    laid = placed((0, 1024), (10 * 1024, 1024))
    together = np.concatenate([samples for _, samples in laid])
    assert len(together) == 11 * 1024
    assert together[1024 : 10 * 1024].sum() == 0
    assert together[10 * 1024] == 1


def test_small_jitter_is_rounding_not_a_gap():
    laid = placed((0, 1024), (1024 + 100, 1024), (2048 - 90, 1024))
    assert sum(len(samples) for _, samples in laid) == 3 * 1024


def test_overlapping_sound_is_cut():
    laid = placed((0, 4096), (1024, 4096))
    assert sum(len(samples) for _, samples in laid) == 1024 + 4096


def test_silence_sits_at_the_floor():
    from frequens.media.sound.track import _OverviewBuilder

    builder = _OverviewBuilder(10)
    silence = np.zeros(2400, np.float32)
    builder.add(0, silence, silence)
    assert (builder.overview().click_db == FLOOR_DB).all()


@pytest.mark.parametrize("heard", [1, 2, RATE // OVERVIEW_RATE])
def test_a_level_is_the_mean_of_what_was_heard_of_it(heard):
    """A tenth of full scale is -20 dB, whether a stretch was heard whole or a sample of it."""
    from frequens.media.sound.track import _OverviewBuilder

    builder = _OverviewBuilder(3)
    tone = np.full(heard, 0.1, np.float32)
    builder.add(0, tone, tone)
    assert builder.overview().click_db.tolist() == [-20, FLOOR_DB, FLOOR_DB]


@pytest.mark.parametrize("block", [1, 7, 100, 251])
def test_an_overview_is_the_same_by_blocks_of_any_length(block):
    from frequens.media.sound.track import _OverviewBuilder

    rising = np.linspace(-0.9, 0.8, 1200, dtype=np.float32)
    whole, by_blocks = _OverviewBuilder(5), _OverviewBuilder(5)
    whole.add(0, rising, rising / 2)
    for start in range(0, len(rising), block):
        part = rising[start : start + block]
        by_blocks.add(start, part, part / 2)
    assert by_blocks.overview().to_bytes() == whole.overview().to_bytes()
    # And it is something: the level of a ramp's halves, by their mean square.
    stretches = (rising.astype(float) / 2).reshape(5, -1)
    levels = 10 * np.log10(np.mean(stretches**2, axis=1))
    assert whole.overview().click_db.tolist() == np.round(levels).astype(int).tolist()


@pytest.mark.parametrize(("container", "is_late"), [("mpegts", True), ("mp4", False)])
def test_the_sound_of_a_broadcast_stream_may_be_late(tmp_path, container, is_late):
    path = tmp_path / "film"
    with av.open(str(path), "w", format=container) as target:
        stream = target.add_stream("libx264", 30)
        stream.width, stream.height = 64, 48
        for _ in range(30):
            picture = np.zeros((48, 64, 3), np.uint8)
            target.mux(stream.encode(av.VideoFrame.from_ndarray(picture)))
        target.mux(stream.encode(None))
    found = probe(path)
    assert found.sound_late == is_late
    assert found.duration_s == pytest.approx(1.0, abs=0.05)
