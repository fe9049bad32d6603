"""The `frequens` command: measures and simulations for scripts, and keeping what there is."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Any

from . import __version__
from .simulator.animals import ANIMALS

# What a command computes with is loaded by that command: processes that are started again and again
# load this file anew.
if TYPE_CHECKING:
    from .core import SessionRecord

EXIT_BAD_INPUT = 2


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the command; returns the exit status, 2 for input that cannot be right."""
    parser = argparse.ArgumentParser(prog="frequens", description=__doc__)
    parser.add_argument("--version", action="version", version=f"frequens {__version__}")
    commands = parser.add_subparsers(dest="command", required=True)
    for name, said in _SERVERS.items():
        # Everything behind it is the command's own.
        commands.add_parser(name, help=said, add_help=False)
    measuring = commands.add_parser("measure", help="print the findings of a coded session as JSON")
    measuring.add_argument(
        "file", metavar="FILE", help="a frequens-session file, - for standard input"
    )
    measuring.set_defaults(run=_measure)
    judging = commands.add_parser(
        "judge", help="judge the last of one behaviour's sessions and print JSON"
    )
    judging.add_argument(
        "files", metavar="FILE", nargs="+", help="frequens-session files, coded or by hand"
    )
    judging.set_defaults(run=_judge)
    agreeing = commands.add_parser(
        "agree", help="compare two people's codings of one film and print JSON"
    )
    agreeing.add_argument("a", metavar="A", help="a frequens-session file")
    agreeing.add_argument("b", metavar="B", help="another one of the same film")
    agreeing.add_argument("--tolerance", type=float, default=0.2, help="seconds (default 0.2)")
    agreeing.set_defaults(run=_agree)
    _add_simulate(commands)
    _add_keeping(commands)
    _add_check(commands)
    given = sys.argv[1:] if arguments is None else list(arguments)
    if given and given[0] in _SERVERS:
        from .server.manage import main as manage

        manage(["frequens", *given])
        return 0
    options = parser.parse_args(given)
    return int(options.run(options))


#: Commands of the server, by name, with what they do.
_SERVERS = {
    "serve": "serve Frequens on this machine, until Ctrl-C",
    "add_trainer": "add a trainer's account to a workspace",
    "move_films": "bring films into the object store that keeps them, or back",
    "bring_back": "read an archive into an empty workspace",
    "remove_workspace": "remove a workspace with everything in it",
}


def _measure(options: argparse.Namespace) -> int:
    from .core import measure

    records, faults = _read_sessions([options.file])
    return _refuse(*faults) if faults else _print(measure(records[0]))


def _judge(options: argparse.Namespace) -> int:
    from .core.decisions.judging import judge
    from .core.findings import measure_session

    records, faults = _read_sessions(options.files)
    if faults:
        return _refuse(*faults)
    sessions = [measure_session(record).digest for record in records]
    # The plan of the latest decides; of equal ones, that of the file given last.
    when = [(r.session.date or "", r.session.time or "", n) for n, r in enumerate(records)]
    return _print_values(judge(sessions, records[max(when)[2]].plan))


def _agree(options: argparse.Namespace) -> int:
    from .core.measures.agreement import agree

    records, faults = _read_sessions([options.a, options.b])
    if faults:
        return _refuse(*faults)
    try:
        return _print_values(agree(records[0], records[1], options.tolerance))
    except ValueError as error:
        return _refuse(f"--tolerance: {error}")


def _print_values(found: Any) -> int:
    from .core.findings import as_plain_values

    return _print(as_plain_values(found))


def _print(found: Any) -> int:
    json.dump(found, sys.stdout, indent=1, allow_nan=False)
    sys.stdout.write("\n")
    return 0


def _read_sessions(files: Sequence[str]) -> tuple[list[SessionRecord], list[str]]:
    """The records of all files, and the faults of all; of several, each names its file."""
    from .core import InvalidSession, read_session

    records: list[SessionRecord] = []
    faults: list[str] = []
    for file in files:
        before = f"{file}: " if len(files) > 1 else ""
        try:
            records.append(read_session(_read_json(file)))
        except InvalidSession as invalid:
            faults += [before + fault for fault in invalid.faults]
        except (OSError, ValueError, RecursionError) as error:
            faults.append(f"{file}: {_in_words(error)}")
    return records, faults


def _read_json(file: str) -> Any:
    text = sys.stdin.read() if file == "-" else Path(file).read_text(encoding="utf-8")
    return json.loads(text)


def _in_words(error: Exception) -> str:
    if isinstance(error, OSError):
        return _os_in_words(error)
    if isinstance(error, json.JSONDecodeError):
        return f"not JSON: line {error.lineno}, column {error.colno}: {error.msg}"
    return f"not JSON: {error}"


def _refuse(*faults: str) -> int:
    for fault in faults:
        print(fault, file=sys.stderr)
    return EXIT_BAD_INPUT


