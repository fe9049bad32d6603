"""What to do next, in the light of all sessions."""
