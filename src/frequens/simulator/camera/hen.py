"""Pepper on her table in the barn: a board with a striped disc and a plain one."""

from __future__ import annotations

import math

import numpy as np

from .drawing import Brush, Points, flatten, turned
from .pose import Pose

SPACE = (708.0, 398.0)
#: Where the striped disc hangs and the plain one, and where the beak is when she only stands there.
DISC = (460.0, 160.0)
PLAIN = (460.0, 96.0)
REST = (372.0, 146.0)


def ground(brush: Brush) -> None:
    """Barn boards, a window, the table, the board and its plain disc."""
    brush.sky("#8A7A66", "#A08F78")
    for n, left in enumerate(range(-20, 740, 74)):
        brush.path(f"M{left} -10 H{left + 70} V330 H{left} Z", "#94836D" if n % 2 else "#8C7B65")
        brush.path(f"M{left + 70} -10 H{left + 74} V330 H{left + 70} Z", "#71624F")
    brush.path("M58 34 H182 V132 H58 Z", "#5E5140")
    brush.path("M66 42 H174 V124 H66 Z", "#D5E3E2")
    brush.path("M66 96 Q110 84 174 100 V124 H66 Z", "#9DB9BA")
    brush.path("M117 42 H123 V124 H117 Z", "#5E5140")
    brush.path("M-40 306 H760 V340 H-40 Z", "#C9B48C")
    brush.path("M-40 340 H760 V420 H-40 Z", "#9C8767")
    brush.path("M-40 306 H760 V310 H-40 Z", "#DECBA4")
    brush.path("M478 70 H510 V308 H478 Z", "#6B583F")
    brush.path("M456 300 H532 V310 H456 Z", "#57462F")
    x, y = PLAIN[0] + 16, PLAIN[1]
    brush.disc(x + 4, y, 9, 29, "#3E4C55")
    brush.disc(x, y, 8, 27, "#D8DDD6")


def draw(brush: Brush, pose: Pose) -> None:
    """The striped disc, the hen, the hand with a clicker and the hand with barley."""
    _striped(brush)
    _hen(brush, pose)
    _hands(brush, pose)


def _striped(brush: Brush) -> None:
    x, y = DISC[0] + 16, DISC[1]
    brush.disc(x + 4, y, 9, 29, "#3E4C55")
    brush.disc(x, y, 8, 27, "#F1EBDD")
    for at in (-16.0, -4.0, 8.0, 20.0):
        half = 8 * math.sqrt(max(0.05, 1 - (at / 27) ** 2))
        stripe = np.array([[x - half, y + at], [x + half * 0.8, y + at - 3]])
        brush.line(stripe, "#A3392F", 5)


def _hen(brush: Brush, pose: Pose) -> None:
    breath = 1.2 * pose.sway
    brush.disc(262, 306, 96, 8, "#B39D75")
    for x in (244.0, 284.0):
        leg = np.array([[x, 250], [x - 2, 300]])
        brush.line(leg, "#C79A3C", 6)
        for toe in (-14.0, 2.0, 14.0):
            brush.line(np.array([[x - 2, 300], [x - 2 + toe, 306]]), "#C79A3C", 4)
    brush.path(
        "M182 196 Q120 150 108 96 Q150 104 176 138 Q150 92 160 64 Q206 110 224 170 Z", "#3F3A38"
    )
    brush.path("M186 190 Q150 150 134 110 Q176 128 210 176 Z", "#57504C")
    brush.disc(260, 206, 88, 58 + breath, "#6B625C", -8)
    brush.disc(256, 200, 82, 50 + breath, "#7A716A", -8)
    for x, y in (
        (214, 190),
        (238, 214),
        (262, 190),
        (286, 212),
        (230, 236),
        (268, 236),
        (304, 184),
    ):
        brush.disc(x, y + breath * 0.5, 9, 5, "#E9E3D8", -20)
    brush.path("M214 180 Q262 168 304 196 Q280 238 226 232 Q196 214 214 180 Z", "#5C544F")
    _head(brush, pose)


def _head(brush: Brush, pose: Pose) -> None:
    """Neck and head: the beak's tip is at rest, at the disc, or on its way."""
    # Half of the way she only looks; the last of it is a quick stab.
    reach = pose.lift * 0.8 + (0.2 if pose.touch else 0.0)
    goal = np.array(PLAIN if pose.astray else DISC)
    tip = np.array(REST) + (goal - np.array(REST)) * reach
    tip = tip + np.array([0.0, 1.5 * pose.sway + 26 * pose.chew * (1 - pose.lift)])
    head = tip + np.array([-34.0, -2.0])
    s = np.linspace(0, 1, 12)[:, None]
    start, bend = np.array([318.0, 190.0]), np.array([344.0 + 16 * reach, 116.0])
    neck = (1 - s) ** 2 * start + 2 * s * (1 - s) * bend + s**2 * head
    brush.line(neck, "#6B625C", 42)
    brush.line(neck[4:], "#8B8078", 30)

    def place(path: str) -> Points:
        return np.asarray(turned(flatten(path)[0], 0.08 * pose.lift) + head)

    brush.fill(
        place("M-16 -16 Q-20 -36 -10 -38 Q-6 -30 0 -40 Q6 -30 12 -34 Q14 -22 12 -14 Z"), "#B5362C"
    )
    brush.disc(float(head[0]), float(head[1]), 21, 19, "#8B8078")
    brush.fill(place("M10 10 Q16 30 8 34 Q0 26 2 12 Z"), "#B5362C")
    brush.fill(place("M16 -8 L34 2 L16 8 Z"), "#D9A441")
    brush.fill(place("M16 3 L33 3 L16 9 Z"), "#B98A2E")
    x, y = float(head[0]) + 6, float(head[1]) - 4
    brush.disc(x, y, 5, 5, "#D98E32")
    brush.disc(x + 0.8, y, 2.6, 2.6, "#17201F")


def _hands(brush: Brush, pose: Pose) -> None:
    brush.path("M760 372 Q700 356 664 344 L674 320 Q712 334 760 336 Z", "#5A4B6B")
    brush.path("M690 352 Q664 346 650 336 L662 316 Q682 326 702 330 Z", "#C99E80")
    brush.fill(
        turned(flatten("M-18 -10 H18 V10 H-18 Z")[0], -0.4) + np.array([642, 326]), "#2E6B58"
    )
    brush.disc(648, 316 + (3.0 if pose.press else -5.0), 12, 6, "#D0A88B", -24)
    if pose.press:
        brush.disc(634, 322, 4.5, 4.5, "#F2D38B")
    # From below: barley held out before her breast.
    start, end = np.array([470.0, 440.0]), np.array([402.0, 240.0])
    x, y = start + (end - start) * pose.hand
    brush.line(np.array([[start[0] + 40, 460.0], [x + 14, y + 34]]), "#6C5A80", 30)
    brush.line(np.array([[x + 14, y + 36], [x + 4, y + 12]]), "#C99E80", 20)
    brush.disc(x, y + 6, 17, 9, "#D0A88B", -10)
    if pose.treat:
        for dx, dy in ((-7, 0), (-1, -3), (5, 0), (1, 2)):
            brush.disc(x + dx, y + 1 + dy, 3.2, 2.2, "#D9B45F")
