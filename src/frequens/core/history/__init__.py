"""A behaviour over its sessions: growth, skill, steps, and the logbook."""
