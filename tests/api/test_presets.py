"""Presets over the API: kept, used, taken away, brought back."""

from __future__ import annotations

import json

import pytest

from tests.core.test_groups import grouped
from zygomorph.core.document.schema import VERSION


@pytest.fixture
def study(client):
    return client.post("/api/studies", json={"document": grouped()}).json


@pytest.fixture
def preset(client, study):
    piece = study["document"]["pieces"][0]["id"]
    body = {"study": study["id"], "piece": piece, "group": "g", "name": "Tight whirl"}
    answer = client.post("/api/presets", json=body)
    assert answer.status_code == 201, answer.text
    return answer.json


def listed(client):
    return client.get("/api/presets").json["presets"]


def test_a_group_is_kept_and_listed(client, preset):
    assert [p["name"] for p in listed(client)] == ["Tight whirl"]
    assert preset["steps"] == ["Twist", "Displace"]
    assert preset["front"] == 1


def test_the_edit_that_uses_a_preset_is_accepted(client, study, preset):
    other = client.post("/api/studies", json={"form": "torus"}).json
    piece = other["document"]["pieces"][0]["id"]
    use = client.post(f"/api/presets/{preset['id']}/use/{other['id']}/{piece}", json={}).json
    body = {
        "operations": use["operations"],
        "revision": other["revision"],
        "window": "w",
        "label": "Use Tight whirl",
    }
    stored = client.post(f"/api/studies/{other['id']}/edits", json=body)
    assert stored.status_code == 200, stored.text
    made = stored.json["document"]["pieces"][0]
    assert [s["step"] for s in made["recipe"]] == ["torus", "twist", "displace"]
    assert made["recipe"][1]["id"] == use["first"]
    assert made["groups"][0]["id"] == use["group"]
    # One undo takes all of it back.
    undone = client.post(f"/api/studies/{other['id']}/undo", json={"window": "w"}).json
    assert undone["document"]["pieces"][0]["recipe"] == other["document"]["pieces"][0]["recipe"]


def test_a_preset_goes_out_and_comes_in_as_a_file(client, preset):
    answer = client.get(f"/api/presets/{preset['id']}/document")
    assert "tight-whirl.preset.json" in answer.headers["Content-Disposition"]
    document = json.loads(answer.text)
    again = client.post("/api/presets", json={"document": document})
    assert again.status_code == 201
    assert again.json["id"] != preset["id"]
    assert again.json["steps"] == preset["steps"]


def test_a_preset_is_replaced_and_renamed(client, preset):
    document = client.get(f"/api/presets/{preset['id']}/document").json
    document |= {"name": "Loose whirl", "note": "For vases."}
    answer = client.put(f"/api/presets/{preset['id']}", json={"document": document})
    assert answer.status_code == 200
    assert [(p["id"], p["name"], p["note"]) for p in listed(client)] == [
        (preset["id"], "Loose whirl", "For vases.")
    ]


def test_a_removed_preset_can_be_brought_back(client, preset):
    assert client.delete(f"/api/presets/{preset['id']}").status_code == 204
    assert listed(client) == []
    assert client.post(f"/api/presets/{preset['id']}/restore").status_code == 204
    assert len(listed(client)) == 1


def test_a_damaged_preset_is_refused_and_nothing_is_stored(client, preset):
    wrong = {
        "document": {"format": "zygomorph-preset", "version": VERSION, "name": "x", "steps": [{}]}
    }
    answer = client.post("/api/presets", json=wrong)
    assert answer.status_code == 422
    assert answer.json["error"]["problems"][0]["path"].startswith("/steps/0")
    assert len(listed(client)) == 1


@pytest.mark.parametrize("body", [{}, {"study": "x"}, {"study": "x", "piece": "p", "group": "g"}])
def test_a_preset_of_nothing_is_refused(client, body):
    answer = client.post("/api/presets", json=body)
    assert answer.status_code in (404, 422)
    assert answer.json["error"]["hint"]


def test_an_unknown_preset_says_so(client, study):
    piece = study["document"]["pieces"][0]["id"]
    for answer in (
        client.get("/api/presets/nowhere/document"),
        client.delete("/api/presets/nowhere"),
        client.post(f"/api/presets/nowhere/use/{study['id']}/{piece}", json={}),
    ):
        assert answer.status_code == 404
        assert "no preset" in answer.json["error"]["message"]


def test_a_preset_has_a_moving_picture_of_what_it_was_made_on(client, preset):
    answer = client.get(preset["address"])
    assert answer.status_code == 200
    assert answer.mimetype == "image/webp"
    assert b"ANMF" in answer.data
