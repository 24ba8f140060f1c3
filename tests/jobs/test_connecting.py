"""What is said of an address at which no scheduler can be reached, however that comes about."""

from __future__ import annotations

import socket
import socketserver
import threading
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from distributed import Client, LocalCluster

from tests.jobs.test_kills import free_port
from zygomorph.core.errors import ZygomorphError
from zygomorph.jobs.queue.connecting import connected


@contextmanager
def answering(answer: bytes) -> Iterator[str]:
    """The address of a server that sends these bytes and then waits."""

    class Handler(socketserver.BaseRequestHandler):
        def handle(self) -> None:
            self.request.sendall(answer)
            over.wait()

    over = threading.Event()
    with socketserver.ThreadingTCPServer(("127.0.0.1", 0), Handler) as server:
        server.daemon_threads = True
        threading.Thread(target=server.serve_forever, daemon=True).start()
        yield f"tcp://127.0.0.1:{server.server_address[1]}"
        over.set()
        server.shutdown()


@pytest.fixture(autouse=True)
def impatient(monkeypatch):
    monkeypatch.setattr("zygomorph.jobs.queue.connecting.CONNECT_S", 1)


def refused(address: str) -> str:
    with pytest.raises(ZygomorphError) as caught:
        connected(address)
    assert "See that it runs" in caught.value.hint
    message = caught.value.message
    assert message.startswith(f"The scheduler at {address} cannot be reached: ")
    return message.split("reached: ")[1]


def test_nothing_listens():
    assert refused(f"tcp://127.0.0.1:{free_port()}") == "connection refused."


def test_a_machine_that_nobody_knows(monkeypatch):
    def unknown(*_: object, **__: object) -> None:
        raise socket.gaierror(-2, "Name or service not known")

    monkeypatch.setattr(socket, "create_connection", unknown)
    # Names that end so never exist (RFC 2606).
    assert refused("tcp://glasshouse.invalid:8786") == "name or service not known."


def test_something_listens_that_never_answers():
    with answering(b"") as address:
        assert refused(address) == "no scheduler answered within 1 s."


def test_a_web_server_is_no_scheduler():
    # Read as the eight bytes that Dask begins with, this is more than 10^18 frames.
    with answering(b"HTTP/1.1 400 Bad Request\r\n\r\n" * 100) as address:
        assert refused(address) == "what answers there is not a Dask scheduler."


def test_a_worker_is_no_scheduler(monkeypatch):
    monkeypatch.setattr("zygomorph.jobs.queue.connecting.CONNECT_S", 10)
    with (
        LocalCluster(n_workers=1, processes=False, protocol="tcp", dashboard_address=None) as own,
        Client(own, set_as_default=False),
    ):
        assert refused(own.workers[0].address) == "a worker answers there."
        with connected(own.scheduler_address) as client:
            assert client.scheduler_info()["type"] == "Scheduler"


@pytest.mark.parametrize("address", ["rubbish", "http://127.0.0.1:80", "tcp://127.0.0.1"])
def test_what_is_no_address_of_a_scheduler(address):
    assert len(refused(address)) > 10
