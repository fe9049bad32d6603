"""Coding a session: marks as an append-only list of edits, and what they amount to."""
