"""Films and sessions: what there is, and whose it is."""
