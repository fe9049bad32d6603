"""What to vary between sessions: where, how far, with whom, and what is due again."""
