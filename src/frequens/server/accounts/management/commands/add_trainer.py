"""Makes an account: ``add_trainer NAME --workspace "Saltmarsh Steading"``."""

from argparse import ArgumentParser
from getpass import getpass
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction

from ...models import Role, Workspace, join_workspace


class Command(BaseCommand):
    """Adds a trainer to a workspace, making the workspace where it is new."""

    help = "Add a trainer's account to a workspace."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("username")
        parser.add_argument("--workspace", required=True)
        parser.add_argument(
            "--role",
            choices=Role.values,
            default=Role.TRAINER,
            help="what they may do (whoever is first owns the workspace)",
        )
        parser.add_argument("--password", help="asked for where it is not given")

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        users = get_user_model()
        if users.objects.filter(username=options["username"]).exists():
            raise CommandError(f"There is already a trainer {options['username']!r}.")
        password = options["password"] or getpass()
        try:
            validate_password(password)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from error
        user = users.objects.create_user(options["username"], password=password)
        workspace, _ = Workspace.objects.get_or_create(name=options["workspace"])
        join_workspace(user, workspace, options["role"])
        self.stdout.write(f"{user} belongs to {workspace}.")
