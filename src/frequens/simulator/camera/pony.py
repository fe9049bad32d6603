"""Bramble in the stable lane, filmed upright: a front hoof, a low stand, a word for a marker."""

from __future__ import annotations

import math

import numpy as np

from .drawing import Brush, Points, flatten, turned
from .pose import Pose

SPACE = (398.0, 708.0)
#: Where the near front leg hangs from, and the stand's top.
SHOULDER = (196.0, 398.0)
STAND = (292.0, 590.0)


def ground(brush: Brush) -> None:
    """The stable's wall with its door, the lane, the low stand."""
    brush.sky("#B9C9C6", "#CBD2C4")
    brush.path("M-20 96 H420 V560 H-20 Z", "#B6A78F")
    for row in range(8):
        for stone in range(-1, 6):
            left, top = stone * 84 + (row % 2) * 40, 100 + row * 58
            shade = "#AFA088" if (row + stone) % 3 else "#A5967F"
            brush.path(f"M{left + 3} {top + 3} H{left + 79} V{top + 54} H{left + 3} Z", shade)
    brush.path("M-20 84 H420 V104 H-20 Z", "#6C6358")
    brush.path("M252 200 H420 V560 H252 Z", "#5C4632")
    brush.path("M262 210 H420 V560 H262 Z", "#44633F")
    for plank in (304, 348):
        brush.path(f"M{plank} 210 H{plank + 4} V560 H{plank} Z", "#3A5536")
    brush.path("M262 372 H420 V382 H262 Z", "#35502F")
    brush.path("M-20 556 Q180 548 420 560 V720 H-20 Z", "#9A9384")
    brush.path("M-20 640 Q200 628 420 648 V720 H-20 Z", "#8B8475")
    x, y = STAND
    brush.disc(x + 4, y + 56, 62, 8, "#7D7667")
    brush.path(f"M{x - 40} {y + 8} H{x + 44} L{x + 52} {y + 54} H{x - 48} Z", "#6B4F33")
    brush.path(f"M{x - 46} {y} H{x + 50} V{y + 12} H{x - 46} Z", "#8C6A45")
    brush.path(f"M{x - 42} {y - 3} H{x + 46} V{y + 3} H{x - 42} Z", "#3F4C3F")


def draw(brush: Brush, pose: Pose) -> None:
    """The far legs, the pony, her near leg, the hand with a slice of turnip."""
    brush.disc(150, 640, 150, 10, "#7D7667")
    for x in (60.0, 150.0):
        _standing_leg(brush, x, "#4E3626")
    _body(brush, pose)
    _standing_leg(brush, 28.0, "#5F4330")
    _lifted(brush, pose)
    _head(brush, pose)
    _hand(brush, pose)


def _standing_leg(brush: Brush, x: float, colour: str) -> None:
    brush.path(f"M{x} 420 H{x + 44} L{x + 34} 520 L{x + 36} 610 H{x + 8} L{x + 10} 520 Z", colour)
    brush.path(f"M{x + 4} 606 H{x + 40} L{x + 44} 640 H{x} Z", "#2E2722")


def _body(brush: Brush, pose: Pose) -> None:
    breath = 1.4 * pose.sway
    brush.disc(60, 372, 168, 84 + breath, "#5F4330")
    brush.disc(56, 362, 162, 74 + breath, "#6F5039")
    brush.path("M-20 330 Q60 300 170 318 L150 340 Q60 322 -20 352 Z", "#7C5B42")


def _lifted(brush: Brush, pose: Pose) -> None:
    """The near front leg: knee and hoof, from the ground up onto the stand."""
    up = pose.lift
    ground_at, over = np.array([206.0, 622.0]), np.array([STAND[0] - 14, STAND[1] - 46])
    top = np.array([STAND[0] - 8, STAND[1] - 24])
    hoof = ground_at + (over - ground_at) * up if not pose.touch else top
    knee = np.array([SHOULDER[0] + 12 + 62 * up, 512.0 - 30 * up])
    brush.line(np.array([SHOULDER, knee]), "#6F5039", 46)
    brush.line(np.array([knee, hoof]), "#6F5039", 30)
    brush.disc(float(knee[0]), float(knee[1]), 21, 20, "#7C5B42")
    lean = 0.45 * up if not pose.touch else 0.0
    shape = turned(flatten("M-17 -8 H17 L23 24 H-23 Z")[0], lean)
    brush.fill(shape + hoof, "#2E2722")
    brush.fill(turned(flatten("M-17 -10 H17 V-4 H-17 Z")[0], lean) + hoof, "#D8CFC0")


def _head(brush: Brush, pose: Pose) -> None:
    nod = 5 * pose.sway + 14 * pose.chew
    base = np.array([216.0, 176.0 + 0.5 * nod])
    angle = math.radians(34 + 0.4 * nod)

    def place(path: str) -> Points:
        return np.asarray(turned(flatten(path)[0], angle) + base)

    neck = flatten("M96 330 Q120 210 186 158 L250 206 Q232 300 226 400 Z")[0]
    brush.fill(neck, "#6F5039")
    brush.path("M84 322 Q108 196 184 138 Q214 140 206 172 Q150 220 132 330 Z", "#2F2622")
    brush.fill(place("M-22 -34 Q-20 -62 -2 -70 Q8 -52 4 -30 Z"), "#5F4330")
    brush.fill(
        place(
            "M-30 -26 Q20 -44 70 -26 Q128 -12 136 8 Q138 30 112 32 Q60 34 20 44 Q-26 36 -30 -26 Z"
        ),
        "#7C5B42",
    )
    brush.fill(place("M112 -12 Q138 -4 140 12 Q138 32 112 32 Q100 12 112 -12 Z"), "#5A4232")
    brush.fill(place("M-26 -36 Q10 -52 34 -34 Q16 -8 -12 -14 Z"), "#2F2622")
    for (dx, dy), size, colour in (((34, -10), 6.0, "#1D1714"), ((126, 6), 3.2, "#2E211A")):
        x, y = turned(np.array([[float(dx), float(dy)]]), angle)[0] + base
        brush.disc(float(x), float(y), size, size * 0.9, colour)
    if pose.chew:
        brush.fill(place("M78 34 Q104 44 128 32 Q110 52 82 44 Z"), "#4A362A")


def _hand(brush: Brush, pose: Pose) -> None:
    start, end = np.array([440.0, 470.0]), np.array([322.0, 300.0])
    x, y = start + (end - start) * pose.hand
    brush.line(np.array([[440.0, 520.0], [x + 40, y + 40]]), "#8A5A3C", 40)
    brush.line(np.array([[x + 44, y + 44], [x + 14, y + 12]]), "#D3AF93", 26)
    brush.disc(x + 4, y + 6, 19, 12, "#D9B79C", 30)
    if pose.treat:
        brush.disc(x - 8, y - 4, 10, 6, "#E7DFC4", 20)
        brush.disc(x - 8, y - 5, 6, 3, "#F3EEDB", 20)
