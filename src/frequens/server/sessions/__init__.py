"""Sessions over HTTP."""
