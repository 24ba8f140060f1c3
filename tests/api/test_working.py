"""A step that takes long is told while it works, and can be stopped."""

import threading
import time

from tests.api.actions import edit, frame_url, set_value
from tests.conftest import document
from tests.waiting import until

LONG = {"step": "fracture", "values": {"count": 1500, "gap": 0.01}}
BALL = {"step": "icosphere", "values": {"halvings": 5}}


def made(client, *steps):
    return client.post("/api/studies", json={"document": document(BALL, *steps)}).json


def working(client, study):
    return client.get(f"/api/studies/{study['id']}/working").json["steps"]


def test_a_long_step_tells_how_far_it_is_and_stops_when_it_is_told_to(client):
    study = made(client, LONG)
    assert working(client, study) == []
    answers = []

    def ask():
        answers.append(client.application.test_client().get(frame_url(study)))

    asking = threading.Thread(target=ask)
    asking.start()
    seen = []

    def is_under_way():
        seen.extend(s for s in working(client, study) if s["step"] == "s1")
        return bool(seen) and seen[-1]["share"] > 0.02

    until(is_under_way)
    assert seen[-1]["piece"] == "p"
    assert seen[-1]["share"] < 1
    stopped = client.post(f"/api/studies/{study['id']}/pieces/p/stop").json
    assert stopped["frames"] == 1
    asking.join(20)
    error = answers[0].json["error"]
    assert answers[0].status_code == 422
    assert error["step_id"] == "s1"
    assert "stopped" in error["message"]
    assert "Change a value" in error["hint"]
    assert working(client, study) == []


def test_what_was_stopped_is_not_begun_again_until_it_is_changed(client):
    study = made(client, LONG)
    asking = threading.Thread(target=lambda: client.application.test_client().get(frame_url(study)))
    asking.start()
    until(lambda: any(step["step"] == "s1" for step in working(client, study)))
    client.post(f"/api/studies/{study['id']}/pieces/p/stop")
    asking.join(20)
    began = time.monotonic()
    assert client.get(frame_url(study)).status_code == 422
    assert time.monotonic() - began < 5
    few = {"count": 4, "gap": 0.01}
    changed = edit(client, study, {"do": "set", "path": "/pieces/p/recipe/s1/values", "value": few})
    assert changed.status_code == 200, changed.json
    assert client.get(frame_url(changed.json)).status_code == 200


def test_stopping_nothing_is_no_error(client):
    study = made(client)
    assert client.post(f"/api/studies/{study['id']}/pieces/p/stop").json == {"frames": 0}


SHAKEN = {
    "step": "place",
    "values": {"move": [{"signal": "cycle", "low": -0.2, "high": 0.2}, 0.0, 0.0]},
}


def restarts(client, study, path, value):
    body = {"operations": [set_value(path, value)]}
    return client.post(f"/api/studies/{study['id']}/restarts", json=body)


def test_what_a_change_lets_begin_again_is_told_before_it_is_stored(client):
    springs = {"step": "springs", "values": {"closing": "once"}}
    study = made(client, SHAKEN, springs, {"step": "twist"})
    told = restarts(client, study, "/pieces/p/recipe/s0/values/radius", 0.7).json["restarts"]
    assert [(each["step"], each["title"], each["name"]) for each in told] == [
        ("s2", "Springs", "Piece")
    ]
    assert told[0]["frames"] == 24 and told[0]["seconds"] is None
    assert restarts(client, study, "/pieces/p/recipe/s3/values/angle", 9.0).json["restarts"] == []
    assert client.get(f"/api/studies/{study['id']}").json["revision"] == study["revision"]
    wrong = restarts(client, study, "/pieces/p/recipe/s0/values/radius", "wide")
    assert wrong.status_code == 422
