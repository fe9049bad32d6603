"""Saltmarsh Steading, made up: its animals, its trainers, and six weeks of their sessions."""
