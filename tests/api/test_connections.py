"""What one client holds open keeps nobody else, nor itself, from being answered."""

import http.client
import socket
import threading
from contextlib import contextmanager

import pytest

from zygomorph.api import server as server_module
from zygomorph.api.app import make_app
from zygomorph.api.events import MAX_STREAMS
from zygomorph.api.server import MOST_OF_ONE, WORKING, listening
from zygomorph.api.service import Service


@contextmanager
def serving(tmp_path):
    service = Service(tmp_path)
    server = listening(make_app(service), "127.0.0.1", 0)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    try:
        yield server
    finally:
        # No thread is left that would tell the closed server of something.
        service.events.close()
        server.task_dispatcher.shutdown(timeout=10)
        server.close()
        service.thumbnails.close()
        service.debounce.close()


def answers(port):
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=10)
    connection.request("GET", "/api/catalogue")
    answer = connection.getresponse()
    answer.read()
    connection.close()
    return answer.status


def test_a_client_of_many_idle_connections_is_answered_and_keeps_only_so_many(tmp_path):
    with serving(tmp_path) as server:
        port = server.effective_port
        idle = [socket.create_connection(("127.0.0.1", port)) for _ in range(MOST_OF_ONE + 40)]
        assert answers(port) == 200
        assert len(server.active_channels) <= MOST_OF_ONE
        for each in idle:
            each.close()


def test_streams_of_many_windows_leave_threads_for_work(tmp_path):
    with serving(tmp_path) as server:
        port = server.effective_port
        streams = []
        for _ in range(MAX_STREAMS + 10):
            stream = socket.create_connection(("127.0.0.1", port), timeout=10)
            stream.sendall(b"GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            assert stream.recv(20)
            streams.append(stream)
        assert [answers(port) for _ in range(WORKING)] == [200] * WORKING
        for each in streams:
            each.close()


@pytest.mark.parametrize("at_work", [True, False])
def test_the_one_that_is_idle_for_longest_is_closed_and_none_that_is_at_work(
    tmp_path, monkeypatch, at_work
):
    monkeypatch.setattr(server_module, "MOST_OF_ONE", 3)
    with serving(tmp_path) as server:
        port = server.effective_port
        stream = socket.create_connection(("127.0.0.1", port), timeout=10)
        if at_work:
            stream.sendall(b"GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            assert stream.recv(20)
        others = [socket.create_connection(("127.0.0.1", port), timeout=10) for _ in range(3)]
        assert answers(port) == 200
        stream.settimeout(1)
        try:
            closed = stream.recv(10_000) == b""
        except TimeoutError:
            closed = False
        assert closed is not at_work
        for each in [stream, *others]:
            each.close()
