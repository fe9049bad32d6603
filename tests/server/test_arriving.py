"""Films by pieces: what was told as received stays, whatever happens to connection and house.

The protocol is tus 1.0.0 (tus.io). Two programs that share nothing with ours speak it to the house
here and in the browser's tests: the protocol's own clients for Python (tuspy) and for browsers.
"""

from __future__ import annotations

import base64
import datetime as dt
import hashlib
import itertools
import os
import random
import socket
import time
from email.utils import parsedate_to_datetime
from pathlib import Path

import pytest
from django.conf import settings as live_settings
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tusclient.client import TusClient

from frequens.server.accounts.models import Workspace
from frequens.server.ingest import intake, pieces_in, receive
from frequens.server.ingest.incoming import FilmUploads
from frequens.server.ingest.intake import take_in
from frequens.server.ingest.models import Arriving
from frequens.server.ingest.pieces_in import KEPT, Piece, give_up_old
from frequens.server.leaving.removal import remove_workspace
from frequens.server.library.filming_time import filming_time
from frequens.server.library.models import Film

from .conftest import sent

ADDRESS = "/api/films/arriving"
SPOKEN = {"HTTP_TUS_RESUMABLE": "1.0.0"}
SPOKEN_TO_A_HOUSE = {"Tus-Resumable": "1.0.0"}


def text(**said: str) -> str:
    return ",".join(f"{k} {base64.b64encode(v.encode()).decode()}" for k, v in said.items())


@pytest.fixture
def begin(wren):
    def begin(length: int, client=wren, **said: str):
        said = {"filename": "thistle.mp4", **said}
        headers = {"HTTP_UPLOAD_LENGTH": str(length), "HTTP_UPLOAD_METADATA": text(**said)}
        return client.post(ADDRESS, **SPOKEN, **headers)

    return begin


@pytest.fixture
def piece(wren):
    def piece(address: str, offset: int, body: bytes, client=wren, **more):
        headers = {**SPOKEN, "HTTP_UPLOAD_OFFSET": str(offset), **more}
        kind = "application/offset+octet-stream"
        return client.patch(address, body, content_type=kind, **headers)

    return piece


def offset(client, address):
    answer = client.head(address, **SPOKEN)
    return answer.status_code, answer.headers.get("Upload-Offset")


def litter():
    folder = Path(live_settings.MEDIA_ROOT) / "arriving"
    return [p.name for p in folder.glob("*")]


def test_a_film_in_three_pieces_is_one_film(begin, piece, shot, wren):
    body = shot.read_bytes()
    begun = begin(len(body))
    assert begun.status_code == 201
    assert begun["Tus-Resumable"] == "1.0.0"
    address = begun["Location"]
    until = parsedate_to_datetime(begun["Upload-Expires"])
    assert abs(until - timezone.now() - KEPT) < dt.timedelta(minutes=5)
    cuts = [0, 1000, len(body) // 2, len(body)]
    for a, b in itertools.pairwise(cuts):
        assert offset(wren, address) == (200, str(a))
        answer = piece(address, a, body[a:b])
        assert (answer.status_code, answer["Upload-Offset"]) == (204, str(b))
    film = Film.objects.get()
    assert address.endswith(str(film.pk))
    assert film.sha256 == hashlib.sha256(body).hexdigest()
    assert (film.bytes, film.name, film.trainer) == (len(body), "thistle.mp4", "wren")
    assert film.original.read_bytes() == body
    assert litter() == []
    # A last answer that was lost: the sender hears that all is there, and nothing comes twice.
    assert offset(wren, address) == (200, str(len(body)))
    assert Film.objects.count() == 1
    take_in(str(film.pk))
    film.refresh_from_db()
    assert film.state == "ready"
    assert sent(wren, "GET", ADDRESS)[1] == []


@pytest.mark.parametrize(
    ("offset_", "body", "status"),
    [(0, b"x", 409), (5, b"x", 409), (4, b"xxxxxxx", 413)],
    ids=["again", "with a gap", "too much"],
)
def test_a_piece_that_does_not_fit_changes_nothing(begin, piece, wren, offset_, body, status):
    address = begin(10)["Location"]
    piece(address, 0, b"abcd")
    assert piece(address, offset_, body).status_code == status
    assert offset(wren, address) == (200, "4")


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 412),
        (SPOKEN, 400),
        ({**SPOKEN, "HTTP_UPLOAD_LENGTH": "-5"}, 400),
        ({**SPOKEN, "HTTP_UPLOAD_LENGTH": "0"}, 422),
        ({**SPOKEN, "HTTP_UPLOAD_LENGTH": str(16 * 1024**3 + 1)}, 413),
        ({**SPOKEN, "HTTP_UPLOAD_LENGTH": "9", "HTTP_UPLOAD_METADATA": "filename %%"}, 400),
        ({**SPOKEN, "HTTP_UPLOAD_LENGTH": "9", "HTTP_UPLOAD_METADATA": text(filename="\0")}, 422),
    ],
)
def test_what_cannot_come_is_said_before_it_is_sent(wren, headers, status):
    answer = wren.post(ADDRESS, **headers)
    assert answer.status_code == status
    assert answer.json().get("fault") or answer.json()["faults"]
    assert not Arriving.objects.exists()
    assert litter() == []


