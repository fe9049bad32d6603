"""Pieces of a review copy: usable while it is made, and the same pictures as the whole."""

from __future__ import annotations

from fractions import Fraction

import av
import numpy as np
import pytest

from frequens.media.decode.container import FilmFault
from frequens.media.decode.frames import FrameIndex, index_frames
from frequens.media.ingest.pieces import FRAMES, Piece, PieceWriter, pieces_in
from frequens.media.ingest.review import ReviewOptions, make_review_copy
from frequens.simulator.camera import FilmOptions, script_session, shoot
from tests.long import few


@pytest.fixture(scope="module", params=few(1, ["uneven", "even"]))
def copied(request, tmp_path_factory):
    """A film with more frames than a piece, its index, its copy and the copy's pieces."""
    folder = tmp_path_factory.mktemp("pieces")
    film, copy = folder / "film.mkv", folder / "copy.mp4"
    options = FilmOptions(
        Fraction(60), request.param == "uneven", start_offset_s=1.5, width=160, height=90
    )
    shoot(script_session(14, 2), film, options)
    index = index_frames(film)
    seen = []

    def report(share):
        seen.append((share, pieces_in(folder / "pieces")))

    make_review_copy(film, copy, index, 0, ReviewOptions(), report, folder / "pieces")
    return index, copy, folder / "pieces", seen


def pictures(path):
    with av.open(str(path)) as container:
        return [frame.to_ndarray(format="gray") for frame in container.decode(video=0)]


def test_the_pieces_hold_every_frame_once_at_its_own_time(copied):
    index, _, folder, _ = copied
    pieces = pieces_in(folder)
    assert [p.first for p in pieces] == list(range(0, len(index), FRAMES))
    assert sum(p.count for p in pieces) == len(index) > FRAMES
    for piece in pieces:
        made = index_frames(folder / piece.name)
        own = index.pts[piece.first : piece.first + piece.count]
        base, other = Fraction(*index.time_base), Fraction(*made.time_base)
        assert [(p - made.pts[0]) * other for p in made.pts] == [(p - own[0]) * base for p in own]


def test_they_are_the_whole_copys_own_pictures(copied):
    _, copy, folder, _ = copied
    apart = [picture for piece in pieces_in(folder) for picture in pictures(folder / piece.name)]
    whole = pictures(copy)
    assert len(apart) == len(whole)
    assert all(np.array_equal(a, b) for a, b in zip(apart, whole, strict=True))


def test_the_first_is_there_while_the_copy_is_still_under_way(copied):
    _, _, _, seen = copied
    shares = [share for share, pieces in seen if pieces]
    assert min(shares) < 1.0


def test_a_film_without_sound_has_pieces_too(tmp_path):
    loud, film = tmp_path / "loud.mp4", tmp_path / "film.mp4"
    shoot(script_session(4, 2), loud, FilmOptions(width=160, height=90))
    with av.open(str(loud)) as source, av.open(str(film), "w") as target:
        stream = target.add_stream_from_template(source.streams.video[0])
        for packet in source.demux(source.streams.video[0]):
            if packet.dts is not None:
                packet.stream = stream
                target.mux(packet)
    index = index_frames(film)
    make_review_copy(film, tmp_path / "copy.mp4", index, 0, pieces=tmp_path / "pieces")
    (piece,) = pieces_in(tmp_path / "pieces")
    assert piece == Piece(0, len(index))
    assert len(pictures(tmp_path / "pieces" / piece.name)) == len(index)


@pytest.mark.long
def test_once_a_frame_is_missing_no_later_piece_is_used(tmp_path):
    """At an even rate a piece that begins one frame late has the right intervals all the same."""
    film = tmp_path / "film.mp4"
    shoot(script_session(14, 2), film, FilmOptions(Fraction(120), width=160, height=90))
    real = index_frames(film)
    assert len(real) > 2 * FRAMES
    missing = FRAMES + 5
    extra = (real.pts[missing] + real.pts[missing + 1]) // 2
    index = FrameIndex(real.time_base, tuple(sorted((*real.pts, extra))))
    with pytest.raises(FilmFault):
        make_review_copy(film, tmp_path / "copy.mp4", index, 0, pieces=tmp_path / "pieces")
    assert pieces_in(tmp_path / "pieces") == [Piece(0, FRAMES)]


def test_other_files_are_no_pieces(tmp_path):
    names = ("piece-00000720-0012.mp4", "piece-00000000-0720.mp4", "part-00000732", "piece-1.mp4")
    for name in names:
        (tmp_path / name).touch()
    assert pieces_in(tmp_path) == [Piece(0, 720), Piece(720, 12)]
    assert pieces_in(tmp_path / "not there") == []


def test_frames_the_index_does_not_have_end_what_is_kept(copied, tmp_path):
    index, copy, _, _ = copied
    some = FrameIndex(index.time_base, index.pts[:30])
    with av.open(str(copy)) as source:
        stream = source.streams.video[0]
        pieces = PieceWriter(tmp_path / "pieces", stream, some, every=20)
        for packet in source.demux(stream):
            if packet.dts is not None:
                pieces.add(packet)
        pieces.finish()
    # The second had begun well, but what came then belongs to no frame of the film.
    assert pieces_in(tmp_path / "pieces") == [Piece(0, 20)]
