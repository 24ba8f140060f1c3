"""Steps, layers and signals do what their help texts promise an artist."""

import numpy as np
import pytest

from tests.conftest import document, resolved, study, volume
from zygomorph.core.animation.context import Context
from zygomorph.core.document.loop import Loop
from zygomorph.core.document.study import check_document
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.library.signals.drift import sample
from zygomorph.core.masking.ramp import ramp
from zygomorph.core.values.entries import definitions


def _made(*steps, frame=0.0, frames=24, until=None):
    return Evaluator().evaluate(study(*steps, frames=frames), Request("p", frame, until=until)).mesh


def _sheet(**values):
    return {
        "step": "sheet",
        "values": {"width": 4, "depth": 4, "columns": 200, "rows": 200, **values},
    }


def test_a_packet_of_rings_is_as_far_from_the_centre_as_it_says():
    # "Distance of the packet's middle from the centre", also where the centre is soft.
    values = {"amplitude": 0.1, "wavelength": 0.02, "softness": 0.3, "front": 0.5, "packet": 0.2}
    mesh = _made(_sheet(), {"step": "rings", "values": values})
    far = np.hypot(mesh.points[:, 0], mesh.points[:, 2])
    moved = np.abs(mesh.points[:, 1]) > 1e-4
    assert (far[moved].min() + far[moved].max()) / 2 == pytest.approx(0.5, abs=0.03)


def test_rings_fade_with_the_distance_from_the_centre():
    # "At one over this distance 37 % are left": e⁻¹ at half a metre, for 2 / m.
    values = {"amplitude": 0.1, "wavelength": 50.0, "softness": 0.3, "decay": 2.0}
    plain = _made(_sheet(), {"step": "rings", "values": {**values, "decay": 0.0}}).points
    faded = _made(_sheet(), {"step": "rings", "values": values}).points
    there = np.abs(np.hypot(plain[:, 0], plain[:, 2]) - 0.5) < 0.01
    assert faded[there, 1] / plain[there, 1] == pytest.approx(np.exp(-1), rel=0.03)


@pytest.mark.parametrize("way", ["steady", "held", "smooth"])
@pytest.mark.parametrize("along", ["every", "normal"])
def test_jitter_goes_no_further_than_at_most(way, along):
    form = {"step": "icosphere", "values": {"halvings": 4}}
    rest = _made(form).points.astype(float)
    values = {"amount": 0.1, "way": way, "along": along, "hold": 3}
    furthest = 0.0
    for frame in np.linspace(0, 24, 17):
        moved = _made(form, {"step": "jitter", "values": values}, frame=float(frame)).points
        furthest = max(furthest, np.linalg.norm(moved - rest, axis=1).max())
    assert 0.07 < furthest <= 0.1 + 1e-6


def test_more_strength_smooths_more_all_the_way():
    form = {"step": "icosphere", "values": {"halvings": 4}}
    rough = {"step": "displace", "values": {"amount": 0.1, "size": 0.1, "octaves": 1}}
    roughness = []
    for strength in (0, 20, 40, 60, 80, 100):
        values = {"strength": strength, "way": "volume", "times": 5}
        points = _made(form, rough, {"step": "smooth", "values": values}).points
        roughness.append(np.linalg.norm(points, axis=1).std())
    assert (np.diff(roughness) < -1e-4).all()


@pytest.mark.parametrize("edge", [0.0, 0.1, 0.5, 1.0])
@pytest.mark.parametrize("share", [0.0, 0.03, 0.1, 0.5, 0.9, 1.0])
def test_a_soft_share_has_that_mean(share, edge):
    places = (np.arange(20_000) + 0.5) / 20_000
    weights = np.clip(ramp(places, np.array([share]), np.array([edge])), 0, 1)
    assert weights.mean() == pytest.approx(share, abs=2e-4)


def test_a_tenth_by_chance_is_a_tenth():
    layer = definitions("layer")["random"]
    mesh = Mesh(np.zeros((100_000, 3), np.float32), Topology(100_000))
    found = layer.apply(mesh, resolved(layer, share=10.0, edge=10.0), _context())
    assert np.clip(found, 0, 1).mean() == pytest.approx(0.1, abs=0.003)


def _context():
    return Context(Loop(), 0.0, np.eye(4))


