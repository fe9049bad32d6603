"""What a film may cost: bounds that hold before anything large is allocated."""

from __future__ import annotations

import ctypes
import resource
import signal
from dataclasses import dataclass
from pathlib import Path

GIB = 1024**3
#: The largest piece a decoder asks for at once, bytes: some pictures of the largest kind, or what
#: a thread sets aside.
_PIECE_BYTES = 256 * 1024**2


@dataclass(frozen=True, slots=True)
class Limits:
    """Bounds on one film: bytes, seconds, frames, pixels of a picture; memory of the child."""

    longest_s: float = 2 * 3600.0
    most_frames: int = 1_000_000
    most_pixels: int = 8192 * 4352
    memory_bytes: int = 4 * GIB
    cpu_s: int = 4 * 3600


def confine(limits: Limits) -> None:
    """Bound this process's memory and processor time, and end it when its parent ends."""
    resource.setrlimit(resource.RLIMIT_AS, (limits.memory_bytes, limits.memory_bytes))
    resource.setrlimit(resource.RLIMIT_CPU, (limits.cpu_s, limits.cpu_s))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    set_parent_death_signal = 1
    ctypes.CDLL(None).prctl(set_parent_death_signal, signal.SIGKILL)


def short_of_memory(limits: Limits) -> bool:
    """Has this process come so near its bound that a decoder may have been refused a piece?

    Decoders and libraries that are refused memory do not always say so: some report a damaged
    picture, a thread that would not start or a fault of their own.
    """
    for line in Path("/proc/self/status").read_text().splitlines():
        if line.startswith("VmPeak:"):
            return int(line.split()[1]) * 1024 + _PIECE_BYTES > limits.memory_bytes
    return False
