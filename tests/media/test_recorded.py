"""When and with what a film says it was recorded. The keys' names are common practice."""

from __future__ import annotations

import datetime as dt

import av
import pytest

from frequens.media.decode.probe import probe
from frequens.media.decode.recorded import instant_of

NOW = dt.datetime(2026, 6, 1, 12, tzinfo=dt.UTC)


@pytest.fixture
def film_saying(film_of, tmp_path):
    """The same packets in a film that says this of itself."""

    def make(ending=".mp4", **said):
        path = tmp_path / f"said{ending}"
        options = {"movflags": "use_metadata_tags"} if ending != ".mkv" else {}
        with av.open(str(film_of("60"))) as film, av.open(str(path), "w", options=options) as again:
            again.metadata.update({key.replace("__", "."): value for key, value in said.items()})
            stream = again.add_stream_from_template(film.streams.video[0])
            for packet in film.demux(film.streams.video[0]):
                if packet.dts is not None:
                    packet.stream = stream
                    again.mux(packet)
        return probe(path)

    return make


def test_a_film_that_says_nothing(film_of):
    facts = probe(film_of("60"))
    assert (facts.recorded_at, facts.device) == ("", "")


@pytest.mark.parametrize("ending", [".mp4", ".mov", ".mkv"])
def test_the_instant_in_utc(film_saying, ending):
    facts = film_saying(ending, creation_time="2025-07-05T16:12:33.000000Z")
    assert facts.recorded_at == "2025-07-05T16:12:33+00:00"


def test_the_clock_on_the_wall_is_worth_more(film_saying):
    facts = film_saying(
        ".mov",
        creation_time="2025-07-05T22:12:33.000000Z",
        org__saltmarsh__phone__creationdate="2025-07-06T00:12:33+0200",
    )
    assert facts.recorded_at == "2025-07-06T00:12:33+02:00"


@pytest.mark.parametrize(
    ("make", "model", "device"),
    [
        ("Saltmarsh", "Heron 4", "Saltmarsh Heron 4"),
        ("Saltmarsh", "Saltmarsh Heron 4", "Saltmarsh Heron 4"),
        ("", "Heron 4", "Heron 4"),
    ],
)
def test_the_device_once(film_saying, make, model, device):
    said = {"org__saltmarsh__phone__make": make, "org__saltmarsh__phone__model": model}
    assert film_saying(".mov", **{k: v for k, v in said.items() if v}).device == device


@pytest.mark.parametrize(
    ("text", "is_one"),
    [
        ("1990-01-01T00:00:00Z", True),
        ("1989-12-31T23:59:59Z", False),
        ("1904-01-01T00:00:00Z", False),
        ("2026-06-02T12:00:00Z", True),
        ("2026-06-02T12:00:01Z", False),
        ("2025-07-05T18:12:33+0200", True),
        # Without a zone it may be any day's instant.
        ("2025-07-05T18:12:33", False),
        ("2025", False),
        ("in the evening", False),
        ("", False),
    ],
)
def test_what_cannot_be_an_instant_is_none(text, is_one):
    assert (instant_of(text, NOW) is not None) == is_one
