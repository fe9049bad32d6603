"""What the stages need, loaded once for all of them; see `child`."""

from scipy import fft, signal

from ..decode import frames, probe, stills
from ..sound import track
from . import review, stage

__all__ = ["fft", "frames", "probe", "review", "signal", "stage", "stills", "track"]
