"""Both halves as one writes: the server starts anew with each change, the screens change in place.

One database and one set of films, the demo's, in ``var/``. The screens are at
http://localhost:5173 and ask the server behind them; Ctrl-C stops both.
"""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from watchfiles import PythonFilter, run_process

REPOSITORY = Path(__file__).resolve().parents[1]
#: Polite for so long, seconds: films on their way in are let go of cleanly.
STOP_S = 15


def main() -> None:
    """Run until Ctrl-C."""
    screens = subprocess.Popen(["npx", "vite", "--clearScreen", "false"], cwd=REPOSITORY / "web")
    try:
        run_process(
            REPOSITORY / "src",
            target=f"{sys.executable} -m frequens.server.manage serve_demo --processes 1",
            target_type="command",
            watch_filter=PythonFilter(),
            sigint_timeout=STOP_S,
            callback=lambda changes: print("Changed; starting the server anew.", flush=True),
        )
    finally:
        screens.terminate()
        screens.wait()


if __name__ == "__main__":
    main()
