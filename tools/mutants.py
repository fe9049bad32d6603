"""Do the tests bite? Changes single lines, runs the tests that reach each, counts what survives.

``mutants.py [--room core|media|server] [--files FILE…] [--kind values|left-out|both] [--most N]
[--seed N] [--again]``

Without a room it tries the source files changed since the last commit but one. First the tests run
once and are noted, line by line (``--again`` takes the last notes). Of all possible changes
(`mutant_changes`) a random sample is tried (`--most`), so that the time is bounded and the score
honest: what was not found is listed, and the score is given with its 95 % interval. Some are tried
without their change, too: tests that fail then say nothing. A change the type checker refuses
counts as found, because `make check` runs it too; one that no test came by as not found. All of it
happens in a copy of the tree under ``var/mutants``.
"""

from __future__ import annotations

import argparse
import difflib
import json
import os
import random
import shutil
import subprocess
import sys
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

import coverage
import libcst as cst
from mutmut.mutation.file_mutation import Mutation, deep_replace
from tools.mutant_changes import KINDS, changes_of

from frequens.core.statistics.summaries import wilson

REPOSITORY = Path(__file__).resolve().parents[1]
COPY = REPOSITORY / "var" / "mutants"
PACKAGE = "src/frequens"
#: The tests that stand for each room; words are said by others.
ROOMS = {
    "words": ("core", "server"),
    "core": ("core",),
    "media": ("media",),
    "server": ("server",),
}
#: Plugins that only cost time here, or run the tests elsewhere.
IDLE = ("xdist", "playwright", "schemathesis", "cacheprovider")
#: Tests of everything at once: they take minutes each time and say nothing of one line.
TOO_WIDE = ("tests/server/test_api_contract.py", "tests/server/test_demo.py")
#: More than this share of tests that fail as they stand is a fault of the copy.
MOST_FAILING = 0.1
#: How long the tests of one change may take: so many times what they took, and a start.
PATIENCE, START_S = 8.0, 60.0
#: A test that takes less is quick.
QUICK_S = 0.5
#: How many of the drawn changes are tried unchanged as well: their tests must pass.
CONTROLS = 12
#: pytest's codes where nothing was found: all passed, none was there.
SURVIVED = (0, 5)


@dataclass(frozen=True)
class Mutant:
    """One change: the file, its lines, its whole text as changed, and what to show of it."""

    file: str
    lines: tuple[int, ...]
    text: str
    shown: tuple[str, ...]


@dataclass(frozen=True)
class Reach:
    """Which tests and fixtures come by which line of which file, the tests that stand for each
    of these names, and how long each test takes."""

    by_line: Mapping[str, Mapping[int, list[str]]]
    tests: Mapping[str, list[str]]
    seconds: Mapping[str, float]

    def tests_of(self, mutant: Mutant) -> list[str]:
        """The tests that reach a change, quickest first.

        A line that runs when its file is loaded is reached by all that reach the file; a file that
        only runs then, by nobody knows whom: all that are quick.
        """
        lines = self.by_line.get(mutant.file, {})
        names = {name for line in mutant.lines for name in lines.get(line, []) if name}
        names = names or {name for found in lines.values() for name in found if name}
        if not names:
            quick = (test for test, seconds in self.seconds.items() if seconds < QUICK_S)
            return sorted(quick, key=lambda test: self.seconds[test])
        found = {test for name in names for test in self.tests.get(name, [])}
        return sorted(found, key=lambda test: self.seconds.get(test, 0.0))


