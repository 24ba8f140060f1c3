"""Small pictures of studies and entries: drawn when there is time, kept, announced."""

import io
import threading
import time
from concurrent.futures import ThreadPoolExecutor

from PIL import Image

from tests.conftest import document
from zygomorph.api.thumbnails import of_study


def test_pictures_are_drawn_aside_and_announced(client, sample, service):
    stream = service.events.stream()
    next(stream)
    listed = client.get("/api/studies").json["studies"]
    assert listed[0]["thumbnail_state"] in ("drawing", "ready")
    while "event: studies" not in next(stream):
        pass
    assert client.get("/api/studies").json["studies"][0]["thumbnail_state"] == "ready"
    picture = client.get(listed[0]["thumbnail"])
    assert picture.mimetype == "image/webp"
    assert "immutable" in picture.headers["Cache-Control"]


def test_names_of_studies_are_read_without_drawing_pictures(client, sample, service):
    listed = client.get("/api/studies?thumbnails=false").json["studies"]
    assert [each["name"] for each in listed] == [sample["document"]["name"]]
    assert listed[0]["thumbnail_state"] is None
    assert service.thumbnails._waiting == set()


def test_the_picture_of_an_earlier_revision_stands_until_the_new_one_is_drawn(
    client, sample, service, monkeypatch
):
    before = client.get(f"/api/studies/{sample['id']}/thumbnail.webp").data
    rename = {"do": "set", "path": "/name", "value": "Renamed"}
    edit = {"operations": [rename], "revision": sample["revision"], "label": "", "window": "w"}
    assert client.post(f"/api/studies/{sample['id']}/edits", json=edit).status_code == 200
    go = threading.Event()
    made = service.thumbnails._read_or_draw
    monkeypatch.setattr(service.thumbnails, "_read_or_draw", lambda *a: go.wait(20) and made(*a))
    listed = client.get("/api/studies").json["studies"][0]
    assert listed["thumbnail_state"] == "drawing"
    assert client.get(listed["former"]).data == before
    go.set()


def test_a_study_that_cannot_be_drawn_has_no_picture(client, service):
    missing = document({"step": "imported", "values": {"mesh": "b" * 64}})
    client.post("/api/studies", json={"document": missing})
    stream = service.events.stream()
    next(stream)
    client.get("/api/studies")
    while "event: studies" not in next(stream):
        pass
    assert client.get("/api/studies").json["studies"][0]["thumbnail_state"] == "failed"


def test_a_picture_asked_for_by_many_at_once_is_drawn_once(client, sample, service, monkeypatch):
    drawn = []

    def slowly(study, *_more):
        drawn.append(study.name)
        time.sleep(0.1)
        return b"picture"

    monkeypatch.setattr("zygomorph.api.thumbnails.moving_thumbnail", slowly)
    stored = service.studies.get(sample["id"])
    with ThreadPoolExecutor(6) as pool:
        found = list(pool.map(lambda _: service.thumbnails.get(of_study(stored)), range(6)))
    assert found == [b"picture"] * 6
    assert drawn == ["Test"]


def test_what_forms_and_steps_do_is_drawn_and_kept(client, service):
    stream = service.events.stream()
    next(stream)
    listed = client.get("/api/specimens").json["specimens"]
    named = {(entry["sort"], entry["key"]) for entry in listed}
    assert {("step", "vortex"), ("step", "formula"), ("form", "strands")} <= named
    assert ("form", "imported") not in named
    entry = next(e for e in listed if e["key"] == "line")
    picture = client.get(entry["address"])
    assert picture.mimetype == "image/webp"
    assert "immutable" in picture.headers["Cache-Control"]
    assert list((service.folder / "thumbnails").glob("form-line-*.webp"))
    still = client.get(entry["address"] + "&still=true")
    with Image.open(io.BytesIO(picture.data)) as moving, Image.open(io.BytesIO(still.data)) as one:
        assert moving.n_frames > 1
        assert getattr(one, "n_frames", 1) == 1
        assert one.size == moving.size
    missing = client.get("/api/specimens/step/elsewhere.webp")
    assert missing.status_code == 422
    service.thumbnails.close()


def test_a_picture_on_a_full_disk_is_shown_all_the_same(client, service, monkeypatch):
    study = client.post("/api/studies", json={"form": "icosphere"}).json["id"]

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("zygomorph.api.thumbnails.write_whole", full)
    answer = client.get(f"/api/studies/{study}/thumbnail.webp")
    assert answer.status_code == 200
    assert answer.data[:4] == b"RIFF"
