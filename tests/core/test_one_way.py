"""A study that plays one way: no seam, and an animation that ends with its last frame."""

import json

import numpy as np
import pytest

from tests.conftest import document
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.inspect.seam import seam

RISE = {"signal": "keys", "keys": [{"frame": 0, "value": 0.0}, {"frame": 12, "value": 90.0}]}


def made(**loop):
    place = {"move": [{**RISE}, 0, 0]}
    found = document({"step": "box"}, {"step": "twist", "values": {"angle": RISE}}, place=place)
    return check_document(found | {"loop": {"frames": 12, "rate": 24, **loop}})


def times_of(study):
    glb = deliver_glb(study, Evaluator()).data
    length = int.from_bytes(glb[12:16], "little")
    header = json.loads(glb[20 : 20 + length])
    inputs = {s["input"] for a in header["animations"] for s in a["samplers"]}
    return [header["accessors"][k]["max"][0] for k in inputs]


def test_its_last_frame_is_the_one_before_the_loop_would_close():
    assert (Loop(12, 24).last, Loop(12, 24, True).last, Loop(1, 24, True).last) == (12, 11, 0)


@pytest.mark.parametrize(("one_way", "frames"), [(False, 12), (True, 11)])
def test_an_animation_ends_with_it(one_way, frames):
    assert np.allclose(times_of(made(one_way=one_way)), frames / 24)


def test_it_has_no_seam():
    assert seam(made(), "p", Evaluator()).state == "open"
    found = seam(made(one_way=True), "p", Evaluator())
    assert (found.state, found.position_m) == ("one way", None)


def test_it_is_yes_or_no():
    with pytest.raises(DocumentError, match="one_way"):
        made(one_way="yes")
