"""Values that differ from element to element: spread, stagger, and what may differ at all."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import document, study
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context, Other
from zygomorph.core.animation.order_of_elements import order_of
from zygomorph.core.animation.resolve import Resolved, resolve
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import DocumentError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.evaluation.rebuild import rebuilt
from zygomorph.core.geometry.elements import elements_of
from zygomorph.core.geometry.geometry import Geometry
from zygomorph.core.inspect.seam import seam
from zygomorph.core.shared.forces import Acting, Moving
from zygomorph.core.values.definitions import (
    ForceDefinition,
    SystemDefinition,
    TopologyDefinition,
)
from zygomorph.core.values.entries import definitions

STRANDS = {"step": "strands", "values": {"strands": 6, "count": 5, "vary": 0.0}}
LEAN = {"step": "wave", "values": {"wavelength": 100.0}}


def strand_heights(value, frame=0.0, **where):
    """How far each strand is lifted by an inflate-like push along y, at its base."""
    push = {"step": "stretch", "values": {"ratio": value, "low": 0.0, "high": 1.0}, **where}
    mesh = Evaluator().evaluate(study(STRANDS, push, frames=48), Request("p", frame)).mesh
    return mesh.points[:, 1].reshape(6, 5).max(axis=1)


def test_a_value_runs_from_first_to_last_curve():
    spread = {"over": "curves", "by": "order", "to": {"value": 3.0}}
    lifted = strand_heights({"signal": "hold", "value": 1.0, "spread": spread})
    plain = [strand_heights(v)[0] for v in (1.0, 1.4, 1.8, 2.2, 2.6, 3.0)]
    assert np.allclose(lifted, plain, atol=1e-5)


def test_a_rate_that_is_spread_becomes_whole_cycles():
    spread = {"over": "curves", "to": {"cycles": 4}}
    cycle = {"signal": "cycle", "cycles": 1, "low": 1.0, "high": 2.0, "spread": spread}
    found = np.array([strand_heights(cycle, f) for f in range(49)])
    assert np.allclose(found[0], found[48], atol=1e-6)
    turns = np.abs(np.fft.rfft(found[:48] - found[:48].mean(axis=0), axis=0)).argmax(axis=0)
    assert turns.tolist() == [1, 2, 2, 3, 3, 4]


@pytest.mark.parametrize("signal", ["cycle", "drift", "keys", "run", "sound"])
@settings(max_examples=6)
@given(delay=st.floats(0, 1))
def test_a_staggered_loop_still_closes(signal, delay):
    stagger = {"over": "curves", "by": "chance", "delay": delay}
    more = {
        "keys": {"keys": [{"frame": f, "value": v} for f, v in ((0, 1), (20, 2), (48, 1))]},
        "run": {"rate": 0.0, "start": 1.5},
        "sound": {"low": 1.0, "high": 2.0},
    }.get(signal, {"low": 1.0, "high": 2.0})
    push = {
        "step": "stretch",
        "values": {
            "ratio": {"signal": signal, "stagger": stagger, **more},
            "low": 0.0,
            "high": 1.0,
        },
    }
    assert seam(study(STRANDS, push, frames=48), "p", Evaluator()).position_relative < 1e-6


def test_a_stagger_delays_from_element_to_element():
    rise = {
        "signal": "keys",
        "keys": [{"frame": 0, "value": 1, "ease": "linear"}, {"frame": 10, "value": 2}],
        "stagger": {"over": "curves", "delay": 1.0, "unit": "seconds", "closes": False},
    }
    # A second is 24 frames; the last strand begins as late.
    found = strand_heights(rise, 10.0)
    assert found[0] == pytest.approx(strand_heights(2.0)[0], abs=1e-5)
    assert found[-1] == pytest.approx(strand_heights(1.0)[0], abs=1e-5)
    assert strand_heights(rise, 34.0)[-1] == pytest.approx(strand_heights(2.0)[0], abs=1e-5)


def test_any_signal_may_be_spread_by_a_factor():
    spread = {"over": "curves", "to": {"factor_of_all": 0.0, "offset_of_all": 1.0}}
    keys = [{"frame": 0, "value": 3.0}, {"frame": 48, "value": 3.0}]
    found = strand_heights({"signal": "keys", "keys": keys, "spread": spread})
    assert found[0] == pytest.approx(strand_heights(3.0)[0], abs=1e-5)
    assert found[-1] == pytest.approx(strand_heights(1.0)[0], abs=1e-5)


@pytest.mark.parametrize(
    ("by", "more"),
    [
        ("order", {}),
        ("position", {"axis": [1.0, 0.0, 0.0]}),
        ("place", {"origin": [0.0, 0.0, 0.0]}),
        ("camera", {}),
        ("chance", {"seed": 4}),
    ],
)
@pytest.mark.parametrize("over", ["points", "faces", "shards"])
def test_every_course_goes_from_0_to_1(by, more, over):
    tiles = form("tiling")
    found = order_of({"by": by, "over": over, **more}, tiles, Context())
    assert found.shape == (len(tiles.points),)
    assert found.min() >= 0
    assert found.max() <= 1
    assert np.ptp(found) > 0.6
    back = order_of({"by": by, "over": over, "reverse": True, **more}, tiles, Context())
    assert np.allclose(found + back, 1, atol=1e-6)


def test_position_and_distance_are_those_of_the_mesh():
    sheet = form("sheet", width=2.0, depth=1.0, columns=8, rows=4)
    along = order_of({"by": "position", "axis": [1, 0, 0]}, sheet, Context())
    assert np.allclose(along, (sheet.points[:, 0] + 1) / 2, atol=1e-6)
    away = order_of({"by": "place", "origin": [-1, 0, -0.5]}, sheet, Context())
    right = np.linalg.norm(sheet.points - sheet.points[0], axis=1)
    assert np.allclose(away, right / right.max(), atol=1e-6)


def test_curves_of_a_sheet_are_told_to_be_none():
    with pytest.raises(ZygomorphError, match="no curves"):
        order_of({"over": "curves"}, form("sheet"), Context())


def test_a_value_for_all_elements_cannot_be_spread():
    spread = {"signal": "hold", "value": 2, "spread": {"to": {"value": 5}}}
    smooth = {"step": "smooth", "values": {"times": spread}}
    with pytest.raises(DocumentError, match="one for all elements"):
        check_document(document({"step": "icosphere"}, smooth))


def test_a_signal_is_spread_only_by_its_own_numbers():
    spread = {"signal": "hold", "value": 2.0, "spread": {"to": {"cycles": 5}}}
    with pytest.raises(DocumentError, match="no such number"):
        check_document(
            document({"step": "icosphere"}, {"step": "twist", "values": {"angle": spread}})
        )


def test_shards_that_move_as_a_whole_have_a_value_each():
    spread = {"over": "shards", "to": {"value": 0.5}}
    push = {
        "step": "displace",
        "values": {
            "along": "axis",
            "brightness": 1.0,
            "contrast": 0.0,
            "amount": {"signal": "hold", "value": 0.0, "spread": spread},
        },
        "where": {"moves": "shards"},
    }
    mesh = Evaluator().evaluate(study({"step": "tiling"}, push), Request("p")).mesh
    flat = form("tiling").points[:, 1].mean()
    assert mesh.points[:, 1].max() - flat == pytest.approx(0.5, abs=0.02)
    assert mesh.points[:, 1].min() - flat == pytest.approx(0.0, abs=0.02)


def test_a_masks_values_may_be_spread_too():
    radius = {"signal": "hold", "value": 0.0, "spread": {"over": "curves", "to": {"value": 9.0}}}
    ball = {"id": "l", "layer": "ball", "profile": "hard", "values": {"radius": radius}}
    push = {"step": "inflate", "where": {"layers": [ball]}}
    found = Evaluator().evaluate(study(STRANDS, push), Request("p", mask_of="s1")).weights
    assert found.reshape(6, 5).mean(axis=1)[[0, -1]].tolist() == [0.0, 1.0]


EACH = [
    (definition, name)
    for sort in ("step", "layer")
    for definition in definitions(sort).values()
    for name in sorted(definition.per_element)
    if definition.key != "formula"
]
# Those that take faces as units, or change the topology.
BY_UNIT = [(d, name) for d, name in EACH if d.sort == "step" and d.changes_topology]
# What moves by itself has tests of its own, and balls melt with those around them.
BY_ITSELF = (SystemDefinition,)
EACH = [each for each in EACH if each not in BY_UNIT and not isinstance(each[0], BY_ITSELF)]
BY_UNIT = [(d, name) for d, name in BY_UNIT if not getattr(d, "of_copies", False)]
# What acts where points meet a surface does nothing to most of them.
EACH = [(d, name) for d, name in EACH if not isinstance(d, ForceDefinition) or d.act]
NEEDS = {
    "across_wavelength": {"across": 0.1},
    "across_phase": {"across": 0.1},
    "distortion_size": {"distortion": 40.0},
    "distortion_evolve": {"distortion": 40.0},
    "evolve": {"distortion": 40.0},
    "front": {"packet": 0.3},
}


@pytest.mark.parametrize(("definition", "name"), BY_UNIT, ids=lambda x: getattr(x, "key", x))
def test_a_number_for_each_unit_does_what_one_for_all_does_there(definition, name):
    mesh = (
        Evaluator()
        .evaluate(
            study({"step": "icosphere", "values": {"halvings": 1}}, {"step": "split"}), Request("p")
        )
        .mesh
    )
    values = resolve(definition.values, {}, np.zeros(1), Loop())
    kind = definition.acts_per(values.discrete_values)
    count = len(elements_of(mesh, kind))
    low, high = definition.values[name].soft
    ramp = np.linspace(low + 0.2 * (high - low), low + 0.8 * (high - low), count)

    def run(numbers):
        """Points, and of each the old point that it comes from."""
        own = Resolved({**values.numbers, name: numbers}, values.discrete_values)
        weights = np.ones(1, np.float32)
        if not isinstance(definition, TopologyDefinition):
            return definition.apply(mesh, own, weights, Context()).points, np.arange(
                len(mesh.points)
            )
        made, structure = rebuilt(definition, mesh, own, weights, Context())
        return made.points, structure.origins["point"].parents

    together, parents = run(ramp)
    for unit in (0, 7, 33):
        alone, _ = run(ramp[unit : unit + 1])
        mine = [unit] if kind == "points" else mesh.topology.corners[3 * unit : 3 * unit + 3]
        of_unit = np.isin(parents, mine)
        assert of_unit.any()
        assert np.allclose(together[of_unit], alone[of_unit], atol=3e-4)


def forced(definition, mesh, values, context):
    """The speeds that a force gives to points that move a little."""
    speeds = np.tile(np.float32([0.2, 0.1, -0.3]), (len(mesh.points), 1))
    acting = Acting.on(len(mesh.points))
    moving = Moving(mesh, speeds, np.zeros(len(mesh.points), np.float32), 0.1)
    definition.act(acting, moving, values, np.ones(1, np.float32), context)
    pushed = speeds + 0.1 * (acting.push + acting.towards)
    return pushed / (1 + 0.1 * acting.rate)[:, None]


@pytest.mark.parametrize(("definition", "name"), EACH, ids=lambda x: getattr(x, "key", x))
def test_a_number_for_each_point_does_what_one_for_all_does_there(definition, name):
    mesh = form("torus", around=16, section=8)
    ball = Other("Ball", Geometry.of(form("icosphere", halvings=2)), np.eye(4), "b")
    context = Context(frame=3.0, other=lambda _: ball)
    spec = definition.values[name]
    given = {k: v for k, v in NEEDS.get(name, {}).items() if k in definition.values}
    if spec.shown_when:
        given[spec.shown_when[0]] = spec.shown_when[1][0]
    base = resolve(definition.values, given, np.zeros(1), Loop())
    low, high = spec.soft
    ramp = np.linspace(low + 0.2 * (high - low), low + 0.8 * (high - low), len(mesh.points))
    if spec.kind == "whole":
        ramp = np.rint(ramp)

    def run(numbers):
        values = Resolved({**base.numbers, name: numbers}, base.discrete_values)
        if definition.sort == "layer":
            return np.broadcast_to(definition.apply(mesh, values, context), len(mesh.points))
        if isinstance(definition, ForceDefinition):
            return forced(definition, mesh, values, context)
        return definition.apply(mesh, values, np.ones(1, np.float32), context).points

    together = run(ramp)
    for point in (3, 60, 120):
        alone = run(ramp[point : point + 1])
        assert np.allclose(together[point], alone[point], atol=3e-4)
