"""What is said to people stands in `frequens.words`, and nothing there is said by nobody."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import frequens
from frequens.words import spoken

PACKAGE = Path(frequens.__file__).parent
#: What speaks to whoever runs a server, at its terminal: commands, checks, backups, settings.
AT_THE_TERMINAL = ("management", "crew.py", "health.py", "keeping.py", "settings.py")
#: Plans to copy are documents.
DOCUMENTS = ("starters.py",)
#: Three words at least, from a capital letter to a full stop.
SENTENCE = re.compile(r"[A-Z“][\w'’]*,?( [\w'’“”{}:.-]+,?){2,}.*[.!?]", re.DOTALL)


def texts(tree: ast.Module) -> Iterator[tuple[int, str]]:
    """Every text of a file but docstrings; what is put into one stands as braces."""
    left_out: set[int] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            left_out.add(id(node.value))
        if isinstance(node, ast.JoinedStr):
            left_out |= {id(part) for part in node.values}
            parts = (v.value if isinstance(v, ast.Constant) else "{}" for v in node.values)
            yield node.lineno, "".join(map(str, parts))
    for node in ast.walk(tree):
        is_said = isinstance(node, ast.Constant) and id(node) not in left_out
        if is_said and isinstance(node.value, str):
            yield node.lineno, node.value


def outside_of_words() -> list[Path]:
    return [path for path in PACKAGE.rglob("*.py") if "english" not in path.parts]


def sentences(folder: Path) -> Iterator[str]:
    for path in sorted(folder.rglob("*.py")):
        if set(path.relative_to(folder).parts) & {*AT_THE_TERMINAL, *DOCUMENTS, "migrations"}:
            continue
        for line, text in texts(ast.parse(path.read_text(encoding="utf-8"))):
            if SENTENCE.fullmatch(text.strip()):
                yield f"{path.relative_to(PACKAGE)}:{line}: {text}"


def test_no_sentence_stands_in_the_code():
    for room in ("core", "media", "server"):
        assert list(sentences(PACKAGE / room)) == []


def test_a_sentence_in_the_code_would_be_found():
    """The check itself: plain texts, those with numbers in them, and several lines of one."""
    code = 'def f(n):\n    """Said nowhere at all."""\n    yield "Wait for it, then go on."\n'
    code += '    yield f"The film lasts {n} minutes."\n    yield ("Nothing came any more. "\n'
    code += '           "Send it again.")\n    yield "rep-12"\n    yield "Content-Type"\n'
    found = [text for _, text in texts(ast.parse(code)) if SENTENCE.fullmatch(text)]
    assert sorted(found) == [
        "Nothing came any more. Send it again.",
        "The film lasts {} minutes.",
        "Wait for it, then go on.",
    ]


def test_what_stands_by_a_name_is_said_somewhere():
    """By the names of the files that hold one sentence a name."""
    said: set[str] = set()
    for path in outside_of_words():
        said |= set(re.findall(r"\b\w+\.([A-Z][A-Z_]+)\b", path.read_text(encoding="utf-8")))
    for module in (spoken.films, spoken.refusals, spoken.exports, spoken.report):
        assert {name for name in vars(module) if name.isupper()} <= said, module.__name__


def test_every_code_of_a_fault_has_words_and_is_met():
    """The readers' codes as they stand in the code; a KeyError would hide what is wrong."""
    met, asked = set(), set()
    for path in outside_of_words():
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Constant) and node.value in spoken.faults.FAULTS:
                met.add(node.value)
            if isinstance(node, ast.Call):
                asked |= codes_asked_by(node)
    assert asked > {"missing", "not_json", "out_of_range"}
    assert asked <= met == set(spoken.faults.FAULTS)


def codes_asked_by(call: ast.Call) -> set[str]:
    """The code a call asks words for, where it names it itself."""
    name = getattr(call.func, "attr", getattr(call.func, "id", ""))
    place = {"fault": 1, "fault_at": 1, "fault_words": 0}.get(name, len(call.args))
    code = call.args[place] if place < len(call.args) else None
    return {code.value} if isinstance(code, ast.Constant) else set()
