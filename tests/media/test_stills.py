"""Single frames decoded by the server: the right one, upright, and in a process of their own."""

from __future__ import annotations

import os
import random
import signal

import cv2
import numpy as np
import pytest

from frequens.media import still_server
from frequens.media.camera.strip import read_number
from frequens.media.container import FilmFault
from frequens.media.frames import index_frames
from frequens.media.probe import probe
from frequens.media.still_server import still_from_child
from frequens.media.stills import still


def number_of(jpeg):
    return read_number(cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR))


@pytest.mark.parametrize("kind", ["29.97", "many B-frames", "variable", "turned", "hevc", "vp9"])
def test_a_still_is_the_frame_asked_for(kind, film_of):
    path = film_of(kind)
    index, rotation = index_frames(path), probe(path).rotation
    chance = random.Random(kind)
    for frame in {0, len(index) - 1, *(chance.randrange(len(index)) for _ in range(8))}:
        assert number_of(still(path, index, frame, rotation)) == frame


def test_a_still_is_no_larger_than_asked_for(film_of):
    path = film_of("60")
    jpeg = still(path, index_frames(path), 3, 0, lines=90)
    assert cv2.imdecode(np.frombuffer(jpeg, np.uint8), cv2.IMREAD_COLOR).shape == (90, 160, 3)


@pytest.mark.parametrize("frame", [-1, 10**6])
def test_a_frame_the_film_does_not_have(film_of, frame):
    path = film_of("60")
    with pytest.raises(IndexError, match="must lie from 0 to"):
        still(path, index_frames(path), frame, 0)


@pytest.fixture
def saved_index(film_of, tmp_path):
    index_frames(film_of("60")).save(tmp_path / "index.json")
    return tmp_path / "index.json"


def test_a_child_answers_again_and_again_and_after_it_was_killed(film_of, saved_index):
    path = film_of("60")
    assert [number_of(still_from_child(path, saved_index, n, 0, 720)) for n in (5, 200, 6)] == [
        5,
        200,
        6,
    ]
    os.kill(still_server._processes[path]._process.pid, signal.SIGKILL)
    with pytest.raises(FilmFault, match="crash"):
        still_from_child(path, saved_index, 7, 0, 720)
    assert number_of(still_from_child(path, saved_index, 7, 0, 720)) == 7
