"""The words in which the core speaks: codes and numbers in, sentences out.

What is decided and measured knows codes and numbers only. How each is said stands in one folder
per language, as templates with the names of the numbers in braces; which of a code's sentences is
meant (`which`) and how numbers are put into them (`filling`) is the same in every language.
Everything said here is common practice and has no source but use; nothing proposes correction,
pressure or pain.
"""

from .filling import counted, fill
from .forms import latency
from .which import which

__all__ = ["counted", "fill", "latency", "which"]
