"""Do the tests bite? Changes single lines, runs the tests of each, and counts what survives.

``mutants.py [--room core|media|server] [--files FILE…] [--most N] [--seed N] [--again]``

Without a room it tries the source files changed since the last commit but one. Of all possible
changes a random sample is tried (`--most`), so that the time is bounded and the score honest: the
survivors are listed, each with its line, and the score is given with its 95 % interval. The work
is done by mutmut, in a copy of the tree under ``var/mutants``; a change the type checker refuses
counts as found, because `make check` runs it too.
"""

from __future__ import annotations

import argparse
import json
import random
import shutil
import subprocess
import sys
from collections import Counter
from pathlib import Path

from mutmut.stats import status_by_exit_code

from frequens.core.statistics.summaries import wilson

REPOSITORY = Path(__file__).resolve().parents[1]
COPY = REPOSITORY / "var" / "mutants"
PACKAGE = "src/frequens"
#: The tests that stand for each room.
TESTS = {"core": ["tests/core"], "media": ["tests/media"], "server": ["tests/server"]}
#: Plugins that only cost time here, or run the tests elsewhere.
IDLE = ("xdist", "playwright", "schemathesis")
#: What mypy says only because every change stands in the file at once; no change is found by it.
UNTOLD = tuple(
    part
    for code in ("has-type", "no-redef", "no-any-return")
    for part in ("--disable-error-code", code)
)
#: Who ends so was found; everything else counts as survived.
FOUND = ("killed", "caught by type check", "timeout", "segfault")


def main() -> None:
    """Sample, try, say."""
    options = _options()
    files = options.files or (_of_room(options.room) if options.room else _changed())
    files = [name for name in files if "/migrations/" not in name]
    if not files:
        sys.exit("Nothing changed under src/frequens; name a room.")
    rooms = {Path(name).parts[2] for name in files} & TESTS.keys()
    if not options.again:
        _copy(files, [test for room in sorted(rooms) for test in TESTS[room]])
        # Makes the mutants and learns which tests reach them; tries none.
        _mutmut("frequens.none*")
    names = sorted(_results())
    sample = random.Random(options.seed).sample(names, min(options.most, len(names)))
    _mutmut(*sample)
    _say(sample, len(names))


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("--room", choices=TESTS)
    parser.add_argument("--files", nargs="*", default=[], metavar="FILE")
    parser.add_argument("--most", type=int, default=200, help="tried at most (default 200)")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--again", action="store_true", help="as prepared by the last run")
    return parser.parse_args()


def _git(*arguments: str) -> list[str]:
    found = subprocess.run(
        ["git", *arguments], cwd=REPOSITORY, check=True, capture_output=True, text=True
    )
    return found.stdout.splitlines()


def _changed() -> list[str]:
    return [n for n in _git("diff", "--name-only", "HEAD~1", "--", PACKAGE) if n.endswith(".py")]


def _of_room(room: str) -> list[str]:
    return [n for n in _git("ls-files", f"{PACKAGE}/{room}") if n.endswith(".py")]


def _copy(files: list[str], tests: list[str]) -> None:
    """The tree as it stands, and mutmut's settings for this run."""
    shutil.rmtree(COPY, ignore_errors=True)
    for name in _git("ls-files", "--cached", "--others", "--exclude-standard"):
        source = REPOSITORY / name
        if source.is_file() and not name.startswith(("web/", "docs/screenshots/")):
            (COPY / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(source, COPY / name)
    # The core needs no Django, and its tests are quicker without.
    idle = (*IDLE, "django") if tests == TESTS["core"] else IDLE
    own = {
        "source_paths": ["src"],
        "only_mutate": files,
        "also_copy": ["docs", "tools", "bench"],
        "pytest_add_cli_args_test_selection": tests,
        "pytest_add_cli_args": [part for name in idle for part in ("-p", f"no:{name}")],
        "mutate_only_covered_lines": True,
        "type_check_command": [
            sys.executable,
            "-m",
            "mypy",
            "--output",
            "json",
            "--no-warn-unused-ignores",
            *UNTOLD,
            *files,
        ],
    }
    lines = [f"{key} = {json.dumps(value)}" for key, value in own.items()]
    with (COPY / "pyproject.toml").open("a") as settings:
        settings.write("\n[tool.mutmut]\n" + "\n".join(lines) + "\n")


def _mutmut(*names: str) -> None:
    """Try these mutants. It says itself how far it is."""
    command = [sys.executable, "-m", "mutmut", "run", "--max-children", "2", *names]
    subprocess.run(command, cwd=COPY, check=False)


def _results() -> dict[str, int | None]:
    """Every mutant with the exit code of its tests; None where it was not tried."""
    found: dict[str, int | None] = {}
    for path in (COPY / "mutants").rglob("*.meta"):
        found |= json.loads(path.read_text())["exit_code_by_key"]
    return found


def _say(sample: list[str], of: int) -> None:
    results = _results()
    ends = {n: status_by_exit_code[results[n]] for n in sample if results.get(n) is not None}
    survivors = [name for name, end in ends.items() if end not in FOUND]
    score = wilson(len(ends) - len(survivors), len(ends))
    for name in survivors:
        shown = subprocess.run(
            [sys.executable, "-m", "mutmut", "show", name],
            cwd=COPY,
            capture_output=True,
            text=True,
            check=False,
        ).stdout
        changed = [s for s in shown.splitlines() if s[:1] in "+-" and s[:3] not in ("+++", "---")]
        print(f"\n{name}", *changed, sep="\n  ")
    print(f"\n{of} mutants, {len(ends)} tried: {dict(Counter(ends.values()))}")
    if score.share is not None and score.low is not None and score.high is not None:
        print(f"Found: {score.share:.1%} ({score.low:.1%} to {score.high:.1%}).")


if __name__ == "__main__":
    main()