def main() -> None:
    """Learn, sample, try, say."""
    options = _options()
    files = options.files or (_of_room(options.room) if options.room else _changed())
    files = [name for name in files if "/migrations/" not in name]
    parts = {Path(name).parts[2] for name in files}
    rooms = sorted({tests for part in parts for tests in ROOMS.get(part, ())})
    if not rooms:
        sys.exit(f"Nothing changed in {', '.join(ROOMS)}; name a room.")
    if not options.again:
        _copy()
        _learn(rooms)
    reach = _reach()
    every = [
        (name, n) for name in files for n in range(len(_changes(name, options.kind, reach)[1]))
    ]
    drawn = random.Random(options.seed).sample(every, min(options.most, len(every)))
    sample = [mutant for name in files for mutant in _mutants(name, options.kind, reach, drawn)]
    controls = [replace(m, text=(COPY / m.file).read_text()) for m in sample[:: _every(sample)]]
    codes = _tried([*sample, *controls], reach, rooms)
    codes, unchanged = codes[: len(sample)], codes[len(sample) :]
    unfound = [m for m, code in zip(sample, codes, strict=True) if code in SURVIVED]
    left = [mutant for mutant in unfound if not _is_refused(mutant)]
    _say(len(every), len(sample), len(unfound), left)
    failed = sum(code not in SURVIVED for code in unchanged)
    print(f"{len(controls)} tried without a change: the tests of {failed} failed all the same.")
    late = sum(code < 0 for code in codes)
    print(f"{late} of those found were not done in their time.")


