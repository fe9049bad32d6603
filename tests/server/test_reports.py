"""The report and the tables: their texts and numbers are the findings', read back by others."""

from __future__ import annotations

import csv
import io
import re
import uuid

import openpyxl
import pypdfium2
import pytest

from frequens.core import measure
from frequens.server.coding.edit_store import session_record
from frequens.server.reports.content import report_of
from frequens.server.reports.pdf import write_pdf
from frequens.server.reports.phrases import long_day
from frequens.words import latency

from .conftest import put, sent


@pytest.fixture
def session(coded):
    return coded


@pytest.fixture
def findings(session):
    return measure(session_record(session))


def choose(wren, session, **report):
    edit = {"client_id": uuid.uuid4().hex, "body": {"op": "facts", "set": {"report": report}}}
    said = sent(wren, "POST", f"/api/sessions/{session.pk}/edits", {"edits": [edit]})[1]
    assert said["refused"] == {}


def pdf_of(wren, session):
    answer = wren.get(f"/api/sessions/{session.pk}/report.pdf")
    assert answer.status_code == 200
    return pypdfium2.PdfDocument(answer.content)


def text_of(pdf):
    pages = [page.get_textpage().get_text_bounded() for page in pdf]
    return re.sub(r"\s+", " ", " ".join(pages))


def test_the_pdf_says_what_the_findings_say(wren, session, findings):
    choose(wren, session, reader="Dr Marsh", words="She was keen today.")
    pdf = pdf_of(wren, session)
    assert len(pdf) <= 2
    text = text_of(pdf)
    said = sent(wren, "GET", f"/api/sessions/{session.pk}/judgement")[1]["judgement"]["headline"]
    assert said in text
    assert "For Dr Marsh" in text
    assert "She was keen today." in text
    assert latency(findings["marker_latency_s"]["median"])[1:] in text
    rate = findings["rates"]["reinforcement_per_min"]
    assert f"{rate['value']:.1f} rewards a minute" in text
    assert f"could be {rate['low']:.1f} to {rate['high']:.1f}" in text
    assert "Looks at the rope 0:08 1 of 2" in text
    assert "Up after 5 in a row that fit; back after 3 misses in a row." in text
    ms = round(1960 * findings["sources"]["marker_latency_s"])
    assert f"±{ms} ms" in text
    for caution in report_of(session).cautions:
        assert caution in text


def test_the_report_begins_with_what_is_known_of_the_session(wren, session):
    day = long_day(session.date_now)
    assert re.fullmatch(r"\d+ [A-Z][a-z]+ \d{4}", day)
    assert report_of(session).facts == f"{day}, trained by wren, 0:08 of training, 2 reps"
    edit = {
        "client_id": "who",
        "body": {"op": "facts", "set": {"handler": "Sorrel", "place": "yard"}},
    }
    assert (
        sent(wren, "POST", f"/api/sessions/{session.pk}/edits", {"edits": [edit]})[1]["refused"]
        == {}
    )
    said = report_of(session).facts
    assert said.startswith(f"{day}, trained by wren, handled by Sorrel, yard, 0:08 of training")


@pytest.mark.parametrize(("key", "longest"), [("reader", 200), ("words", 1200)])
def test_what_is_written_into_a_report_has_its_length(wren, session, key, longest):
    choose(wren, session, **{key: "x" * longest})
    edit = {
        "client_id": "long",
        "body": {"op": "facts", "set": {"report": {key: "x" * (longest + 1)}}},
    }
    said = sent(wren, "POST", f"/api/sessions/{session.pk}/edits", {"edits": [edit]})[1]
    assert any(f"report.{key}" in fault for fault in said["refused"]["long"])


def test_each_page_of_the_pdf_shows_ink_and_pictures(wren, session):
    pdf = pdf_of(wren, session)
    for page in pdf:
        picture = page.render(scale=1).to_numpy()
        assert picture.min() < 80
        assert 0.02 < (picture < 200).mean() < 0.5
    kinds = [o.type for page in pdf for o in page.get_objects()]
    images = kinds.count(pypdfium2.raw.FPDF_PAGEOBJ_IMAGE)
    # The rep that fits, where it begins and at its marker: they are the same two marks.
    assert images == 2


def test_chosen_frames_are_shown_and_one_that_is_gone_is_left_out(wren, session):
    choose(wren, session, pictures=["b2", "nowhere"])
    report = report_of(session)
    assert [p.mark for p in report.pictures] == ["b2"]
    assert report.pictures[0].caption.startswith("Rep 2 begins, 0:04.0")
    choose(wren, session, pictures=[])
    assert report_of(session).pictures == []


def test_all_marks_on_frames_can_be_chosen(wren, session):
    said = sent(wren, "GET", f"/api/sessions/{session.pk}/report/pictures")[1]
    assert [c["mark"] for c in said["candidates"]] == ["b1", "m1", "b2"]
    assert said["usual"] == ["b1", "m1"]


