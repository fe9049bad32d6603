"""Single frames decoded by the server: the right one, upright, and in a process of their own."""

from __future__ import annotations

import os
import random
import signal
from concurrent.futures import ThreadPoolExecutor

import cv2
import numpy as np
import pytest

from frequens.media.decode import container, stills
from frequens.media.decode.container import FilmFault
from frequens.media.decode.frames import index_frames
from frequens.media.decode.probe import probe
from frequens.media.decode.stills import StillReader, still
from frequens.media.ingest import still_server
from frequens.media.ingest.still_server import still_from_child
from frequens.simulator.camera.strip import read_number
from tests.house import PATIENCE_S
from tests.long import few

from .conftest import REMUXED


def number_of(jpeg):
    return read_number(cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR))


@pytest.mark.parametrize(
    "kind",
    few(6, ["29.97", "many B-frames", "variable", "turned", "hevc", "vp9", *REMUXED]),
)
def test_a_still_is_the_frame_asked_for(kind, film_of):
    path = film_of(kind)
    index, rotation = index_frames(path), probe(path).rotation
    chance = random.Random(kind)
    # Around every key frame too: some need what stands before them.
    keys = {n + by for n in range(0, len(index), 30) for by in (-1, 0, 1)} & set(range(len(index)))
    for frame in {*keys, len(index) - 1, *(chance.randrange(len(index)) for _ in range(8))}:
        assert number_of(still(path, index, frame, rotation)) == frame


def test_a_still_is_no_larger_than_asked_for(film_of):
    path = film_of("60")
    jpeg = still(path, index_frames(path), 3, 0, lines=90)
    assert cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR).shape == (90, 160, 3)


def test_one_reader_gives_each_still_as_it_is_asked_for(film_of):
    path = film_of("60")
    with StillReader(path, index_frames(path)) as reader:

        def shape(frame, rotation, lines):
            jpeg = np.frombuffer(reader.still(frame, rotation, lines), np.uint8)
            return cv2.imdecode(jpeg, cv2.IMREAD_COLOR).shape

        # One after another, so that the film stays open.
        assert shape(3, 0, 90) == (90, 160, 3)
        assert shape(4, 90, 90) == (160, 90, 3)
        assert shape(5, 90, 45) == (80, 45, 3)


#: The first entries of the usual table of brightness, as a file holds them (ITU-T T.81, table
#: K.1, in zig-zag order; from memory).
USUAL_TABLE = (16, 11, 12, 14, 12, 10, 16, 14, 13, 14, 18, 17, 16, 19, 24, 40)


