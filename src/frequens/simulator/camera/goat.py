"""Thistle's pen by the sea: the bell and its rope, the trainer's hands with a clicker."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from .drawing import Brush, Points, flatten, turned
from .pose import Pose

SPACE = (708.0, 398.0)
ROPE_X, ROPE_TOP, ROPE_END = 522.0, 112.0, 262.0
SHOULDER = (372.0, 226.0)


def draw(brush: Brush, pose: Pose) -> None:
    """Bell, goat and hands."""
    _bell_and_rope(brush, pose)
    _goat(brush, pose)
    _hands(brush, pose)


def ground(brush: Brush) -> None:
    """Sky, sea, meadow and fence, and the post the bell hangs from."""
    brush.sky("#A9C4CC", "#DDE6DF")
    brush.disc(120, 78, 64, 13, "#E6ECE6")
    brush.disc(168, 70, 46, 11, "#EDF1EB")
    brush.disc(640, 50, 58, 10, "#E6ECE6")
    brush.path("M-40 176 H760 V214 H-40 Z", "#7FA3A8")
    brush.path("M-40 186 Q120 182 300 188 Q480 194 760 186 V189 H-40 Z", "#9DB9BA")
    brush.path("M-40 206 Q170 184 360 202 Q540 212 760 194 V420 H-40 Z", "#A9BE9A")
    brush.path("M-40 268 Q260 246 760 262 V420 H-40 Z", "#8FA77E")
    brush.path("M-40 352 Q300 334 760 356 V420 H-40 Z", "#7E976F")
    for x in range(-14, 720, 86):
        brush.path(f"M{x} 172 H{x + 10} V284 H{x} Z", "#7F6C51")
        brush.path(f"M{x} 172 H{x + 4} V284 H{x} Z", "#8F7B5D")
    for y in (194, 238):
        brush.path(
            f"M-40 {y} Q300 {y - 4} 760 {y + 2} V{y + 9} Q300 {y + 3} -40 {y + 8} Z", "#9C8767"
        )
    for x, y in ((60, 330), (150, 372), (452, 384), (610, 350), (505, 330), (30, 384)):
        for lean in (-5, 0, 5):
            blade = np.array([[x + lean * 0.4, y], [x + lean * 1.6, y - 11]])
            brush.line(blade, "#6C865E", 1.6)
    brush.path("M474 30 H640 V40 H474 Z", "#5F4E38")
    brush.path("M626 30 H640 V300 H626 Z", "#6B583F")


def _bell_and_rope(brush: Brush, pose: Pose) -> None:
    swing = -9 * pose.pull + 0.5 * pose.sway
    brush.line(np.array([[ROPE_X, 38], [ROPE_X, 60]]), "#4A3C2A", 5)
    bell = flatten("M-30 36 Q-28 2 0 0 Q28 2 30 36 L38 48 H-38 Z")[0]
    swung = turned(bell, math.radians(swing)) + np.array([ROPE_X, 58])
    brush.fill(swung, "#B98A2E")
    shine = flatten("M-18 34 Q-17 10 -6 6 Q-12 16 -11 36 Z")[0]
    brush.fill(turned(shine, math.radians(swing)) + np.array([ROPE_X, 58]), "#D8B15A")
    brush.disc(ROPE_X - swing * 0.9, 110, 7, 7, "#6E521A")
    bend = 10 * pose.touch * (1 - pose.pull) - 26 * pose.pull + pose.sway
    s = np.linspace(0, 1, 14)
    x = ROPE_X - swing * 0.9 * (1 - s) + bend * np.sin(np.pi * np.clip(s * 1.1, 0, 1) * 0.75)
    y = ROPE_TOP + (ROPE_END - ROPE_TOP) * s
    rope = np.stack([x, y], axis=1)
    brush.line(rope, "#CDBE9C", 6)
    brush.line(rope, "#E9DFC6", 3.4)
    brush.disc(float(x[-1]), ROPE_END + 4, 8, 9, "#E9DFC6")


def _goat(brush: Brush, pose: Pose) -> None:
    brush.disc(300, 352, 128, 11, "#748C66")
    for x, length in ((222, 82), (374, 82)):
        _leg(brush, x, length, "#DDD5C4")
    breath = 0.8 * pose.sway
    brush.path("M196 214 Q176 196 182 176 Q196 188 210 204 Z", "#F4EEE2")
    brush.disc(300, 232, 108, 51 + breath, "#E3DAC8")
    brush.disc(300, 228, 107, 49 + breath, "#F4EEE2")
    brush.disc(282, 232, 42, 25, "#C9B693", -8)
    brush.disc(338, 214, 17, 11, "#C9B693", 20)
    for x, length in ((250, 88), (350, 88)):
        _leg(brush, x, length, "#EFE8DA")
    _head(brush, pose)


def _leg(brush: Brush, x: float, length: float, colour: str) -> None:
    brush.path(f"M{x} 252 H{x + 15} L{x + 13} {252 + length} H{x + 1} Z", colour)
    brush.path(f"M{x} {248 + length} H{x + 14} V{256 + length} H{x - 1} Z", "#4B4438")


def _head(brush: Brush, pose: Pose) -> None:
    lift = pose.lift
    base = np.array([418 + 18 * lift - 14 * pose.pull, 168 - 18 * lift + 0.8 * pose.sway])
    angle = math.radians(26 - 22 * lift + 5 * pose.pull)

    def place(path: str) -> Points:
        return np.asarray(turned(flatten(path)[0], angle) + base)

    def spot(x: float, y: float) -> tuple[float, float]:
        point = turned(np.array([[x, y]]), angle)[0] + base
        return float(point[0]), float(point[1])

    nape, throat = spot(-4, 6), spot(16, 34)
    neck = np.array([(SHOULDER[0] - 26, SHOULDER[1] - 34), nape, throat, (SHOULDER[0] + 26, 262)])
    brush.fill(_rounded(neck), "#EFE8DA")
    brush.fill(place("M0 -16 Q-14 -48 -44 -54 Q-20 -60 8 -26 Z"), "#8E7C5F")
    brush.fill(place("M8 -18 Q0 -48 -24 -60 Q2 -60 18 -26 Z"), "#A08D6E")
    open_by = 5 * pose.chew + (4 if pose.touch and pose.pull else 0)
    brush.fill(
        place(f"M24 30 Q50 {36 + open_by} 70 {34 + open_by} Q72 {28 + open_by} 66 26 Z"), "#D9CDB8"
    )
    brush.fill(place("M-8 10 Q-10 -22 22 -24 Q56 -16 80 18 Q84 34 68 34 Q34 36 6 30 Z"), "#F8F3E8")
    brush.fill(place("M58 10 Q70 8 80 20 Q84 34 70 34 Q58 30 58 10 Z"), "#EADFCB")
    brush.fill(place("M-6 -2 Q-26 0 -34 14 Q-14 16 2 6 Z"), "#E7DCC8")
    brush.fill(place("M52 34 Q56 56 46 64 Q42 50 42 34 Z"), "#EDE4D3")
    x, y = spot(30, -2)
    brush.disc(x, y, 4.4, 4.4, "#17262B")
    brush.disc(x + 1.2, y - 1.4, 1.2, 1.2, "#FFFFFF")
    x, y = spot(75, 20)
    brush.disc(x, y, 2.2, 1.5, "#6A5B4B")


def _rounded(corners: Sequence[tuple[float, float]] | Points) -> Points:
    """The quadrilateral neck with softly bowed sides."""
    a, b, c, d = (np.asarray(p, dtype=float) for p in corners)
    s = np.linspace(0, 1, 12)[:, None]
    upper = (1 - s) ** 2 * a + 2 * s * (1 - s) * ((a + b) / 2 + np.array([6, 12])) + s**2 * b
    lower = (1 - s) ** 2 * c + 2 * s * (1 - s) * ((c + d) / 2 + np.array([-2, 10])) + s**2 * d
    return np.concatenate([upper, lower])


def _hands(brush: Brush, pose: Pose) -> None:
    brush.path("M760 318 Q690 300 656 282 L668 262 Q706 282 760 284 Z", "#3F5D52")
    brush.path("M684 302 Q660 292 646 280 L658 262 Q676 274 696 280 Z", "#D3AF93")
    brush.fill(
        turned(flatten("M-19 -11 H19 V11 H-19 Z")[0], -0.45) + np.array([640, 268]), "#2F5F86"
    )
    thumb = 3.0 if pose.press else -5.0
    brush.disc(646, 258 + thumb, 13, 6.5, "#D9B79C", -24)
    if pose.press:
        brush.disc(632, 264, 4.5, 4.5, "#F2D38B")
    start, end = np.array([676.0, 384.0]), np.array([508.0, 232.0])
    x, y = start + (end - start) * pose.hand + np.array([0, -26 * math.sin(math.pi * pose.hand)])
    elbow = np.array([760.0, 420.0])
    brush.line(np.array([elbow, [x + 34, y + 24]]), "#4F7264", 30)
    brush.line(np.array([[x + 40, y + 28], [x + 12, y + 8]]), "#D3AF93", 20)
    brush.disc(x + 6, y + 4, 13, 10, "#D9B79C", 35)
    if pose.treat:
        brush.disc(x - 8, y - 4, 6, 5, "#9A5B2C")
        brush.disc(x - 9, y - 6, 2, 1.6, "#C58A55")
