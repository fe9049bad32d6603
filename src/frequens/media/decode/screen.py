"""Decoded frames as an ordinary screen shows them: upright, in true shape, each one instant."""

from __future__ import annotations

import itertools
import struct
import tempfile
from collections.abc import Mapping
from fractions import Fraction
from pathlib import Path
from typing import Any, cast

import av
from av.filter import Graph
from av.sidedata.sidedata import Type

from .tones import Curve, write_table

#: Clockwise degrees by which a frame is turned, as turns of the filter.
_TURNS = {90: ("clock",), 180: ("clock", "clock"), 270: ("cclock",)}


class Screen:
    """Frames in, pictures out, one for one.

    Interlaced frames hold two instants in alternate lines. Only the lines of the first are shown,
    which is the one the frame's time names: a picture of both, or one made up from its
    neighbours, would show a touch where there is none yet.
    """

    def __init__(
        self, first: av.VideoFrame, rotation: int, size: tuple[int, int], form: str, scaling: str
    ):
        """`first` is a frame like all that follow; `size` of the upright picture; `form` the
        pixels' format, and `scaling` the scaler's method."""
        steps: list[tuple[str, str]] = []
        if first.interlaced_frame:
            # Where the lower lines come first they are moved up by one.
            steps += [("fieldorder", "tff"), ("field", "top")]
        if _is_mirrored(first):
            steps.append(("vflip", ""))
        steps += [("transpose", turn) for turn in _TURNS.get(rotation, ())]
        with tempfile.TemporaryDirectory() as folder:
            fit = f"{size[0]}:{size[1]}:flags={scaling}"
            if first.color_trc in set(Curve):
                table = Path(folder) / "tones.cube"
                write_table(table, Curve(first.color_trc))
                steps += [
                    ("scale", f"{fit}:in_color_matrix=bt2020"),
                    ("format", "gbrp10le"),
                    ("lut3d", f"file={table}:interp=tetrahedral"),
                    ("setparams", "color_primaries=bt709:color_trc=bt709"),
                    ("scale", "out_color_matrix=bt709:out_range=tv"),
                ]
            else:
                steps.append(("scale", fit + _kept_matrix(first, form)))
            # The pixels are square from here on.
            steps += [("setsar", "1"), ("format", form)]
            self._graph = _chain(first, steps)

    def __call__(self, frame: av.VideoFrame) -> av.VideoFrame:
        """The frame's picture. Its times are the filter's: the caller knows the frame's own."""
        self._graph.push(frame)
        picture = self._graph.pull()
        assert isinstance(picture, av.VideoFrame)
        return picture


#: Names of the matrices between brightness with colour differences and red, green and blue, by
#: their number in ITU-T H.273, table 4.
MATRICES = {1: "bt709", 5: "bt470", 6: "smpte170m", 7: "smpte240m", 9: "bt2020"}


def _kept_matrix(first: av.VideoFrame, form: str) -> str:
    """The scaler's options by which colours stay what the film says they are.

    Where they stay in the same matrix nothing is converted, which would cost more than scaling.
    """
    matrix = MATRICES.get(first.colorspace)
    if form != "yuv420p":
        return f":in_color_matrix={matrix}" if matrix else ""
    kept = f":in_color_matrix={matrix}:out_color_matrix={matrix}" if matrix else ""
    return f"{kept}:out_range=tv"


def _is_mirrored(frame: av.VideoFrame) -> bool:
    """Whether the film's matrix mirrors the picture, as some front cameras' do, beside turning it.

    Its turn is told by where the lines go; what is mirrored then is up and down.
    """
    told = cast("Mapping[Type, Any]", frame.side_data).get(Type.DISPLAYMATRIX)
    if told is None:
        return False
    a, b, _, c, d = struct.unpack_from("=5i", bytes(told))
    return bool(a * d < b * c)


def _chain(first: av.VideoFrame, steps: list[tuple[str, str]]) -> Graph:
    graph = Graph()
    source = graph.add_buffer(
        width=first.width,
        height=first.height,
        format=first.format,
        time_base=first.time_base or Fraction(1, 1000),
    )
    chain = [
        source,
        *(graph.add(name, told or None) for name, told in steps),
        graph.add("buffersink"),
    ]
    for one, following in itertools.pairwise(chain):
        one.link_to(following)
    graph.configure()
    return graph