def test_a_long_report_still_stands_on_two_pages(wren, session):
    choose(wren, session, words="A long word from the trainer. " * 39)
    for n, part in enumerate(("rates", "splits", "pause_s", "offered", "placement")):
        edit = {"client_id": f"n{n}", "body": {"op": "note", "part": part, "text": "Words. " * 40}}
        sent(wren, "POST", f"/api/sessions/{session.pk}/edits", {"edits": [edit]})
    pdf = pypdfium2.PdfDocument(write_pdf(report_of(session)))
    assert len(pdf) == 2
    assert text_of(pdf).count("Words. Words.") >= 5


def test_the_page_is_one_file_and_takes_texts_as_texts(wren, session):
    choose(wren, session, words="<script>alert(1)</script>", reader='#import "x" $x$ & <b>')
    answer = wren.get(f"/api/sessions/{session.pk}/report.html")
    page = answer.content.decode()
    assert "<script" not in page
    assert "&lt;script&gt;alert(1)" in page
    assert not re.search(r'(src|href)="(?!data:)', page)
    assert page.count('src="data:image/jpeg;base64,') == 2
    # Shown inside the report's screen, and with its own style: nothing else is let in.
    policy = answer.headers["Content-Security-Policy"]
    assert "frame-ancestors 'self'" in policy
    assert "'unsafe-inline'" not in policy
    assert answer.headers["X-Frame-Options"] == "SAMEORIGIN"
    assert '#import "x" $x$ & <b>' in text_of(pdf_of(wren, session))


def test_the_parts_of_the_page_in_their_order(wren, session):
    edit = {"client_id": "n", "body": {"op": "note", "part": "rates", "text": "a slow day"}}
    assert sent(wren, "POST", f"/api/sessions/{session.pk}/edits", {"edits": [edit]})[0] == 200
    page = wren.get(f"/api/sessions/{session.pk}/report.html").content.decode()
    assert re.findall("<h2>(.*?)</h2>", page) == [
        "The steps of this session",
        "The marker and the reward",
        "The rate",
        "The plan",
        "From the film",
        "Notes",
        "The next session",
        "To keep in mind",
        "How this was measured",
    ]
    assert '<html lang="en">' in page


def test_other_pages_still_cannot_be_framed(wren):
    answer = wren.get("/")
    assert answer.headers["X-Frame-Options"] == "DENY"
    assert "frame-ancestors 'none'" in answer.headers["Content-Security-Policy"]


def test_nothing_coded_has_no_report(wren, film):
    assert wren.get(f"/api/sessions/{film.session_id}/report.pdf").status_code == 404


def test_another_workspace_has_no_part_in_it(stranger, session):
    for file in ("report.pdf", "report.html", "report/pictures", "tables.xlsx", "tables/reps.csv"):
        assert stranger.get(f"/api/sessions/{session.pk}/{file}").status_code == 404


def test_the_csv_of_reps_holds_the_cores_numbers(wren, session, findings):
    answer = wren.get(f"/api/sessions/{session.pk}/tables/reps.csv")
    rows = list(csv.DictReader(io.StringIO(answer.content.decode(), newline="")))
    assert len(rows) == len(findings["reps"])
    for row, rep in zip(rows, findings["reps"], strict=True):
        for key in ("onset_s", "marker_s", "marker_latency_s", "reward_latency_s"):
            assert row[key] == ("" if rep[key] is None else repr(rep[key]))
        assert row["met"] == {True: "yes", False: "no", None: ""}[rep["met"]]


def test_the_workbook_holds_every_table_and_no_formula(wren, session, findings):
    edit = put("b2", "onset", 121, session.clips[0], met=False, conditions={"side": "=1+1"})
    sent(wren, "POST", f"/api/sessions/{session.pk}/edits", {"edits": [edit]})
    answer = wren.get(f"/api/sessions/{session.pk}/tables.xlsx")
    book = openpyxl.load_workbook(io.BytesIO(answer.content))
    assert book.sheetnames[:3] == ["reps", "splits", "stretches"]
    heads, *rows = book["splits"].iter_rows(values_only=True)
    (split,) = findings["splits"]["approximations"]
    row = dict(zip(heads, rows[0], strict=True))
    assert (row["met"], row["judged"], row["low"]) == (1, 2, pytest.approx(split["low"]))
    cells = [cell for sheet in book for row in sheet.iter_rows() for cell in row]
    assert any(cell.value == "=1+1" for cell in cells)
    assert not any(cell.data_type == "f" for cell in cells)
    assert wren.get(f"/api/sessions/{session.pk}/tables/nothing.csv").status_code == 404


def test_the_logbook_goes_out_as_tables(wren, session, bell):
    counts = {"minutes": 2, "reps": 3, "note": "=cmd"}
    body = {"date": "2026-05-02", "trainer": "wren", "counts": counts}
    sent(wren, "POST", f"/api/logbook/{bell['id']}/by-hand", body)
    answer = wren.get(f"/api/logbook/{bell['id']}/sessions.csv")
    rows = list(csv.DictReader(io.StringIO(answer.content.decode(), newline="")))
    assert [(r["by_hand"], r["note"]) for r in rows] == [("no", ""), ("yes", "'=cmd")]
    answer = wren.get(f"/api/logbook/{bell['id']}/tables.xlsx")
    book = openpyxl.load_workbook(io.BytesIO(answer.content))
    assert book.sheetnames == ["sessions", "trends", "weeks", "steps", "success", "growth"]
