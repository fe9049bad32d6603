"""The simulated camera as a device: whom it can film, and filming. Settings name it, as `CAMERA`.

Importing it loads no brushes: the server asks it for its subjects at every start.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from fractions import Fraction
from pathlib import Path
from typing import Any

from frequens.media.decode.limits import Limits

from .animals import ANIMALS

#: Whom it can film.
SUBJECTS: tuple[str, ...] = ANIMALS
#: The pony is filmed upright, as most phones are held.
SIZES: Mapping[str, Mapping[str, int]] = {
    "goat": {"width": 1280, "height": 720},
    "hen": {"width": 1280, "height": 720},
    "pony": {"width": 720, "height": 1280},
}


def film(
    task: Mapping[str, Any], limits: Limits, report: Callable[[float], None]
) -> dict[str, Any]:
    """Shoot a simulated session to `film`. Result: the truth's path."""
    from .camera import FilmOptions, script_session, shoot

    options = dict(task["options"])
    if "fps" in options:
        options["fps"] = Fraction(options["fps"])
    script = script_session(
        task["length_s"], task["seed"], task.get("lateness_s", 0.0), task.get("animal", "goat")
    )
    truth = shoot(script, Path(task["film"]), FilmOptions(**options), report, task.get("date"))
    return {"truth": str(truth)}
