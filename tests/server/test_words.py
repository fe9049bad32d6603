"""No word that is shown anywhere proposes correction, pressure or pain."""

from __future__ import annotations

import ast
import re
from pathlib import Path

import pytest

HOUSE = Path(__file__).parents[2]
HARSH = re.compile(
    r"punish|scold|\bjerk|dominan|correct(ion| it| the animal)|pressure|avers|shock|yank|spank"
    r"|\bshout|\bforce (it|the)|make it obey|\bsmack|\bwhip\b",
    re.IGNORECASE,
)
COMMENT = re.compile(r"/\*.*?\*/|(?<!:)//[^\n]*", re.DOTALL)


def _shown(source: Path) -> list[str]:
    """A Python file's strings without its docstrings; a page's source without its comments."""
    text = source.read_text()
    if source.suffix != ".py":
        return [COMMENT.sub("", text)]
    tree = ast.parse(text)
    holders = (ast.Module, ast.ClassDef, ast.FunctionDef, ast.AsyncFunctionDef)
    said_of = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, holders) and node.body and isinstance(node.body[0], ast.Expr)
    }
    return [
        node.value
        for node in ast.walk(tree)
        if isinstance(node, ast.Constant)
        and isinstance(node.value, str)
        and id(node) not in said_of
    ]


def _sources() -> list[Path]:
    found = [
        path
        for folder, kinds in (("src/frequens", ("*.py", "*.html")), ("web/src", ("*.ts", "*.tsx")))
        for kind in kinds
        for path in (HOUSE / folder).rglob(kind)
    ]
    assert len(found) > 200
    return found


def test_no_word_anywhere_is_harsh():
    found = [
        (path.name, m.group())
        for path in _sources()
        for text in _shown(path)
        for m in HARSH.finditer(text)
    ]
    assert found == []


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("page.tsx", "<p>Scold it</p> // fine"),
        ("words.py", '"""A docstring."""\nSAID = "Use a firm correction."'),
    ],
)
def test_a_harsh_word_would_be_found(tmp_path, name, text):
    source = tmp_path / name
    source.write_text(text)
    assert any(HARSH.search(shown) for shown in _shown(source))


@pytest.mark.parametrize(
    ("name", "text"),
    [
        ("page.tsx", "/* never scold */ <p>Wait</p> // no pressure"),
        ("words.py", '"""Proposes no correction, no pressure."""\nSAID = "Wait."'),
    ],
)
def test_what_only_the_house_reads_is_not_shown(tmp_path, name, text):
    source = tmp_path / name
    source.write_text(text)
    assert not any(HARSH.search(shown) for shown in _shown(source))
