"""Films on an object store: kept there, worked on here, and the same by every address."""

from __future__ import annotations

import errno
import hashlib
import io
import itertools
import os
import shutil
import sys
import time
import zipfile
from pathlib import Path

import pytest
from botocore.exceptions import ConnectTimeoutError, EndpointConnectionError, ReadTimeoutError
from django.core.exceptions import ImproperlyConfigured
from django.core.files.storage import storages
from django.core.management import CommandError, call_command
from django.utils import timezone

from frequens.server import health, keeping
from frequens.server import settings as read_settings
from frequens.server.ingest import intake, pieces_in
from frequens.server.ingest.intake import AGAIN, take_in
from frequens.server.ingest.models import Arriving
from frequens.server.leaving.bringing_back import bring_back
from frequens.server.library import film_files, film_store, models
from frequens.server.library.film_files import RemovedFilm, StoredFile, remove_leftovers
from frequens.server.library.film_store import FilmStore, StoreFault
from frequens.server.library.models import Film, Stage
from tests.long import few
from tests.object_store import FOLDER, ObjectStore

from .conftest import sent

MADE = {
    *("original", "index.json", "poster.jpg", "review.mp4"),
    *("sound.bin", "fine.bin", "heard.npz", "voices.npz"),
}
#: Every address of a film's files, with a stretch where the files are asked for by stretches.
ADDRESSES = {
    "review.mp4": "bytes=1000-4999",
    "frames/100.jpg": None,
    "frames": None,
    "frame-runs": None,
    "poster.jpg": None,
    "sound.bin": None,
    "fine.bin": "bytes=30-89",
    "clicks": None,
    "words?marked=2.0": None,
    "original": "bytes=-777",
}
#: Up to which size a file is fetched whole: no file of these is, or every one.
FETCHED = (0, film_files.FETCHED_BYTES)


@pytest.fixture(scope="module")
def the_store():
    store = ObjectStore()
    yield store
    store.down()


@pytest.fixture
def store(the_store, settings, monkeypatch):
    """An empty one, which this installation keeps its films in."""
    the_store.empty()
    for name, value in the_store.environment.items():
        monkeypatch.setenv(name, value)
    told = read_settings._film_store(os.environ["FREQUENS_FILMS"])
    # Nobody waits in a test for one that is down.
    told["films"]["OPTIONS"]["client_config"].retries = {"max_attempts": 0}
    settings.STORAGES = {**settings.STORAGES, **told}
    monkeypatch.setattr(film_files, "_looked_at", time.monotonic())
    yield the_store
    storages._storages.pop("films", None)
    if the_store._server is None:
        the_store.up()


def names_in(store, film):
    start = f"{FOLDER}/{film.pk}/"
    return {name.removeprefix(start) for name in store.files() if name.startswith(start)}


def elsewhere(film):
    """The film as a machine sees it that never had it."""
    shutil.rmtree(film.folder)
    for kept in (models._load_index, models._load_heard, models._load_voices):
        kept.cache_clear()
    return Film.objects.get(pk=film.pk)


def got(wren, film, address):
    ranged = ADDRESSES[address]
    headers = {"HTTP_RANGE": ranged} if ranged else {}
    answer = wren.get(f"/api/films/{film.pk}/{address}", **headers)
    body = b"".join(answer.streaming_content) if answer.streaming else answer.content
    return answer.status_code, answer.headers.get("Content-Range"), body


def test_all_of_a_film_is_kept_in_the_store(store, film):
    assert film.state == "ready"
    assert names_in(store, film) == MADE
    kept = store.files()
    for name in MADE:
        assert kept[f"{FOLDER}/{film.pk}/{name}"] == (film.folder / name).read_bytes()
    rows = {row.name: row for row in film.stored_files.all()}
    assert set(rows) == MADE
    assert all(row.is_this(film.folder / name) for name, row in rows.items())


@pytest.mark.parametrize(("address", "fetched"), few(2, itertools.product(ADDRESSES, FETCHED)))
def test_another_machine_answers_the_same(store, film, wren, monkeypatch, address, fetched):
    monkeypatch.setattr(film_files, "FETCHED_BYTES", fetched)
    here = got(wren, film, address)
    assert here[0] == (206 if ADDRESSES[address] else 200)
    _, said = sent(wren, "GET", f"/api/films/{film.pk}")
    there = elsewhere(film)
    assert got(wren, there, address) == here
    # And again, from what is here now.
    assert got(wren, there, address) == here
    assert sent(wren, "GET", f"/api/films/{film.pk}") == (200, said)
    assert not list(film.folder.glob("coming-*"))


