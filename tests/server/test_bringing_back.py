"""An archive read into an empty workspace: to the row, or nothing and the reason."""

from __future__ import annotations

import io
import json
import shutil
import zipfile
from pathlib import Path

import pytest
from django.conf import settings as django_settings
from django.contrib.auth import get_user_model
from django.core.management import CommandError, call_command
from django.db import connection
from huey.contrib.djhuey import HUEY

from frequens.server.accounts.models import Workspace, join_workspace
from frequens.server.coding.models import Edit
from frequens.server.drill.kept_runs import score_of
from frequens.server.drill.models import DrillRun
from frequens.server.ingest.intake import take_in
from frequens.server.ingest.receive import ReceiveFault
from frequens.server.keeping import alone
from frequens.server.leaving.archive import ROWS, archive_of
from frequens.server.leaving.bringing_back import BadArchive, _Bringing, bring_back
from frequens.server.leaving.removal import remove_workspace
from frequens.server.leaving.rows import lines_of
from frequens.server.library.models import Film
from frequens.server.library.sessions import TrainingSession
from frequens.server.second_look.comparing import comparison_of
from frequens.server.second_look.models import SecondLook
from tests.long import few

from .conftest import PASSWORD, put, sent


@pytest.fixture
def full(wren, bell, coded, film):
    """A workspace with a coded film, a session by hand, notes, and a plan of two versions."""
    counted = {"date": "2026-05-03", "counts": {"minutes": 4, "reps": 9, "met": 7}}
    assert sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", counted)[0] == 201
    note = {"client_id": "n", "body": {"op": "note", "part": "pause_s", "text": "Böen."}}
    sent(wren, "POST", f"/api/sessions/{coded.pk}/edits", {"edits": [note]})
    sent(wren, "POST", f"/api/behaviours/{bell['id']}/sessions", {"session_id": str(coded.pk)})
    _seen_again(wren, coded, film)
    _drilled(wren, coded)
    return film.workspace


def _drilled(client, coded):
    """A drill that was done, on the film of a session as far as the archive goes."""
    asked = {"instant": "begins", "level": "clear", "seed": 3}
    drill = sent(client, "POST", "/api/drills", asked)[1]
    place, due = next(
        (n, w["due_s"]) for n, w in enumerate(drill["windows"]) if w["due_s"] is not None
    )
    pressed = {"presses": [due + 0.3], "shown": {place: [due, 0.016]}, "by": "key"}
    pressed |= {"frame_s": 0.016, "picture_s": 0.016}
    assert sent(client, "PUT", f"/api/drills/{drill['id']}/pressed", pressed)[0] == 200
    DrillRun.objects.update(session=coded)


def _seen_again(client, coded, film):
    """A second look by the same trainer, opened and with one mark settled."""
    me = sent(client, "GET", "/api/members")[1]["members"][0]["id"]
    asked = f"/api/sessions/{coded.pk}/second-looks"
    look = sent(client, "POST", asked, {"member_id": me})[1]
    edits = [put("b9", "onset", 31, film, met=True), put("m9", "marker", 40, film, marker="event")]
    sent(client, "POST", f"/api/sessions/{look['coding_id']}/edits", {"edits": edits})
    sent(client, "POST", f"/api/second-looks/{look['id']}/done", {"coding": "second"})
    pair = {"first_id": "b1", "second_id": "b9", "chosen": "second"}
    assert sent(client, "POST", f"/api/second-looks/{look['id']}/settled", pair)[0] == 200


def archived(workspace, tmp_path, films=True, name="whole.zip"):
    path = tmp_path / name
    path.write_bytes(b"".join(archive_of(workspace, films)))
    return path


def anew(name="Saltmarsh Steading"):
    """An empty workspace, with wren in it again."""
    user, _ = get_user_model().objects.get_or_create(username="wren")
    user.set_password(PASSWORD)
    user.save()
    workspace = Workspace.objects.create(name=name)
    join_workspace(user, workspace)
    return workspace


def rows(workspace):
    return sorted(list(lines_of(workspace))[1:])


def litter():
    root = Path(django_settings.MEDIA_ROOT)
    return [p for p in root.iterdir() if p.name != "incoming"] if root.exists() else []


def changed(path, tmp_path, change):
    """The archive with some of its entries changed: ``change(name, content)``, None to drop."""
    made = tmp_path / "changed.zip"
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            content = change(name, old.read(name))
            if content is not None:
                new.writestr(name, content)
    return made


def findings_of(client, session_id):
    found = sent(client, "GET", f"/api/sessions/{session_id}/findings")[1]["findings"]
    judged = sent(client, "GET", f"/api/sessions/{session_id}/judgement")[1]
    return found, judged["judgement"]