def _round(count=36_000):
    turn = np.arange(count) / count * 2 * np.pi
    # Right-handed about y: from x towards -z.
    points = np.stack([np.cos(turn), np.zeros(count), -np.sin(turn)], axis=1)
    return Mesh(points.astype(np.float32), Topology(count)), np.degrees(turn)


@pytest.mark.parametrize(("wide", "edge"), [(120.0, 40.0), (20.0, 90.0), (300.0, 120.0)])
def test_a_sector_is_as_wide_as_it_says(wide, edge):
    layer = definitions("layer")["angle"]
    mesh, _ = _round()
    weights = layer.apply(mesh, resolved(layer, open=wide, edge=edge), _context())
    assert np.clip(weights, 0, 1).mean() * 360 == pytest.approx(wide, abs=0.1)


def test_a_bend_turns_the_way_that_turns_and_angles_go():
    # One sense for all: right-handed about the axis (common practice). A rod along y that bends
    # towards 90° ends where a sector at 90° is, and where Place turns its 0° to.
    rod = {"step": "line", "values": {"begin": [0, -0.5, 0], "end": [0, 0.5, 0], "count": 21}}
    ends = {}
    for towards in (0.0, 90.0):
        values = {"angle": 60.0, "towards": towards, "low": -0.5, "high": 0.5}
        ends[towards] = _made(rod, {"step": "bend", "values": values}).points[-1]
    # Place turns x to -z.
    assert np.allclose(
        ends[90.0][[0, 1, 2]], [ends[0.0][2], ends[0.0][1], -ends[0.0][0]], atol=1e-6
    )
    mesh, degrees = _round()
    layer = definitions("layer")["angle"]
    weights = layer.apply(mesh, resolved(layer, **{"from": 90.0, "open": 20.0}), _context())
    towards_end = np.degrees(np.arctan2(-ends[90.0][2], ends[90.0][0]))
    assert degrees[weights.argmax()] == pytest.approx(towards_end, abs=15)


def test_a_bend_of_an_older_document_bends_the_same_way():
    steps = [{"step": "line", "values": {"count": 21}}]
    for towards in (40.0, {"signal": "cycle", "low": 10.0, "high": 80.0}):
        bend = {"step": "bend", "values": {"angle": 60.0, "towards": towards}}
        old = {**document(*steps, bend), "version": 2}
        values = check_document(old).document["pieces"][0]["recipe"][1]["values"]["towards"]
        if isinstance(towards, dict):
            assert (values["low"], values["high"]) == (-10.0, -80.0)
        else:
            assert values == -40.0


@pytest.mark.parametrize("ratio", [20.0, 70.0, 150.0, 400.0])
def test_a_stretch_that_keeps_volume_has_no_ledge(ratio):
    tube = {"step": "cylinder", "values": {"radius": 0.2, "height": 4, "around": 64, "rows": 600}}
    values = {"ratio": ratio, "keeps_volume": True, "low": -1.0, "high": 1.0}
    before = _made(tube)
    after = _made(tube, {"step": "stretch", "values": values})
    assert volume(after) == pytest.approx(volume(before), rel=2e-3)
    rows = np.abs(np.hypot(before.points[:, 0], before.points[:, 2]) - 0.2) < 1e-4
    height = before.points[rows, 1].round(4)
    width = np.hypot(after.points[rows, 0], after.points[rows, 2])
    course = np.array([width[height == h].mean() for h in np.unique(height)])
    # From one of 600 rings to the next it changes little.
    assert np.abs(np.diff(course)).max() < 0.02
    # Between the limits it is as long as it says.
    inside = rows & (np.abs(before.points[:, 1]) < 1 + 1e-6)
    assert np.ptp(after.points[inside, 1]) == pytest.approx(2 * ratio / 100, rel=1e-3)
    # Far beyond them it is as wide as it was.
    assert course[[0, -1]] == pytest.approx(0.2, rel=1e-3)


@pytest.mark.parametrize("pace", [3, 6, 10, 25])
def test_drift_swings_as_often_as_its_pace(pace):
    times = np.arange(240 * 8) / 8
    swings = []
    for seed in range(40):
        values = {
            "low": 0.0,
            "high": 1.0,
            "pace": pace,
            "octaves": 2,
            "roughness": 0.5,
            "seed": seed,
        }
        course = sample(values, times, Loop())
        above = course > course.mean()
        swings.append(np.count_nonzero(above & ~np.roll(above, 1)))
    assert np.mean(swings) == pytest.approx(pace, rel=0.15)
