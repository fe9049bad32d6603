"""The report as a PDF of two pages, set by Typst."""

from __future__ import annotations

import dataclasses
import json
import shutil
import tempfile
from pathlib import Path

import typst

from frequens.words.spoken import report as words

from .content import Report

TEMPLATE = Path(__file__).with_name("report.typ")
#: Point sizes tried in turn until all of it stands on two pages.
SIZES = (10.0, 9.2, 8.4, 7.6)
MOST_PAGES = 2


def write_pdf(report: Report) -> bytes:
    """The report on two pages; what is too long for them even in small type runs on."""
    with tempfile.TemporaryDirectory(prefix="frequens-report-") as made:
        folder = Path(made)
        _lay_out(report, folder)
        main = str(folder / TEMPLATE.name)
        for size in SIZES:
            inputs = {"size": f"{size:g}"}
            pages = json.loads(
                typst.query(main, "<pages>", field="value", one=True, sys_inputs=inputs)
            )
            if pages <= MOST_PAGES:
                break
        return bytes(typst.compile(main, sys_inputs=inputs))


def _lay_out(report: Report, folder: Path) -> None:
    """Put the template, its data and its pictures into one folder."""
    shutil.copy(TEMPLATE, folder)
    shown = []
    for number, picture in enumerate(report.pictures, 1):
        file = f"picture-{number}.jpg"
        (folder / file).write_bytes(picture.jpeg)
        shown.append({"file": file, "caption": picture.caption})
    for name, svg in (("timing", report.timing_svg), ("rate", report.rate_svg)):
        if svg is not None:
            (folder / f"{name}.svg").write_text(svg, encoding="utf-8")
    data = {f.name: getattr(report, f.name) for f in dataclasses.fields(report)}
    data |= {
        "pictures": shown,
        "language": words.LANGUAGE,
        "pages": words.PAGES,
        "split_heads": words.SPLIT_HEADS,
        "headings": dict(words.HEADINGS),
        "timing_svg": report.timing_svg is not None,
        "rate_svg": report.rate_svg is not None,
    }
    (folder / "report.json").write_text(json.dumps(data), encoding="utf-8")
