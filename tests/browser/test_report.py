"""The report's screen: read before it is sent, with the trainer's own words and frames."""

from __future__ import annotations

import re

import pypdfium2
import pytest
from playwright.sync_api import expect

from .axe import faults


@pytest.fixture
def report(page, house, coded):
    page.goto(f"{house.url}/sessions/{coded['session_id']}/findings")
    page.get_by_role("link", name="Two-page report").click()
    expect(page.get_by_role("heading", name="Report", exact=True)).to_be_visible()
    return page


def test_words_and_frames_chosen_stand_in_page_and_pdf(report, trainer, coded):
    inside = report.frame_locator("iframe")
    said = trainer.ask("GET", f"/api/sessions/{coded['session_id']}/judgement").json()
    expect(inside.locator(".verdict")).to_have_text(said["judgement"]["headline"])
    before = inside.locator("figure").count()
    report.get_by_label("For").fill("the veterinarian")
    report.get_by_label("For").blur()
    expect(inside.get_by_text("For the veterinarian")).to_be_visible()
    chosen = report.locator("button[aria-pressed=true]")
    expect(chosen).to_have_count(before)
    chosen.first.click()
    expect(chosen).to_have_count(before - 1)
    expect(inside.locator("figure")).to_have_count(before - 1)
    rest = report.locator("button[aria-pressed=false]")
    while chosen.count() < 4:
        rest.first.click()
    rest.first.click()
    expect(report.get_by_text("There is room for 4 pictures").first).to_be_visible()
    expect(inside.locator("figure")).to_have_count(4)
    captions = inside.locator("figcaption").all_text_contents()
    report.reload()
    expect(inside.locator("figure")).to_have_count(4)
    with report.expect_download() as download:
        report.get_by_role("link", name="PDF").click()
    pdf = pypdfium2.PdfDocument(download.value.path())
    text = " ".join(page.get_textpage().get_text_bounded() for page in pdf)
    text = re.sub(r"\s+", " ", text)
    assert len(pdf) == 2
    assert "For the veterinarian" in text
    for caption in captions:
        assert caption in text


def test_the_page_itself_is_accessible_and_complete(page, house, coded):
    page.goto(f"{house.url}/api/sessions/{coded['session_id']}/report.html")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    assert faults(page) == []
    assert page.locator("svg[role=img]").count() == 2
    # Its style has come through the content policy.
    assert page.locator("h2").first.evaluate("e => getComputedStyle(e).borderTopStyle") == "solid"
    for image in page.locator("figure img").all():
        assert image.evaluate("i => i.naturalWidth") > 100
