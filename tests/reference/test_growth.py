"""Growth: masks that spread, branches that reach everywhere, and parts that forces carry off."""

import numpy as np
import pytest

from tests.conftest import resolved, study
from tests.reference.test_deformers import form
from zygomorph.core.animation.context import Context
from zygomorph.core.document.loop import Loop
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.branching import branches, grown
from zygomorph.core.inspect.seam import seam
from zygomorph.core.values.entries import definitions

BALL = {"step": "icosphere", "values": {"radius": 0.5, "halvings": 3}}
SAW = {"signal": "cycle", "shape": "sine", "low": 0, "high": 100}


def mask(mesh, frame=0.0, **values):
    layer = definitions("layer")["growth"]
    context = Context(Loop(48, 24.0), frame)
    return layer.apply(mesh, resolved(layer, **values), context)


def test_it_spreads_along_the_surface_by_the_length_of_the_way():
    # From the lowest point of a ball, over great circles: r (π - angle from the top).
    ball = form("icosphere", radius=1.0, halvings=5)
    raw = mask(ball, begins="low", grown=100.0, uneven=0.0, rim=1.0)
    way = np.arccos(np.clip(-ball.points[:, 1].astype(float), -1, 1))
    assert raw.max() - raw == pytest.approx(way, abs=0.03)


@pytest.mark.parametrize("over", ["surface", "space"])
def test_grown_it_is_everywhere_and_not_grown_it_is_nowhere(over):
    torus = form("torus")
    for uneven in (0.0, 80.0):
        own = {"over": over, "uneven": uneven, "rim": 0.1}
        assert mask(torus, grown=100.0, **own).min() >= 1 - 1e-5
        assert mask(torus, grown=0.0, **own).max() <= 1e-6
        some = np.clip(mask(torus, grown=50.0, **own), 0, 1)
        assert 0.1 < some.mean() < 0.9


def test_at_a_speed_it_grows_and_withers_so_that_it_closes():
    sheet = form("sheet", width=4.0, depth=4.0)
    own = {"goes": "speed", "speed": 0.5, "uneven": 0.0, "rim": 0.01, "seeds": 1, "over": "space"}
    reached = [(mask(sheet, f, **own) > 0.5).sum() for f in (0, 12, 24, 36, 48)]
    assert reached[0] == reached[4] <= 1
    assert reached[1] == reached[3]
    # Half a metre a second for a second, on cells of 1 / 30 m: an area of π r².
    cell = 4.0 / 120
    assert reached[2] <= np.pi * 0.5**2 / cell**2 * 1.05


def test_a_tree_reaches_every_target_and_never_leaves_where_it_is_held():
    chance = np.random.default_rng(2)
    targets = chance.normal(size=(300, 3))
    targets /= np.linalg.norm(targets, axis=1, keepdims=True)

    def hold(places):
        return places / np.linalg.norm(places, axis=1, keepdims=True)

    tree = grown(np.array([[0.0, -1.0, 0.0]]), targets, 0.04, 0.6, 0.06, hold)
    assert np.linalg.norm(tree.places, axis=1) == pytest.approx(np.ones(len(tree.places)))
    away = np.linalg.norm(targets[:, None] - tree.places[None], axis=2).min(axis=1)
    # Targets between two branches that turn away from each other are left.
    assert (away < 0.065).mean() > 0.95
    # Each goes on from one that was there before it, by one step at most.
    child = tree.parent >= 0
    up = tree.parent[child]
    assert (tree.born[up] < tree.born[child]).all()
    assert np.linalg.norm(tree.places[child] - tree.places[up], axis=1).max() <= 0.041
    # C. Murray 1926: the cube of a stem's radius is the sum of the cubes of its branches'.
    for node in np.flatnonzero(np.bincount(up, minlength=len(child)) > 1)[:20]:
        below = tree.thick[tree.parent == node] ** 3
        assert tree.thick[node] ** 3 == pytest.approx(below.sum(), rel=1e-6)
    every = np.concatenate([run[1:] for run in branches(tree.parent, tree.born)])
    assert len(np.unique(every)) == len(every) >= len(child) - 1


