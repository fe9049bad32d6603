"""Words: codes and numbers in, sentences out.

Who decides and measures knows codes and numbers only. How each is said stands in one folder per
language, as templates with the names of the numbers in braces (`spoken` is the one in use); how
numbers are put into them (`filling`) and written (`forms`) is the same in every language. Any room
may speak; this one knows none of them. What is said of the trade is common practice and has no
source but use; nothing proposes correction, pressure or pain.
"""

from .filling import counted, fill, joined
from .forms import latency

__all__ = ["counted", "fill", "joined", "latency"]
