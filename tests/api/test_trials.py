"""A step is tried before it is added: a picture with it, and nothing is changed."""

import io

import numpy as np
import pytest
from PIL import Image

from tests.conftest import document
from zygomorph.core.values.entries import definitions


def made(client, *steps):
    body = {"document": document({"step": "icosphere", "values": {"halvings": 2}}, *steps)}
    return client.post("/api/studies", json=body).json


def pixels(client, state, step, **query):
    answer = client.get(
        f"/api/studies/{state['id']}/pieces/p/trial.webp", query_string={"step": step, **query}
    )
    assert answer.status_code == 200, answer.json
    assert answer.headers["Cache-Control"] == "no-store"
    with Image.open(io.BytesIO(answer.data)) as picture:
        assert (picture.format, picture.size) == ("WEBP", (384, 240))
        return np.asarray(picture.convert("RGB"), float)


def test_a_trial_shows_the_piece_with_the_step_and_changes_nothing(client):
    state = made(client)
    plain = pixels(client, state, "shade")
    spiky = pixels(client, state, "extrude")
    assert np.abs(plain - spiky).mean() > 2
    after = client.get(f"/api/studies/{state['id']}").json
    assert after["document"] == state["document"]
    assert after["revision"] == state["revision"]
    # As it is once it is added with the values that are suggested.
    url = f"/api/studies/{state['id']}/pieces/p/suggest"
    values = client.post(url, json={"sort": "step", "key": "extrude"}).json["values"]
    added = made(client, {"step": "extrude", "values": values})
    remember = {"step": "remember"}
    assert np.abs(pixels(client, added, **remember) - spiky).max() < 8


def test_it_follows_the_step_that_is_named(client):
    state = made(client, {"step": "split"}, {"step": "spread", "values": {"amount": 0.3}})
    first, last = (pixels(client, state, "extrude", after=after) for after in ("s0", "s2"))
    assert np.abs(first - last).mean() > 0.5


@pytest.mark.parametrize(
    ("step", "more", "told"),
    [("nonsense", {}, "nonsense"), ("extrude", {"after": "gone"}, "gone"), ("tube", {}, "curves")],
)
def test_what_cannot_be_tried_says_why(client, step, more, told):
    state = made(client)
    url = f"/api/studies/{state['id']}/pieces/p/trial.webp"
    answer = client.get(url, query_string={"step": step, **more})
    assert answer.status_code == 422
    assert told in str(answer.json)


@pytest.mark.thorough
def test_every_step_can_be_tried_or_says_why(client):
    state = made(client)
    for key in definitions("step"):
        url = f"/api/studies/{state['id']}/pieces/p/trial.webp"
        answer = client.get(url, query_string={"step": key})
        assert answer.status_code in (200, 422), key
