"""Makes the demo and runs Frequens with it."""

from __future__ import annotations

from django.core.management import call_command

from frequens.server.management.commands import serve

from ...steading import PASSWORD, TRAINERS


class Command(serve.Command):
    """As `serve`, with Saltmarsh Steading in it."""

    help = "Make the demo, then serve Frequens with it."

    def prepare(self) -> None:
        call_command("make_demo", stdout=self.stdout)

    def greet(self) -> None:
        self.stdout.write(f"Log in as {TRAINERS[0]} with the password {PASSWORD}")