def test_of_a_large_file_only_stretches_are_asked_for(store, film, wren, monkeypatch):
    monkeypatch.setattr(film_files, "FETCHED_BYTES", film.review_path.stat().st_size - 1)
    there = elsewhere(film)
    assert got(wren, there, "review.mp4")[0] == 206
    assert not there.review_path.exists()
    monkeypatch.setattr(
        film_files, "FETCHED_BYTES", StoredFile.objects.get(name="review.mp4").bytes
    )
    assert got(wren, there, "review.mp4")[0] == 206
    assert there.review_path.exists()


def test_without_a_store_nothing_is_asked_of_one(film, wren, django_assert_num_queries):
    assert not StoredFile.objects.exists()
    film.here(film.original)
    with django_assert_num_queries(0):
        assert film.here(film.original) == film.original
        assert film.stored(film.original) is None
        film.forget_stored(["original"])


def test_a_page_of_films_asks_once_what_the_store_has(
    store, film, wren, django_assert_max_num_queries
):
    elsewhere(film)
    with django_assert_max_num_queries(12) as asked:
        _, listed = sent(wren, "GET", "/api/films")
    assert listed[0]["copy_bytes"] == StoredFile.objects.get(name="review.mp4").bytes
    assert sum("films_storedfile" in query["sql"] for query in asked.captured_queries) == 1


@pytest.mark.long
def test_what_another_machine_made_anew_takes_the_place_of_what_was_here(store, film, tmp_path):
    anew = tmp_path / "sound.bin"
    anew.write_bytes(b"heard anew")
    # The other machine, with the film in a folder of its own.
    film_files.keep_stored(film.put_away({"sound.bin": anew}))
    assert film.sound_path.read_bytes() != b"heard anew"
    film = Film.objects.get(pk=film.pk)
    assert film.here(film.sound_path).read_bytes() == b"heard anew"


@pytest.mark.long
def test_what_is_made_anew_here_is_never_fetched_over(store, film, monkeypatch):
    """While a stage is at work the store's is not this film's any more."""
    film.stages.filter(name="sound").update(state=Stage.State.WAITING)
    Film.objects.filter(pk=film.pk).update(state=Film.State.WAITING)
    seen = []

    def run(name, task, *args, **more):
        Path(task["sound"]).write_bytes(b"anew")
        now = Film.objects.get(pk=film.pk)
        seen.append((now.stored(now.sound_path), now.here(now.sound_path).read_bytes()))
        return {}

    monkeypatch.setattr(intake, "run_stage", run)
    take_in(str(film.pk))
    assert seen == [(None, b"anew")]
    assert store.files()[f"{FOLDER}/{film.pk}/sound.bin"] == b"anew"
    assert StoredFile.objects.get(name="sound.bin").is_this(film.sound_path)


def test_a_worker_elsewhere_fetches_what_it_works_on(store, film, monkeypatch):
    before = film.index
    film.stages.filter(name__in=("index", "review", "sound")).update(state=Stage.State.WAITING)
    Film.objects.filter(pk=film.pk).update(state=Film.State.WAITING)
    elsewhere(film)
    take_in(str(film.pk))
    film.refresh_from_db()
    assert film.state == "ready"
    assert film.index == before
    assert names_in(store, film) == MADE


def test_a_store_that_is_down_lets_a_film_wait(store, film):
    film.stages.filter(name="sound").update(state=Stage.State.WAITING)
    Film.objects.filter(pk=film.pk).update(state=Film.State.WAITING)
    store.down()
    assert take_in(str(film.pk)) == AGAIN
    film.refresh_from_db()
    assert film.state == "working"
    assert film.lease_until is None
    assert film.stages.get(name="sound").state == "waiting"
    assert film.sha256 == hashlib.sha256(film.original.read_bytes()).hexdigest()
    store.up()
    assert take_in(str(film.pk)) is None
    film.refresh_from_db()
    assert film.state == "ready"
    assert names_in(store, film) == MADE


@pytest.mark.long
def test_one_that_was_overtaken_leaves_the_others_stages_alone(store, film, monkeypatch):
    film.stages.filter(name="sound").update(state=Stage.State.WAITING)
    Film.objects.filter(pk=film.pk).update(state=Film.State.WAITING)

    def overtaken(name, *args, **more):
        Film.objects.filter(pk=film.pk).update(holder="another", lease_until=timezone.now())
        raise StoreFault("no answer")

    monkeypatch.setattr(intake, "run_stage", overtaken)
    assert take_in(str(film.pk)) == AGAIN
    film.refresh_from_db()
    assert film.stages.get(name="sound").state == "working"
    assert film.lease_until is not None


