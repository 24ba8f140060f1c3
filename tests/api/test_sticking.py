"""Markers that stick to a surface, through the API: told at once over the loop, exactly soon after."""

import numpy as np
import pytest

from tests.api.actions import edit, set_value
from tests.conftest import document
from zygomorph.core.evaluation.loop_frames import APART

FRAMES = 48
# Its height jumps from frame to frame, as no smooth curve foretells.
KICKS = {
    "signal": "keys",
    "keys": [{"frame": f, "value": 0.3 * (f % 3), "ease": "held"} for f in range(FRAMES)],
}


@pytest.fixture
def pond(client, service):
    made = document(
        {"step": "sheet"},
        {"step": "place", "values": {"move": [0.0, KICKS, 0.0]}},
        frames=FRAMES,
    )
    made["markers"] = [{"id": "m", "name": "Buoy", "place": {"move": [0.1, 0.5, 0.0]}}]
    return client.post("/api/studies", json={"document": made}).get_json()


def stick(client, state, **more):
    body = {"path": "/markers/m", "carrier": {"by": "piece", "id": "p"}, "on_surface": True}
    path = f"/api/studies/{state['id']}/attach"
    answer = client.post(path, json={**body, "frame": 0.0, **more})
    return answer.get_json()["operations"]


def heights(state):
    return np.array([place[13] for place in state["markers"][0]["places"]])


def test_it_is_told_smoothly_at_once_and_exactly_when_the_loop_is_known(client, service, pond):
    told = service.events.stream()
    next(told)
    first = edit(client, pond, *stick(client, pond, smooth=0.2)).get_json()
    assert len(heights(first)) == FRAMES + 1
    # What is known at once is right: no guess is told at these.
    wanted = np.array([0.5 + 0.3 * (f % 3) for f in range(FRAMES)])
    assert heights(first)[0] == pytest.approx(wanted[0], abs=1e-5)
    while True:
        text = next(told)
        if '"places": true' in text:
            break
    later = client.get(f"/api/studies/{pond['id']}").get_json()
    assert heights(later)[:FRAMES] == pytest.approx(wanted, abs=1e-5)
    assert np.abs(heights(first)[:FRAMES] - wanted).max() > 0.1
    assert FRAMES > 2 * APART


def test_what_is_computed_for_an_older_state_is_given_up(client, service, pond):
    """Another edit came in meanwhile, whose own frames are computed instead."""
    first = edit(client, pond, *stick(client, pond)).get_json()
    asked = []
    surfaces = type("Surfaces", (), {"unfinished": [lambda: asked.append(1)]})()
    stored = service.studies.get(pond["id"])
    newer = edit(client, first, set_value("/markers/m/name", "Float")).get_json()
    assert newer["revision"] > stored.revision
    service._finish(stored, surfaces)
    assert not asked
    service._finish(service.studies.get(pond["id"]), surfaces)
    assert asked


def test_a_radius_is_a_length(client, pond):
    body = {"path": "/markers/m", "carrier": {"by": "piece", "id": "p"}, "on_surface": True}
    path = f"/api/studies/{pond['id']}/attach"
    assert client.post(path, json={**body, "smooth": -1.0}).status_code == 422
    assert stick(client, pond, smooth=0.25)[0]["value"]["smooth"] == 0.25


def test_a_circle_is_refused_and_nothing_is_lost(client, pond):
    held = edit(client, pond, *stick(client, pond)).get_json()
    by = {"by": "marker", "id": "m"}
    refused = edit(client, held, set_value("/pieces/p/recipe/s1/carried", by))
    assert refused.status_code == 422
    assert "carry itself" in str(refused.get_json())
    again = client.get(f"/api/studies/{pond['id']}").get_json()
    assert again["document"] == held["document"]
