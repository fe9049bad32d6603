"""Runs the project's commands: ``python -m frequens.server.manage COMMAND``."""

import os
import sys


def main() -> None:
    """Run the command named on the command line."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "frequens.server.settings")
    from django.core.management import execute_from_command_line

    execute_from_command_line(sys.argv)


if __name__ == "__main__":
    main()
