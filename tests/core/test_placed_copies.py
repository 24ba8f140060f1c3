"""Copies on a grid, round a circle, along curves, on another piece, and mirrored."""

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import cKDTree

from tests.conftest import document, study, volume
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import StepError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.geometry.mesh import MASK
from zygomorph.core.shared.copy_places import kept_apart

BOX = {"step": "box", "values": {"size": [0.2, 0.2, 0.2], "across": 1, "up": 1, "deep": 1}}
BALL = {"step": "icosphere", "values": {"radius": 1.0, "halvings": 2}}


def found(*steps, frame=0.0):
    return Evaluator().evaluate(study(*steps), Request("p", frame)).geometry


def table(*steps, **more):
    return found(*steps, **more).copies


def beside(other, *steps, frame=0.0, place=None):
    """What the steps make beside another piece, "o", of these steps."""
    whole = document(*steps)
    recipe = [{"id": f"o{k}", **step} for k, step in enumerate(other)]
    piece = {"id": "o", "name": "Other", "recipe": recipe, "place": place or {}}
    checked = check_document({**whole, "pieces": [*whole["pieces"], piece]})
    return Evaluator().evaluate(checked, Request("p", frame)).geometry


def test_a_grid_spans_one_spacing_less_than_its_counts():
    # n copies d apart span (n - 1) d (derived).
    copies = table(
        BOX,
        {"step": "grid", "values": {"columns": 5, "rows": 3, "layers": 2, "spacing": [0.5, 1, 2]}},
    )
    assert len(copies) == 30
    assert np.ptp(copies.centres, axis=0) == pytest.approx([4 * 0.5, 1, 2 * 2])
    assert copies.centres.mean(axis=0) == pytest.approx([0, 0, 0], abs=1e-6)


def test_alternate_rows_are_shifted_by_a_share_of_the_spacing():
    values = {"columns": 4, "rows": 3, "spacing": [1, 1, 1], "shift": 50, "centred": False}
    centres = table(BOX, {"step": "grid", "values": values}).centres.reshape(3, 4, 3)
    assert centres[0, :, 0].tolist() == centres[2, :, 0].tolist() == [0, 1, 2, 3]
    assert centres[1, :, 0].tolist() == [0.5, 1.5, 2.5, 3.5]


@settings(max_examples=20)
@given(st.integers(1, 40), st.floats(0.1, 3), st.sampled_from(["round", "out", "same"]))
def test_round_a_circle_all_are_as_far_from_the_axis_and_from_each_other(count, radius, facing):
    values = {"count": count, "radius": radius, "facing": facing, "axis": [0.2, 1, 0.4]}
    copies = table(BOX, {"step": "round", "values": values})
    axis = np.array([0.2, 1, 0.4]) / np.linalg.norm([0.2, 1, 0.4])
    centres = copies.centres.astype(float)
    assert centres @ axis == pytest.approx(0, abs=1e-5)
    assert np.linalg.norm(centres, axis=1) == pytest.approx(radius, rel=1e-5)
    if count > 1:
        # The side of a regular polygon is 2 r sin(π/n) (textbook).
        sides = np.linalg.norm(centres - np.roll(centres, -1, axis=0), axis=1)
        assert sides == pytest.approx(2 * radius * np.sin(np.pi / count), rel=1e-4)
    linear = copies.placements[:, :, :3].astype(float)
    assert np.linalg.det(linear) == pytest.approx(1, abs=1e-5)
    if facing == "out":
        assert linear[:, :, 1] == pytest.approx(centres / radius, abs=1e-5)


def test_a_part_of_a_circle_has_a_copy_at_both_ends():
    copies = table(BOX, {"step": "round", "values": {"count": 4, "radius": 2, "sweep": 90}})
    degrees = np.degrees(np.arctan2(-copies.centres[:, 2], copies.centres[:, 0]))
    assert degrees == pytest.approx([0, 30, 60, 90], abs=1e-4)


def test_with_a_rise_they_wind_up():
    values = {"count": 9, "radius": 1, "sweep": 720, "rise": 0.5, "facing": "same"}
    heights = table(BOX, {"step": "round", "values": values}).centres[:, 1]
    assert heights[0] == 0
    assert np.diff(heights) == pytest.approx(heights[1], abs=1e-6)
    assert heights[1] == pytest.approx(1.0 / 9)