def test_everything_comes_back_to_the_row_and_is_measured_as_before(full, coded, wren, tmp_path):
    before, measured = rows(full), findings_of(wren, coded.pk)
    film = Film.objects.get()
    content, index = film.original.read_bytes(), film.index_path.read_bytes()
    path = archived(full, tmp_path)
    remove_workspace(full)
    assert litter() == []
    again = anew()
    counts = bring_back(path, again)
    assert rows(again) == before
    assert counts == {
        "learner": 1,
        "behaviour": 1,
        "plan_version": 1,
        "session": 2,
        "film": 1,
        "edit": Edit.objects.count(),
        "second_look": 1,
        "settled": 1,
        "drill": 1,
    }
    run = DrillRun.objects.get()
    assert (run.author.get_username(), run.session) == ("wren", coded)
    assert score_of(run).caught.count == 1
    look = SecondLook.objects.get()
    assert (look.reviewer.get_username(), len(comparison_of(look).open_pairs)) == ("wren", 3)
    film = Film.objects.get()
    assert (film.original.read_bytes(), film.index_path.read_bytes()) == (content, index)
    wren.login(username="wren", password=PASSWORD)
    assert findings_of(wren, coded.pk) == measured
    # It is taken in again like any other, and changes nothing of what is known.
    assert film.state == "waiting"
    take_in(str(film.pk))
    assert Film.objects.get().state == "ready"
    assert rows(again) == before
    assert findings_of(wren, coded.pk) == measured


def test_without_the_films_marks_and_findings_come_back_all_the_same(full, coded, wren, tmp_path):
    before, measured = rows(full), findings_of(wren, coded.pk)
    path = archived(full, tmp_path, films=False)
    remove_workspace(full)
    again = anew()
    bring_back(path, again)
    assert rows(again) == before
    wren.login(username="wren", password=PASSWORD)
    assert findings_of(wren, coded.pk) == measured
    film = Film.objects.get()
    assert (film.state, film.fault_code) == ("failed", "not_in_archive")


def test_the_command_says_what_came_back(full, tmp_path, capsys, settings):
    settings.HOME = tmp_path
    path = archived(full, tmp_path)
    remove_workspace(full)
    with pytest.raises(CommandError, match="add_trainer makes one"):
        call_command("bring_back", path, workspace="Saltmarsh Steading")
    anew()
    # Also while somebody serves.
    with alone():
        call_command("bring_back", path, workspace="Saltmarsh Steading")
    assert "1 learner, 1 behaviour, 1 plan version, 2 sessions, 1 film" in capsys.readouterr().out
    with pytest.raises(CommandError, match="is not empty"):
        call_command("bring_back", path, workspace="Saltmarsh Steading")
    with pytest.raises(CommandError, match="No such file"):
        call_command("bring_back", tmp_path / "gone.zip", workspace=anew("Empty").name)


def test_who_has_no_account_is_named_before_anything_comes_back(full, tmp_path):
    path = archived(full, tmp_path)
    remove_workspace(full)
    again = anew()
    get_user_model().objects.filter(username="wren").update(username="teasel")
    with pytest.raises(BadArchive, match="wren did some of this and has no account"):
        bring_back(path, again)
    assert (rows(again), litter()) == ([], [])
    bring_back(path, again, nameless=True)
    assert not Edit.objects.filter(author__isnull=False).exists()
    assert Edit.objects.exists()


def test_what_is_here_already_does_not_come_twice(full, tmp_path):
    path = archived(full, tmp_path)
    before, other = rows(full), anew("Other")
    with pytest.raises(BadArchive, match="here already"):
        bring_back(path, other, nameless=True)
    assert (rows(other), rows(full)) == ([], before)
    assert Film.objects.get().original.exists()


def edited(row, /, **fields):
    """Changes the first row of a kind."""

    def change(name, content):
        if name != ROWS:
            return content
        lines = [json.loads(line) for line in content.splitlines()]
        next(line for line in lines if line.get("row") == row).update(fields)
        return "".join(json.dumps(line) + "\n" for line in lines)

    return change


@pytest.mark.parametrize(
    ("change", "said"),
    few(
        4,
        [
            (lambda n, c: None if n == ROWS else c, "no whole archive"),
            (lambda n, c: b"{}\n" if n == ROWS else c, "no archive of a workspace"),
            (lambda n, c: b"not json\n" if n == ROWS else c, "not JSON"),
            (lambda n, c: c.replace(b'"version": 1', b'"version": 2', 1) if n == ROWS else c, "2"),
            (lambda n, c: c + b"x" if n.startswith("films/") else c, "not the film it was"),
            (lambda n, c: b"{}" if n.startswith("frames/") else c, "frames' times"),
            (edited("learner", name=None), "name: missing"),
            (edited("learner", born="soon"), "born: "),
            (
                edited("behaviour", learner="6f9619ff-8b86-d011-b42d-00c04fc964ff"),
                "learner: not in",
            ),
            (edited("plan_version", document={"format": "other"}), "line"),
            (edited("session", plan_version=["x", 1]), "plan_version: not in"),
            (edited("edit", body={"op": "put", "event": {"id": "a", "kind": "bark"}}), "kind"),
            (edited("edit", body=3), "body: not an object"),
            (edited("edit", row="ghost"), "unknown row 'ghost'"),
        ],
    ),
)
def test_what_cannot_be_is_refused_by_its_line_and_leaves_nothing(full, tmp_path, change, said):
    path = archived(full, tmp_path)
    remove_workspace(full)
    again = anew()
    with pytest.raises(BadArchive, match=said):
        bring_back(changed(path, tmp_path, change), again)
    assert (rows(again), litter()) == ([], [])
    assert not TrainingSession.objects.exists()