def test_what_of_the_protocol_is_spoken(wren):
    answer = wren.options(ADDRESS)
    assert answer.status_code == 204
    assert answer["Tus-Version"] == "1.0.0"
    assert answer["Tus-Extension"] == "creation,expiration,termination"
    assert answer["Tus-Max-Size"] == str(16 * 1024**3)


def test_others_have_no_part_in_it(begin, piece, stranger, client, wren):
    address = begin(4)["Location"]
    assert piece(address, 0, b"abcd", client=stranger).status_code == 404
    assert offset(stranger, address)[0] == 404
    assert stranger.delete(address, **SPOKEN).status_code == 404
    assert sent(stranger, "GET", ADDRESS)[1] == []
    assert piece(address, 0, b"abcd", client=client).status_code == 401
    assert begin(4, client=client).status_code == 401
    assert offset(wren, address) == (200, "0")


@pytest.mark.parametrize("name", ["-" * 36, "0" * 36, "00000000-0000-0000-0000-00000000000g"])
def test_what_is_no_name_of_an_upload_is_none(name):
    scope = {"method": "PATCH", "path": f"{ADDRESS}/{name}", "headers": []}
    assert FilmUploads().sink_for(scope, 4) is None


def test_a_full_disk_is_said_and_what_came_stays(begin, piece, wren, monkeypatch, settings):
    address = begin(10)["Location"]
    piece(address, 0, b"abcd")

    def full(*args):
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as broken:
        broken.setattr(pieces_in.os, "pwrite", full)
        assert piece(address, 4, b"efghij").status_code == 507
    assert offset(wren, address) == (200, "4")
    assert piece(address, 4, b"efghij").status_code == 204
    settings.DISK_RESERVE_BYTES = 2**60
    assert begin(10).status_code == 507


def test_giving_up_leaves_nothing_but_a_film_it_became(begin, piece, wren, shot):
    address = begin(10)["Location"]
    piece(address, 0, b"abcd")
    assert [row["received"] for row in sent(wren, "GET", ADDRESS)[1]] == [4]
    assert wren.delete(address, **SPOKEN).status_code == 204
    assert litter() == []
    assert offset(wren, address)[0] == 404
    body = shot.read_bytes()
    address = begin(len(body))["Location"]
    piece(address, 0, body)
    assert wren.delete(address, **SPOKEN).status_code == 204
    assert Film.objects.get().original.exists()


def test_a_film_that_was_removed_does_not_come_again(begin, piece, wren):
    address = begin(4)["Location"]
    piece(address, 0, b"abcd")
    Film.objects.get().delete()
    assert offset(wren, address) == (200, "4")
    assert not Film.objects.exists()


