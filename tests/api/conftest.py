"""A server without a network, on a folder of its own."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.api.app import make_app
from zygomorph.api.service import Service
from zygomorph.jobs.queue.cluster import ClusterSettings

TYPES = {"uint8": "u1", "int16": "<i2", "uint16": "<u2", "uint32": "<u4", "float32": "<f4"}


def read_frame(data: bytes | memoryview) -> tuple[dict[str, Any], dict[str, np.ndarray]]:
    """A reader of frames written from docs/wire.md alone."""
    assert data[:4] == b"ZYGF"
    assert int.from_bytes(data[4:8], "little") == 5
    length = int.from_bytes(data[8:12], "little")
    header = json.loads(bytes(data[12 : 12 + length]))
    blocks = {}
    for block in header["blocks"]:
        start = 12 + length + block["offset"]
        assert start % 4 == 0
        count = int(np.prod(block["shape"]))
        kind = np.dtype(TYPES[block["type"]])
        blocks[block["name"]] = np.frombuffer(data, kind, count, start).reshape(block["shape"])
    return header, blocks


@pytest.fixture
def service(tmp_path):
    # Of moving pictures a few frames are enough here, and of workers one in this process.
    made = Service(tmp_path, most_thumbnails=4, cluster=ClusterSettings(workers=1, apart=False))
    yield made
    made.queue.close()


@pytest.fixture
def client(service):
    return make_app(service).test_client()


@pytest.fixture
def sample(client):
    """The state of a stored study with a twisted ball."""
    made = document(
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 90}}},
        {"step": "displace", "values": {"amount": 0.1}},
    )
    answer = client.post("/api/studies", json={"document": made})
    assert answer.status_code == 201, answer.text
    return answer.json