@pytest.mark.long
def test_an_upload_while_the_store_is_down_is_refused_whole(store, upload, shot):
    store.down()
    answer = upload(shot.read_bytes())
    assert answer.status_code == 503
    assert "does not answer" in answer.json()["fault"]
    assert not Film.objects.exists()
    store.up()
    remove_leftovers()
    assert store.files() == {}
    assert upload(shot.read_bytes()).status_code == 201
    assert list(store.files().values()) == [shot.read_bytes()]


@pytest.mark.long
def test_a_film_by_pieces_stays_whole_until_the_store_answers(store, wren, trainer, shot):
    body = shot.read_bytes()
    workspace = trainer.workspaces.get()
    arriving = Arriving(workspace=workspace, name="a.mp4", bytes=len(body), trainer="wren")
    pieces_in.begin(arriving)
    store.down()
    with pytest.raises(pieces_in.ReceiveFault, match="does not answer") as refused:
        pieces_in.append(arriving, 0, io.BytesIO(body))
    assert refused.value.status == 423
    assert not Film.objects.exists()
    # How a browser asks how far it is.
    spoken = {"HTTP_TUS_RESUMABLE": "1.0.0"}
    assert wren.head(f"/api/films/arriving/{arriving.pk}", **spoken).status_code == 423
    _, listed = sent(wren, "GET", "/api/films/arriving")
    assert [one["received"] for one in listed] == [len(body)]
    store.up()
    assert pieces_in.received(arriving) == len(body)
    film = Film.objects.get()
    assert store.files()[f"{FOLDER}/{film.pk}/original"] == body
    assert film.stored(film.original).is_this(film.original)


def test_questions_that_need_the_store_say_that_it_is_down(store, film, wren):
    there = elsewhere(film)
    store.down()
    status, said = sent(wren, "GET", f"/api/films/{there.pk}/frames")
    assert status == 503
    assert "does not answer" in said["fault"]
    # Marks need no film.
    path = f"/api/sessions/{there.session_id}/edits"
    mark = {"id": "b", "kind": "onset", "t": 1.0}
    edit = {"client_id": "b", "body": {"op": "put", "event": mark}}
    assert sent(wren, "GET", f"/api/films/{there.pk}")[0] == 200
    store.up()
    assert sent(wren, "POST", path, {"edits": [edit]})[0] == 200
    assert got(wren, there, "frames")[0] == 200


@pytest.mark.long
@pytest.mark.parametrize("silence", [ConnectTimeoutError, ReadTimeoutError])
def test_a_store_that_swallows_questions_is_left_alone_for_a_while(store, monkeypatch, silence):
    """Each question would hold a thread for seconds; a refused one holds nobody."""
    now, asked = [1000.0], []

    def ask(name):
        asked.append(name)
        raise faults.pop(0)(endpoint_url="https://store.example")

    monkeypatch.setattr(film_store, "monotonic", lambda: now[0])
    monkeypatch.setattr(film_store, "_asked_again_at", 0.0)
    monkeypatch.setattr(FilmStore, "_object", lambda self, name: ask(name))
    faults = [EndpointConnectionError, silence, silence]
    for seconds, times in ((0, 1), (0, 2), (0, 2), (4.9, 2), (5.1, 3)):
        now[0] = 1000.0 + seconds
        with pytest.raises(StoreFault, match="does not answer"):
            FilmStore().part("film/review.mp4", 0, 10)
        assert len(asked) == times


@pytest.mark.parametrize(
    ("address", "fetched"),
    few(2, itertools.product(["review.mp4", "frames", "sound.bin", "clicks"], FETCHED)),
)
def test_what_the_store_does_not_have_is_said_and_not_given_up(
    store, film, wren, monkeypatch, address, fetched
):
    """Its bucket may be another one by mistake."""
    monkeypatch.setattr(film_files, "FETCHED_BYTES", fetched)
    here = got(wren, film, address)
    kept = film.put_away({name: film.folder / name for name in MADE})
    there = elsewhere(film)
    bodies = store.files()
    store.empty()
    status, said = sent(wren, "GET", f"/api/films/{film.pk}/{address}")
    assert status == 503
    assert "does not have" in said["fault"]
    assert there.stored_files.count() == len(kept) == len(MADE)
    store.fill(bodies)
    assert got(wren, there, address) == here


