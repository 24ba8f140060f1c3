"""Pictures of heights over the API."""

import io

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
