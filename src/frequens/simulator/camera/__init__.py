"""The simulated camera: made-up sessions of Thistle the goat as real films with their truth."""

from .film import FilmOptions, shoot
from .script import Script, script_session

__all__ = ["FilmOptions", "Script", "script_session", "shoot"]
