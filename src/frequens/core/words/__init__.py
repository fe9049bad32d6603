"""Which of its words the core means: a code and its numbers in, a key of `frequens.words` out."""

from .which import which

__all__ = ["which"]
