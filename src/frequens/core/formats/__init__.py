"""Open formats: the `frequens-session` document, CSV and WebVTT, read and written."""
