"""How accounts come about: a workspace's owner makes them; nobody signs up from outside."""

from allauth.account.adapter import DefaultAccountAdapter
from django.http import HttpRequest


class ClosedAccountAdapter(DefaultAccountAdapter):
    """Refuses sign-up; `add_trainer` makes accounts."""

    def is_open_for_signup(self, request: HttpRequest) -> bool:
        return False
