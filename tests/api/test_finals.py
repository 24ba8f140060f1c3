"""Final pictures and the queue over HTTP."""

from __future__ import annotations

import io
import time

import pytest
from PIL import Image


def body(sample, **more):
    asked = {"study": sample["id"], "kind": "png", "width": 48, "height": 32, "last": 3}
    return {**asked, "samples": 2, "noise_removal": False, **more}


def done(client, job_id, state="done"):
    for _ in range(600):
        job = client.get(f"/api/jobs/{job_id}").json
        if job["state"] not in ("waiting", "running"):
            break
        time.sleep(0.05)
    assert job["state"] == state, job
    return job


def test_final_pictures_are_ordered_seen_and_taken_away(client, sample):
    answer = client.post("/api/finals", json=body(sample))
    assert answer.status_code == 202, answer.text
    job = done(client, answer.json["id"])
    assert job["queued"]["frames"] == [0, 1, 2, 3]
    assert (job["queued"]["width"], job["queued"]["rate"]) == (48, 24.0)
    whole = client.get(f"/api/jobs/{job['id']}/frames/2")
    assert Image.open(io.BytesIO(whole.data)).size == (48, 32)
    assert "immutable" in whole.headers["Cache-Control"]
    small = client.get(f"/api/jobs/{job['id']}/frames/2?small=24")
    assert Image.open(io.BytesIO(small.data)).size == (24, 16)
    assert client.get(f"/api/jobs/{job['id']}/file").data[:2] == b"PK"
    assert client.get(f"/api/jobs/{job['id']}/frames/9").status_code == 422
    listed = client.get("/api/jobs").json
    assert [each["id"] for each in listed["jobs"]] == [job["id"]]
    assert listed["program"].startswith("0.1.0")


def test_an_edit_after_the_order_changes_nothing_of_it(client, sample):
    first = client.post("/api/finals", json=body(sample, last=0)).json
    done(client, first["id"])
    one = client.get(f"/api/jobs/{first['id']}/frames/0").data
    again = client.post("/api/finals", json=body(sample, last=0)).json
    removed = client.delete(f"/api/studies/{sample['id']}")
    assert removed.status_code < 300
    done(client, again["id"])
    assert client.get(f"/api/jobs/{again['id']}/frames/0").data == one


def test_a_clip_is_made_of_frames_that_are_there(client, sample):
    job = done(client, client.post("/api/finals", json=body(sample)).json["id"])
    asked = {"kind": "gif", "rate": 12, "way": "backwards"}
    answer = client.post(f"/api/jobs/{job['id']}/clips", json=asked)
    assert answer.status_code == 202, answer.text
    clip = done(client, answer.json["id"])
    assert clip["filename"] == "test.gif"
    assert clip["queued"]["sort"] == "clip"


def test_jobs_are_led_and_removed(client, sample):
    first, second = (
        client.post("/api/finals", json=body(sample, last=40)).json["id"] for _ in range(2)
    )
    assert client.post(f"/api/jobs/{first}/pause").json["state"] == "paused"
    order = client.post(f"/api/jobs/{second}/move", json={"before": first}).json["jobs"]
    assert [job["id"] for job in order] == [second, first]
    assert client.post(f"/api/jobs/{second}/cancel").json["state"] == "cancelled"
    assert client.post(f"/api/jobs/{first}/go-on").json["state"] in ("waiting", "running")
    again = client.post(f"/api/jobs/{second}/again")
    assert again.status_code == 202
    for job_id in (first, second, again.json["id"]):
        assert client.delete(f"/api/jobs/{job_id}").status_code == 200
    assert client.get("/api/jobs").json["jobs"] == []


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"camera": "none"}, "no camera 'none'"),
        ({"samples": 0}, "samples"),
        ({"width": 8}, "width"),
        ({"kind": "mp4", "width": 33}, "even"),
        ({"first": 9, "last": 3}, "no range"),
        ({"bounces": 100}, "bounces"),
        ({"handles": "/pieces/p"}, "handles"),
    ],
)
def test_what_cannot_be_drawn_is_refused_when_it_is_asked_for(client, sample, wrong, said):
    answer = client.post("/api/finals", json=body(sample, **wrong))
    assert answer.status_code == 422, answer.text
    assert said in answer.text
    assert client.get("/api/jobs").json["jobs"] == []


@pytest.mark.parametrize("act", ["pause", "go-on", "again", "cancel"])
def test_jobs_that_are_not_there_are_told(client, act):
    answer = client.post(f"/api/jobs/none/{act}")
    assert answer.status_code == 422
    assert "no job" in answer.json["error"]["message"]