def _every(sample: Sequence[Mutant]) -> int:
    return -(-len(sample) // CONTROLS) or 1


def _options() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    parser.add_argument("--room", choices=ROOMS)
    parser.add_argument("--files", nargs="*", default=[], metavar="FILE")
    parser.add_argument("--kind", choices=KINDS, default="both")
    parser.add_argument("--most", type=int, default=200, help="tried at most (default 200)")
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--again", action="store_true", help="by the notes of the last run")
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


def _copy() -> None:
    """The tree as it stands, with the built screens the server's tests ask for."""
    shutil.rmtree(COPY, ignore_errors=True)
    for name in _git("ls-files", "--cached", "--others", "--exclude-standard"):
        source = REPOSITORY / name
        if source.is_file() and not name.startswith("docs/screenshots/"):
            (COPY / name).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy2(source, COPY / name)
    if (REPOSITORY / "web/dist").is_dir():
        shutil.copytree(REPOSITORY / "web/dist", COPY / "web/dist")


def _environment(**more: str) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": f"{COPY / 'src'}:{COPY}", **more}


def _options_of(rooms: Iterable[str]) -> list[str]:
    """The core needs no Django, and its tests are quicker without it."""
    idle = (*IDLE, "django") if list(rooms) == ["core"] else IDLE
    options = [part for name in idle for part in ("-p", f"no:{name}")]
    return options if "django" in idle else [*options, "--no-migrations"]


def _learn(rooms: list[str]) -> None:
    """Run the rooms' tests once, noting which lines each comes by."""
    settings = COPY / "coverage.ini"
    settings.write_text("[run]\nsource = frequens\n")
    pytest = ["-m", "pytest", "-q", "-p", "tools.mutant_tests", *_options_of(rooms)]
    pytest += [f"--ignore={name}" for name in TOO_WIDE]
    noted = str(COPY / "tests.json")
    learned = subprocess.run(
        [
            *(sys.executable, "-m", "coverage", "run", f"--rcfile={settings}"),
            *(f"--data-file={COPY / 'reach'}", *pytest, *(f"tests/{room}" for room in rooms)),
        ],
        cwd=COPY,
        env=_environment(FREQUENS_MUTANT_TESTS=noted),
        check=False,
    )
    if learned.returncode not in (0, 1):
        sys.exit(learned.returncode)
    # Tests that fail as they stand are not asked.
    tests = json.loads(Path(noted).read_text(encoding="utf-8"))
    failed, every = len(tests["failed"]), len(tests["seconds"]) + len(tests["failed"])
    if failed > MOST_FAILING * every:
        sys.exit(f"{failed} of {every} tests fail as they stand: a score would say too little.")


def _reach() -> Reach:
    data = coverage.CoverageData(str(COPY / "reach"))
    data.read()
    by_line = {
        str(Path(name).relative_to(COPY)): data.contexts_by_lineno(name)
        for name in data.measured_files()
    }
    noted = json.loads((COPY / "tests.json").read_text(encoding="utf-8"))
    return Reach(by_line, noted["tests"], noted["seconds"])


def _changes(name: str, kind: str, reach: Reach) -> tuple[cst.Module, list[Mutation]]:
    """A file, and every change of a kind on those of its lines that were run at all."""
    code = (COPY / name).read_text(encoding="utf-8")
    return changes_of(code, kind, set(reach.by_line.get(name, {})))


def _mutants(name: str, kind: str, reach: Reach, drawn: Sequence[tuple[str, int]]) -> list[Mutant]:
    """Those of a file's changes that were drawn."""
    numbers = [number for file, number in drawn if file == name]
    if not numbers:
        return []
    module, changes = _changes(name, kind, reach)
    own = [changes[number] for number in numbers]
    texts = [deep_replace(module, one.original_node, one.mutated_node).code for one in own]
    return [_mutant(name, module.code, text) for text in texts if _is_code(text)]


def _is_code(text: str) -> bool:
    """A change that is none, as its text cannot be read at all, is not counted."""
    try:
        compile(text, "changed", "exec")
    except SyntaxError:
        return False
    return True


def _mutant(name: str, code: str, text: str) -> Mutant:
    before, after = code.splitlines(), text.splitlines()
    lines: list[int] = []
    shown: list[str] = []
    matcher = difflib.SequenceMatcher(None, before, after, autojunk=False)
    for tag, low, high, new_low, new_high in matcher.get_opcodes():
        if tag != "equal":
            lines += range(low + 1, max(high, low + 1) + 1)
            shown += [f"- {line.strip()}" for line in before[low:high]]
            shown += [f"+ {line.strip()}" for line in after[new_low:new_high]]
    return Mutant(name, tuple(lines), text, tuple(shown))


def _tried(sample: list[Mutant], reach: Reach, rooms: list[str]) -> list[int]:
    """The exit code of each change's tests."""
    folder = COPY / "changed"
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir()
    jobs: list[dict[str, Any]] = []
    for number, mutant in enumerate(sample):
        changed = folder / f"{number}.py"
        changed.write_text(mutant.text, encoding="utf-8")
        tests = reach.tests_of(mutant)
        own = mutant.file.removeprefix("src/").removesuffix(".py").replace("/", ".")
        jobs.append(
            {
                "module": own.removesuffix(".__init__"),
                "path": str(COPY / mutant.file),
                "changed": str(changed),
                "tests": tests,
                "options": _options_of(rooms),
                "seconds": START_S + PATIENCE * sum(reach.seconds.get(t, 0.0) for t in tests),
            }
        )
    (COPY / "jobs.json").write_text(json.dumps(jobs))
    subprocess.run(
        [sys.executable, "tools/mutant_trial.py", "jobs.json", "codes.json"],
        cwd=COPY,
        env=_environment(),
        check=True,
    )
    return list(json.loads((COPY / "codes.json").read_text()))


def _is_refused(mutant: Mutant) -> bool:
    """Whether the type checker refuses a change no test has noticed."""
    changed = COPY / "unfound.py"
    changed.write_text(mutant.text, encoding="utf-8")
    checked = subprocess.run(
        [
            *(sys.executable, "-m", "mypy", "--follow-imports=silent"),
            *("--shadow-file", mutant.file, str(changed), mutant.file),
        ],
        cwd=COPY,
        env=_environment(),
        capture_output=True,
        check=False,
    )
    return checked.returncode == 1


def _say(of: int, tried: int, unfound: int, left: list[Mutant]) -> None:
    for mutant in left:
        print(f"\n{mutant.file}:{mutant.lines[0]}", *mutant.shown, sep="\n  ")
    score = wilson(tried - len(left), tried)
    print(
        f"\n{of} changes, {tried} tried: {tried - unfound} found by tests, "
        f"{unfound - len(left)} more refused by the type checker, {len(left)} not found."
    )
    if score.share is not None and score.low is not None and score.high is not None:
        print(f"Found: {score.share:.1%} ({score.low:.1%} to {score.high:.1%}).")


if __name__ == "__main__":
    main()
