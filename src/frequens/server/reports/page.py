"""The report as one accessible page that needs nothing beside it."""

from __future__ import annotations

import base64
import hashlib

from django.template.loader import render_to_string

from frequens.words import fill
from frequens.words.spoken import report as words

from .content import Report

STYLE = """
:root { color-scheme: light; }
body { margin: 0; background: #fff; color: #17262b;
  font: 16px/1.5 "Atkinson Hyperlegible Next Variable", system-ui, sans-serif; }
main { max-width: 46rem; margin: 0 auto; padding: 2rem 1.2rem 4rem; }
h1 { font-size: 1.9rem; font-weight: 400; line-height: 1.2; margin: 0 0 .3rem; }
h2 { font-size: 1.1rem; margin: 1.8rem 0 .5rem; padding-top: .4rem; border-top: 1px solid; }
.soft, thead th { color: #4f5e64; }
.verdict { font-size: 1.3rem; line-height: 1.35; margin: 1rem 0 .6rem; }
blockquote { margin: 1rem 0; padding-left: 1rem; border-left: 3px solid; }
.wide { overflow-x: auto; }
table { border-collapse: collapse; width: 100%; font-variant-numeric: tabular-nums; }
th { font-weight: 400; text-align: left; }
thead th { font-size: .85rem; }
th, td { padding: .25rem .8rem .25rem 0; }
td { white-space: nowrap; }
tbody tr { border-top: 1px solid #dfe3e3; }
svg { display: block; width: 100%; height: auto; }
.pictures { display: grid; grid-template-columns: repeat(auto-fit, minmax(11rem, 1fr)); gap: 1rem; }
figure { margin: 0; }
figure img { width: 100%; height: auto; }
figcaption { font-size: .85rem; }
ul, ol { padding-left: 1.4rem; }
@media print { main { padding: 0; max-width: none; } h2 { break-after: avoid; }
  figure, svg, table { break-inside: avoid; } }
"""
#: What the content policy must allow for the page's own style.
STYLE_HASH = (
    "'sha256-" + base64.b64encode(hashlib.sha256(STYLE.encode()).digest()).decode("ascii") + "'"
)


def write_page(report: Report) -> str:
    """The report as HTML."""
    given = {
        "report": report,
        "style": STYLE,
        "language": words.LANGUAGE,
        "page_title": fill(words.PAGE_TITLE, {}, title=report.title),
        "split_heads": words.SPLIT_HEADS,
        "headings": words.HEADINGS,
        "worked_here": words.WORKED,
    }
    return render_to_string("reports/report.html", given)
