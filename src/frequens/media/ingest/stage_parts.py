"""What the stages need, loaded once for all of them; see `child`."""

# Else it is loaded when the first film is opened, where a stage's memory is already bounded, and
# what finds no room there is called a library that cannot be loaded.
from av.subtitles import stream
from scipy import fft, signal

from ..decode import frames, probe, stills
from ..sound import track
from . import review, stage

__all__ = ["fft", "frames", "probe", "review", "signal", "stage", "stills", "stream", "track"]
