"""How accounts come about: a workspace's owner makes them; nobody signs up from outside."""

from typing import Any

from allauth.account.adapter import DefaultAccountAdapter
from django.http import HttpRequest


class ClosedAccountAdapter(DefaultAccountAdapter):
    """Refuses sign-up; `add_trainer` makes accounts."""

    def is_open_for_signup(self, request: HttpRequest) -> bool:
        return False

    def _get_login_attempts_cache_key(self, request: HttpRequest, **credentials: Any) -> str:
        # Of the account alone: by another Host header nobody gets new tries.
        return str(credentials.get("username", "")).casefold()[:200]
