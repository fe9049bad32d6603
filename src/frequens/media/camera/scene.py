"""The drawing: Thistle's pen by the sea, the bell and its rope, the trainer's hands.

Drawn in a space of 708 x 398 units and scaled to the film. Colours are BGR-ordered
when they meet the picture, RGB hex in this file.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from .script import Rep, Script

Picture = NDArray[np.uint8]
Points = NDArray[np.float64]

WIDTH, HEIGHT = 708.0, 398.0
_SUBPIXEL = 4
ROPE_X, ROPE_TOP, ROPE_END = 522.0, 112.0, 262.0
SHOULDER = (372.0, 226.0)
MUZZLE = (78.0, 28.0)
APPROACH_S, RETURN_S = 0.55, 0.7


@lru_cache(maxsize=512)
def flatten(path: str) -> list[Points]:
    """Outlines of a path written in M, L, H, V, Q and Z (absolute), curves as 12 chords."""
    outlines: list[list[tuple[float, float]]] = []
    tokens = re.findall(r"[MLHVQZ]|-?\d+(?:\.\d+)?", path)
    place, command = 0, ""

    def number() -> float:
        nonlocal place
        place += 1
        return float(tokens[place - 1])

    while place < len(tokens):
        if tokens[place].isalpha():
            command = tokens[place]
            place += 1
            if command == "Z":
                continue
        if command == "M":
            outlines.append([(number(), number())])
            command = "L"
            continue
        x, y = outlines[-1][-1]
        if command == "H":
            outlines[-1].append((number(), y))
        elif command == "V":
            outlines[-1].append((x, number()))
        elif command == "L":
            outlines[-1].append((number(), number()))
        else:
            cx, cy, ex, ey = number(), number(), number(), number()
            for i in range(1, 13):
                s = i / 12
                a, b, c = (1 - s) ** 2, 2 * s * (1 - s), s * s
                outlines[-1].append((a * x + b * cx + c * ex, a * y + b * cy + c * ey))
    return [np.array(outline) for outline in outlines]


class Brush:
    """Draws scene units onto a picture with smooth edges."""

    def __init__(self, picture: Picture):
        self.picture = picture
        height, width = picture.shape[:2]
        self.scale = max(width / WIDTH, height / HEIGHT)
        self.shift = np.array(
            [(width - WIDTH * self.scale) / 2, (height - HEIGHT * self.scale) / 2]
        )

    def _pixels(self, points: Points) -> NDArray[np.int32]:
        placed = points * self.scale + self.shift
        return np.asarray(np.round(placed * 2**_SUBPIXEL), dtype=np.int32)

    def fill(self, points: Points, colour: str) -> None:
        """A filled outline."""
        cv2.fillPoly(self.picture, [self._pixels(points)], _bgr(colour), cv2.LINE_AA, _SUBPIXEL)

    def path(self, path: str, colour: str) -> None:
        """Filled outlines of a written path."""
        for outline in flatten(path):
            self.fill(outline, colour)

    def line(self, points: Points, colour: str, width: float) -> None:
        """An open line of `width` units."""
        thick = max(1, round(width * self.scale))
        cv2.polylines(
            self.picture, [self._pixels(points)], False, _bgr(colour), thick, cv2.LINE_AA, _SUBPIXEL
        )

    def disc(
        self, x: float, y: float, rx: float, ry: float, colour: str, turn: float = 0.0
    ) -> None:
        """A filled ellipse, `turn` in degrees."""
        angles = np.linspace(0, 2 * math.pi, 40, endpoint=False)
        points = np.stack([rx * np.cos(angles), ry * np.sin(angles)], axis=1)
        self.fill(_turned(points, math.radians(turn)) + np.array([x, y]), colour)


def _bgr(colour: str) -> tuple[int, int, int]:
    red, green, blue = (int(colour[i : i + 2], 16) for i in (1, 3, 5))
    return blue, green, red


def _turned(points: Points, angle: float) -> Points:
    c, s = math.cos(angle), math.sin(angle)
    return np.asarray(points @ np.array([[c, s], [-s, c]]))


@dataclass(frozen=True, slots=True)
class Pose:
    """What the scene looks like at one instant; all between 0 and 1 unless said otherwise."""

    lift: float = 0.0
    touch: float = 0.0
    pull: float = 0.0
    press: bool = False
    hand: float = 0.0
    treat: bool = False
    chew: float = 0.0
    sway: float = 0.0


def ease(share: float) -> float:
    """Smooth start and stop between 0 and 1."""
    share = min(1.0, max(0.0, share))
    return share * share * (3 - 2 * share)


def pose_at(script: Script, t: float) -> Pose:
    """The pose at `t` seconds: what the script's events make visible at that instant."""
    lift = touch = pull = hand = chew = 0.0
    press = treat = False
    for rep in script.reps:
        if not rep.onset - 2 < t < rep.offset + 6:
            continue
        lift = max(lift, _lift(rep, t))
        if rep.onset <= t < rep.offset and rep.step != "look":
            touch = 1.0
            pull = ease((t - rep.onset) / 0.3) if rep.step == "mouth" and rep.met else 0.0
        if rep.marker is not None:
            press = press or rep.marker <= t < rep.marker + 0.11
        if rep.reach is not None and rep.reward is not None:
            hand = max(hand, _hand(rep.reach, rep.reward, t))
            treat = treat or rep.reach <= t < rep.reward
            if rep.reward <= t < rep.reward + 1.1:
                chew = 0.5 + 0.5 * math.sin((t - rep.reward) * 21)
    sway = math.sin(t * 1.7) * 0.5 + math.sin(t * 0.9) * 0.5
    return Pose(lift, touch, pull, press, hand, treat, chew, sway)


