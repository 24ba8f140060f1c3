"""Pages that are one file each: nothing in them breaks out of its place, or asks for anything else."""

from __future__ import annotations

import base64
import json
from html.parser import HTMLParser

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.page import clip_page, model_page
from zygomorph.core.formats.read import read_here
from zygomorph.jobs.pages.scene import told_scene

HOSTILE = '</script><img src="http://elsewhere.example/x" onerror=alert(1)>'


class Read(HTMLParser):
    """Elements with their attributes, and the texts of scripts by their ids."""

    def __init__(self, page: str) -> None:
        super().__init__()
        self.elements: list[tuple[str, dict]] = []
        self.texts: dict[str, str] = {}
        self._in = ""
        self.feed(page)

    def handle_starttag(self, tag, attrs):
        self.elements.append((tag, dict(attrs)))
        self._in = dict(attrs).get("id", tag)

    def handle_data(self, data):
        self.texts[self._in] = self.texts.get(self._in, "") + data

    def handle_endtag(self, tag):
        self._in = ""


def made(name: str) -> Study:
    ball = {"step": "icosphere", "values": {"halvings": 1}}
    twist = {"step": "twist", "values": {"angle": {"signal": "cycle", "high": 60}}}
    return Study(check_document(document(ball, twist) | {"name": name}).document)


def test_a_page_has_its_model_and_says_how_it_is_seen():
    study = made("Turned")
    glb = deliver_glb(study, Evaluator(), numbers="compact").data
    page = Read(model_page("Turned", glb, told_scene(study), "viewer()"))
    assert base64.b64decode(page.texts["model"]) == glb
    assert read_here(base64.b64decode(page.texts["model"]), "a.glb")[0].topology.face_count == 80
    told = json.loads(page.texts["study"])
    assert told["seconds"] == pytest.approx(study.loop.frames / study.loop.rate)
    assert told["backdrop"].startswith("data:image/")
    assert {lamp["kind"] for lamp in told["lamps"]} <= {
        "sun",
        "point",
        "spot",
        "area",
        "sky",
        "dome",
    }
    assert np.isfinite(told["view"]["position"]).all()


@pytest.mark.parametrize(
    "page",
    [
        model_page(HOSTILE, b"glb", {"name": HOSTILE}, f"say('{HOSTILE}')"),
        clip_page(HOSTILE, b"clip", "video/mp4", (16, 9)),
    ],
)
def test_a_name_is_a_text_whatever_is_in_it(page):
    found = Read(page)
    assert {tag for tag, _ in found.elements}.isdisjoint({"img", "iframe", "link", "object"})
    assert found.texts["title"] == HOSTILE
    assert page.count("<script") - page.count("</script>") == 0
    for _, attributes in found.elements:
        assert attributes.get("src", "data:").startswith("data:")
    [policy] = [a["content"] for _, a in found.elements if a.get("http-equiv")]
    assert "default-src 'none'" in policy and "http" not in policy


def test_a_page_of_a_clip_has_it():
    page = Read(clip_page("A loop", b"\x00\x01clip", "video/mp4", (640, 360)))
    [video] = [attributes for tag, attributes in page.elements if tag == "video"]
    assert base64.b64decode(video["src"].removeprefix("data:video/mp4;base64,")) == b"\x00\x01clip"
    assert {"loop", "muted", "autoplay", "controls"} <= set(video)