def test_a_still_is_written_in_quality_88(film_of):
    """By the rule of the Independent JPEG Group: above 50 each entry by (200 - 2 q) per cent."""
    path = film_of("60")
    jpeg = still(path, index_frames(path), 3, 0)
    table = jpeg[jpeg.index(b"\xff\xdb") + 5 :][: len(USUAL_TABLE)]
    percent = 200 - 2 * 88
    assert list(table) == [max(1, (entry * percent + 50) // 100) for entry in USUAL_TABLE]


@pytest.mark.parametrize("frame", [-1, 10**6])
def test_a_frame_the_film_does_not_have(film_of, frame):
    path = film_of("60")
    with pytest.raises(IndexError, match="must lie from 0 to"):
        still(path, index_frames(path), frame, 0)


@pytest.fixture
def saved_index(film_of, tmp_path):
    index_frames(film_of("60")).save(tmp_path / "index.json")
    return tmp_path / "index.json"


def kill(path):
    os.kill(still_server._processes[path]._process.pid, signal.SIGKILL)


def test_a_child_answers_again_and_again_and_after_it_was_killed(film_of, saved_index):
    path = film_of("60")
    for frame in (5, 200, 6):
        assert number_of(still_from_child(path, saved_index, frame, 0, 720)) == frame
    kill(path)
    assert number_of(still_from_child(path, saved_index, 7, 0, 720)) == 7


def test_one_that_is_killed_again_and_again_is_told_without_blame(
    film_of, saved_index, monkeypatch
):
    path = film_of("60")
    still_from_child(path, saved_index, 1, 0, 720)
    ask = still_server._StillProcess.still

    def killed(process, *args):
        process._process.kill()
        return ask(process, *args)

    monkeypatch.setattr(still_server._StillProcess, "still", killed)
    with pytest.raises(FilmFault) as fault:
        still_from_child(path, saved_index, 7, 0, 720)
    assert fault.value.code == "crashed"
    assert "damaged" not in str(fault.value)
    monkeypatch.undo()
    assert number_of(still_from_child(path, saved_index, 7, 0, 720)) == 7


def test_a_decoder_that_hangs_is_given_up(film_of, saved_index, monkeypatch):
    path = film_of("60")
    still_from_child(path, saved_index, 1, 0, 720)
    os.kill(still_server._processes[path]._process.pid, signal.SIGSTOP)
    monkeypatch.setattr(still_server, "DEADLINE_S", 0.3)
    with pytest.raises(FilmFault) as fault:
        still_from_child(path, saved_index, 7, 0, 720)
    assert fault.value.code == "too_slow"
    monkeypatch.undo()
    assert number_of(still_from_child(path, saved_index, 7, 0, 720)) == 7


def test_those_who_wait_for_one_that_is_given_up_get_another(film_of, saved_index, monkeypatch):
    path = film_of("60")
    still_from_child(path, saved_index, 1, 0, 720)
    os.kill(still_server._processes[path]._process.pid, signal.SIGSTOP)
    monkeypatch.setattr(still_server, "DEADLINE_S", 1.5)
    forget = still_server._forget

    def forgotten(*given):
        # Only the one that hangs is short of time; a new one may take its time to start.
        monkeypatch.setattr(still_server, "DEADLINE_S", 60)
        forget(*given)

    monkeypatch.setattr(still_server, "_forget", forgotten)

    def ask(frame):
        try:
            return number_of(still_from_child(path, saved_index, frame, 0, 720))
        except FilmFault as fault:
            return fault.code

    with ThreadPoolExecutor(4) as askers:
        got = list(askers.map(ask, [3, 4, 5, 6]))
    assert got.count("too_slow") == 1
    assert sorted(n for n in got if n != "too_slow") == [
        n for n, said in zip((3, 4, 5, 6), got, strict=True) if said != "too_slow"
    ]


def test_the_next_frame_does_not_open_the_film_again(film_of, monkeypatch):
    path = film_of("60")
    index = index_frames(path)
    opened = []
    monkeypatch.setattr(
        stills, "open_film", lambda path: opened.append(path) or container.open_film(path)
    )
    with StillReader(path, index) as reader:
        for frame in (100, 101, 102, 130, 131):
            assert number_of(reader.still(frame, 0)) == frame
        assert len(opened) == 1
        for frame in (90, 300):
            assert number_of(reader.still(frame, 0)) == frame
        assert len(opened) == 3


@pytest.mark.long
def test_twenty_films_at_once_each_get_their_picture(film_of, tmp_path, monkeypatch):
    """More films than decoders, each asked twice by many at once: none is refused."""
    # Whoever waits is told after a while; how soon a loaded machine is through is not asked here.
    monkeypatch.setattr(still_server, "DEADLINE_S", PATIENCE_S)
    kinds = ["60", "29.97", "hevc", "many B-frames", "vp9"]
    films = []
    for n in range(20):
        source = film_of(kinds[n % len(kinds)])
        path = tmp_path / f"{n}{source.suffix}"
        path.hardlink_to(source)
        index_frames(path).save(tmp_path / f"{n}.json")
        films.append((path, tmp_path / f"{n}.json", 10 + n))
    with ThreadPoolExecutor(12) as askers:
        got = askers.map(lambda film: still_from_child(*film, 0, 720), films * 2)
        assert [number_of(jpeg) for jpeg in got] == [frame for *_, frame in films] * 2
    assert len(still_server._processes) <= 2