@pytest.mark.long
@pytest.mark.parametrize(("number", "fault"), [(errno.ENOSPC, StoreFault), (errno.EACCES, OSError)])
def test_no_room_for_a_copy_is_said(store, film, monkeypatch, number, fault):
    there = elsewhere(film)

    def fails(self, name, path):
        raise OSError(number, "fails")

    monkeypatch.setattr(FilmStore, "fetch", fails)
    with pytest.raises(fault, match=r"room|fails"):
        there.here(there.sound_path)
    assert not list(there.folder.iterdir())


@pytest.mark.long
def test_a_copy_given_up_at_this_moment_is_fetched_again(store, film, monkeypatch):
    body, utime = film.sound_path.read_bytes(), os.utime

    def given_up(path, **more):
        monkeypatch.setattr(film_files.os, "utime", utime)
        Path(path).unlink()
        utime(path, **more)

    monkeypatch.setattr(film_files.os, "utime", given_up)
    assert film.here(film.sound_path).read_bytes() == body


def test_a_dropped_copy_is_dropped_in_the_store(store, film, wren):
    assert sent(wren, "POST", f"/api/films/{film.pk}/drop_copy")[0] == 200
    assert names_in(store, film) == MADE - {"review.mp4"}
    assert not film.stored_files.filter(name="review.mp4").exists()


def test_removed_films_leave_nothing_in_the_store(
    store, film, wren, django_capture_on_commit_callbacks
):
    other = f"{FOLDER}/{film.pk}-not/original"
    film_files.film_store()._storage.save(f"{film.pk}-not/original", io.BytesIO(b"another"))
    with django_capture_on_commit_callbacks(execute=True):
        assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 204
    assert set(store.files()) == {other}
    assert not RemovedFilm.objects.exists()


@pytest.mark.long
def test_what_could_not_be_removed_is_removed_later(
    store, film, wren, django_capture_on_commit_callbacks
):
    store.down()
    with django_capture_on_commit_callbacks(execute=True):
        assert sent(wren, "DELETE", f"/api/films/{film.pk}")[0] == 204
    assert RemovedFilm.objects.get().film_id == film.pk
    store.up()
    assert names_in(store, film) == MADE
    remove_leftovers()
    assert store.files() == {}
    assert not RemovedFilm.objects.exists()


@pytest.fixture
def looks_again(monkeypatch):
    """Makes room as if the last look were long ago."""

    def look():
        monkeypatch.setattr(film_files, "_looked_at", -film_files.LOOK_EVERY_S)
        film_files.make_room()

    return look


@pytest.mark.long
def test_room_is_made_by_what_was_not_asked_for_longest(
    store, film, settings, looks_again, monkeypatch
):
    sizes = {path.name: path.stat().st_size for path in film.folder.iterdir() if path.is_file()}
    long_ago = time.time() - 10 * film_files.SPARED_S
    order = sorted(sizes)
    for place, name in enumerate(order):
        path = film.folder / name
        os.utime(path, ns=(int((long_ago + place) * 1e9), path.stat().st_mtime_ns))
    # Asked for now: it goes last.
    film.here(film.folder / order[0])
    rest = sum(sizes.values()) - sizes[order[1]] - sizes[order[2]]
    settings.FILMS_HERE_BYTES = rest
    looks_again()
    left = {path.name for path in film.folder.iterdir()}
    assert left == set(sizes) - {order[1], order[2]}
    settings.FILMS_HERE_BYTES = 0
    looks_again()
    # What was used a moment ago may be about to be opened.
    assert [path.name for path in film.folder.iterdir()] == [order[0]]
    monkeypatch.setattr(film_files, "SPARED_S", 0)
    looks_again()
    assert list(film.folder.iterdir()) == []
    assert film.here(film.original).exists()


@pytest.mark.long
def test_room_is_looked_at_once_in_a_while(store, film, settings, monkeypatch):
    monkeypatch.setattr(film_files, "SPARED_S", 0)
    settings.FILMS_HERE_BYTES = 0
    monkeypatch.setattr(film_files, "_looked_at", time.monotonic())
    film_files.make_room()
    assert film.original.exists()


