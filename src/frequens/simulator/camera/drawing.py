"""Drawing with smooth edges, in a scene's own units, scaled to the film.

Colours are RGB hex here, BGR-ordered when they meet the picture.
"""

from __future__ import annotations

import math
import re
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

Picture = NDArray[np.uint8]
Points = NDArray[np.float64]

_SUBPIXEL = 4


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
    """Draws a scene of `space` units onto a picture with smooth edges; the middle stays whole."""

    def __init__(self, picture: Picture, space: tuple[float, float]):
        self.picture = picture
        height, width = picture.shape[:2]
        across, down = space
        self.scale = max(width / across, height / down)
        self.shift = np.array([(width - across * self.scale) / 2, (height - down * self.scale) / 2])

    def _pixels(self, points: Points) -> NDArray[np.int32]:
        placed = points * self.scale + self.shift
        return np.asarray(np.round(placed * 2**_SUBPIXEL), dtype=np.int32)

    def sky(self, top: str, low: str) -> None:
        """The whole picture from one colour above to another by the middle."""
        ramp = np.clip(np.linspace(0, 1.9, len(self.picture)), 0, 1)[:, None, None]
        self.picture[:] = (np.array(bgr(top)) * (1 - ramp) + np.array(bgr(low)) * ramp).astype(
            np.uint8
        )

    def fill(self, points: Points, colour: str) -> None:
        """A filled outline."""
        cv2.fillPoly(self.picture, [self._pixels(points)], bgr(colour), cv2.LINE_AA, _SUBPIXEL)

    def path(self, path: str, colour: str) -> None:
        """Filled outlines of a written path."""
        for outline in flatten(path):
            self.fill(outline, colour)

    def line(self, points: Points, colour: str, width: float) -> None:
        """An open line of `width` units."""
        thick = max(1, round(width * self.scale))
        cv2.polylines(
            self.picture, [self._pixels(points)], False, bgr(colour), thick, cv2.LINE_AA, _SUBPIXEL
        )

    def disc(
        self, x: float, y: float, rx: float, ry: float, colour: str, turn: float = 0.0
    ) -> None:
        """A filled ellipse, `turn` in degrees."""
        self.fill(turned(_CIRCLE * (rx, ry), math.radians(turn)) + np.array([x, y]), colour)


_ANGLES = np.linspace(0, 2 * math.pi, 40, endpoint=False)
_CIRCLE = np.stack([np.cos(_ANGLES), np.sin(_ANGLES)], axis=1)


@lru_cache(maxsize=512)
def bgr(colour: str) -> tuple[int, int, int]:
    red, green, blue = (int(colour[i : i + 2], 16) for i in (1, 3, 5))
    return blue, green, red


def turned(points: Points, angle: float) -> Points:
    c, s = math.cos(angle), math.sin(angle)
    return np.asarray(points @ np.array([[c, s], [-s, c]]))
