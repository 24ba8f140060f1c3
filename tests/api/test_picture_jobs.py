"""Pictures of a loop as a job: what a window is asked for, what it sends, and what becomes of it."""

import io
import zipfile
from fractions import Fraction

import numpy as np
import pytest
from PIL import Image

from tests.conftest import camera, document
from tests.waiting import until
from zygomorph.api.app import make_app
from zygomorph.api.service import Service
from zygomorph.core.document.loop import Loop
from zygomorph.core.formats.clips import facts_of, write_clip
from zygomorph.core.formats.stills import facts_of_images
from zygomorph.jobs.pictures.order import PictureOrder
from zygomorph.jobs.queue.cluster import ClusterSettings

SIZE = (32, 16)
BALL = {"step": "icosphere", "values": {"halvings": 1}}
PLAIN = {"backdrop": "plain", "values": {"colour": "#102030"}}


@pytest.fixture
def study(client):
    made = document(BALL) | {"backdrop": PLAIN}
    return client.post("/api/studies", json={"document": made}).json


def ask(client, study, kind, **more):
    body = {"study": study["id"], "kind": kind, "width": SIZE[0], "height": SIZE[1], **more}
    answer = client.post("/api/pictures", json=body)
    assert answer.status_code == 202, answer.text
    job = answer.json["id"]
    until(lambda: client.get(f"/api/jobs/{job}").json["state"] == "running")
    return job


