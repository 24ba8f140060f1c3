"""Gradients that all studies share, the scene while something of it is dragged, and set-ups."""

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.shared.light_setups import SETUPS

OWN = {
    "stops": [{"at": 0.0, "colour": "#000000"}, {"at": 1.0, "colour": "#ff8000"}],
    "join": "held",
    "mix": "linear",
}


@pytest.fixture
def study(client):
    return client.post("/api/studies", json={"document": document({"step": "icosphere"})}).json


def kept(client):
    return client.get("/api/gradients").json["gradients"]


def test_a_gradient_is_kept_for_all_studies_and_taken_away(client):
    answer = client.post("/api/gradients", json={"name": "Embers", "gradient": OWN})
    assert answer.status_code == 200
    (found,) = kept(client)
    assert (found["name"], found["gradient"]) == ("Embers", OWN)
    assert found["colours"][0] == "#000000"
    assert found["colours"][-1] == "#ff8000"
    assert client.delete(f"/api/gradients/{found['id']}").status_code == 204
    assert kept(client) == []
    assert client.delete(f"/api/gradients/{found['id']}").status_code == 404


def test_under_a_name_that_is_taken_it_is_the_new_one(client):
    other = {**OWN, "stops": OWN["stops"][:1]}
    for gradient in (OWN, other):
        client.post("/api/gradients", json={"name": "Embers", "gradient": gradient})
    assert [each["gradient"] for each in kept(client)] == [other]


@pytest.mark.parametrize(
    "gradient",
    [
        {"stops": []},
        {"stops": [{"at": 1.5, "colour": "#000000"}]},
        {"stops": [{"at": 0.5, "colour": "red"}]},
        {"stops": [{"at": 0.5, "colour": "#000000"}] * 65},
    ],
)
def test_what_is_no_gradient_is_refused(client, gradient):
    answer = client.post("/api/gradients", json={"name": "No", "gradient": gradient})
    assert answer.status_code == 422
    assert kept(client) == []


def test_a_study_takes_a_gradient_with_it(client, study):
    path = "/pieces/p/looks/surface/by/colour/values/gradient"
    body = {"window": "w", "revision": 0, "label": "G"}
    body["operations"] = [{"do": "set", "path": path, "value": OWN}]
    after = client.post(f"/api/studies/{study['id']}/edits", json=body)
    assert after.status_code == 200, after.text
    assert after.json["document"]["pieces"][0]["looks"][0]["by"][0]["values"]["gradient"] == OWN


def test_the_scene_is_told_as_it_would_be_and_nothing_is_stored(client, study):
    change = {"do": "set", "path": "/backdrop", "value": {"backdrop": "clear"}}
    body = {"operations": [change], "frame": 3.0}
    told = client.post(f"/api/studies/{study['id']}/scene", json=body).json
    assert told["backdrop"]["kind"] == "clear"
    now = client.get(f"/api/studies/{study['id']}").json
    assert now["revision"] == study["revision"]
    assert now["scene"]["moments"][0]["backdrop"]["kind"] == "round"


@pytest.mark.parametrize("key", sorted(SETUPS))
def test_a_set_up_lights_what_is_shown_however_large_it_is(client, study, key):
    """Twice as large, a lamp with a place is twice as far away and sends four times the light, so
    that the pieces are as bright."""
    scenes = []
    for size in (1.0, 2.0):
        body = {"key": key, "low": [-size] * 3, "high": [size] * 3}
        edits = client.post(f"/api/studies/{study['id']}/light", json=body).json["operations"]
        told = client.post(f"/api/studies/{study['id']}/scene", json={"operations": edits})
        assert told.status_code == 200, told.text
        scenes.append(told.json)
    for one, two in zip(*(scene["lamps"] for scene in scenes), strict=True):
        if "position" in one:
            assert np.array(two["position"]) == pytest.approx(
                2 * np.array(one["position"]), abs=2e-3
            )
            assert two["strength"] == pytest.approx(4 * one["strength"], rel=1e-3)
        else:
            assert two["strength"] == one["strength"]
    refused = client.post(
        f"/api/studies/{study['id']}/light", json={"key": "x", "low": [0] * 3, "high": [1] * 3}
    )
    assert refused.status_code == 422
    assert key in refused.json["error"]["hint"]


def test_lights_of_every_kind_say_what_they_do(client, study):
    lights = [
        {"id": f"l{k}", "name": kind.title(), "light": kind}
        for k, kind in enumerate(("sun", "sky", "point", "spot", "area"))
    ]
    body = {"window": "w", "revision": 0, "label": "L"}
    body["operations"] = [{"do": "set", "path": "/lights", "value": lights}]
    state = client.post(f"/api/studies/{study['id']}/edits", json=body).json
    lamps = state["scene"]["moments"][0]["lamps"]
    assert [lamp["kind"] for lamp in lamps] == ["sun", "sky", "point", "spot", "area"]
    words = {part["address"]: part["sentence"] for part in state["scene"]["parts"]}
    assert words["/lights/l4"] == "Area light of 40 W"
    assert {"/ground", "/finish", "/backdrop"} <= set(words)
