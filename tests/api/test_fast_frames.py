"""The short way for frames gives what the long way gives, and refuses what it refuses."""

import re

import numpy as np
import pytest

from tests.api.conftest import read_frame
from tests.conftest import document
from zygomorph.api.app import make_app
from zygomorph.api.fast_frames import FastFrames, InPlace
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.keys import piece_key


def frame_address(state, **query):
    query = {"key": state["motion"][0]["key"], "frame": 3} | query
    piece = state["document"]["pieces"][0]["id"]
    words = "&".join(f"{name}={value}" for name, value in query.items())
    return f"/api/studies/{state['id']}/pieces/{piece}/frame?{words}"


@pytest.fixture
def long_way(service):
    """The same server without the short way."""
    app = make_app(service)
    app.wsgi_app = app.wsgi_app._app
    return app.test_client()


@pytest.fixture
def handed_on(monkeypatch):
    """Whether each request of a test was handed on to the long way."""
    seen = []
    short = FastFrames._frame

    def watch(self, environ):
        data = short(self, environ)
        seen.append(data is None)
        return data

    monkeypatch.setattr(FastFrames, "_frame", watch)
    return seen


@pytest.mark.parametrize("query", [{}, {"exact": "true"}, {"mask_of": "b"}, {"quality": "final"}])
def test_both_ways_answer_alike(client, long_way, handed_on, sample, query):
    if "mask_of" in query:
        query = {"mask_of": sample["document"]["pieces"][0]["recipe"][1]["id"]}
    if query.get("quality") == "final":
        query = query | {"key": sample["motion"][0]["final_key"]}
    address = frame_address(sample, **query)
    short, long = client.get(address), long_way.get(address)
    assert handed_on[-1] is False
    assert short.status_code == long.status_code == 200
    (described, blocks), (other, others) = read_frame(short.data), read_frame(long.data)
    # Each was computed; how long the steps took differs, and so may the length of that figure.
    for header in (described, other):
        del header["steps"]
    assert described == other
    assert blocks.keys() == others.keys()
    assert all(np.array_equal(blocks[name], others[name]) for name in blocks)
    for answer in (short, long):
        assert re.fullmatch(r"frame;dur=\d+\.\d\d", answer.headers["Server-Timing"])
    changing = {"Date", "Content-Length", "Server-Timing"}
    assert {k: v for k, v in short.headers if k not in changing} == {
        k: v for k, v in long.headers if k not in changing
    }


@pytest.mark.parametrize(
    ("headers", "query", "status"),
    [
        ({"Host": "studies.example"}, {}, 403),
        ({"Origin": "http://elsewhere.example"}, {}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, {}, 403),
        ({}, {"frame": "soon"}, 422),
        ({}, {"frame": "nan"}, 422),
        ({}, {"key": "0" * 65}, 422),
        ({}, {"key": "unknown"}, 422),
        ({}, {"mask_of": "nothing"}, 422),
    ],
)
def test_what_is_not_plain_is_answered_by_the_long_way(
    client, handed_on, sample, headers, query, status
):
    answer = client.get(frame_address(sample, **query), headers=headers)
    assert handed_on[-1] is True
    assert answer.status_code == status
    assert answer.json["error"]["message"]


def test_a_frame_is_not_given_by_other_methods(client, handed_on, sample):
    assert client.post(frame_address(sample)).status_code == 405
    assert handed_on[-1] is True


def test_bytes_are_read_as_a_file_without_a_copy():
    kept = bytearray(range(10))
    file = InPlace(memoryview(kept))
    assert file.read(4) == bytes(range(4))
    assert file.tell() == 4
    kept[4] = 99
    assert file.read() == bytes([99, 5, 6, 7, 8, 9])
    assert file.read(3) == b""
    assert file.seek(0, 2) == 10
    assert file.seek(-3, 1) == 7
    assert file.read(2) == bytes([7, 8])
    file.close()
    assert file.read() == b""


def test_frames_of_another_program_have_other_addresses(monkeypatch):
    """A browser keeps a frame by its address for ever."""
    made = document({"step": "icosphere"}, {"step": "displace"})
    here = piece_key(check_document(made), "p", False)
    assert piece_key(check_document(made), "p", False) == here
    monkeypatch.setattr("zygomorph.core.evaluation.keys.program_digest", lambda: "another")
    assert piece_key(check_document(made), "p", False) != here
