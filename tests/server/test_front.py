"""The front: slow clients are waited for at nobody's cost, and not for ever."""

from __future__ import annotations

import contextlib
import io
import socket
import threading
import time

import pytest
import uvicorn

from frequens.server.front import bodies, connections
from frequens.server.front.application import FileAnswer, Front
from frequens.server.front.bodies import Refused
from frequens.server.front.connections import PatientProtocol
from tests.slow_clients import KINDS, slow_clients


class Kept:
    """Uploads kept in memory: those to /film, of at most 1000 bytes."""

    def __init__(self):
        self.dropped, self.finished = 0, []

    def sink_for(self, scope, expected):
        if scope["path"] != "/film":
            return None
        if expected and expected > 1000:
            raise Refused(413, "too large")
        uploads = self

        class Sink:
            def __init__(self):
                self.taken = b""

            def write(self, chunk):
                self.taken += chunk

            def finish(self):
                uploads.finished.append(self.taken)
                return self.taken

            def drop(self):
                uploads.dropped += 1

        return Sink()

    def drop(self, environ):
        pass


def app(environ, start_response):
    if environ["PATH_INFO"] == "/large":
        start_response("200 OK", [("Content-Length", str(80_000_000))])
        return FileAnswer(io.BytesIO(bytes(80_000_000)))
    if environ["PATH_INFO"] == "/broken":
        raise RuntimeError("broken")
    body = environ["wsgi.input"].read()
    said = f"{environ['REQUEST_METHOD']} {len(body)} {environ.get('CONTENT_LENGTH')}".encode()
    start_response("200 OK", [("Content-Length", str(len(said)))])
    return [said]


@pytest.fixture
def served():
    """The address of a front in this process, and its uploads."""
    uploads = Kept()
    listening = socket.create_server(("127.0.0.1", 0), backlog=1024)
    config = uvicorn.Config(
        Front(app, uploads), http=PatientProtocol, ws="none", lifespan="off", log_level="critical"
    )
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield listening.getsockname(), uploads
    server.should_exit = server.force_exit = True
    thread.join(5)
    listening.close()


def asked(address, request: bytes, timeout_s=10.0) -> bytes:
    with socket.create_connection(address, timeout=timeout_s) as one:
        one.sendall(request)
        said = bytearray()
        with contextlib.suppress(ConnectionResetError):
            while chunk := one.recv(65536):
                said += chunk
    return bytes(said)


def simple(path="/", close=True) -> bytes:
    end = "Connection: close\r\n" if close else ""
    return f"GET {path} HTTP/1.1\r\nHost: x\r\n{end}\r\n".encode()


def heard_until(one: socket.socket, text: bytes) -> None:
    """Reads on until `text` came: head and body of an answer may come in two pieces."""
    one.settimeout(10)
    said = b""
    while text not in said:
        chunk = one.recv(4096)
        assert chunk, f"closed after {said!r}"
        said += chunk


def is_closed(one: socket.socket, within_s: float) -> bool:
    one.settimeout(within_s)
    try:
        return one.recv(1) == b""
    except ConnectionResetError:
        return True
    except TimeoutError:
        return False


def test_bodies_come_whole_also_in_pieces(served):
    address, _ = served
    head = b"POST /x HTTP/1.1\r\nHost: x\r\nConnection: close\r\n"
    assert asked(address, head + b"Content-Length: 5\r\n\r\nhello").endswith(b"POST 5 5")
    pieces = b"Transfer-Encoding: chunked\r\n\r\n3\r\nabc\r\n4\r\ndefg\r\n0\r\n\r\n"
    assert asked(address, head + pieces).endswith(b"POST 7 7")


def test_a_file_comes_whole_to_whoever_reads_it(served):
    address, _ = served
    said = asked(address, simple("/large"), timeout_s=60)
    head, _, body = said.partition(b"\r\n\r\n")
    assert head.split()[1] == b"200"
    assert len(body) == 80_000_000


def test_a_header_that_never_ends_is_given_up(served, monkeypatch):
    monkeypatch.setattr(connections, "HEADER_S", 0.4)
    address, _ = served
    with socket.create_connection(address) as silent, socket.create_connection(address) as half:
        half.sendall(b"GET / HTTP/1.1\r\nX: ")
        for _ in range(10):
            time.sleep(0.1)
            with contextlib.suppress(OSError):
                half.sendall(b"x")
        assert is_closed(silent, 2)
        assert is_closed(half, 2)
    assert b"GET 0" in asked(address, simple())


@pytest.mark.parametrize(("size", "is_answered"), [(30_000, True), (3_000_000, False)])
def test_a_header_without_end_is_not_collected(served, size, is_answered):
    address, _ = served
    request = b"GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\nX-Long: " + b"x" * size
    said = b""
    with contextlib.suppress(ConnectionResetError, BrokenPipeError):
        said = asked(address, request + b"\r\n\r\n")
    assert (b"GET 0" in said) is is_answered
    assert b"GET 0" in asked(address, simple())


def test_a_second_half_header_on_a_kept_connection_is_given_up_as_well(served, monkeypatch):
    address, _ = served
    with socket.create_connection(address) as one:
        one.sendall(simple(close=False))
        heard_until(one, b"GET 0")
        monkeypatch.setattr(connections, "HEADER_S", 0.3)
        one.sendall(b"GET / HT")
        assert is_closed(one, 3)


