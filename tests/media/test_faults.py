"""Films that cannot be trusted or used: one clear sentence each, and nothing else happens."""

from __future__ import annotations

import struct
import time
from pathlib import Path

import av
import numpy as np
import pytest

from frequens.media.decode.container import FilmFault, open_film, sniff
from frequens.media.decode.frames import index_frames
from frequens.media.decode.limits import Limits, short_of_memory
from frequens.media.decode.probe import probe
from frequens.media.ingest.child import Stopped, run_stage


def refused(path, code, limits=Limits()):  # noqa: B008  # frozen
    """The sentence the check gives in its own process."""
    with pytest.raises(FilmFault) as fault:
        run_stage("check", {"film": str(path)}, limits)
    assert fault.value.code == code
    return str(fault.value)


def written(tmp_path, content, name="film.mp4"):
    path = tmp_path / name
    path.write_bytes(content)
    return path


def test_an_empty_file(tmp_path):
    assert "empty" in refused(written(tmp_path, b""), "empty")


def test_a_text_renamed_to_mp4(tmp_path):
    path = written(tmp_path, b"Dear Wren,\nthe film is on the other phone.\n" * 40)
    assert "not a film" in refused(path, "not_a_film")


@pytest.mark.parametrize(
    "content",
    [
        b"#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\nfile:///etc/hostname\n",
        b"ffconcat version 1.0\nfile '/etc/hostname'\n",
        b'<?xml version="1.0"?><MPD><BaseURL>http://127.0.0.1:9/</BaseURL></MPD>',
        b"v=0\no=- 0 0 IN IP4 127.0.0.1\nm=video 5004 RTP/AVP 96\n",
    ],
)
def test_a_playlist_that_points_elsewhere(tmp_path, content):
    assert "playlist" in refused(written(tmp_path, content), "playlist")


@pytest.mark.parametrize("first", ["ftyp", "moov", "mdat", "wide", "free", "skip"])
def test_a_film_may_begin_with_any_of_these_boxes(tmp_path, first):
    """ISO/IEC 14496-12, table 1, and QuickTime's `wide` (from memory)."""
    assert sniff(written(tmp_path, struct.pack(">I4s", 8, first.encode()))) == "mov"
    with pytest.raises(FilmFault, match="not a film"):
        sniff(written(tmp_path, struct.pack(">I4s", 8, first.upper().encode())))


@pytest.mark.parametrize(("packet", "first"), [(188, 0), (192, 4)])
def test_a_transport_stream_is_known_by_three_packets_each_in_its_place(tmp_path, packet, first):
    """ISO/IEC 13818-1: packets of 188 bytes that begin with 0x47; with four bytes of time before
    each on discs (from memory).
    """
    places = [first + n * packet for n in range(3)]

    def stream(places, length=1024):
        content = bytearray(length)
        for place in places:
            content[place] = 0x47
        return written(tmp_path, bytes(content))

    assert sniff(stream(places)) == "mpegts"
    assert sniff(stream(places, places[-1] + 1)) == "mpegts"
    for place in places:
        moved = [one + (one == place) for one in places]
        with pytest.raises(FilmFault, match="not a film"):
            sniff(stream(moved))


def test_the_demuxer_is_told_by_content_and_no_other_protocol_is_open(tmp_path, film_of):
    assert sniff(film_of("vp9")) == "matroska"
    assert sniff(film_of("60")) == "mov"
    renamed = tmp_path / "film.txt"
    renamed.write_bytes(film_of("60").read_bytes())
    with open_film(renamed) as container:
        assert container.format.name.startswith("mov")


PARENTS = (b"moov", b"trak", b"mdia", b"minf", b"dinf")


def boxes(body):
    """Kind and content of each box of a QuickTime file or of a box's content."""
    while body:
        size, kind = struct.unpack(">I4s", body[:8])
        yield kind, body[8:size]
        body = body[size:]


def box(kind, content):
    return struct.pack(">I4s", 8 + len(content), kind) + content


def alias_to(name):
    """A data reference by alias, whose path names a file beside this one."""
    path = b"/" + name.encode()
    levels = struct.pack(">HH", 1, 1)
    named = struct.pack(">HH", 2, len(path)) + path + b"\0" * (len(path) % 2) + b"\xff\xff\0\0"
    body = b"\0\0\0\0" + b"\0" * 10 + b"\0" * 28 + b"\0" * 12 + b"\0" * 64 + b"\0" * 16
    return box(b"alis", body + levels + b"\0" * 16 + named)


def pointing_at(content, name):
    """A film's boxes without its frames: they are said to lie in the file `name`."""
    rebuilt = b""
    for kind, inside in boxes(content):
        if kind in PARENTS:
            inside = pointing_at(inside, name)
        elif kind == b"dref":
            inside = inside[:8] + alias_to(name)
        if kind != b"mdat":
            rebuilt += box(kind, inside)
    return rebuilt


