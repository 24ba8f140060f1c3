"""Lines that grow longer and fold, and the surfaces that ruffle towards them."""

import itertools

import numpy as np
import pytest
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import study
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.line_growth import Growing, grown_lines, place_along, thinned
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.inspect.seam import seam

LEVEL = np.array([[1.0, 0, 0], [0, 0, 1], [0, 1, 0]])
CIRCLE = {"step": "circle", "values": {"radius": 0.3, "count": 60}}


def ring(count, radius=0.3, x=0.0):
    turn = np.arange(count) / count * 2 * np.pi
    return np.stack([x + radius * np.cos(turn), 0 * turn, radius * np.sin(turn)], axis=1)


def grow(points, starts, closed, longer=8.0, reach=0.06, seed=1, plane=LEVEL, part=None):
    own = np.ones(len(points)) if part is None else part
    how = Growing(reach, longer, 20_000, plane, seed, own)
    return grown_lines(points, np.array(starts), np.array(closed), how)


def line_of(stage, closed, number=0):
    own = stage.points[stage.starts[number] : stage.starts[number + 1]][:, [0, 2]]
    return shapely.LinearRing(own) if closed else shapely.LineString(own)


@pytest.mark.parametrize("longer", [3.0, 8.0])
@pytest.mark.parametrize("seed", [1, 7])
def test_a_ring_becomes_as_long_as_was_asked_and_never_crosses_itself(longer, seed):
    """Simple in the sense of the OGC's simple features, as shapely tells it."""
    stages = grow(ring(60), [0, 60], [True], longer, seed=seed)
    first = line_of(stages[0], True).length
    assert longer <= line_of(stages[-1], True).length / first < 1.12 * longer
    assert all(line_of(stage, True).is_simple for stage in stages)


def test_several_lines_keep_out_of_each_others_way():
    points = np.concatenate([ring(60), ring(40, 0.15, 0.6)])
    stages = grow(points, [0, 60, 100], [True, True])
    one, other = (line_of(stages[-1], True, number) for number in (0, 1))
    assert one.is_simple and other.is_simple and not one.intersects(other)


def test_folds_are_about_as_far_apart_as_points_push_each_other():
    """Between neighbouring folds there is room for a push each way, and hardly for two."""
    reach = 0.06
    last = grow(ring(60), [0, 60], [True], 12.0, reach)[-1]
    full = shapely.Polygon(line_of(last, True))
    # Of a band as wide as the folds, area = length × width: that of the hull is filled by folds.
    width = shapely.convex_hull(full).area / line_of(last, True).length
    assert 0.5 * reach < width < 1.2 * reach


def test_each_stage_begins_exactly_where_the_one_before_ends():
    stages = grow(ring(60), [0, 60], [True])
    for before, after in itertools.pairwise(stages):
        born = place_along(before, after.along)
        old = after.along == np.floor(after.along)
        assert np.array_equal(born[old], before.points)
        # What is new begins on the line, on a side of it.
        way = shapely.distance(line_of(before, True), shapely.points(born[:, [0, 2]]))
        assert way.max() < 1e-9


def test_ends_and_what_may_not_grow_stay_where_they_are():
    line = np.stack([np.linspace(-0.5, 0.5, 60), np.zeros(60), np.zeros(60)], axis=1)
    open_ = grow(line, [0, 60], [False])[-1].points
    assert np.array_equal(open_[[0, -1]], line[[0, -1]])
    half = np.where(np.arange(60) < 30, 1.0, 0.0)
    stage = grow(ring(60), [0, 60], [True], part=half)[-1]
    still = (stage.root >= 30) & (stage.root <= 59)
    assert stage.points[still] == pytest.approx(ring(60)[30:])


def test_in_space_it_leaves_the_plane_and_in_the_plane_it_does_not():
    assert np.ptp(grow(ring(60), [0, 60], [True])[-1].points[:, 1]) == 0
    assert np.ptp(grow(ring(60), [0, 60], [True], plane=None)[-1].points[:, 1]) > 0.05