def test_a_body_that_stops_is_given_up(served, monkeypatch):
    monkeypatch.setattr(bodies, "IDLE_S", 0.3)
    address, uploads = served
    for path in ("/x", "/film"):
        said = asked(
            address, f"POST {path} HTTP/1.1\r\nHost: x\r\nContent-Length: 9\r\n\r\nab".encode()
        )
        assert said.startswith(b"HTTP/1.1 408")
    assert uploads.dropped == 1
    assert uploads.finished == []


@pytest.mark.parametrize(("rate", "status"), [(2000, b"200"), (20, b"408")])
def test_a_body_may_be_slow_but_not_slower_than_any_network(served, monkeypatch, rate, status):
    monkeypatch.setattr(bodies, "GRACE_S", 0.3)
    address, _ = served
    with socket.create_connection(address) as one:
        one.sendall(b"POST /x HTTP/1.1\r\nHost: x\r\nContent-Length: 2000\r\n\r\n")
        for _ in range(10 if rate == 2000 else 100):
            time.sleep(0.1)
            try:
                one.sendall(b"x" * (rate // 10))
            except OSError:
                break
        one.settimeout(5)
        assert one.recv(4096).split()[1] == status


def test_a_reader_that_stops_reading_is_given_up(served, monkeypatch):
    monkeypatch.setattr(connections, "READER_S", 0.5)
    address, _ = served
    with socket.socket() as one:
        one.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
        one.connect(address)
        one.sendall(simple("/large"))
        time.sleep(2)
        one.settimeout(5)
        taken = 0
        with contextlib.suppress(ConnectionResetError):
            while chunk := one.recv(1 << 20):
                taken += len(chunk)
    assert taken < 80_000_000


@pytest.mark.parametrize(
    ("cookie", "size", "status"),
    [
        ("", 64 * 1024, b"200"),
        ("", 64 * 1024 + 1, b"413"),
        ("Cookie: sessionid=x\r\n", 64 * 1024 + 1, b"200"),
        ("Cookie: sessionid=x\r\n", bodies.MOST_BYTES, b"200"),
        ("Cookie: sessionid=x\r\n", bodies.MOST_BYTES + 1, b"413"),
    ],
)
def test_bodies_have_their_limits(served, cookie, size, status):
    address, _ = served
    head = f"POST /x HTTP/1.1\r\nHost: x\r\nConnection: close\r\n{cookie}"
    head += f"Content-Length: {size}\r\n\r\n"
    body = b"" if status == b"413" else b"x" * size
    assert asked(address, head.encode() + body).split()[1] == status


def test_what_is_too_large_is_told_the_limit(served):
    address, _ = served
    head = "POST /x HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Length: 65537\r\n\r\n"
    assert b"larger than 64 kB" in asked(address, head.encode())


def test_a_body_in_pieces_has_the_same_limit(served):
    address, _ = served
    head = b"POST /x HTTP/1.1\r\nHost: x\r\nTransfer-Encoding: chunked\r\n\r\n"
    piece = b"8000\r\n" + b"x" * 0x8000 + b"\r\n"
    assert asked(address, head + 3 * piece + b"0\r\n\r\n").split()[1] == b"413"


def test_an_upload_goes_to_its_sink_and_a_broken_one_is_dropped(served):
    address, uploads = served
    head = "POST /film HTTP/1.1\r\nHost: x\r\nConnection: close\r\nContent-Length: {}\r\n\r\n"
    assert asked(address, head.format(4).encode() + b"film").endswith(b"POST 0 0")
    assert uploads.finished == [b"film"]
    assert asked(address, head.format(1001).encode()).split()[1] == b"413"
    with socket.create_connection(address) as one:
        one.sendall(head.format(900).encode() + b"half")
        time.sleep(0.2)
    deadline = time.monotonic() + 5
    while not uploads.dropped and time.monotonic() < deadline:
        time.sleep(0.02)
    assert (uploads.dropped, uploads.finished) == (1, [b"film"])


def test_of_one_clients_many_connections_the_longest_waiting_goes_first(served, monkeypatch):
    monkeypatch.setattr(connections, "MOST_A_CLIENT", 5)
    address, _ = served
    with contextlib.ExitStack() as stack:
        idle = []
        for _ in range(5):
            idle.append(stack.enter_context(socket.create_connection(address)))
            time.sleep(0.05)
        assert b"GET 0" in asked(address, simple())
        assert is_closed(idle[0], 2)
        assert not is_closed(idle[1], 0.2)
        assert not is_closed(idle[4], 0.2)


def test_a_failure_is_an_answer_and_the_next_request_is_answered(served):
    address, _ = served
    assert asked(address, simple("/broken")).split()[1] == b"500"
    assert b"GET 0" in asked(address, simple())


def test_many_slow_clients_of_every_kind_keep_nobody_from_an_answer(served):
    (host, port), _ = served
    with contextlib.ExitStack() as stack:
        for kind in KINDS:
            clients = slow_clients(f"http://{host}:{port}", kind, 200, "sessionid=x", "/large")
            stack.enter_context(clients)
        for _ in range(20):
            assert b"GET 0" in asked((host, port), simple(), timeout_s=5)
