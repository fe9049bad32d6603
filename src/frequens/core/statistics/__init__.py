"""Small samples: intervals, summaries, and where values lie close together."""
