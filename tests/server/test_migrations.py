"""Databases of every version there was come along, and a migration that went out never changes."""

from __future__ import annotations

import hashlib
import sqlite3
from pathlib import Path

import pytest
from django.apps import apps

from tests.long import few

#: The oldest first: it goes through every migration.
DATABASES = sorted(
    (Path(__file__).parent / "databases").glob("*.sql"),
    key=lambda path: (path.stem != "first", path),
)

#: SHA-256 of what is in use somewhere. A line here is never changed, only followed by others.
FROZEN = {
    "drill/0001_initial": ("bba6f998f30cfd2c3d47c01283e026e19b23772fd76fb7dad55210855f4fc256"),
    "films/0001_initial": ("51e8d130ca2b99199a26bcfcb1c764ebe0bb31c75531b0cab138ac5c9c6aaedf"),
    "films/0002_film_place": ("e874309e90fc6a0b94f37354fb10a18a555a1654c3ebca0a51691a7d0d8f338e"),
    "films/0003_lists_and_by_hand": (
        "cc09bbc2c8c8e769ac343c0c913f0066a406f244cb3388fbb9c55749b4932ddc"
    ),
    "films/0004_holder": ("f96f6d8b6223186554ada4acfd62270943e164b93def04d46d6cf17700de9729"),
    "films/0005_listen_anew": ("31af2000b9d61875d0f88c43976b3807fe51754ca5cf317917ca7c3def6bd00b"),
    "films/0006_recorded": ("1f198699f56e75304eb5bc435517c6d2bd3ee7839d342b0078a88524fbfdb1a3"),
    "films/0007_dropped": ("0cbc1e0453d392d092bdb90b2e5eaec4236788a3ce423e3f8d833bf0c322d1c2"),
    "films/0008_slowed": ("467809d0a1bbc82521bbd241e245316336002a8ad12e65bd3992018244a77618"),
    "films/0009_arriving": ("4b7adf87209b0aa283d53e830c05b9be5f65aa23457d9feae5e5d054f0b83599"),
    "films/0010_stored": ("fb0eb9e704ac68dfa1b1644348172aebe0f4df68ee8bc078ef4a4849de042fcf"),
    "ingest/0001_arriving": ("92586278b113d56b25b5f63952221ede3d3bcae8fbe90263b5c3e63d8e073205"),
    "plans/0001_initial": ("45bd38a73802d4f30a2c3166676330b5cda8dc5c75c618745f1a845329e6490c"),
    "plans/0002_lists_and_by_hand": (
        "320ad0a82a9f025961e83385e26505fb5069bcd940ff13ec5d515b3a0ca66049"
    ),
    "plans/0003_calendar_and_withers": (
        "6433798173f546b63049c789ccb832db3508e7c83188b55f6412e34b22d63099"
    ),
    "reviews/0001_initial": ("be201262ba825c7b0ead0f0147a977a73a1411ad729076eff1919f764fbdce19"),
    "reviews/0002_trainingsession_plan_version_measured": (
        "41a12744b24913b8ff18e6139de371a4a1368bc87dc982e64894c2373f12973d"
    ),
    "reviews/0003_lists_and_by_hand": (
        "5135874991c0a9c6de5b5f62af5bb2d6ef309d330f9fd1463ad9a84c70b17d46"
    ),
    "reviews/0004_lineage": ("585f1195bc284df2a29c1286fe08b42a5682f89536c0ebfdb5ba129078607e82"),
    "reviews/0005_digest": ("6d8ab3fd0d60fbbb16811f6a0c852b103e504dd54afdec00ff8ef9e6df3f5062"),
    "reviews/0006_names": ("49f09ee5a6945d8ffef6928fa179f5d0f48abf56b8228ca02397579728b0bb0c"),
    "reviews/0007_led_at": ("0936cc19c8280b90756e97e1e4e88b9e7740925874b2ad6c52679eba49b92ca7"),
    "reviews/0008_second_of": ("2b8127c7a3de377dd4206cd0c2c3b68c75bcb6d0a9a59196854f765e82644c6d"),
    "second_look/0001_initial": (
        "d7b822bb264d70e7b646aed97ef42b5c9330462b25ffcc5a566c5e1d75554257"
    ),
    "workspaces/0001_initial": ("e1849e840ae5386bfbd5bd96bc53b05c8096329a918af9c9f0d904c5d078197d"),
    "workspaces/0002_preferences": (
        "fe85c540c50710213c4eda50c48410b5c7a82d9c640ac10a42ced7052fd3c342"
    ),
    "workspaces/0003_phone_code": (
        "cf5050d022e8067eb122dbd18dcd4fdbff15e8f16527d04e5ab4e9518c30dd4b"
    ),
    "workspaces/0004_roles": ("a070bfa3f45d9ab44b3d0dab1a5aa794f37564389c2733055cec4d2d75dbdee1"),
}


def test_migrations_that_went_out_are_as_they_went_out():
    found = {
        f"{app.label}/{path.stem}": hashlib.sha256(path.read_bytes()).hexdigest()
        for app in apps.get_app_configs()
        if app.name.startswith("frequens.")
        for path in Path(app.path).glob("migrations/0*.py")
    }
    assert {name: found.get(name) for name in FROZEN} == FROZEN
    # A new one is put under seal with the change that brings it.
    assert set(found) == set(FROZEN)


@pytest.mark.parametrize("dump", few(1, DATABASES), ids=lambda path: path.stem)
def test_a_database_of_an_earlier_version_is_read_with_all_that_is_in_it(make_house, dump):
    house = make_house()
    for old in house.home.glob("frequens.sqlite3*"):
        old.unlink()
    connection = sqlite3.connect(house.home / "frequens.sqlite3")
    connection.executescript(dump.read_text(encoding="utf-8"))
    connection.close()
    try:
        trainer = house.start().trainer()
        (session,) = trainer.ask("GET", "/api/sessions").json()
        assert (session["learner"], session["behaviour"]) == ("Thistle", "Ring the bell")
        path = f"/api/sessions/{session['id']}"
        found = trainer.ask("GET", f"{path}/findings").json()["findings"]
        assert found["counts"]["attempts"] == 4
        assert found["counts"]["rewards"] == 3
        assert found["marker_latency_s"]["median"] == pytest.approx(0.3 + 0.033333 / 2)
        # It was receiving when that version was left: the upload broke off.
        (film,) = trainer.ask("GET", "/api/films").json()
        assert (film["name"], film["state"]) == ("lost.mp4", "failed")
        put = {"op": "put", "event": {"id": "new", "kind": "onset", "t": 29.0}}
        sent = {"edits": [{"client_id": "new", "body": put}], "findings": True}
        answer = trainer.ask("POST", f"{path}/edits", json=sent).json()
        assert answer["findings"]["findings"]["counts"]["attempts"] == 5
        for behaviour in trainer.ask("GET", "/api/behaviours").json():
            # Its short findings are kept: what the version between lacked the column for.
            assert trainer.ask("GET", f"/api/logbook/{behaviour['id']}").status_code == 200
            assert trainer.ask("GET", f"/api/plans/next/{session['id']}").status_code == 200
        if dump.stem != "first":
            assert trainer.ask("GET", "/api/behaviours").json()
    finally:
        house.kill()
