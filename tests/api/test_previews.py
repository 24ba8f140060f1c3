"""Previews over HTTP."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from tests.render.scenes import need_llvm


@pytest.fixture
def previewing(client, service):
    need_llvm()
    yield client
    service.previews.close()


def test_a_window_sees_its_preview_become_finer(previewing, sample):
    body = {"window": "w", "frame": 2, "width": 64, "height": 48}
    answer = previewing.post(f"/api/studies/{sample['id']}/previews", json=body)
    assert answer.status_code == 201, answer.text
    told, after, samples = answer.json, 0, -1
    while samples < told["samples"]:
        found = previewing.get(f"/api/previews/{told['id']}?after={after}")
        if found.status_code == 204:
            continue
        assert found.status_code == 200, found.text
        assert Image.open(io.BytesIO(found.data)).size == (64, 48)
        assert found.headers["Cache-Control"] == "no-store"
        after = int(found.headers["X-Number"])
        assert int(found.headers["X-Samples"]) > samples
        samples = int(found.headers["X-Samples"])
    assert previewing.delete(f"/api/previews/{told['id']}").status_code == 204
    assert previewing.get(f"/api/previews/{told['id']}").status_code == 422


def test_what_cannot_be_drawn_is_told(previewing, sample):
    body = {"window": "w", "width": 4, "height": 48}
    address = f"/api/studies/{sample['id']}/previews"
    assert previewing.post(address, json=body).status_code == 422
    assert (
        previewing.post("/api/studies/none/previews", json=body | {"width": 40}).status_code == 404
    )
