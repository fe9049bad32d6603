"""Runs the project's commands: ``python -m frequens.server.manage COMMAND``."""

import os
import sys
from collections.abc import Sequence


def main(arguments: Sequence[str] | None = None) -> None:
    """Run a command, by default the one named on the command line."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "frequens.server.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(list(arguments or sys.argv))


if __name__ == "__main__":
    main()