def _add_check(commands: Any) -> None:
    checking = commands.add_parser("check", help="look whether everything here is as it should be")
    checking.set_defaults(run=_check)


def _check(options: argparse.Namespace) -> int:
    _server_keeping()
    from .server.health import installation

    found = installation()
    for check in found:
        print(f"{'ok  ' if check.is_good else 'LOOK'}  {check.name}: {check.said}")
    return 0 if all(check.is_good for check in found) else 1


def _add_keeping(commands: Any) -> None:
    saving = commands.add_parser(
        "backup", help="save everything into one file, also while Frequens runs"
    )
    saving.add_argument("file", metavar="FILE", type=Path, help="the file to write")
    saving.add_argument("--films", action="store_true", help="with the films")
    saving.set_defaults(run=_backup)
    restoring = commands.add_parser(
        "restore", help="put a backup in the place of what is here, while Frequens is stopped"
    )
    restoring.add_argument("file", metavar="FILE", type=Path, help="a file `backup` wrote")
    restoring.set_defaults(run=_restore)


def _backup(options: argparse.Namespace) -> int:
    keeping = _server_keeping()
    try:
        size = keeping.back_up(options.file, options.films)
    except (keeping.BadBackup, OSError) as error:
        return _refuse(f"{options.file}: {_os_in_words(error)}")
    films = "with" if options.films else "without"
    print(f"{options.file}: {size / 1e6:.1f} MB, {films} the films")
    return 0


def _restore(options: argparse.Namespace) -> int:
    from django.core.management.base import CommandError

    keeping = _server_keeping()
    try:
        aside = keeping.restore(options.file)
    except (keeping.BadBackup, CommandError, OSError) as error:
        return _refuse(f"{options.file}: {_os_in_words(error)}")
    print("Restored." + (f" What was here before lies in {aside.name}/." if aside else ""))
    return 0


def _server_keeping() -> Any:
    import os

    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "frequens.server.settings")
    django.setup()
    from .server import keeping

    return keeping


def _os_in_words(error: Exception) -> str:
    return (error.strerror or str(error)) if isinstance(error, OSError) else str(error)


def _add_simulate(commands: Any) -> None:
    simulating = commands.add_parser(
        "simulate", help="film a made-up session and write its truth beside it"
    )
    simulating.add_argument(
        "film", metavar="FILM", type=Path, help="a .mp4, .mov, .mkv or .webm to write"
    )
    simulating.add_argument("--animal", default="goat", choices=ANIMALS, help="who is filmed")
    simulating.add_argument("--length", type=float, default=60.0, help="seconds, 4 to 600")
    simulating.add_argument("--seed", type=int, default=1, help="another number, another session")
    simulating.add_argument("--late", type=float, default=0.0, help="seconds added to every marker")
    simulating.add_argument("--fps", default="30", help="frames a second, also 30000/1001")
    simulating.add_argument("--variable", action="store_true", help="uneven frame intervals")
    simulating.add_argument("--b-frames", type=int, default=2)
    simulating.add_argument("--key-frame-every", type=int, default=60, help="frames")
    simulating.add_argument("--start-offset", type=float, default=0.0, help="seconds")
    simulating.add_argument("--rotation", type=int, default=0, choices=(0, 90, 180, 270))
    simulating.add_argument("--codec", default="h264", choices=("h264", "hevc", "vp9", "av1"))
    simulating.add_argument("--size", default="1280x720", help="width x height as displayed")
    simulating.add_argument("--noise", type=float, default=0.02, help="0 to 1, picture and sound")
    simulating.add_argument(
        "--numbered", action="store_true", help="paint frame numbers, for tests"
    )
    simulating.set_defaults(run=_simulate)


def _simulate(options: argparse.Namespace) -> int:
    from .simulator.camera import FilmOptions, script_session, shoot

    def report(share: float) -> None:
        if sys.stderr.isatty():
            print(f"\r{share:4.0%}", end="", file=sys.stderr, flush=True)

    try:
        width, height = (int(side) for side in options.size.lower().split("x"))
        film = FilmOptions(
            fps=Fraction(options.fps),
            variable=options.variable,
            b_frames=options.b_frames,
            key_frame_every=options.key_frame_every,
            start_offset_s=options.start_offset,
            rotation=options.rotation,
            codec=options.codec,
            width=width,
            height=height,
            noise=options.noise,
            numbered=options.numbered,
        )
        script = script_session(options.length, options.seed, options.late, options.animal)
        truth = shoot(script, options.film, film, report)
    except (ValueError, ZeroDivisionError) as error:
        return _refuse(f"simulate: {error}")
    except OSError as error:
        return _refuse(f"{options.film}: {error.strerror or error}")
    print(f"{options.film}: {len(script.reps)} reps, truth in {truth}")
    return 0
