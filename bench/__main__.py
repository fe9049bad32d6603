"""`python -m bench [NAME …]`: run the benches named, or all of them."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from . import (
    coding,
    copying,
    growing,
    hour,
    indexing,
    judging,
    listening,
    measuring,
    pages,
    patience,
    rehearsing,
    reviewers,
    saving,
    stepping,
    words,
)

BENCHES = {
    # First, so that the memory it tells is its own.
    "measuring": measuring.run,
    "judging": judging.run,
    "rehearsing": rehearsing.run,
    "indexing": indexing.run,
    "copying": copying.run,
    "listening": listening.run,
    "words": words.run,
    "hour": hour.run,
    "stepping": stepping.run,
    "coding": coding.run,
    "pages": pages.run,
    "reviewers": reviewers.run,
    "patience": patience.run,
    "saving": saving.run,
    "growing": growing.run,
}


def main(names: list[str]) -> int:
    """Run the benches in one folder, so that they can share films."""
    unknown = [name for name in names if name not in BENCHES]
    if unknown:
        print(f"no bench {', '.join(unknown)}; there are {', '.join(BENCHES)}", file=sys.stderr)
        return 2
    with tempfile.TemporaryDirectory() as folder:
        for name in names or BENCHES:
            print(f"\n{name}", flush=True)
            for line in BENCHES[name](Path(folder)):
                print(f"  {line}", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
