"""What is told of light and cameras is kept while no edit changes it, and never longer."""

import copy

import pytest

from tests.conftest import camera, document
from zygomorph.api.state import _scene, scene_of
from zygomorph.core.document.study import check_document

SWING = {"signal": "cycle", "low": -1.0, "high": 1.0}
FOLLOWS = {"signal": "link", "to": "/pieces/p/recipe/s0/values/radius"}


def made(change=lambda document: None):
    own = document({"step": "icosphere", "values": {"radius": 0.5}}) | {
        "cameras": camera(position=[SWING, FOLLOWS, 4.0]),
        "markers": [{"id": "m", "name": "M", "place": {"move": [1.0, 0.0, 0.0]}}],
    }
    own = copy.deepcopy(own)
    change(own)
    return check_document(own)


@pytest.mark.parametrize(
    "change",
    [
        lambda d: d["cameras"][0]["values"].update(shake=2.0),
        lambda d: d["loop"].update(frames=30),
        lambda d: d["pieces"][0]["recipe"][0]["values"].update(radius=0.7),
        lambda d: d["cameras"][0].update(carried={"by": "marker", "id": "m"}),
        lambda d: d.update(lights=[]),
        lambda d: d.update(finish={"values": {"exposure": 1.0}}),
    ],
)
def test_what_changes_the_scene_is_told_anew(change):
    before = scene_of(made())
    after = scene_of(made(change))
    assert after == _scene(made(change))
    assert after != before


def test_a_change_of_the_mesh_leaves_it():
    def halve(document):
        document["pieces"][0]["recipe"][0]["values"]["halvings"] = 1

    assert scene_of(made(halve)) is scene_of(made())