@pytest.mark.parametrize(("ago", "stays"), [(KEPT - dt.timedelta(minutes=1), 1), (KEPT, 0)])
def test_what_nobody_goes_on_with_is_given_up(begin, piece, ago, stays):
    address = begin(10)["Location"]
    piece(address, 0, b"abcd")
    Arriving.objects.update(touched_at=timezone.now() - ago)
    stray = Path(live_settings.MEDIA_ROOT) / "arriving" / "nobody-knows-me"
    stray.write_bytes(b"x")
    os.utime(stray, (time.time() - ago.total_seconds() - 1,) * 2)
    give_up_old()
    assert Arriving.objects.count() == stays
    assert len([name for name in litter() if not name.endswith(".turn")]) == 2 * stays


def test_a_workspace_that_goes_takes_its_uploads_along(begin, piece):
    piece(begin(10)["Location"], 0, b"abcd")
    remove_workspace(Workspace.objects.get())
    assert litter() == []


@given(
    body=st.binary(min_size=1, max_size=300),
    pieces=st.lists(st.tuples(st.integers(0, 80), st.booleans(), st.integers(-3, 3)), max_size=12),
)
@settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
def test_whatever_breaks_off_the_film_comes_whole(body, pieces, trainer):
    """Pieces of any length, some broken off, some sent where they do not belong."""
    arriving = Arriving(workspace=Workspace.objects.get(), name="a", bytes=len(body))
    pieces_in.begin(arriving)
    told = 0
    for length, breaks_off, beside in pieces:
        here = pieces_in.received(arriving)
        assert here >= told
        told = here
        if beside and here + beside >= 0:
            with pytest.raises(receive.ReceiveFault):
                Piece(arriving, here + beside)
        writing = Piece(arriving, here)
        if not arriving.is_whole:
            writing.write(body[here : here + length])
        if breaks_off:
            writing.drop()
        else:
            told = writing.finish()
    here = pieces_in.received(arriving)
    if here < len(body):
        rest = Piece(arriving, here)
        rest.write(body[here:])
        rest.finish()
    film = Film.objects.get(pk=arriving.pk)
    assert film.original.read_bytes() == body
    assert film.sha256 == hashlib.sha256(body).hexdigest()
    film.delete()


class TestTurns:
    """A phone comes back while its old connection still hangs at the house."""

    def test_whoever_came_last_writes(self, begin):
        begin(9)
        arriving = Arriving.objects.get()
        old = Piece(arriving, 0)
        old.write(b"abc")
        new = Piece(Arriving.objects.get(), 3)
        with pytest.raises(receive.ReceiveFault) as overtaken:
            old.write(b"old")
        assert overtaken.value.status == 423
        old.drop()
        new.write(b"defghi")
        assert new.finish() == 9
        assert Film.objects.get().original.read_bytes() == b"abcdefghi"

    def test_one_that_is_given_up_takes_nothing_more(self, begin, wren):
        address = begin(9)["Location"]
        old = Piece(Arriving.objects.get(), 0)
        wren.delete(address, **SPOKEN)
        with pytest.raises(receive.ReceiveFault):
            old.write(b"abc")
        with pytest.raises(receive.ReceiveFault) as gone:
            old.finish()
        assert gone.value.status == 410
        assert not Film.objects.exists()

    @pytest.mark.parametrize("is_moved", [False, True], ids=["before", "after it has its place"])
    def test_a_house_that_falls_before_the_last_answer_has_the_film(
        self, begin, wren, is_moved, monkeypatch
    ):
        address = begin(4)["Location"]
        arriving = Arriving.objects.get()
        writing = Piece(arriving, 0)
        writing.write(b"abcd")

        def fall(*args):
            raise SystemExit

        monkeypatch.setattr(pieces_in, "queue_film" if is_moved else "_become_a_film", fall)
        with pytest.raises(SystemExit):
            writing.finish()
        monkeypatch.undo()
        assert not Film.objects.exists()
        assert offset(wren, address) == (200, "4")
        assert Film.objects.get().original.read_bytes() == b"abcd"