def test_along_a_line_they_are_evenly_far_apart_and_point_along_it():
    line = {"step": "line", "values": {"begin": [0, 0, 0], "end": [3, 0, 0], "count": 7}}
    copies = beside([line], BOX, {"step": "along", "values": {"piece": "o", "count": 4}}).copies
    assert copies.centres == pytest.approx(
        np.array([[0, 0, 0], [1, 0, 0], [2, 0, 0], [3, 0, 0]]), abs=1e-6
    )
    assert copies.placements[:, :, 1] == pytest.approx(np.tile([1, 0, 0], (4, 1)), abs=1e-6)


@pytest.mark.parametrize("offset", [0.0, 100.0, 300.0])
def test_round_a_closed_curve_a_whole_offset_is_none(offset):
    circle = {"step": "circle", "values": {"radius": 1.0, "count": 360}}
    own = {"piece": "o", "count": 12, "offset": offset}
    copies = beside([circle], BOX, {"step": "along", "values": own}).copies
    none = beside([circle], BOX, {"step": "along", "values": {**own, "offset": 0.0}}).copies
    assert copies.placements == pytest.approx(none.placements, abs=1e-4)
    sides = np.linalg.norm(copies.centres - np.roll(copies.centres, -1, axis=0), axis=1)
    assert sides == pytest.approx(2 * np.sin(np.pi / 12), abs=1e-3)


def test_a_piece_without_curves_is_refused_by_name():
    with pytest.raises(StepError, match="“Other” has no curves"):
        beside([BALL], BOX, {"step": "along", "values": {"piece": "o"}})


def on(**values):
    return {"step": "on_piece", "values": {"piece": "o", **values}}


def test_on_points_they_stand_at_each_point_and_point_away():
    copies = beside([BALL], BOX, on(on="points", offset=0.5), place={"move": [2, 0, 0]}).copies
    assert len(copies) == 162
    away = copies.centres - [2, 0, 0]
    assert np.linalg.norm(away, axis=1) == pytest.approx(1.5, abs=1e-3)
    assert copies.placements[:, :, 1] == pytest.approx(away / 1.5, abs=0.02)
    assert np.linalg.det(copies.placements[:, :, :3]) == pytest.approx(1, abs=1e-4)


def test_on_faces_they_stand_in_the_middles():
    cube = {"step": "box", "values": {"size": [2.0, 2.0, 2.0], "across": 1, "up": 1, "deep": 1}}
    copies = beside([cube], BOX, on(on="faces")).copies
    assert np.sort(np.abs(copies.centres), axis=1).tolist() == [[0, 0, 1]] * 6
    assert copies.placements[:, :, 1] == pytest.approx(copies.centres, abs=1e-6)


def test_over_a_surface_they_are_as_dense_as_the_area():
    bar = {"step": "box", "values": {"size": [4.0, 1.0, 1.0], "across": 4, "up": 1, "deep": 1}}
    copies = beside([bar], BOX, on(on="surface", count=1800)).copies
    # Of the area 18, two ends of 1 each and four sides of 4 each.
    ends = (np.abs(copies.centres[:, 0]) > 2 - 1e-5).sum()
    assert ends == pytest.approx(200, abs=20)
    left = (copies.centres[:, 0] < 0).sum()
    assert left == pytest.approx(900, abs=30)


def test_they_stay_on_the_surface_however_it_moves():
    twist = {"step": "twist", "values": {"angle": {"signal": "cycle", "low": -60, "high": 60}}}
    bar = {"step": "box", "values": {"size": [0.5, 2.0, 0.5], "across": 4, "up": 16, "deep": 4}}
    for frame in (0.0, 5.0, 11.0):
        copies = beside([bar, twist], BOX, on(on="surface", count=200), frame=frame).copies
        surface = Evaluator().evaluate(study(bar, twist), Request("p", frame)).mesh
        corners = surface.points[surface.topology.triangles(surface.points)].astype(float)
        every, place = np.meshgrid(np.arange(len(corners)), np.arange(200))
        near = trimesh.triangles.closest_point(
            corners[every.ravel()], copies.centres[place.ravel()]
        )
        away = np.linalg.norm(near.reshape(200, -1, 3) - copies.centres[:, None], axis=2).min(
            axis=1
        )
        assert away.max() < 1e-4


