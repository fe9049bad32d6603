"""Frequens: review of training films, exact to the frame."""

__version__ = "0.3.0"
