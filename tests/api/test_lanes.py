"""A light frame is never held up by a heavy one, nor by what nobody waits for any more."""

import socket
import threading
import time as clock
from concurrent.futures import ThreadPoolExecutor

import pytest

from tests.api.test_fast_frames import frame_address
from tests.conftest import document
from zygomorph.api.app import make_app
from zygomorph.api.lanes import HEAVY_S, Lanes
from zygomorph.api.server import listening
from zygomorph.core.errors import Cancelled
from zygomorph.core.kernels.gate import Gate


@pytest.fixture
def lanes():
    return Lanes(2)


class Heavy:
    """Work that lasts until it is let go."""

    def __init__(self) -> None:
        self.begun = threading.Event()
        self.over = threading.Event()
        self.at_once = 0
        self.most_at_once = 0
        self._lock = threading.Lock()

    def __call__(self) -> str:
        with self._lock:
            self.at_once += 1
            self.most_at_once = max(self.most_at_once, self.at_once)
        self.begun.set()
        assert self.over.wait(20)
        with self._lock:
            self.at_once -= 1
        return "heavy"


@pytest.mark.parametrize("shared", [False, True])
def test_a_light_frame_overtakes_heavy_ones(lanes, shared):
    heavy = Heavy()
    with ThreadPoolExecutor(3) as askers:
        waiting = [askers.submit(lanes.run, heavy, f"heavy {k}", shared) for k in range(3)]
        assert heavy.begun.wait(10)
        assert lanes.run(lambda: "light", "light", shared) == "light"
        heavy.over.set()
        assert [each.result(20) for each in waiting] == ["heavy"] * 3


def test_what_is_known_to_be_heavy_is_made_one_after_the_other(lanes):
    def long() -> None:
        clock.sleep(1.5 * HEAVY_S)

    for k in range(4):
        lanes.run(long, f"known {k}", False)
    heavy = Heavy()
    with ThreadPoolExecutor(4) as askers:
        waiting = [askers.submit(lanes.run, heavy, f"known {k}", False) for k in range(4)]
        assert heavy.begun.wait(10)
        clock.sleep(3 * HEAVY_S)
        assert heavy.most_at_once == 1
        heavy.over.set()
        assert [each.result(20) for each in waiting] == ["heavy"] * 4
    assert heavy.most_at_once == 1


def test_who_waits_too_long_for_the_cores_takes_one_beside_them():
    gate = Gate(2)
    with gate.wide():
        went_on = threading.Event()

        def beside() -> None:
            with gate.wide(0.05), gate.narrow(0.05):
                went_on.set()

        thread = threading.Thread(target=beside)
        thread.start()
        assert went_on.wait(10)
        thread.join()
    # Nobody took what the one who went on never had.
    with gate.wide(0.0):
        assert gate._free == 0
    assert gate._free == 2


@pytest.fixture
def slow(client):
    """A study of which a frame takes seconds: much smoothing of a moving sheet."""
    made = document(
        {"step": "sheet", "values": {"columns": 250, "rows": 250}},
        {"step": "wave", "values": {"phase": {"signal": "run"}}},
        {"step": "smooth", "values": {"times": 1000}},
    )
    return client.post("/api/studies", json={"document": made}).json


@pytest.fixture
def ended(service, monkeypatch):
    """How each evaluation ended."""
    found: list[str] = []
    drawn = service.evaluator.drawn

    def watched(study, request):
        try:
            made = drawn(study, request)
        except Cancelled:
            found.append("cancelled")
            raise
        found.append("done")
        return made

    monkeypatch.setattr(service.evaluator, "drawn", watched)
    return found


def test_a_client_that_leaves_calls_its_frame_off_inside_a_long_step(service, client, slow, ended):
    server = listening(make_app(service), "127.0.0.1", 0)
    threading.Thread(target=server.run, daemon=True).start()
    try:
        with socket.create_connection(("127.0.0.1", server.effective_port)) as asker:
            address = frame_address(slow, frame=3)
            asker.sendall(f"GET {address} HTTP/1.1\r\nHost: localhost\r\n\r\n".encode())
            clock.sleep(0.3)
            assert ended == []
        until = clock.monotonic() + 20
        while not ended and clock.monotonic() < until:
            clock.sleep(0.02)
    finally:
        server.close()
    assert ended[0] == "cancelled"


def test_a_heavy_study_does_not_make_another_one_heavy(service, client):
    # Pieces and forms have the same ids in most studies.
    heavy = document({"step": "sheet", "values": {"columns": 200, "rows": 200}})
    light = document({"step": "icosphere", "values": {"halvings": 1}})
    states = [client.post("/api/studies", json={"document": d}).json for d in (heavy, light)]
    for state in states:
        assert client.get(frame_address(state, frame=1)).status_code == 200
    # What is remembered of how long frames take tells them apart.
    assert {name.split("/")[0] for name in service._lanes._took} == {s["id"] for s in states}