def drawn(red: int, alpha: int = 255) -> bytes:
    """A picture as a window sends it, with a clear column on its left."""
    picture = np.zeros((SIZE[1], SIZE[0], 4), np.uint8)
    picture[:] = (red * alpha // 255, 0, 0, alpha)
    picture[:, 0] = 0
    return picture.tobytes()


def put(client, job, number, data):
    return client.put(f"/api/pictures/{job}/frames/{number}", data=data)


def draw_all(client, job, alpha=255):
    for number in client.get(f"/api/pictures/{job}").json["missing"]:
        assert put(client, job, number, drawn(10 * number, alpha)).json == {"goes_on": True}
    until(lambda: client.get(f"/api/jobs/{job}").json["state"] not in ("waiting", "running"))
    found = client.get(f"/api/jobs/{job}").json
    assert found["state"] == "done", found
    return found, client.get(f"/api/jobs/{job}/file").data


def test_a_clip_is_made_of_what_a_window_draws(client, study, tmp_path):
    job = ask(client, study, "mp4", last=5, effort="best", repeats=2, pixel_format="yuv444p")
    task = client.get(f"/api/pictures/{job}").json
    assert task["times"] == [0, 1, 2, 3, 4, 5]
    assert task["state"]["document"]["backdrop"] == PLAIN
    found, data = draw_all(client, job)
    path = tmp_path / "a.mp4"
    path.write_bytes(data)
    facts = facts_of(path)
    assert (facts.frames, facts.width, facts.height, facts.rate) == (12, *SIZE, 24)
    assert found["filename"] == "test.mp4"
    assert found["details"][0]["pictures"] == 12


def test_a_sequence_stands_before_the_backdrop_or_is_straight(client, study):
    _, data = draw_all(client, ask(client, study, "png", last=2))
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert archive.namelist() == [f"test_000{k}.png" for k in range(3)]
        with Image.open(archive.open("test_0002.png")) as image:
            assert image.mode == "RGB"
            assert image.getpixel((0, 3)) == (0x10, 0x20, 0x30)
            assert image.getpixel((9, 3)) == (20, 0, 0)
    job = ask(client, study, "png", last=2, transparent=True)
    _, data = draw_all(client, job, alpha=128)
    with (
        zipfile.ZipFile(io.BytesIO(data)) as archive,
        Image.open(archive.open("test_0002.png")) as image,
    ):
        assert image.getpixel((0, 3))[3] == 0
        # Straight: the colour is what it is, however little of it is seen.
        assert image.getpixel((9, 3)) == pytest.approx((20, 0, 0, 128), abs=1)


def test_another_window_goes_on_where_one_was_closed(client, study):
    job = ask(client, study, "webp", last=3)
    put(client, job, 0, drawn(0))
    put(client, job, 2, drawn(20))
    assert client.get(f"/api/pictures/{job}").json["missing"] == [1, 3]
    latest = client.get(f"/api/pictures/{job}/latest")
    with Image.open(io.BytesIO(latest.data)) as image:
        assert image.size == SIZE
    draw_all(client, job)


def test_pictures_are_of_the_study_as_it_was_when_they_were_asked_for(client, study):
    job = ask(client, study, "still")
    operations = [{"do": "set", "path": "/backdrop/values/colour", "value": "#ffffff"}]
    edit = {"label": "x", "operations": operations, "revision": study["revision"]}
    path = f"/api/studies/{study['id']}"
    assert client.post(f"{path}/edits", json={**edit, "window": "w"}).status_code < 300
    moment = client.get(f"/api/pictures/{job}/moment?frame=2.5").json
    assert moment["backdrop"]["stops"][0]["colour"] == "#102030"
    _, data = draw_all(client, job)
    with Image.open(io.BytesIO(data)) as image:
        assert image.getpixel((0, 3)) == (0x10, 0x20, 0x30)


def test_a_seam_is_the_difference_of_the_first_frame_and_the_one_after_the_last(client, study):
    job = ask(client, study, "seam")
    assert client.get(f"/api/pictures/{job}").json["times"] == [0, 24]
    found, _ = draw_all(client, job)
    assert found["details"][0]["largest"] == 10


def test_a_gif_and_a_sheet_come_of_frames_spread_over_the_loop(client, study, tmp_path):
    job = ask(client, study, "sheet", count=4)
    assert client.get(f"/api/pictures/{job}").json["times"] == [0, 6, 12, 18]
    draw_all(client, job)
    _, data = draw_all(client, ask(client, study, "gif", last=11, step=2))
    path = tmp_path / "a.gif"
    path.write_bytes(data)
    facts = facts_of_images(path)
    assert facts.frames == 6
    assert facts.seconds == pytest.approx(0.5, abs=0.01)


def test_one_that_is_called_off_leaves_nothing(client, study, service):
    job = ask(client, study, "mp4")
    put(client, job, 0, drawn(0))
    client.post(f"/api/jobs/{job}/cancel")
    until(lambda: client.get(f"/api/jobs/{job}").json["state"] == "cancelled")
    assert list(service.drawn.folder.iterdir()) == []
    assert put(client, job, 1, drawn(0)).json == {"goes_on": False}
    assert client.post(f"/api/pictures/{job}/heard").json == {"goes_on": False}


def test_a_window_that_cannot_draw_says_why(client, study):
    job = ask(client, study, "still")
    client.post(f"/api/pictures/{job}/cannot", json={"message": "Too large.", "hint": "Smaller."})
    until(lambda: client.get(f"/api/jobs/{job}").json["state"] == "failed")
    found = client.get(f"/api/jobs/{job}").json
    assert (found["message"], found["hint"]) == ("Too large.", "Smaller.")


def test_what_cannot_be_asked_for_or_sent_is_refused(client, study):
    def asked(**more):
        body = {"study": study["id"], "kind": "mp4", "width": 64, "height": 64, **more}
        return client.post("/api/pictures", json=body)

    assert "even" in asked(width=63).json["error"]["hint"]
    assert "no range" in asked(first=5, last=2).json["error"]["message"]
    assert "not a size" in asked(width=16_000, height=16_000).json["error"]["message"]
    assert asked(camera="gone").status_code == 422
    assert asked(samples=0).status_code == 422
    job = ask(client, study, "still")
    for number, data in ((0, b"short"), (7, drawn(1))):
        answer = put(client, job, number, data)
        assert answer.status_code == 422
        assert "picture" in answer.json["error"]["message"]
    client.post(f"/api/jobs/{job}/cancel")


def test_a_camera_is_chosen_for_pictures_alone(client, study):
    other = camera(position=[0, 0, 9])[0] | {"id": "far", "name": "Far"}
    made = study["document"] | {"cameras": [*study["document"]["cameras"], other]}
    two = client.post("/api/studies", json={"document": made}).json
    job = ask(client, two, "still", camera="far")
    moment = client.get(f"/api/pictures/{job}").json["state"]["scene"]["moments"][0]
    assert moment["view"]["position"] == [0, 0, 9]
    assert client.get(f"/api/studies/{two['id']}").json["document"].get("camera") is None
    client.post(f"/api/jobs/{job}/cancel")


@pytest.mark.parametrize(
    ("given", "times"),
    [
        ({"last": 11}, 12),
        ({"last": 11, "step": 3}, 4),
        # The same half second in another number of pictures.
        ({"last": 11, "rate": 60.0}, 30),
        ({"last": 11, "rate": 10.0}, 5),
    ],
)
def test_the_seconds_stay_whatever_the_rate(given, times):
    loop = Loop(frames=24, rate=24)
    order = PictureOrder("mp4", (64, 64), 0, **given)
    found = order.times(loop)
    assert len(found) == times
    assert len(found) / float(order.pictures_a_second(loop)) == pytest.approx(0.5)
    assert np.ptp(np.diff(found)) < 1e-5
    assert found[-1] < 12


def encode(client, data, name, **query):
    answer = client.post("/api/clips", data=data, query_string={"name": name, **query})
    assert answer.status_code == 202, answer.text
    job = answer.json["id"]
    until(lambda: client.get(f"/api/jobs/{job}").json["state"] not in ("waiting", "running"))
    return client.get(f"/api/jobs/{job}").json, job


def test_pictures_that_are_there_become_a_clip_and_that_one_of_another_rate(client, tmp_path):
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for k in range(12):
            image = Image.new("RGB", (64, 48), (20 * k, 0, 0))
            with archive.open(f"x_{k}.png", "w") as file:
                image.save(file, "PNG")
    found, job = encode(client, buffer.getvalue(), "my shots.zip", kind="mp4", rate=24)
    assert found["state"] == "done", found
    assert found["filename"] == "my-shots.mp4"
    clip = client.get(f"/api/jobs/{job}/file").data
    found, job = encode(client, clip, "my-shots.mp4", kind="webm", rate=48)
    assert found["details"][0] == {
        "width": 64,
        "height": 48,
        "pictures": 24,
        "rate": 48.0,
        "seconds": 0.5,
    }
    path = tmp_path / "b.webm"
    path.write_bytes(client.get(f"/api/jobs/{job}/file").data)
    assert facts_of(path).frames == 24


def test_what_cannot_be_encoded_is_told_and_not_kept(client, service, tmp_path):
    found, _ = encode(client, b"nothing of the kind", "a.mp4", rate=24)
    assert found["state"] == "failed"
    assert "cannot be read" in found["message"]
    path = tmp_path / "odd.mp4"
    odd = [np.zeros((49, 63, 4), np.uint8)] * 2
    write_clip(path, odd, "mp4", (63, 49), Fraction(24), "yuv444p")
    found, _ = encode(client, path.read_bytes(), "odd.mp4")
    assert "even" in found["hint"]
    assert list(service.delivered.iterdir()) == []
    assert client.post("/api/clips", data=b"").status_code == 422


def raw(width=16, height=16, level=200) -> bytes:
    return bytes([level, level, level, 255]) * (width * height)


def restarted(service, tmp_path):
    """The program, ended and begun again on the same folder."""
    service.close()
    again = Service(tmp_path, most_thumbnails=1, cluster=ClusterSettings(workers=1, apart=False))
    return again, make_app(again).test_client()


def test_pictures_of_a_window_go_on_after_the_program_was_ended(service, client, sample, tmp_path):
    asked = {"study": sample["id"], "kind": "png", "width": 16, "height": 16, "last": 3}
    job = client.post("/api/pictures", json=asked).json
    for number in (0, 2):
        address = f"/api/pictures/{job['id']}/frames/{number}"
        assert client.put(address, data=raw()).json["goes_on"]
    # The study is edited meanwhile, and another job is called off.
    called_off = client.post("/api/pictures", json=asked).json
    client.post(f"/api/jobs/{called_off['id']}/cancel")
    client.delete(f"/api/studies/{sample['id']}")
    again, other = restarted(service, tmp_path)
    try:
        told = other.get(f"/api/pictures/{job['id']}").json
        assert told["missing"] == [1, 3]
        assert told["state"]["document"] == sample["document"]
        listed = [each["id"] for each in other.get("/api/jobs").json["jobs"]]
        assert listed == [job["id"]]
        for number in told["missing"]:
            other.put(f"/api/pictures/{job['id']}/frames/{number}", data=raw())
        until(lambda: other.get(f"/api/jobs/{job['id']}").json["state"] == "done")
        data = other.get(f"/api/jobs/{job['id']}/file").data
        assert data[:2] == b"PK"
    finally:
        third, last = restarted(again, tmp_path)
    try:
        # What is done is still there to be taken away.
        assert last.get(f"/api/jobs/{job['id']}").json["state"] == "done"
        assert last.get(f"/api/jobs/{job['id']}/file").data == data
    finally:
        third.close()


def test_what_is_kept_of_a_window_s_pictures_and_cannot_be_read_is_removed(
    service, client, sample, tmp_path
):
    asked = {"study": sample["id"], "kind": "png", "width": 16, "height": 16, "last": 3}
    job = client.post("/api/pictures", json=asked).json
    (tmp_path / "drawn" / job["id"] / "order.json").write_text("{")
    again, other = restarted(service, tmp_path)
    try:
        assert other.get("/api/jobs").json["jobs"] == []
        assert not (tmp_path / "drawn" / job["id"]).exists()
    finally:
        again.close()
