"""A frame number painted as black and white cells along the lower edge, for tests only.

24 cells: white, black, 20 bits of the number (most significant first), even parity, white.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

CELLS = 24
BITS = 20


def strip_height(height: int) -> int:
    """Lines of the picture that the strip covers."""
    return max(8, height // 16)


def paint_number(picture: NDArray[np.uint8], number: int) -> None:
    """Paint `number` (0 to 2**20 - 1) into the picture, in place."""
    bits = [number >> (BITS - 1 - i) & 1 for i in range(BITS)]
    cells = [1, 0, *bits, sum(bits) & 1, 1]
    height, width = picture.shape[:2]
    top = height - strip_height(height)
    edges = np.linspace(0, width, CELLS + 1).round().astype(int)
    for cell, start, end in zip(cells, edges, edges[1:], strict=False):
        picture[top:, start:end] = 255 if cell else 0


def read_number(picture: NDArray[np.uint8]) -> int | None:
    """The painted number, None where the cells do not make sense. Any channel layout."""
    height, width = picture.shape[:2]
    line = picture[height - strip_height(height) // 2]
    grey = line.mean(axis=-1) if line.ndim == 2 else line
    centres = ((np.arange(CELLS) + 0.5) * width / CELLS).astype(int)
    cells = [int(grey[c] > 127) for c in centres]
    bits = cells[2 : 2 + BITS]
    if (cells[0], cells[1], cells[-1]) != (1, 0, 1) or cells[-2] != sum(bits) & 1:
        return None
    return int("".join(map(str, bits)), 2)
