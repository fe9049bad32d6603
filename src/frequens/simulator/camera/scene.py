"""Draws the poses of one script at one size."""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from ..animals import Animal
from . import goat, hen, pony
from .drawing import Brush, Picture
from .pose import Pose, pose_at
from .script import Script

#: Each scene's own units, what stands still in it, and what moves.
_SCENES: Mapping[
    Animal, tuple[tuple[float, float], Callable[[Brush], None], Callable[[Brush, Pose], None]]
] = {
    "goat": (goat.SPACE, goat.ground, goat.draw),
    "hen": (hen.SPACE, hen.ground, hen.draw),
    "pony": (pony.SPACE, pony.ground, pony.draw),
}


class Scene:
    """Draws the poses of one script at one size; the background is drawn once."""

    def __init__(self, script: Script, width: int, height: int):
        self.script = script
        self._space, ground, self._draw = _SCENES[script.animal]
        self._ground: Picture = np.zeros((height, width, 3), np.uint8)
        ground(Brush(self._ground, self._space))

    def at(self, t: float) -> Picture:
        """The picture at `t` seconds, height x width x 3, BGR."""
        picture = self._ground.copy()
        self._draw(Brush(picture, self._space), pose_at(self.script, t))
        return picture
