"""CSV and WebVTT: they read back unchanged, and no spreadsheet runs what is in them."""

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from frequens.core import InvalidSession, read_session
from frequens.core.formats.session_document import read_event
from frequens.core.formats.text_formats import read_csv, read_webvtt, write_csv, write_webvtt

from .test_interchange import EXAMPLE

EVENTS = read_session(EXAMPLE).events
#: Control characters and what is no character are refused where texts come in.
texts = st.text(
    st.characters(
        codec="utf-8", exclude_categories=["Cs", "Cc", "Cn"], include_characters="\n\t\r"
    ),
    min_size=1,
    max_size=40,
)


def note(text: str):
    return read_event({"id": "n", "kind": "note", "t": 1.5, "text": text})


def test_csv_reads_back_unchanged():
    assert read_csv(write_csv(EVENTS)) == EVENTS


def test_webvtt_reads_back_unchanged_in_time_order():
    assert read_webvtt(write_webvtt(EVENTS)) == EVENTS


@given(texts)
def test_any_text_survives_csv(text):
    assert read_csv(write_csv([note(text)]))[0].text == text


@given(texts)
def test_any_text_survives_webvtt(text):
    assert read_webvtt(write_webvtt([note(text)]))[0].text == text


@pytest.mark.parametrize("start", ["=", "+", "-", "@", "\t", "\r", "\n", "'"])
def test_no_cell_of_text_begins_like_a_formula(start):
    table = write_csv([note(start + "1+1|cmd")])
    (row,) = list(csv.DictReader(io.StringIO(table, newline="")))
    assert row["text"][0] == "'"
    assert read_csv(table)[0].text == start + "1+1|cmd"


def test_webvtt_is_readable_by_people_and_keeps_its_syntax():
    text = write_webvtt([*EVENTS, note("a --> b <c>")])
    assert text.startswith("WEBVTT\n\n")
    assert "00:00:02.000 --> 00:00:02.600\nbehaviour begins: look" in text
    keep_going = read_event({"id": "k", "kind": "marker", "t": 1, "marker": "keep_going"})
    assert "\nkeep going marker\n" in write_webvtt([keep_going])
    arrows = [line for line in text.splitlines() if "-->" in line]
    assert len(arrows) == len(EVENTS) + 1
    assert "a --&gt; b &lt;c&gt;" in text


@pytest.mark.parametrize(
    ("text", "fault"),
    [
        ("", "row 1: no column 'kind'"),
        ("id,kind,t\na,onset,soon\n", "row 2: t: not a number: 'soon'"),
        ("id,kind,t\na,leap,1\n", "row 2.kind: unknown kind 'leap'"),
        ("id,kind,t,met\na,onset,1,maybe\n", "row 2: met: not a value: 'maybe'"),
        ("id,kind,t,mood\na,onset,1,x\n", "row 1: unknown column 'mood'"),
    ],
)
def test_a_bad_table_names_its_rows(text, fault):
    with pytest.raises(InvalidSession) as invalid:
        read_csv(text)
    assert invalid.value.faults[0].startswith(fault)


def test_captions_of_somebody_else_are_refused():
    with pytest.raises(InvalidSession, match="only captions written by Frequens"):
        read_webvtt("WEBVTT\n\n00:01.000 --> 00:02.000\nhello\n")
    with pytest.raises(InvalidSession, match="line 1: not a WebVTT file"):
        read_webvtt("hello")
