"""Pictures and films over the API."""

import io
import zipfile

import numpy as np
import pytest
from PIL import Image

from tests.conftest import document


@pytest.fixture
def picture() -> bytes:
    buffer = io.BytesIO()
    Image.fromarray(np.full((6, 9), 255, np.uint8)).save(buffer, "PNG")
    return buffer.getvalue()


def test_a_picture_is_stored_used_and_shown_small(client, picture):
    told = client.post("/api/images?name=C:\\maps\\white.png", data=picture)
    assert told.status_code == 201
    digest = told.json["digest"]
    assert (told.json["filename"], told.json["width"], told.json["height"]) == ("white.png", 9, 6)
    assert client.get(f"/api/images/{digest}").json == told.json
    small = client.get(f"/api/images/{digest}/small.webp")
    assert Image.open(io.BytesIO(small.data)).size == (9, 6)
    relief = {"step": "relief", "values": {"picture": digest, "amount": 0.25}}
    made = document({"step": "sheet"}, relief)
    study = client.post("/api/studies", json={"document": made}).json
    table = client.get(f"/api/studies/{study['id']}/pieces/p/table").json
    assert next(c for c in table["columns"] if c["key"] == "y")["least"] == pytest.approx(0.25)


def test_a_wrong_picture_is_refused_and_not_stored(client):
    answer = client.post("/api/images?name=wrong.png", data=b"not a picture")
    assert answer.status_code == 422
    assert "PNG, JPEG, WebP or TIFF" in answer.json["error"]["hint"]
    assert client.get(f"/api/images/{'0' * 64}").status_code in (404, 422)


@pytest.fixture
def film() -> bytes:
    """Three pictures of one colour each, the last see-through."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for k, colour in enumerate([(255, 0, 0, 255), (0, 255, 0, 255), (0, 0, 255, 128)]):
            single = io.BytesIO()
            Image.new("RGBA", (8, 4), colour).save(single, "PNG")
            archive.writestr(f"f_{k:03d}.png", single.getvalue())
    return buffer.getvalue()


def shown(client, name, **query):
    answer = client.get(f"/api/images/{name}/shown", query_string=query)
    assert answer.status_code == 200, answer.text
    assert "immutable" in answer.headers["Cache-Control"]
    return np.asarray(Image.open(io.BytesIO(answer.data)).convert("RGBA")).astype(int)


def test_a_film_is_stored_and_each_of_its_pictures_is_shown(client, film):
    told = client.post("/api/films?name=shot.zip", data=film)
    assert told.status_code == 201
    digest = told.json["digest"]
    assert (told.json["frames"], told.json["width"], told.json["rate"]) == (3, 8, None)
    assert client.get(f"/api/images/{digest}").json == told.json
    colours = [shown(client, digest, number=k)[2, 4].tolist() for k in range(3)]
    assert colours[0] == pytest.approx([255, 0, 0, 255], abs=3)
    assert colours[1] == pytest.approx([0, 255, 0, 255], abs=3)
    # What is see-through stays as it is.
    assert colours[2] == [0, 0, 255, 128]


def test_a_picture_is_shown_as_soft_as_it_is_asked_for(client):
    half = np.zeros((20, 40, 3), np.uint8)
    half[:, 20:] = 255
    buffer = io.BytesIO()
    Image.fromarray(half).save(buffer, "PNG")
    digest = client.post("/api/images?name=half.png", data=buffer.getvalue()).json["digest"]
    assert shown(client, digest)[10, 19, 0] == 0
    soft = shown(client, digest, soft=0.1, beyond="rim")[10, :, 0]
    assert 60 < soft[19] < 200
    assert (np.diff(soft) >= 0).all()


@pytest.mark.parametrize("name", ["weave", "porcelain", "ink"])
def test_pictures_that_come_with_the_program_are_shown(client, name):
    assert np.ptp(shown(client, name)[..., :3]) > 100


@pytest.mark.parametrize("name", ["glasshouse", "studio"])
def test_the_light_of_a_dome_is_given_as_numbers(client, name):
    answer = client.get(f"/api/images/{name}/radiance")
    light = np.frombuffer(answer.data, "<f2").reshape(128, 256, 4).astype(float)
    assert np.isfinite(light).all()
    assert light[..., :3].max() > 4 * light[..., :3].mean()


def test_what_is_not_there_is_an_error_that_helps(client):
    for name in ("f" * 64, "nothing"):
        answer = client.get(f"/api/images/{name}/shown")
        assert answer.status_code in (404, 422)
        assert "Bring" in answer.json["error"]["hint"]


def test_what_is_no_film_is_refused(client):
    answer = client.post("/api/films?name=a.mp4", data=b"not a film at all")
    assert answer.status_code == 422
    assert "MP4" in answer.json["error"]["hint"]
