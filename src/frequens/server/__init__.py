"""The Django project: accounts, data, API and background work."""
