"""The examples of docs/adding-an-entry.md: each is an entry as it stands there, in one file."""

import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import numpy as np
import pytest

from tests.conftest import by_height, study, volume
from zygomorph.api.frames import FrameOptions, pack_frame
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.scene import plan_scene, view_at
from zygomorph.core.values.definitions import Definition
from zygomorph.core.values.entries import definitions, recipe_definitions
from zygomorph.render.thumbnail import render_frame

TEXT = (Path(__file__).parents[2] / "docs" / "adding-an-entry.md").read_text()
BOX = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}


def examples() -> dict[str, Definition]:
    found = {}
    for block in re.findall(r"```python\n(.*?)```", TEXT, re.S):
        names: dict = {}
        exec(block, names)
        found[names["DEFINITION"].key] = names["DEFINITION"]
    return found


EXAMPLES = examples()


@contextmanager
def known(key: str) -> Iterator[None]:
    """An example stands in the library for a while."""
    own = EXAMPLES[key]
    places = [
        definitions(own.sort),
        *([recipe_definitions()] if own.sort in ("form", "step") else []),
    ]
    kept = [dict(entries) for entries in places]
    for entries in places:
        entries[key] = own
    yield
    for entries, before in zip(places, kept, strict=True):
        entries.clear()
        entries.update(before)


@contextmanager
def example(key: str, *before: dict) -> Iterator[Study]:
    """A study in which a step of the examples acts on a cube, after other steps."""
    with known(key):
        document = study(BOX, *before).document
        piece = document["pieces"][0]
        recipe = [*piece["recipe"], {"id": "e", "step": key, "values": {}}]
        yield Study({**document, "pieces": [{**piece, "recipe": recipe}]})


@pytest.fixture
def found(request):
    """The geometry that an example makes of a cube."""
    with example(request.param) as whole:
        yield Evaluator().evaluate(whole, Request("p")).geometry


def test_there_is_an_example_of_each_sort_that_comes_in_as_one_file():
    assert {type(d).__name__ for d in EXAMPLES.values()} == {
        "FormDefinition",
        "DeformDefinition",
        "TopologyDefinition",
        "CopiesDefinition",
        "SystemDefinition",
        "MaskDefinition",
        "SignalDefinition",
        "LookDefinition",
        "LightDefinition",
        "CameraDefinition",
        "BackdropDefinition",
    }


@pytest.mark.parametrize("found", ["inflate"], indirect=True)
def test_the_deformer_moves_every_point_along_its_normal(found):
    assert np.linalg.norm(found.mesh.points, axis=1) == pytest.approx(np.sqrt(3) + 0.1, abs=1e-5)


@pytest.mark.parametrize("found", ["fan"], indirect=True)
def test_a_fan_keeps_the_cube_and_has_a_point_in_the_middle_of_each_face(found):
    mesh = found.mesh
    assert (len(mesh.points), mesh.topology.face_count) == (14, 24)
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(8)
    assert np.sort(np.abs(mesh.points[8:]), axis=1).tolist() == [[0, 0, 1]] * 6
    assert mesh.ids("point").tolist() == list(range(14))


@pytest.mark.parametrize("found", ["stack"], indirect=True)
def test_a_stack_stands_one_on_the_other(found):
    assert found.copies.centres[:, 1].tolist() == [0, 2, 4, 6, 8]
    assert found.point_count == 40


def test_what_lags_is_behind_by_the_share_that_it_says():
    step = {"signal": "keys", "keys": [{"frame": 0, "value": 0}, {"frame": 1, "value": 1}]}
    step["keys"][0]["ease"] = "held"
    with example("lag", {"step": "place", "values": {"move": [step, 0, 0]}}) as whole:
        for frame, middle in ((0, 0.0), (1, 0.5), (2, 0.75), (3, 0.875)):
            mesh = Evaluator().evaluate(whole, Request("p", float(frame))).mesh
            assert mesh.points[:, 0].mean() == pytest.approx(middle, abs=1e-6)


def test_enamel_is_drawn_with_its_coat_which_may_go_by_value():
    with known("enamel"):
        made = study({"step": "icosphere", "values": {"radius": 0.5}}).document
        looks = [{"id": "k", "look": "enamel", "by": [by_height(-0.5, 0.5) | {"id": "gloss"}]}]
        looks[0]["by"][0]["values"] = {"low": 20.0, "high": 80.0}
        whole = Study({**made, "pieces": [{**made["pieces"][0], "looks": looks}]})
        drawn = Evaluator().drawn(whole, Request("p"))
        assert (drawn.appearance.material.colour, drawn.appearance.material.roughness) == (
            "#2f6f8f",
            0.6,
        )
        coat = drawn.appearance.amounts(len(drawn.result.mesh.points), "coat")
        assert coat == pytest.approx(0.5 + 0.6 * drawn.result.mesh.points[:, 1], abs=1e-6)
        # What the stage is sent, and what is drawn small, know nothing of the entry.
        assert len(pack_frame("p", drawn, FrameOptions(0.0))) > 0
        assert np.asarray(render_frame(whole, Evaluator(), 0.0, (96, 60))).std() > 5


