"""The sound of a film: its overview, heard clicks, and marker words."""