def test_a_film_that_refers_to_another_file_opens_nothing_else(tmp_path, film_of):
    """A QuickTime film whose frames lie in another file, by a data reference."""
    (tmp_path / "secret.mp4").write_bytes(film_of("60").read_bytes())
    path = written(tmp_path, pointing_at(film_of("60").read_bytes(), "secret.mp4"), "trap.mov")
    # The trap works on a reader that follows references ...
    with av.open(str(path), options={"enable_drefs": "1"}) as followed:
        assert next(followed.decode(video=0)).width == 320
    # ... and not on ours.
    with pytest.raises(FilmFault):
        run_stage("check", {"film": str(path)})


def test_a_truncated_film(tmp_path, film_of):
    whole = film_of("60").read_bytes()
    # The camera writes its table of contents at the end: half a file has none.
    assert "cannot be opened" in refused(written(tmp_path, whole[: len(whole) // 2]), "unreadable")


def test_a_film_cut_off_after_its_table_of_contents(tmp_path, film_of):
    from frequens.media.ingest.review import make_review_copy

    fast = tmp_path / "fast.mp4"
    make_review_copy(film_of("60"), fast, index_frames(film_of("60")), 0)
    whole = fast.read_bytes()
    path = written(tmp_path, whole[: int(len(whole) * 0.6)])
    with pytest.raises(FilmFault) as fault:
        index_frames(path)
    assert fault.value.code == "cut_off"
    assert "Copy it from the phone once more" in str(fault.value)


def test_sound_without_a_picture(tmp_path):
    path = tmp_path / "sound.mp4"
    with av.open(str(path), "w") as container:
        stream = container.add_stream("aac", rate=48_000)
        stream.layout = "mono"
        for place in range(40):
            frame = av.AudioFrame.from_ndarray(
                np.zeros((1, 1024), np.float32), format="fltp", layout="mono"
            )
            frame.sample_rate, frame.pts = 48_000, place * 1024
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    assert "no picture" in refused(path, "no_picture")


def test_a_film_longer_than_the_limit(film_of):
    sentence = refused(film_of("60"), "too_long", Limits(longest_s=5.0))
    assert "limit" in sentence


def test_two_hours_are_the_limit_and_a_film_may_be_as_long_as_it(film_of):
    assert Limits().longest_s == 2 * 60 * 60
    path = film_of("60")
    length_s = index_frames(path).duration_us / 1e6
    assert probe(path, Limits(longest_s=length_s + 0.01)).codec == "h264"
    with pytest.raises(FilmFault, match="limit"):
        probe(path, Limits(longest_s=length_s - 0.05))


def test_a_picture_larger_than_the_limit(film_of):
    refused(film_of("60"), "too_large", Limits(most_pixels=100 * 100))


def test_damage_in_the_picture_costs_this_film_only(tmp_path, film_of):
    body = bytearray(film_of("60").read_bytes())
    start = body.index(b"mdat") + 4
    (size,) = struct.unpack(">I", body[start - 8 : start - 4])
    body[start : start + size - 8] = b"\xff" * (size - 8)
    sentence = refused(written(tmp_path, bytes(body)), "undecodable")
    assert "damaged" in sentence
    # This process, and another film, are as they were.
    assert probe(film_of("60")).codec == "h264"


def test_random_bytes_behind_a_films_head_never_raise_anything_else(tmp_path):
    chance = np.random.default_rng(5)
    for number in range(12):
        junk = chance.bytes(4000)
        head = (
            struct.pack(">I4s", 24, b"ftyp") + b"isom\0\0\2\0isomiso2"
            if number % 2
            else b"\x1a\x45\xdf\xa3"
        )
        path = written(tmp_path, head + junk, f"{number}.mp4")
        with pytest.raises(FilmFault):
            probe(path)


@pytest.mark.parametrize("kind", ["60", "vp9"])
@pytest.mark.parametrize("mib", [64, 512])
def test_a_decoder_that_wants_too_much_memory_is_stopped(film_of, mib, kind):
    # Refused a library, a thread or a picture, each fails in its own words; none is the film's.
    with pytest.raises(FilmFault) as fault:
        run_stage("check", {"film": str(film_of(kind))}, Limits(memory_bytes=mib * 1024**2))
    assert fault.value.code in ("crashed", "too_large")


def test_memory_is_short_where_one_more_piece_may_be_refused():
    lines = Path("/proc/self/status").read_text().splitlines()
    (peak,) = (int(line.split()[1]) * 1024 for line in lines if line.startswith("VmPeak:"))
    assert short_of_memory(Limits(memory_bytes=peak + 192 * 1024**2))
    assert not short_of_memory(Limits(memory_bytes=peak + 512 * 1024**2))


def test_a_stage_past_its_deadline_is_stopped(film_of):
    with pytest.raises(FilmFault) as fault:
        run_stage("check", {"film": str(film_of("60"))}, wall_s=0.0)
    assert fault.value.code == "too_slow"


def test_a_stage_no_longer_wanted_stops_soon(tmp_path):
    film = tmp_path / "film.mp4"
    filming = "frequens.simulator.device:film"
    task = {"film": str(film), "length_s": 600, "seed": 1, "options": {}}
    began = time.monotonic()
    with pytest.raises(Stopped):
        run_stage(filming, task, wanted=lambda: time.monotonic() - began < 1.5)
    assert time.monotonic() - began < 10
    assert not film.exists()