def test_moonlight_falls_from_its_height_and_is_carried_as_any_light():
    with known("moonlight"):
        made = study(BOX).document
        light = {"id": "m", "name": "Moon", "light": "moonlight", "values": {"height": 90.0}}
        marker = {"id": "t", "name": "T", "place": {"turn": [0, 0, 90.0]}}
        carried = {"carried": {"by": "marker", "id": "t"}}
        for more, towards in (({}, [0, 1, 0]), (carried, [-1, 0, 0])):
            whole = Study({**made, "lights": [light | more], "markers": [marker]})
            sun, sky = plan_scene(whole).at(np.zeros(1)).lamps["m"]
            assert sun.towards == pytest.approx(towards, abs=1e-6)
            assert sky.up == pytest.approx(towards, abs=1e-6)
            assert sky.strength == pytest.approx(0.1 * sun.strength)


def test_a_pyramid_is_closed_and_has_a_third_of_its_prism():
    """Volume of a pyramid: a third of base times height (Euclid, Elements XII.7)."""
    with known("pyramid"):
        document = study(BOX).document
        form = {"id": "f", "step": "pyramid", "values": {"side": 2.0, "height": 3.0}}
        whole = Study({**document, "pieces": [{**document["pieces"][0], "recipe": [form]}]})
        mesh = Evaluator().evaluate(whole, Request("p")).mesh
    assert mesh.topology.closed
    assert volume(mesh) == pytest.approx(4.0)


def test_every_second_stripe_is_let_through():
    with known("stripes"):
        document = study({"step": "line", "values": {"count": 401}}).document
        piece = document["pieces"][0]
        layer = {"id": "l", "layer": "stripes", "values": {"width": 0.1}, "profile": "linear"}
        push = {"id": "d", "step": "inflate", "where": {"layers": [layer]}}
        whole = Study({**document, "pieces": [{**piece, "recipe": [*piece["recipe"], push]}]})
        mesh = Evaluator().evaluate(whole, Request("p", until="s0")).mesh
        weights = Evaluator().evaluate(whole, Request("p", mask_of="d")).weights
    away = np.abs(mesh.points[:, 0] / 0.1 - np.round(mesh.points[:, 0] / 0.1)) > 0.05
    inside = np.floor(mesh.points[:, 0] / 0.1) % 2 == 0
    assert np.array_equal(weights[away] > 0.5, inside[away])


def test_a_heartbeat_closes_and_has_two_bumps_to_a_beat():
    own = EXAMPLES["heartbeat"]
    values = {name: spec.default for name, spec in own.values.items()} | {"beats": 2}
    times = np.linspace(0, 48, 49)
    found = own.apply(values, times, Loop(frames=48), None)
    assert found[0] == pytest.approx(found[48])
    assert found[0] == pytest.approx(1.0, abs=1e-3)
    inner = found[1:-1]
    bumps = np.sum((inner > found[:-2]) & (inner > found[2:]) & (inner > 0.3))
    # That at frame 0 is at the ends.
    assert bumps == 3


def test_a_turntable_keeps_its_distance_and_its_target():
    with known("turntable"):
        turn = {"signal": "cycle", "shape": "saw", "low": 0, "high": 360}
        cameras = [{"id": "c", "name": "C", "camera": "turntable", "values": {"round": turn}}]
        whole = Study({**study(BOX).document, "cameras": cameras})
        views = [view_at(whole, np.array([f])) for f in (0.0, 6.0, 24.0)]
    for view in views:
        assert np.linalg.norm(view.position) == pytest.approx(4.0)
        assert view.position[1] == pytest.approx(4 * np.sin(np.radians(15)))
    assert views[0].position == pytest.approx(views[2].position, abs=1e-5)
    # A quarter of the loop is a quarter of the way round, from z to x.
    assert views[1].position[0] == pytest.approx(4 * np.cos(np.radians(15)), abs=1e-5)


def test_halves_are_one_colour_below_and_another_above():
    with known("halves"):
        behind = {"backdrop": "halves", "values": {"below": "#208040", "above": "#102030"}}
        whole = Study({**study(BOX).document, "backdrop": behind, "pieces": []})
        picture = np.asarray(render_frame(whole, Evaluator(), 0.0, (32, 20))).astype(int)
    assert np.abs(picture[:9] - [0x10, 0x20, 0x30]).max() <= 1
    assert np.abs(picture[11:] - [0x20, 0x80, 0x40]).max() <= 1
