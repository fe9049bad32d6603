"""Where this computer stands on the local network."""

from __future__ import annotations

import contextlib
import socket


def lan_address() -> str | None:
    """The address by which others on the local network reach this computer; None without one."""
    with contextlib.suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asking:
        # Nothing is sent: the system only says which of its addresses it would send from.
        asking.connect(("192.168.255.255", 9))
        found = str(asking.getsockname()[0])
        return None if found.startswith("127.") or found == "0.0.0.0" else found
    return None
