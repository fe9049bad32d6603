"""The files that the docs name are where the docs say."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
DOCS = [*sorted((ROOT / "docs").glob("*.md")), ROOT / "README.md", ROOT / "CONTRIBUTING.md"]
#: A file in backquotes, with its folder; without one it is told beside something else.
NAMED = re.compile(r"`([\w.-]+(?:/[\w.-]+)+\.(?:py|tsx?|md|json|toml|service|conf))`")
#: From where paths are written.
FROM = ("", "src/frequens", "src", "tests", "web")
#: The example of `docs/adding-a-measure.md`, which nobody has added.
INVENTED = {
    "src/frequens/core/measures/settling.py",
    "web/src/features/findings/settling-part.tsx",
}


@pytest.mark.parametrize("doc", DOCS, ids=lambda path: path.name)
def test_every_file_a_page_names_is_there(doc):
    named = set(NAMED.findall(doc.read_text())) - INVENTED
    assert [one for one in named if not any((ROOT / at / one).exists() for at in FROM)] == []


def test_files_are_named_at_all():
    assert sum(len(NAMED.findall(doc.read_text())) for doc in DOCS) > 30