def test_a_share_keeps_the_ids_of_the_points_and_grows_with_the_share():
    ids = [set(beside([BALL], BOX, on(share=share)).copies.ids.tolist()) for share in (20, 60, 100)]
    assert ids[0] < ids[1] < ids[2] == set(range(162))


def test_sizes_by_chance_lie_between_the_two():
    copies = beside([BALL], BOX, on(smallest=40.0)).copies
    sizes = np.linalg.norm(copies.placements[:, :, 0], axis=1)
    assert sizes.min() >= 0.4 - 1e-5
    assert sizes.max() <= 1 + 1e-5
    assert np.ptp(sizes) > 0.5


@settings(max_examples=20)
@given(st.integers(0, 1000), st.floats(0.05, 0.5))
def test_kept_apart_no_two_are_nearer_and_no_other_would_fit(seed, distance):
    places = np.random.default_rng(seed).random((200, 3))
    kept = kept_apart(places, distance, np.arange(200), seed)
    stays = places[kept]
    if len(stays) > 1:
        assert cKDTree(stays).query(stays, k=2)[0][:, 1].min() > distance * (1 - 1e-9)
    if not kept.all():
        assert cKDTree(stays).query(places[~kept])[0].max() <= distance * (1 + 1e-9)


def test_masks_that_are_stored_there_are_those_of_the_copies():
    layer = {
        "id": "l",
        "layer": "linear",
        "profile": "linear",
        "values": {"direction": [0, 1, 0], "position": [0, 0, 0], "width": 2.0},
    }
    store = {
        "step": "inflate",
        "values": {"amount": 0.0},
        "where": {"layers": [layer], "store": "up"},
    }
    copies = beside([BALL, store], BOX, on(on="surface", count=100)).copies
    assert copies.attributes[MASK + "up"] == pytest.approx((copies.centres[:, 1] + 1) / 2, abs=1e-4)
    use = {"id": "u", "layer": "stored", "values": {"name": "up"}, "profile": "linear"}
    faded = {"step": "turn_each", "values": {"size": 0, "of": "copies"}, "where": {"layers": [use]}}
    after = beside([BALL, store], BOX, on(on="surface", count=100), faded).copies
    sizes = np.linalg.norm(after.placements[:, :, 0], axis=1)
    assert sizes == pytest.approx(1 - copies.attributes[MASK + "up"], abs=1e-4)


def test_a_mirror_image_is_the_same_on_the_other_side():
    cone = {"step": "cone", "values": {"bottom": 0.5, "top": 0.1}}
    tilt = {"step": "place", "values": {"turn": [20, 0, 40], "move": [0, 0, 0]}}
    normal = np.array([1.0, 1.0, 0]) / np.sqrt(2)
    mirror = {"step": "mirror", "values": {"normal": [1, 1, 0], "place": [1, 0, 0]}}
    one, both = found(cone, tilt).real, found(cone, tilt, mirror).real
    count = len(one.points)
    expected = one.points - 2 * ((one.points - [1, 0, 0]) @ normal)[:, None] * normal
    assert np.array_equal(both.points[:count], one.points)
    assert both.points[count:] == pytest.approx(expected, abs=1e-5)
    # Both look outwards.
    assert volume(both) == pytest.approx(2 * volume(one), rel=1e-4)
    assert both.topology.closed


def test_mirrored_copies_are_placed_without_turning_inside_out():
    row = {"step": "row", "values": {"count": 3, "turn": [0, 20, 10]}}
    alone = {"step": "mirror", "values": {"place": [1, 0, 0], "original": False}}
    geometry = found(BOX, row, alone)
    assert len(geometry.copies) == 3
    assert np.linalg.det(geometry.copies.placements[:, :, :3]) == pytest.approx(1, abs=1e-5)
    assert volume(geometry.real) == pytest.approx(3 * 0.008, rel=1e-4)


def test_copies_of_copies_are_all_of_them_at_each_place():
    row = {"step": "row", "values": {"count": 3, "move": [0, 0.1, 0]}}
    copies = table(BOX, row, {"step": "round", "values": {"count": 5, "radius": 1}})
    assert len(copies) == 15
    assert len(np.unique(copies.ids)) == 15
