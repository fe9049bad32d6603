"""The settings of houses in tests: the real ones, but that passwords are hashed quickly.

A hash that is slow on purpose takes most of a login, and tests log in some hundred times.
"""

from django.conf import global_settings

from frequens.server.settings import *  # noqa: F403

PASSWORD_HASHERS = [
    "django.contrib.auth.hashers.MD5PasswordHasher",
    # Databases of earlier versions hold the real ones.
    *global_settings.PASSWORD_HASHERS,
]