def veins(grown_to, **values):
    own = {"targets": 200, "step": 0.04, "grown": grown_to, **values}
    return study(BALL, {"step": "veins", "values": own}, frames=48)


def length_of(mesh):
    segments = mesh.topology.curve_segments
    ends = mesh.points[segments].astype(float)
    return np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum()


@pytest.mark.parametrize("through", ["surface", "inside"])
def test_veins_grow_steadily_on_the_surface_or_inside(through):
    evaluator = Evaluator()
    lengths = []
    for share in (5.0, 30.0, 60.0, 100.0):
        mesh = evaluator.evaluate(veins(share, through=through), Request("p")).mesh
        lengths.append(length_of(mesh))
        away = np.linalg.norm(mesh.points, axis=1)
        assert away.max() <= 0.501
        if through == "surface":
            # A ball of triangles lies a little within its sphere.
            assert away.min() > 0.485
    assert (np.diff(lengths) > 0).all()
    assert lengths[-1] > 3.0


def test_veins_stay_on_a_surface_that_moves_and_close():
    twist = {"step": "twist", "values": {"angle": 90.0}}
    own = {"targets": 100, "step": 0.05}
    moved = study(BALL, twist, {"step": "veins", "values": own})
    mesh = Evaluator().evaluate(moved, Request("p")).mesh
    assert np.linalg.norm(mesh.points, axis=1).min() > 0.45
    assert seam(veins(SAW), "p", Evaluator()).state == "closed"


def loose(where, *forces, of="points", frames=96, **values):
    base = {"step": "cloth", "values": {"columns": 20, "rows": 20}}
    steps = [base] if of == "points" else [BALL, {"step": "split"}]
    go = {"step": "loose", "values": {"of": of, "closing": "once", **values}, "where": where}
    return study(*steps, *forces, go, frames=frames)


def layers(radius):
    """A mask that takes all where its radius is large, and nothing at 0."""
    ball = {"centre": [50.0, 0, 0], "radius": radius, "softness": 0.0}
    return {"layers": [{"id": "l", "layer": "ball", "profile": "hard", "values": ball}]}


WIND = {"step": "force_wind", "values": {"speed": 0.8, "steady": 0.5}}


@pytest.mark.parametrize("of", ["points", "shards"])
def test_what_is_held_is_exactly_where_it_was(of):
    document = loose(layers(0.0), WIND, of=of)
    found = Evaluator().evaluate(document, Request("p", 40)).mesh
    base = Evaluator().evaluate(document, Request("p", 40, until="s0")).mesh
    if of == "points":
        assert np.array_equal(found.points, base.points)
    assert found.get("point", "mask:gone").max() == 0


@pytest.mark.parametrize("of", ["points", "shards"])
def test_what_is_let_go_comes_back_to_the_very_place(of):
    held = {
        "signal": "keys",
        "keys": [
            {"frame": 0, "value": 0, "ease": "held"},
            {"frame": 4, "value": 100, "ease": "held"},
            {"frame": 30, "value": 0, "ease": "held"},
        ],
    }
    document, evaluator = loose(layers(held), WIND, of=of, gather=12.0, frames=144), Evaluator()

    def at(frame):
        return evaluator.evaluate(document, Request("p", frame)).mesh

    begin, gone, back = at(0), at(28), at(143)
    assert np.linalg.norm(gone.points - begin.points, axis=1).min() > 0.1
    assert np.array_equal(back.points, begin.points)
    assert at(100).get("point", "mask:gone").max() < 0.05


def test_let_go_by_a_front_that_comes_and_goes_it_settles():
    swing = {"signal": "cycle", "shape": "sine", "low": 0, "high": 100}
    document = loose(layers(swing), WIND, closing="settles", gather=10.0)
    found = seam(document, "p", Evaluator())
    assert found.state == "closed"
    assert "settled" in found.note
