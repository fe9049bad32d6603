import os
from typing import Any

from django.apps import AppConfig
from django.conf import settings


class ServerConfig(AppConfig):
    name = "frequens.server"
    label = "frequens_server"

    def __init__(self, *args: Any) -> None:
        """The folder everything lies in: before any other part looks for its file there."""
        super().__init__(*args)
        # People can be seen and heard in what lies there: it is its owner's alone.
        os.umask(0o077)
        settings.HOME.mkdir(parents=True, exist_ok=True)