def test_half_an_archive_is_refused(full, tmp_path):
    path = archived(full, tmp_path)
    remove_workspace(full)
    again = anew()
    half = tmp_path / "half.zip"
    half.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    with pytest.raises(BadArchive, match="no whole archive"):
        bring_back(half, again)
    assert litter() == []


def test_strangers_rows_are_in_no_archive(full, stranger):
    other = sent(stranger, "POST", "/api/learners", {"name": "Sorrel's secret"})[1]
    with zipfile.ZipFile(io.BytesIO(b"".join(archive_of(full, True)))) as archive:
        assert other["id"].encode() not in archive.read(ROWS)


def send(client, path, query=""):
    return client.post(
        f"/api/me/workspace/bring_back{query}",
        path.read_bytes(),
        content_type="application/octet-stream",
    )


def test_it_comes_back_over_http_into_ones_own_empty_place(full, tmp_path, wren):
    path = archived(full, tmp_path)
    before = rows(full)
    assert send(wren, path).status_code == 422
    remove_workspace(full)
    again = anew()
    wren.force_login(again.members.get())
    assert sent(wren, "GET", "/api/me/workspace")[1]["is_empty"]
    HUEY.flush()
    answer = send(wren, path)
    assert (answer.status_code, answer.json()) == (
        200,
        {"learners": 1, "behaviours": 1, "sessions": 2, "films": 1},
    )
    assert rows(again) == before
    assert not sent(wren, "GET", "/api/me/workspace")[1]["is_empty"]
    # Its film is taken in at once, and nothing of the upload is left.
    assert HUEY.pending_count() == 1
    assert list((Path(django_settings.MEDIA_ROOT) / "incoming").iterdir()) == []


def test_over_http_a_bad_one_is_refused_in_words(full, tmp_path, wren, settings):
    path = archived(full, tmp_path)
    remove_workspace(full)
    again = anew()
    again.members.get().delete()
    user = get_user_model().objects.create_user("teasel", password=PASSWORD)
    join_workspace(user, again)
    wren.force_login(user)
    refused = send(wren, path)
    assert refused.status_code == 422
    assert "wren did some of this" in refused.json()["fault"]
    half = tmp_path / "half.zip"
    half.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    assert "no whole archive" in send(wren, half).json()["fault"]
    settings.DISK_RESERVE_BYTES = 2**62
    assert send(wren, path).status_code == 507
    settings.DISK_RESERVE_BYTES = 0
    assert litter() == []
    assert send(wren, path, "?nameless=true").status_code == 200


def test_the_database_is_free_while_films_are_copied(full, tmp_path, monkeypatch):
    path = archived(full, tmp_path)
    remove_workspace(full)
    around, seen = len(connection.savepoint_ids), []
    copy = _Bringing.copy_films

    def look(bringing, staging):
        copy(bringing, staging)
        seen.append(len(connection.savepoint_ids))

    monkeypatch.setattr(_Bringing, "copy_films", look)
    bring_back(path, anew())
    assert seen == [around]


def test_no_room_for_the_films_is_said_before_any_is_copied(full, tmp_path, settings):
    path = archived(full, tmp_path)
    remove_workspace(full)
    free = shutil.disk_usage(django_settings.MEDIA_ROOT).free
    settings.DISK_RESERVE_BYTES = free - 100
    with pytest.raises(ReceiveFault, match="disk is full"):
        bring_back(path, anew())
    assert litter() == []


@pytest.mark.parametrize(
    ("change", "said"),
    few(
        2,
        [
            ({"level": "impossible"}, "level"),
            ({"source": "dream"}, "source"),
            ({"script": {"windows": [{"on": "begins"}]}}, "windows.0.opens_s"),
            ({"script": 7}, "a drill cannot be so"),
            ({"measured": {"presses": ["soon"]}}, "presses.0"),
            ({"finished_at": None}, "finished_at: missing"),
        ],
    ),
)
def test_a_drill_that_cannot_be_is_named_and_nothing_comes_back(full, tmp_path, change, said):
    path = archived(full, tmp_path)

    def broken(name, content):
        if name != ROWS:
            return content
        lines = [json.loads(line) for line in content.splitlines()]
        found = [{**one, **change} if one.get("row") == "drill" else one for one in lines]
        return "\n".join(json.dumps(one) for one in found).encode()

    remove_workspace(full)
    again = anew()
    with pytest.raises(BadArchive, match=said):
        bring_back(changed(path, tmp_path, broken), again)
    assert (rows(again), litter()) == ([], [])
