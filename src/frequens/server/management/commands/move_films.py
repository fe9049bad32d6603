"""Brings films into their store, or out of it: ``move_films to_store|from_store``."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from frequens.words import counted

from ...library.film_store import StoreFault, film_store
from ...library.models import Film


class Command(BaseCommand):
    """Can be stopped at any time and begun again: what is through is through."""

    help = "Bring films into the store FREQUENS_FILMS names, or out of it into their folder."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("where", choices=["to_store", "from_store"])

    def handle(self, *args: Any, **options: Any) -> None:
        if film_store() is None:
            raise CommandError("There is no store: FREQUENS_FILMS names none.")
        films, files = Film.objects.exclude(state__in=Film.UNDER_WAY), 0
        for number, film in enumerate(films, start=1):
            try:
                moved = film.put_all_away() if options["where"] == "to_store" else film.take_back()
            except StoreFault as fault:
                raise CommandError(f"{film}: {fault}") from fault
            files += moved
            self.stdout.write(f"{number} of {len(films)}: {film}, {counted(moved, 'file')}")
        self.stdout.write(f"{counted(files, 'file')} moved.")
