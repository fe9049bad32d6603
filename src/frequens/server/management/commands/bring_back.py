"""Reads an archive into an empty workspace: ``bring_back FILE --workspace NAME``."""

from __future__ import annotations

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from frequens.words import counted

from ...accounts.models import Workspace
from ...ingest.receive import ReceiveFault
from ...leaving.bringing_back import BadArchive, bring_back


class Command(BaseCommand):
    """Brings back all that an archive of a workspace holds; films are then taken in anew."""

    help = "Read an archive into an empty workspace."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("file", type=Path)
        parser.add_argument("--workspace", required=True, help="made by add_trainer, and empty")
        parser.add_argument(
            "--nameless",
            action="store_true",
            help="leave out the names of people who have no account there",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        workspace = Workspace.objects.filter(name=options["workspace"]).first()
        if workspace is None:
            raise CommandError(
                f"There is no workspace {options['workspace']!r}; add_trainer makes one."
            )
        try:
            counts = bring_back(options["file"], workspace, options["nameless"])
        except (BadArchive, ReceiveFault) as fault:
            raise CommandError(f"{options['file'].name}: {fault}") from fault
        except OSError as fault:
            raise CommandError(f"{options['file'].name}: {fault.strerror or fault}") from fault
        said = [counted(n, kind.replace("_", " ")) for kind, n in counts.items()]
        self.stdout.write(f"Brought back into {workspace}: {', '.join(said)}.")
