"""Runs a command beside a PostgreSQL of its own: ``python -m tests.postgres COMMAND…``

The server is made in a temporary folder, reached by a unix socket only, and gone afterwards. The
command finds it in ``DATABASE_URL``.
"""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from urllib.parse import quote

#: PostgreSQL refuses to run as root; its package brings this account.
ACCOUNT = "postgres"


def main() -> int:
    """The command's exit status."""
    with postgres() as url:
        command = sys.argv[1:]
        return subprocess.run(command, env={**os.environ, "DATABASE_URL": url}).returncode


@contextmanager
def postgres(is_durable: bool = False) -> Iterator[str]:
    """A server that is gone afterwards; its address.

    Whether it waits for the disk is its own business; tests look at ours and need not.
    """
    found = programs()
    if found is None:
        sys.exit("PostgreSQL is not installed.")
    with tempfile.TemporaryDirectory(prefix="frequens-pg-") as name:
        folder = Path(name)
        data = folder / "data"
        if os.geteuid() == 0:
            shutil.chown(folder, ACCOUNT)
        make = ["--auth=trust", "--username=frequens", "--encoding=UTF8", "--locale=C.UTF-8"]
        _as_account(found / "initdb", "-D", data, *make, "--no-sync")
        waits = "" if is_durable else "-c fsync=off"
        options = f"-k {folder} -c listen_addresses='' {waits} -c max_connections=200"
        control = found / "pg_ctl"
        _as_account(control, "-D", data, "-w", "-l", folder / "log", "-o", options, "start")
        try:
            yield f"postgres://frequens@{quote(str(folder), safe='')}/postgres"
        finally:
            _as_account(control, "-D", data, "-w", "-m", "immediate", "stop")


def _as_account(*command: object) -> None:
    user = ACCOUNT if os.geteuid() == 0 else pwd.getpwuid(os.geteuid()).pw_name
    subprocess.run(
        [str(part) for part in command],
        check=True,
        stdout=subprocess.DEVNULL,
        cwd="/",
        **({"user": user, "group": user} if os.geteuid() == 0 else {}),
    )


def programs() -> Path | None:
    """Where PostgreSQL's programs are; None where it is not installed."""
    packaged = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"))
    program = packaged[-1] if packaged else shutil.which("initdb")
    return Path(program).parent if program else None


if __name__ == "__main__":
    sys.exit(main())