def _lift(rep: Rep, t: float) -> float:
    """How far the head is up: most of the way before the onset, a visible jerk at it."""
    top = 0.55 if rep.step == "look" else 1.0
    if t < rep.onset:
        return top * 0.8 * ease((t - rep.onset + APPROACH_S) / APPROACH_S)
    if t < rep.offset:
        return top
    return top * 0.86 * (1 - ease((t - rep.offset) / RETURN_S))


def _hand(reach: float, reward: float, t: float) -> float:
    if t < reach:
        return 0.0
    if t < reward:
        # A visible start on the very first frame, then smooth.
        return 0.06 + 0.94 * ease((t - reach) / (reward - reach))
    return 1 - ease((t - reward - 0.25) / 0.8)


class Scene:
    """Draws the poses of one script at one size; the background is drawn once."""

    def __init__(self, script: Script, width: int, height: int):
        self.script = script
        self._ground = _background(width, height)

    def at(self, t: float) -> Picture:
        """The picture at `t` seconds, height x width x 3, BGR."""
        picture = self._ground.copy()
        brush = Brush(picture)
        pose = pose_at(self.script, t)
        _bell_and_rope(brush, pose)
        _goat(brush, pose)
        _hands(brush, pose)
        return picture


def _background(width: int, height: int) -> Picture:
    picture = np.zeros((height, width, 3), np.uint8)
    top, low = np.array(_bgr("#A9C4CC")), np.array(_bgr("#DDE6DF"))
    ramp = np.clip(np.linspace(0, 1.9, height), 0, 1)[:, None, None]
    picture[:] = (top * (1 - ramp) + low * ramp).astype(np.uint8)
    brush = Brush(picture)
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
    return picture


def _bell_and_rope(brush: Brush, pose: Pose) -> None:
    swing = -9 * pose.pull + 0.5 * pose.sway
    brush.line(np.array([[ROPE_X, 38], [ROPE_X, 60]]), "#4A3C2A", 5)
    bell = flatten("M-30 36 Q-28 2 0 0 Q28 2 30 36 L38 48 H-38 Z")[0]
    turned = _turned(bell, math.radians(swing)) + np.array([ROPE_X, 58])
    brush.fill(turned, "#B98A2E")
    shine = flatten("M-18 34 Q-17 10 -6 6 Q-12 16 -11 36 Z")[0]
    brush.fill(_turned(shine, math.radians(swing)) + np.array([ROPE_X, 58]), "#D8B15A")
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
        return np.asarray(_turned(flatten(path)[0], angle) + base)

    def spot(x: float, y: float) -> tuple[float, float]:
        point = _turned(np.array([[x, y]]), angle)[0] + base
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
        _turned(flatten("M-19 -11 H19 V11 H-19 Z")[0], -0.45) + np.array([640, 268]), "#2F5F86"
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
