"""What the stages need, loaded once for all of them; see `child`."""

# It would be loaded when the first film is opened, where a stage's memory is already bounded: a
# library that finds no room there is no memory's fault, but one of loading.
from av.subtitles import stream
from scipy import fft, signal

from ..decode import frames, probe, stills
from ..sound import track
from . import review, stage

__all__ = ["fft", "frames", "probe", "review", "signal", "stage", "stills", "stream", "track"]
