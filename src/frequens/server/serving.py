"""One web process, on a socket the first process listens on."""

from __future__ import annotations

import resource
import socket
import sys

import uvicorn

from .front.application import Front
from .front.connections import PatientProtocol
from .ingest.incoming import FilmUploads
from .lan_certificate import LanCertificate
from .wsgi import application

#: A connection without a request is kept this long, seconds.
KEEP_ALIVE_S = 20
#: What is under way when the server is stopped may take so long, seconds.
STOP_S = 3
#: Threads take turns more often than Python's 5 ms: who computes must not keep others waiting.
TURN_S = 0.001


def answer(listening: socket.socket, certificate: LanCertificate | None = None) -> None:
    """Answer on a listening socket until asked to stop; over HTTPS with a certificate."""
    sys.setswitchinterval(TURN_S)
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(hard, max(soft, 8192)), hard))
    front = Front(application, FilmUploads())
    config = uvicorn.Config(
        front,
        http=PatientProtocol,
        ws="none",
        lifespan="off",
        interface="asgi3",
        # Who a request comes from is the settings' business, by the number of proxies.
        proxy_headers=False,
        server_header=False,
        access_log=False,
        # Its messages go the way of all others, without texts of users.
        log_config=None,
        log_level="warning",
        timeout_keep_alive=KEEP_ALIVE_S,
        timeout_graceful_shutdown=STOP_S,
        backlog=2048,
        ssl_certfile=certificate.certificate if certificate else None,
        ssl_keyfile=certificate.key if certificate else None,
    )
    uvicorn.Server(config).run(sockets=[listening])
    front.close()
