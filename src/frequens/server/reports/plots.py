"""The report's plots as SVG, the same for the page and the PDF.

Drawn on white paper in the house's colours; shapes carry the meaning first.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from html import escape
from typing import Any

INK, SOFT, LINE, HAIR = "#17262b", "#4f5e64", "#9aa3a5", "#dfe3e3"
BEHAVIOUR, MARKER, REWARD = "#4453b8", "#b8460e", "#0a6f64"
WIDTH, LEFT, RIGHT = 640, 34, 10
#: Rows of rings on either side of the middle before they grow smaller.
MOST_ROWS = 3
_FONT = 'font-family="Libertinus Serif, Georgia, serif" font-size="12"'


def timing_plot(findings: Mapping[str, Any], on_time_s: float) -> str:
    """Markers as rings by their distance from the onset; late ones filled."""
    reps = [r for r in findings["reps"] if r["marker_latency_s"] is not None]
    values = [r["marker_latency_s"] for r in reps]
    low = min(-0.5, math.floor(2 * min(values)) / 2)
    high = max(1.5, math.ceil(2 * max(values)) / 2)
    x = _scale(low, high)
    foot, middle = 84, 44
    parts = [
        f'<rect x="{x(low):.1f}" y="4" width="{x(0) - x(low):.1f}" height="{foot - 4}" '
        f'fill="{MARKER}" fill-opacity="0.08"/>'
    ]
    if all(r["target_s"] is None or r["target_s"] - r["onset_s"] < 0.5 for r in reps):
        parts.append(
            f'<rect x="{x(0):.1f}" y="4" width="{x(on_time_s) - x(0):.1f}" height="{foot - 4}" '
            f'fill="{REWARD}" fill-opacity="0.1"/>'
        )
    parts.append(_path(f"M{x(0):.1f} 4V{foot}", BEHAVIOUR, 1.5))
    parts += _seconds_axis(x, low, high, foot)
    summary = findings["marker_latency_s"]
    if summary["median_low"] is not None:
        line = f"M{x(summary['median_low']):.1f} {foot - 5}H{x(summary['median_high']):.1f}"
        parts.append(_path(line, LINE, 4))
    parts.append(_path(f"M{x(summary['median']):.1f} {foot - 11}v11", INK, 2))
    size, rows = _fitted([x(v) for v in values])
    for rep, row in zip(reps, rows, strict=True):
        late = rep["timing"] == "late" or rep["behaviour_over"] is True
        parts.append(
            f'<circle cx="{x(rep["marker_latency_s"]):.1f}" cy="{middle - 11 * size * row:.1f}" '
            f'r="{4.4 * size:.2f}" fill="{MARKER if late else "#ffffff"}" stroke="{MARKER}" '
            f'stroke-width="{1.9 * size:.2f}"/>'
        )
    return _svg(108, parts, f"{len(reps)} markers by their distance from the onset")


def rate_plot(findings: Mapping[str, Any], title_of: Callable[[str | None], str]) -> str:
    """Rewards a minute through the session, with the criterion's changes and dry spells."""
    curve = findings["rate_curve"]
    spells = findings["dry_spells"]["spells"]
    end = max([curve[-1]["t_s"], *(s["end_s"] for s in spells)])
    top = 1.1 * max([8, *(p["per_min"] for p in curve)])
    foot = 104

    def x(s: float) -> float:
        return LEFT + min(end, max(0, s)) / end * (WIDTH - LEFT - RIGHT)

    def y(per_min: float) -> float:
        return foot - min(per_min, top) / top * (foot - 22)

    parts = [
        f'<rect x="{x(s["start_s"]):.1f}" y="22" width="{x(s["end_s"]) - x(s["start_s"]):.1f}" '
        f'height="{foot - 22}" fill="{MARKER}" fill-opacity="0.08"/>'
        for s in spells
    ]
    for rate in (v for v in (5, 10, 20, 40, 80) if v < top):
        parts.append(_path(f"M{LEFT} {y(rate):.1f}H{WIDTH - RIGHT}", HAIR, 1))
        parts.append(_text(LEFT - 6, y(rate) + 4, str(rate), "end"))
    changes = [m for m in findings["moments"] if m["kind"] == "criterion"]
    for place, change in enumerate(changes):
        at = x(change["t_s"])
        until = x(changes[place + 1]["t_s"]) if place + 1 < len(changes) else WIDTH - RIGHT
        parts.append(_path(f"M{at:.1f} 4V{foot}", BEHAVIOUR, 1))
        name = _fitting(title_of(change["label"]), until - at - 8)
        parts.append(_text(at + 4, 15, name, "start", BEHAVIOUR))
    line = "L".join(f"{x(p['t_s']):.1f} {y(p['per_min']):.1f}" for p in curve)
    parts.append(_path(f"M{line}", REWARD, 1.6))
    parts.append(_path(f"M{LEFT} {foot}H{WIDTH - RIGHT}", LINE, 1))
    parts.append(_text(LEFT, foot + 17, "0:00", "start"))
    whole = round(end)
    parts.append(_text(WIDTH - RIGHT, foot + 17, f"{whole // 60}:{whole % 60:02d}", "end"))
    return _svg(126, parts, "Rewards a minute through the session")


def _scale(low: float, high: float) -> Callable[[float], float]:
    return lambda v: 8 + (min(high, max(low, v)) - low) / (high - low) * (WIDTH - 16)


def _seconds_axis(x: Callable[[float], float], low: float, high: float, foot: int) -> Iterable[str]:
    step = 1.0 if high - low > 4 else 0.5
    yield _path(f"M8 {foot}H{WIDTH - 8}", LINE, 1)
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    for tick in range(first, last + 1):
        at = tick * step
        anchor = "start" if tick == first else "end" if tick == last else "middle"
        name = "begins" if tick == 0 else f"{'+' if at > 0 else '−'}{abs(at):g} s"
        yield _path(f"M{x(at):.1f} {foot}v5", LINE, 1)
        yield _text(x(at), foot + 18, name, anchor)


def _fitted(xs: Sequence[float]) -> tuple[float, list[int]]:
    """The size of the rings, as a share of the usual, and their rows, so that a crowd fits."""
    rows: list[int] = []
    size = 1.0
    while size > 0.15:
        rows = _rows(xs, 10 * size)
        if max(map(abs, rows), default=0) * size <= MOST_ROWS:
            break
        size *= 0.8
    return size, rows


def _rows(xs: Sequence[float], gap: float) -> list[int]:
    """A row (0, 1, -1, 2 …) for each place, so that no glyph hides another."""
    placed: list[tuple[float, int]] = []
    rows = [0] * len(xs)
    for place in sorted(range(len(xs)), key=xs.__getitem__):
        taken = {row for x, row in placed if abs(x - xs[place]) < gap}
        row = 0
        while row in taken:
            row = -row if row > 0 else 1 - row
        placed.append((xs[place], row))
        rows[place] = row
    return rows


def _fitting(name: str, room: float) -> str:
    most = int(room / 6)
    if len(name) <= most:
        return name
    return f"{name[: most - 1]}…" if most >= 4 else ""


def _path(d: str, stroke: str, width: float) -> str:
    return f'<path d="{d}" fill="none" stroke="{stroke}" stroke-width="{width}"/>'


def _text(x: float, y: float, text: str, anchor: str, fill: str = SOFT) -> str:
    return (
        f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}" fill="{fill}" {_FONT}>'
        f"{escape(text)}</text>"
    )


def _svg(height: int, parts: Iterable[str], label: str) -> str:
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {height}" role="img" '
        f'aria-label="{escape(label)}">{"".join(parts)}</svg>'
    )
