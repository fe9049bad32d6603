"""The report's plots as SVG, the same for the page and the PDF.

Drawn on white paper in the house's colours; shapes carry the meaning first.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from html import escape
from typing import Any

from frequens.words import fill
from frequens.words.forms import clock
from frequens.words.spoken import report as words

INK, SOFT, LINE, HAIR = "#17262b", "#4f5e64", "#9aa3a5", "#dfe3e3"
BEHAVIOUR, MARKER, REWARD = "#4453b8", "#b8460e", "#0a6f64"
WIDTH, LEFT, RIGHT = 640, 34, 10
#: Rows of rings on either side of the middle before they grow smaller.
MOST_ROWS = 3
#: More markers are drawn as columns of this width: rings could not be told apart.
MOST_RINGS, COLUMN = 600, 4
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
    draw = _rings if len(reps) <= MOST_RINGS else _heap
    parts += draw([(x(rep["marker_latency_s"]), _is_late(rep)) for rep in reps], middle, foot)
    return _svg(108, parts, fill(words.PLOTS["timing"], {"n": len(reps)}))


def _is_late(rep: Mapping[str, Any]) -> bool:
    return rep["timing"] == "late" or rep["behaviour_over"] is True


def _rings(markers: Sequence[tuple[float, bool]], middle: float, foot: float) -> Iterable[str]:
    """A ring for each marker at its place; late ones filled."""
    size, rows = _fitted([at for at, _ in markers])
    for (at, late), row in zip(markers, rows, strict=True):
        yield (
            f'<circle cx="{at:.1f}" cy="{middle - 11 * size * row:.1f}" '
            f'r="{4.4 * size:.2f}" fill="{MARKER if late else "#ffffff"}" stroke="{MARKER}" '
            f'stroke-width="{1.9 * size:.2f}"/>'
        )


def _heap(markers: Sequence[tuple[float, bool]], middle: float, foot: float) -> Iterable[str]:
    """A column for every four points of width, as high as it has markers; late ones filled."""
    counts: dict[int, list[int]] = {}
    for at, is_late in markers:
        counts.setdefault(int(at // COLUMN), [0, 0])[is_late] += 1
    tallest = max(map(sum, counts.values()))
    for place, (timely, late) in sorted(counts.items()):
        top = foot
        for number, colour in ((late, MARKER), (timely, "#ffffff")):
            height = (foot - 12) * number / tallest
            top -= height
            if number:
                yield (
                    f'<rect x="{COLUMN * place:.1f}" y="{top:.1f}" width="{COLUMN - 0.6:.1f}" '
                    f'height="{height:.1f}" fill="{colour}" stroke="{MARKER}" stroke-width="0.6"/>'
                )


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
    changes = [m for m in findings["moments"] if m.get("kind") == "criterion"]
    for place, change in enumerate(changes):
        at = x(change["t_s"])
        until = x(changes[place + 1]["t_s"]) if place + 1 < len(changes) else WIDTH - RIGHT
        parts.append(_path(f"M{at:.1f} 4V{foot}", BEHAVIOUR, 1))
        name = _fitting(title_of(change["label"]), until - at - 8)
        parts.append(_text(at + 4, 15, name, "start", BEHAVIOUR))
    line = "L".join(f"{x(p['t_s']):.1f} {y(p['per_min']):.1f}" for p in curve)
    parts.append(_path(f"M{line}", REWARD, 1.6))
    parts.append(_path(f"M{LEFT} {foot}H{WIDTH - RIGHT}", LINE, 1))
    parts.append(_text(LEFT, foot + 17, clock(0), "start"))
    parts.append(_text(WIDTH - RIGHT, foot + 17, clock(end), "end"))
    return _svg(126, parts, words.PLOTS["rate"])


def _scale(low: float, high: float) -> Callable[[float], float]:
    return lambda v: 8 + (min(high, max(low, v)) - low) / (high - low) * (WIDTH - 16)


def _seconds_axis(x: Callable[[float], float], low: float, high: float, foot: int) -> Iterable[str]:
    step = 1.0 if high - low > 4 else 0.5
    yield _path(f"M8 {foot}H{WIDTH - 8}", LINE, 1)
    first, last = math.ceil(low / step - 1e-9), math.floor(high / step + 1e-9)
    for tick in range(first, last + 1):
        at = tick * step
        anchor = "start" if tick == first else "end" if tick == last else "middle"
        name = words.ZERO if tick == 0 else fill(words.TICK, {"s": at})
        yield _path(f"M{x(at):.1f} {foot}v5", LINE, 1)
        yield _text(x(at), foot + 18, name, anchor)


def _fitted(xs: Sequence[float]) -> tuple[float, list[int]]:
    """The size of the rings, as a share of the usual, and their rows, so that a crowd fits."""
    size = 1.0
    while True:
        is_last = size * 0.8 <= 0.15
        rows = _rows(xs, 10 * size, int(MOST_ROWS / size), overlap=is_last)
        if rows is not None:
            return size, rows
        size *= 0.8


def _rows(xs: Sequence[float], gap: float, most: int, overlap: bool) -> list[int] | None:
    """A row (0, 1, -1, 2 … up to `most` either way) for each place, so that none hides another.

    Where there are not enough: None, or with `overlap` the row that was left longest ago.
    """
    order = [0, *(side * row for row in range(1, most + 1) for side in (1, -1))]
    last_in = [-math.inf] * len(order)
    rows = [0] * len(xs)
    for place in sorted(range(len(xs)), key=xs.__getitem__):
        at = xs[place]
        free = next((k for k, last in enumerate(last_in) if at - last >= gap), None)
        if free is None and not overlap:
            return None
        if free is None:
            free = min(range(len(order)), key=last_in.__getitem__)
        last_in[free] = at
        rows[place] = order[free]
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
