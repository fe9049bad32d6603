"""Findings and judgements: asked of the core once for each state of a session's marks."""
