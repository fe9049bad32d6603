"""Whom the simulated camera films. Apart from it, because the server has no need of its brushes."""

from typing import Literal, get_args

Animal = Literal["goat", "hen", "pony"]
ANIMALS: tuple[Animal, ...] = get_args(Animal)
