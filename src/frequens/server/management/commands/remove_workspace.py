"""Removes a workspace with everything in it."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from ...accounts.models import Workspace
from ...leaving.removal import remove_workspace


class Command(BaseCommand):
    """Films, sessions, plans and accounts that belong to no other workspace go with it."""

    help = "Remove a workspace with everything in it."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("workspace", help="its name")
        parser.add_argument("--yes", action="store_true", help="really")

    def handle(self, *args: Any, **options: Any) -> None:
        found = Workspace.objects.filter(name=options["workspace"]).first()
        if found is None:
            raise CommandError(f"There is no workspace {options['workspace']!r}.")
        if not options["yes"]:
            raise CommandError("Nothing was removed: say --yes where it shall go for good.")
        remove_workspace(found)
        self.stdout.write(f"{options['workspace']} is removed with everything in it.")
