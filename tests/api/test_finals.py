"""Final pictures and the queue over HTTP."""

from __future__ import annotations

import base64
import io
import json
import re
import zipfile

import numpy as np
import pytest
from PIL import Image

from tests.waiting import until
from zygomorph.api.service import Service
from zygomorph.core.formats.clips import facts_of
from zygomorph.core.formats.exr import read_exr
from zygomorph.core.formats.read import read_here


def body(sample, **more):
    asked = {"study": sample["id"], "kind": "png", "width": 48, "height": 32, "last": 3}
    return {**asked, "samples": 2, "noise_removal": False, **more}


def done(client, job_id, state="done"):
    def asked():
        return client.get(f"/api/jobs/{job_id}").json

    until(lambda: asked()["state"] not in ("waiting", "running"), asked)
    job = asked()
    assert job["state"] == state, job["message"] or job
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


LAYERED = {"layers": ["depth", "motion", "pieces", "normals", "albedo"], "last": 1}


def archive_of(client, job) -> zipfile.ZipFile:
    return zipfile.ZipFile(io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").data))


def test_an_exr_sequence_has_light_and_layers(client, sample, tmp_path):
    answer = client.post("/api/finals", json=body(sample, kind="exr", **LAYERED))
    assert answer.status_code == 202, answer.text
    job = done(client, answer.json["id"])
    with archive_of(client, job) as archive:
        assert archive.namelist() == ["test_0000.exr", "test_0001.exr"]
        archive.extractall(tmp_path)
    layers = read_exr(tmp_path / "test_0001.exr")
    assert {"", "depth", "motion", "normals", "albedo", "rest"} <= set(layers)
    assert layers[""].shape == (32, 48, 4)
    # It is seen in the queue, and a clip can be made of it, as of any other.
    assert Image.open(io.BytesIO(client.get(f"/api/jobs/{job['id']}/frames/1").data)).size == (
        48,
        32,
    )
    clip = client.post(f"/api/jobs/{job['id']}/clips", json={"kind": "gif"}).json
    done(client, clip["id"])


def test_layers_go_into_folders_whose_pictures_fit_together(client, sample, tmp_path):
    job = done(client, client.post("/api/finals", json=body(sample, **LAYERED)).json["id"])
    with archive_of(client, job) as archive:
        archive.extractall(tmp_path)
    told = json.loads((tmp_path / "layers.json").read_text())
    piece = next(name for name in told["folders"] if name.startswith("piece-"))
    assert set(told["folders"]) == {
        "picture",
        "depth",
        "motion",
        "normals",
        "albedo",
        piece,
        "rest",
    }
    exact = read_exr(next(iter(sorted(frames_of(client, job).glob("0*0.exr")))))
    shown = np.asarray(Image.open(tmp_path / "depth/test_0000.png")) / 65535
    there = exact["depth"][..., 0] < 1e9
    assert (shown[~there] == 0).all()
    near, far, grey = told["depth"]["white_m"], told["depth"]["grey_m"], told["depth"]["grey"]
    back = far - (shown[there] - grey) / (1 - grey) * (far - near)
    assert np.abs(back - exact["depth"][..., 0][there]).max() < (far - near) / 30_000
    # The only piece, cut out, is the picture but for the backdrop.
    cut = np.asarray(Image.open(tmp_path / piece / "test_0000.png"))
    whole = np.asarray(Image.open(tmp_path / "picture/test_0000.png"))
    solid = cut[..., 3] == 255
    assert solid.sum() > 50
    assert np.abs(cut[solid][:, :3].astype(int) - whole[solid][:, :3]).mean() < 2


def frames_of(client, job):
    return client.application.extensions["zygomorph"].queue.get(job["id"]).folder.path / "frames"


def test_layers_that_cannot_be_had_are_told(client, sample):
    for more, said in (
        ({"kind": "mp4", "layers": ["depth"]}, "PNG or an EXR"),
        ({"masks": [{"piece": "p", "step": "x"}]}, "no step"),
        ({"layers": ["fog"]}, "layers"),
    ):
        answer = client.post("/api/finals", json=body(sample, **more))
        assert answer.status_code == 422 and said in answer.text
    asked = {"study": sample["id"], "kind": "exr", "width": 48, "height": 32}
    answer = client.post("/api/pictures", json=asked)
    assert answer.status_code == 422 and "path tracing" in answer.json["error"]["hint"]


def test_a_page_with_a_clip_holds_the_clip(client, sample, tmp_path):
    job = done(client, client.post("/api/finals", json=body(sample)).json["id"])
    asked = {"kind": "clip-page", "repeats": 2}
    clip = done(client, client.post(f"/api/jobs/{job['id']}/clips", json=asked).json["id"])
    page = client.get(f"/api/jobs/{clip['id']}/file")
    assert clip["filename"] == "test.html"
    data = re.search(rb'src="data:video/mp4;base64,([^"]+)"', page.data)
    (tmp_path / "a.mp4").write_bytes(base64.b64decode(data[1]))
    assert facts_of(tmp_path / "a.mp4").frames == 8


def test_a_page_with_the_model_is_a_job_like_any_other(client, sample):
    asked = {"study": sample["id"], "kind": "model-page"}
    job = done(client, client.post("/api/deliveries", json=asked).json["id"])
    page = client.get(f"/api/jobs/{job['id']}/file").data
    glb = re.search(rb'id="model">([^<]+)<', page)[1]
    assert read_here(base64.b64decode(glb), "a.glb")[0].topology.face_count > 0
    assert job["details"][0]["error_relative"] < 0.01


def test_another_cluster_is_chosen_and_kept(client, sample, tmp_path, monkeypatch):
    monkeypatch.setattr("zygomorph.jobs.queue.connecting.CONNECT_S", 1)
    wrong = client.put("/api/cluster", json={"address": "somewhere"})
    assert wrong.status_code == 422
    # Nobody listens there: the job waits, and says so.
    told = client.put("/api/cluster", json={"address": "tcp://127.0.0.1:9"}).json
    assert told["scheduler"] == "tcp://127.0.0.1:9"
    job = client.post("/api/finals", json=body(sample)).json
    wanted = (
        "The scheduler at tcp://127.0.0.1:9 cannot be reached: connection refused. Trying again."
    )
    until(lambda: client.get(f"/api/jobs/{job['id']}").json["what"] == wanted)
    again = Service(tmp_path, most_thumbnails=1)
    assert again.queue.cluster.settings.address == "tcp://127.0.0.1:9"
    again.queue.close()
    assert client.put("/api/cluster", json={"address": None}).json["scheduler"] is None
    done(client, job["id"])