@settings(max_examples=20, deadline=None)
@given(st.integers(2, 90), st.booleans(), st.floats(1e-4, 2.0))
def test_thinned_lines_keep_their_ends_and_their_way(count, closed, least):
    points = ring(count)
    kept, starts = thinned(points, np.array([0, count]), np.array([closed]), least)
    assert kept[0] == 0 and (np.diff(kept) > 0).all() and starts.tolist() == [0, len(kept)]
    if not closed:
        assert kept[-1] == count - 1
    if least < 2 * 0.3 * np.sin(np.pi / count):
        assert len(kept) == count


def made(frame=0.0, form=CIRCLE, where=None, **values):
    own = {"width": 0.12, "longer": 4.0, "height": 0.4, **values}
    step = {"step": "ruffles", "values": own} | ({"where": where} if where else {})
    return Evaluator().evaluate(study(form, step), Request("p", frame)).mesh


@pytest.mark.parametrize("grown", [20.0, 63.0, 100.0])
def test_the_surface_is_one_band_whose_faces_all_look_outwards(grown):
    """A band round a ring has V - E + F = 0 and two rims (Euler)."""
    mesh = made(grown=grown)
    faces = mesh.topology.corners.reshape(-1, 3)
    skin = trimesh.Trimesh(mesh.points, faces, process=False)
    assert (skin.euler_number, skin.body_count) == (0, 1)
    assert skin.is_winding_consistent
    rims = trimesh.grouping.group_rows(skin.edges_sorted, require_count=1)
    assert len(trimesh.graph.connected_components(skin.edges_sorted[rims])) == 2
    low = skin.triangles_center[:, 1] < 0.04
    outwards = np.einsum("ij,ij->i", skin.face_normals[low], skin.triangles_center[low])
    assert (outwards > 0).mean() > 0.95


def test_grown_it_goes_up_to_its_height_and_longer_evenly():
    def rim(grown):
        mesh = made(grown=grown, makes="line")
        return shapely.LinearRing(mesh.points[:, [0, 2]]).length

    lengths = np.array([rim(grown) for grown in (0, 25, 50, 75, 100)])
    # Between two stages points go straight, so that folds are a little shorter than either.
    assert lengths == pytest.approx(np.linspace(lengths[0], lengths[-1], 5), rel=0.03)
    assert made(grown=100.0).points[:, 1].max() == pytest.approx(0.4)
    assert 0.1 < made(grown=50.0).points[:, 1].max() < 0.35
    assert len(made(grown=0.0).points) == 0


def test_nothing_grown_is_the_line_itself_and_nothing_chosen_grows_not():
    first = made(grown=0.0, makes="line")
    circle = Evaluator().evaluate(study(CIRCLE), Request("p")).mesh
    assert np.abs(first.points[:, None] - circle.points[None]).sum(axis=2).min(axis=1).max() < 1e-6
    nowhere = {"layers": [{"id": "h", "layer": "height", "values": {"low": 5.0, "high": 6.0}}]}
    kept = made(grown=100.0, makes="line", where=nowhere)
    assert kept.points == pytest.approx(first.points)


def test_what_is_older_has_a_higher_age():
    mesh = made(grown=100.0)
    age = mesh.get("point", MASK + "age")
    low, high = (age[mesh.points[:, 1] < 0.05], age[mesh.points[:, 1] > 0.35])
    assert low.min() > 0.8 and high.max() < 0.2


def test_growing_and_withering_closes():
    there_and_back = {"signal": "cycle", "shape": "sine", "low": 5.0, "high": 100.0}
    own = {"grown": there_and_back, "width": 0.12, "longer": 3.0, "makes": "line"}
    found = seam(study(CIRCLE, {"step": "ruffles", "values": own}), "p", Evaluator())
    assert found.state == "closed"
