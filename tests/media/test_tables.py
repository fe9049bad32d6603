"""Frame times from a film's own tables, against its packets one by one."""

from __future__ import annotations

import struct

import pytest

from frequens.media.decode.container import open_film, picture_stream
from frequens.media.decode.tables import packets, tabled

from .conftest import KINDS, REMUXED, remuxed
from .edit_lists import trimmed

HAVE_TABLES = [kind for kind, (ending, _) in KINDS.items() if ending in (".mp4", ".mov")]


def told(path):
    with open_film(path) as container:
        return tabled(path, container, picture_stream(container))


def read(path):
    with open_film(path) as container:
        return list(packets(container, picture_stream(container)))


@pytest.mark.parametrize("kind", [*KINDS, *REMUXED])
def test_tables_say_what_the_packets_say_or_nothing(film_of, kind):
    path = film_of(kind)
    said = told(path)
    assert (said is not None) == (kind in HAVE_TABLES)
    assert said is None or said == read(path)


@pytest.mark.parametrize("kind", ["many B-frames", "hevc"])
@pytest.mark.parametrize("flags", ["negative_cts_offsets", "faststart", "empty_moov"])
def test_tables_as_other_writers_lay_them_out(film_of, tmp_path, kind, flags):
    path = remuxed(film_of(kind), tmp_path / "film.mp4", {"movflags": flags})
    said = told(path)
    assert said == (None if flags == "empty_moov" else read(path))


def test_after_the_tables_the_packets_can_still_be_read_from_the_beginning(film_of):
    path = film_of("many B-frames")
    with open_film(path) as container:
        stream = picture_stream(container)
        said = tabled(path, container, stream)
        assert list(packets(container, stream)) == said


@pytest.mark.parametrize(("from_s", "length_s"), [(0, 3), (2, 4), (0.5, 5.5)])
def test_a_trimmed_film_is_never_told_wrongly(film_of, tmp_path, from_s, length_s):
    path = trimmed(film_of("many B-frames"), tmp_path / "film.mp4", from_s, length_s)
    said = told(path)
    assert said is None or said == read(path)


@pytest.mark.parametrize("what", ["fewer frames", "a frame beyond the file"])
def test_tables_that_do_not_fit_the_film_say_nothing(film_of, tmp_path, what):
    film = bytearray(film_of("many B-frames").read_bytes())
    at = film.find(b"ctts")
    if what == "fewer frames":
        (run,) = struct.unpack_from(">I", film, at + 12)
        struct.pack_into(">I", film, at + 12, run + 1)
    else:
        sizes = film.find(b"stsz")
        struct.pack_into(">I", film, sizes + 16 + 4 * 20, len(film))
    path = tmp_path / "film.mp4"
    path.write_bytes(film)
    assert told(path) is None


def test_tables_that_differ_from_the_packets_at_the_end_say_nothing(film_of, tmp_path, monkeypatch):
    """The reader and the tables read here disagree: then the packets have the word."""
    path = film_of("many B-frames")
    from frequens.media.decode import tables

    whole = tables._delays

    def off(film, track, frames):
        delays = whole(film, track, frames)
        delays[-1] += 1
        return delays

    monkeypatch.setattr(tables, "_delays", off)
    assert told(path) is None
