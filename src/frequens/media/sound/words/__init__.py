"""Marker words: places that sound like the few the reviewer has marked. Experimental.

A place is one to look at, never a mark: the reviewer places the frame. Nothing is known of any
word beforehand; `VoiceListener` keeps what voices leave in the sound, `find_words` compares.
"""

from .matching import APART_S, Places, find_words
from .spectrum import VoiceListener, Voices, heard_voices

__all__ = ["APART_S", "Places", "VoiceListener", "Voices", "find_words", "heard_voices"]