class TestWhen:
    """When it was filmed: the film's word, else its file's; and the clock on the wall there."""

    @pytest.mark.parametrize(
        ("recorded_at", "zone", "at", "source"),
        [
            ("05-04T18:30:00+02:00", "Asia/Tokyo", "05-04T18:30:00+02:00", "film"),
            ("05-04T22:30:00+00:00", "Europe/Berlin", "05-05T00:30:00+02:00", "film_and_phone"),
            # In winter the same clock stands otherwise.
            ("01-04T22:30:00+00:00", "Europe/Berlin", "01-04T23:30:00+01:00", "film_and_phone"),
            ("05-04T22:30:00+00:00", "", "05-04T22:30:00+00:00", "film_in_utc"),
            ("05-04T22:30:00+00:00", "Nowhere/Atall", "05-04T22:30:00+00:00", "film_in_utc"),
            ("", "Europe/Berlin", "05-04T11:59:30+02:00", "file"),
        ],
    )
    def test_what_says_so(self, recorded_at, zone, at, source):
        written = dt.datetime(2026, 5, 4, 10, 0, tzinfo=dt.UTC)
        recorded_at = recorded_at and f"2026-{recorded_at}"
        film = Film(recorded_at=recorded_at, zone=zone, written_at=written, duration_us=30_000_000)
        said = filming_time(film)
        assert (said.at.isoformat(), said.source) == (f"2026-{at}", source)

    def test_nothing_says_nothing(self):
        assert filming_time(Film(duration_us=1)) is None

    def test_the_session_has_its_day_and_time(self, begin, piece, wren, shot):
        body = shot.read_bytes()
        written = "2026-05-04T22:30:08+00:00"
        address = begin(len(body), zone="Europe/Berlin", written_at=written)["Location"]
        piece(address, 0, body)
        take_in(address.rsplit("/", 1)[1])
        _, [row] = sent(wren, "GET", "/api/sessions")
        # The film lasts eight seconds.
        assert (row["date"], row["time"]) == ("2026-05-05", "00:30")
        _, [film] = sent(wren, "GET", "/api/films")
        assert (film["filmed_at"], film["filmed_from"]) == ("2026-05-05T00:30:00+02:00", "file")
        put_facts = [{"client_id": "a", "body": {"op": "facts", "set": {"time": "17:05"}}}]
        sent(wren, "POST", f"/api/sessions/{row['id']}/edits", {"edits": put_facts})
        assert sent(wren, "GET", "/api/sessions")[1][0]["time"] == "17:05"


class TestClipsOfOneSession:
    """Films that begin soon after one another are offered as clips of one session."""

    @pytest.fixture
    def brought(self, begin, piece, shot, wren, stages_once, monkeypatch):
        monkeypatch.setattr(intake, "run_stage", stages_once)

        def bring(*ended: str):
            body = shot.read_bytes()
            for at in ended:
                written = f"2026-05-04T{at}+00:00"
                address = begin(len(body), written_at=written, zone="UTC")["Location"]
                piece(address, 0, body)
                take_in(address.rsplit("/", 1)[1])
            # As they were brought, the first first.
            return sent(wren, "GET", "/api/films")[1][::-1]

        return bring

    @pytest.mark.parametrize(
        ("second", "off_s"),
        [
            ("10:00:08", 0.0),
            # One second of overlap is the clocks' doing, more is another camera.
            ("10:00:07", 0.0),
            ("10:00:06", None),
            ("10:10:08", 600.0),
            ("10:10:09", None),
            ("09:00:00", None),
        ],
    )
    def test_how_soon(self, brought, second, off_s):
        first, other = brought("10:00:00", second)
        assert other["near_off_s"] == off_s
        assert other["near_session_id"] == (None if off_s is None else first["session_id"])
        if second > "10":
            assert first["near_session_id"] is None

    def test_three_become_one_in_the_order_they_were_shot(self, brought, wren):
        middle, last, first = brought("10:02:00", "10:04:00", "10:00:00")
        assert last["near_session_id"] == middle["session_id"]
        for film in (middle, last):
            found = {one["id"]: one for one in sent(wren, "GET", "/api/films")[1]}
            to = found[film["id"]]["near_session_id"]
            sent(wren, "POST", f"/api/films/{film['id']}/join", {"session_id": to})
        [row] = sent(wren, "GET", "/api/sessions")[1]
        assert [clip["id"] for clip in row["films"]] == [one["id"] for one in (first, middle, last)]
        assert all(one["near_session_id"] is None for one in sent(wren, "GET", "/api/films")[1])

    def test_not_where_somebody_said_that_they_show_different_work(self, brought, wren):
        one, other = brought("10:00:00", "10:02:00")
        for film, learner in ((one, "Thistle"), (other, "Bramble")):
            facts = {"client_id": learner, "body": {"op": "facts", "set": {"learner": learner}}}
            sent(wren, "POST", f"/api/sessions/{film['session_id']}/edits", {"edits": [facts]})
        assert all(film["near_session_id"] is None for film in sent(wren, "GET", "/api/films")[1])

    def test_not_for_strangers(self, brought, stranger):
        brought("10:00:00", "10:02:00")
        assert sent(stranger, "GET", "/api/films")[1] == []