@pytest.mark.long
def test_what_the_store_does_not_have_is_never_given_up(
    store, film, settings, looks_again, monkeypatch
):
    monkeypatch.setattr(film_files, "SPARED_S", 0)
    settings.FILMS_HERE_BYTES = 0
    StoredFile.objects.filter(name="sound.bin").delete()
    film.heard_path.write_bytes(b"not what the store has")
    (Path(settings.MEDIA_ROOT) / "arriving").mkdir()
    (Path(settings.MEDIA_ROOT) / "arriving" / "piece").write_bytes(b"x")
    looks_again()
    assert {path.name for path in film.folder.iterdir()} == {"sound.bin", "heard.npz"}
    assert (Path(settings.MEDIA_ROOT) / "arriving" / "piece").exists()


@pytest.mark.long
def test_an_archive_has_films_straight_from_the_store(store, film, wren, tmp_path, make_trainer):
    body = film.original.read_bytes()
    there = elsewhere(film)
    answer = wren.get("/api/me/workspace.zip")
    packed = tmp_path / "all.zip"
    packed.write_bytes(b"".join(answer.streaming_content))
    with zipfile.ZipFile(packed) as archive:
        [name] = [n for n in archive.namelist() if n.startswith("films/")]
        assert archive.read(name) == body
        assert sum(n.startswith("frames/") for n in archive.namelist()) == 1
    pk = there.pk
    there.session.delete()
    there.delete()
    store.empty()
    bring_back(packed, make_trainer("sorrel", "Upper Meadow").workspaces.get(), nameless=True)
    # Whichever machine takes it in finds it.
    assert store.files()[f"{FOLDER}/{pk}/original"] == body


def test_films_move_into_the_store_and_out_of_it(film, store, capsys):
    call_command("move_films", "to_store")
    assert names_in(store, film) == MADE
    call_command("move_films", "to_store")
    assert "0 files moved" in capsys.readouterr().out
    there = elsewhere(film)
    call_command("move_films", "from_store")
    assert {path.name for path in there.folder.iterdir()} == MADE
    assert not StoredFile.objects.exists()


def test_films_move_nowhere_without_a_store(db):
    with pytest.raises(CommandError, match="FREQUENS_FILMS"):
        call_command("move_films", "to_store")


@pytest.mark.own_file
def test_a_backup_does_not_promise_films_it_has_not(store, film, tmp_path):
    with pytest.raises(keeping.BadBackup, match="store"):
        keeping.back_up(tmp_path / "all.zip", films=True)


def test_the_installation_says_whether_its_store_answers(store, film, settings):
    assert health._films().is_good
    store.down()
    assert not health._films().is_good
    store.up()
    settings.STORAGES = {k: v for k, v in settings.STORAGES.items() if k != "films"}
    lost = health._films()
    assert not lost.is_good
    assert "8 files" in lost.said
    StoredFile.objects.all().delete()
    assert health._films().is_good


@pytest.mark.parametrize("address", ["films", "https://store/bucket", "s3://"])
def test_an_address_that_is_none_is_said_at_the_start(address):
    with pytest.raises(ImproperlyConfigured, match="s3://bucket/folder"):
        read_settings._film_store(address)


def test_a_store_without_the_packages_for_it_is_said_at_the_start(monkeypatch):
    monkeypatch.setitem(sys.modules, "botocore.config", None)
    with pytest.raises(ImproperlyConfigured, match=r"frequens\[servers\]"):
        read_settings._film_store("s3://bucket")


@pytest.mark.long
def test_a_house_that_lost_its_folder_goes_on_from_the_store(the_store, make_house, shot):
    """The whole way, in the processes that serve: in by pieces of a request, out by stretches."""
    the_store.empty()
    with make_house(**the_store.environment).start() as house:
        trainer = house.trainer()
        film = trainer.settled(trainer.upload(shot)["id"])
        assert film["state"] == "ready", film
        path = f"/api/films/{film['id']}"
        review = trainer.ask("GET", f"{path}/review.mp4").content
        still = trainer.ask("GET", f"{path}/frames/100.jpg").content
        shutil.rmtree(house.home / "films" / film["id"])
        ranged = {"headers": {"Range": "bytes=2000-2999"}}
        answer = trainer.ask("GET", f"{path}/review.mp4", **ranged)
        assert (answer.status_code, answer.content) == (206, review[2000:3000])
        assert trainer.ask("GET", f"{path}/frames/100.jpg").content == still
        assert trainer.ask("GET", f"{path}/original").content == shot.read_bytes()
        assert trainer.ask("DELETE", path).status_code == 204
    assert the_store.files() == {}
    assert "Traceback" not in house.said()
