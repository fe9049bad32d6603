"""An address as a picture a phone reads: for the screen and for the terminal."""

from __future__ import annotations

import io

import segno


def qr_svg(text: str) -> str:
    """The text as an SVG element, dark on light whatever the theme."""
    out = io.BytesIO()
    segno.make(text, error="m").save(
        out, kind="svg", xmldecl=False, svgns=True, scale=4, border=3, light="#ffffff"
    )
    return out.getvalue().decode()


def qr_blocks(text: str) -> str:
    """The text for a terminal."""
    out = io.StringIO()
    segno.make(text, error="l").terminal(out, compact=True, border=2)
    return out.getvalue()