@pytest.mark.long
def test_twenty_broken_connections_and_two_falls_of_the_house(make_house, tmp_path):
    """Raw connections cut anywhere in a piece; then the protocol's own client brings the rest."""
    body = random.Random(11).randbytes(6_000_000)
    film = tmp_path / "goat.mp4"
    film.write_bytes(body)
    house = make_house().start()
    trainer = house.trainer()
    cookies = "; ".join(f"{c.name}={c.value}" for c in trainer.cookies)
    headers = {"Cookie": cookies, "X-CSRFToken": trainer.cookies["csrftoken"]}
    begun = TusClient(f"{house.url}{ADDRESS}", headers=headers).uploader(
        str(film), chunk_size=700_000, metadata={"filename": "goat.mp4"}
    )
    begun.upload_chunk()
    address = begun.url
    rng, told = random.Random(5), [begun.offset]
    for n in range(20):
        here = int(
            trainer.ask("HEAD", address.removeprefix(house.url), headers=SPOKEN_TO_A_HOUSE).headers[
                "Upload-Offset"
            ]
        )
        # What was told before is still there, and more.
        assert here >= told[-1]
        told.append(here)
        _cut(house, address, headers, body, here, rng.randrange(1, 240_000))
        if n in (7, 13):
            house.kill()
            house.start()
            address = f"{house.url}{ADDRESS}/{address.rsplit('/', 1)[1]}"
    rest = TusClient(f"{house.url}{ADDRESS}", headers=headers).uploader(
        str(film), url=address, chunk_size=700_000
    )
    assert 0 < rest.offset < len(body)
    rest.upload()
    [said] = trainer.ask("GET", "/api/films").json()
    assert said["sha256"] == hashlib.sha256(body).hexdigest()
    assert told == sorted(told)
    assert len(set(told)) > 15
    assert house.stop() == 0


def _cut(house, address, headers, body, here, length):
    """Announce all that is left, send a part of it, and be gone."""
    host, port = house.url.removeprefix("http://").split(":")
    path = address.removeprefix(house.url)
    lines = {
        **headers,
        "Host": f"{host}:{port}",
        "Tus-Resumable": "1.0.0",
        "Upload-Offset": str(here),
        "Content-Type": "application/offset+octet-stream",
        "Content-Length": str(len(body) - here),
    }
    head = "".join(f"{name}: {value}\r\n" for name, value in lines.items())
    with socket.create_connection((host, int(port)), timeout=30) as line:
        line.sendall(f"PATCH {path} HTTP/1.1\r\n{head}\r\n".encode())
        line.sendall(body[here : here + length])
        # So that some of it has been read when the connection breaks.
        time.sleep(0.15)
