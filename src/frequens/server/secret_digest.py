"""What is kept of a secret that is handed out: enough to know it again, not to say it again."""

from __future__ import annotations

import hashlib


def secret_digest(secret: str) -> str:
    """The digest of a random secret. Nothing of a person's choice: for that there are passwords."""
    return hashlib.sha256(secret.encode()).hexdigest()
