"""USD, held against OpenUSD itself: its compliance checks, and what it reads back.

Sources: the USD glossary and the UsdGeom schemas of OpenUSD (usd-core), whose own library reads
everything here.
"""

import numpy as np
import pytest
from pxr import Usd, UsdGeom, UsdShade, UsdValidation

from tests.conftest import by_height, document, surface, volume
from zygomorph.core.budget import budget
from zygomorph.core.document.study import Study, check_document
from zygomorph.core.errors import Cancelled, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.deliver_usd import deliver_usd
from zygomorph.core.formats.read import read_here as read_mesh
from zygomorph.core.formats.usd import prim_name
from zygomorph.core.geometry.affine import transformed
from zygomorph.core.geometry.normals import face_vector_areas, point_normals

TURNING = {"signal": "cycle", "shape": "sine", "low": -90, "high": 90, "cycles": 1}
TWISTED = document(
    {"step": "box", "values": {"across": 3, "up": 6, "deep": 3}},
    {"step": "twist", "values": {"angle": TURNING}},
    frames=12,
)
EXACT = 1e-6


def opened(data: bytes, tmp_path, name="made.usdc") -> Usd.Stage:
    path = tmp_path / name
    path.write_bytes(data)
    return Usd.Stage.Open(str(path))


def delivered(made: dict, tmp_path) -> tuple[Study, Evaluator, Usd.Stage]:
    study, evaluator = check_document(made), Evaluator()
    return study, evaluator, opened(deliver_usd(study, evaluator), tmp_path)


def shape_of(stage: Usd.Stage):
    return next(p for p in stage.Traverse() if p.GetName() == "shape")


def test_every_frame_is_there_exactly_and_the_last_closes_the_loop(tmp_path):
    study, evaluator, stage = delivered(TWISTED, tmp_path)
    mesh = UsdGeom.Mesh(shape_of(stage))
    assert (stage.GetStartTimeCode(), stage.GetEndTimeCode()) == (0, 12)
    assert stage.GetTimeCodesPerSecond() == 24
    assert UsdGeom.GetStageUpAxis(stage) == "Y"
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1
    assert mesh.GetPointsAttr().GetTimeSamples() == [float(f) for f in range(13)]
    assert mesh.GetFaceVertexCountsAttr().GetNumTimeSamples() == 0
    for frame in (0, 3, 7, 12):
        found = evaluator.evaluate(study, Request("p", frame)).mesh
        points = np.array(mesh.GetPointsAttr().Get(frame))
        assert np.array_equal(points, found.points)
        assert np.array_equal(mesh.GetFaceVertexIndicesAttr().Get(frame), found.topology.corners)
        low, high = mesh.GetExtentAttr().Get(frame)
        assert np.allclose([low, high], [found.points.min(0), found.points.max(0)], atol=1e-6)
        assert UsdGeom.Mesh.ValidateTopology(
            mesh.GetFaceVertexIndicesAttr().Get(frame),
            mesh.GetFaceVertexCountsAttr().Get(frame),
            len(points),
        )[0]
    first, last = (np.array(mesh.GetPointsAttr().Get(f)) for f in (0, 12))
    assert np.abs(first - last).max() < 1e-6


@pytest.mark.parametrize(
    "form", ["icosphere", "strands", "cloth", "circle", "sheet", "tiling", "torus"]
)
def test_openusd_has_nothing_to_object_to(form, tmp_path):
    values = {"cloth": {"columns": 8, "rows": 8}, "strands": {"count": 5}}.get(form, {})
    made = document(
        {"step": form, "values": values},
        {"step": "displace", "values": {"evolve": {**TURNING, "low": 0, "high": 1}}},
        frames=3,
        looks=surface((by_height(-0.5, 0.5, gradient="dusk"),)),
    )
    _, _, stage = delivered(made, tmp_path)
    registry = UsdValidation.ValidationRegistry()
    names = [m.name for m in registry.GetAllValidatorMetadata()]
    assert len(names) > 20
    context = UsdValidation.ValidationContext(registry.GetOrLoadValidatorsByName(names))
    assert [error.GetErrorAsString() for error in context.Validate(stage)] == []
    material, _ = UsdShade.MaterialBindingAPI(shape_of(stage)).ComputeBoundMaterial()
    assert material
    colours = UsdGeom.Gprim(shape_of(stage)).GetDisplayColorPrimvar()
    points = UsdGeom.PointBased(shape_of(stage)).GetPointsAttr().Get(1)
    assert len(colours.Get(1)) == len(points)


def test_a_place_that_moves_is_made_of_the_same_operations(tmp_path):
    place = {
        "move": [1.0, {**TURNING, "low": 0, "high": 2}, 0.0],
        "turn": [20.0, TURNING, 50.0],
        "scale": [1.0, 2.0, 0.5],
    }
    made = document({"step": "box"}, frames=8, place=place)
    study, evaluator, stage = delivered(made, tmp_path)
    prim = shape_of(stage)
    for frame in (0, 1, 5):
        found = evaluator.evaluate(study, Request("p", frame))
        matrix = np.array(UsdGeom.XformCache(frame).GetLocalToWorldTransform(prim))
        points = found.mesh.points @ matrix[:3, :3] + matrix[3, :3]
        assert np.allclose(points, transformed(found.mesh.points, found.place), atol=1e-5)
    # The mesh itself stands still, and is there once.
    assert UsdGeom.Mesh(prim).GetPointsAttr().GetNumTimeSamples() == 0


def test_faces_may_change_on_the_way(tmp_path):
    sides = {"signal": "keys", "keys": [{"frame": 0, "value": 3}, {"frame": 4, "value": 7}]}
    made = document({"step": "cone", "values": {"around": sides}}, frames=6)
    study, evaluator, stage = delivered(made, tmp_path)
    mesh = UsdGeom.Mesh(shape_of(stage))
    counts = set()
    for frame in range(7):
        found = evaluator.evaluate(study, Request("p", frame)).mesh
        counts.add(len(found.points))
        assert len(mesh.GetPointsAttr().Get(frame)) == len(found.points)
        assert np.array_equal(mesh.GetFaceVertexIndicesAttr().Get(frame), found.topology.corners)
    assert len(counts) > 2


def test_a_closed_curve_comes_back_to_its_first_point(tmp_path):
    _, _, stage = delivered(document({"step": "circle", "values": {"count": 12}}), tmp_path)
    curves = UsdGeom.BasisCurves(shape_of(stage))
    points = np.array(curves.GetPointsAttr().Get())
    assert list(curves.GetCurveVertexCountsAttr().Get()) == [13]
    assert np.array_equal(points[0], points[-1])


def test_what_was_delivered_is_read_back(tmp_path):
    made = document({"step": "torus"}, place={"move": [0.0, 2.0, 0.0]})
    study, evaluator = check_document(made), Evaluator()
    mesh, report = read_mesh(deliver_usd(study, evaluator), "torus.usdc")
    found = evaluator.evaluate(study, Request("p", 0)).mesh
    assert report.faces == found.topology.face_count
    assert report.open_edges == 0
    assert volume(mesh) == pytest.approx(volume(found), rel=1e-5)
    assert mesh.points[:, 1].mean() == pytest.approx(2, abs=1e-4)


def test_names_are_made_fit_and_kept_apart():
    taken: set[str] = set()
    assert prim_name("Ember bulb", taken) == "Ember_bulb"
    assert prim_name("Ember-bulb", taken) == "Ember_bulb_2"
    assert prim_name("3 rings", taken) == "_3_rings"
    assert prim_name("★", taken) == "piece"


def test_a_delivery_can_be_cancelled_and_its_size_is_limited():
    with pytest.raises(Cancelled):
        deliver_usd(check_document(TWISTED), Evaluator(), cancelled=lambda: True)
    with budget(30_000), pytest.raises(ZygomorphError, match="sequence of mesh files"):
        deliver_usd(check_document(TWISTED), Evaluator())


def test_normals_are_written_where_they_are_wanted(tmp_path):
    study, evaluator = check_document(TWISTED), Evaluator()
    plain = deliver_usd(study, evaluator)
    rich = deliver_usd(study, evaluator, normals=True)
    assert not UsdGeom.Mesh(shape_of(opened(plain, tmp_path, "a.usdc"))).GetNormalsAttr().Get(3)
    stage = opened(rich, tmp_path, "b.usdc")
    shape = UsdGeom.Mesh(shape_of(stage))
    normals = np.array(shape.GetNormalsAttr().Get(3))
    found = evaluator.evaluate(study, Request("p", 3)).mesh
    # A box has edges: each face has normals of its own, all of them near to its own direction.
    assert shape.GetNormalsInterpolation() == "faceVarying"
    assert len(normals) == len(found.topology.corners)
    areas = face_vector_areas(found)
    own = (areas / np.linalg.norm(areas, axis=1, keepdims=True))[found.topology.corner_face]
    assert np.einsum("ij,ij->i", normals, own).min() > 0.9
    ball = check_document(document({"step": "icosphere"}))
    stage = opened(deliver_usd(ball, evaluator, normals=True), tmp_path, "c.usdc")
    normals = np.array(UsdGeom.Mesh(shape_of(stage)).GetNormalsAttr().Get())
    round_ = evaluator.evaluate(ball, Request("p", 0)).mesh
    assert np.allclose(normals, point_normals(round_), atol=1e-6)


def test_what_stands_still_for_a_while_is_not_written_again(tmp_path):
    # Only the positions of a large sheet move: 12 bytes a point and sample, and little else.
    keys = [{"frame": 0, "value": 0}, {"frame": 4, "value": 30}, {"frame": 8, "value": 30}]
    still = {"signal": "keys", "keys": keys}
    made = document(
        {"step": "sheet", "values": {"columns": 60, "rows": 60}},
        {"step": "twist", "values": {"angle": still}},
        frames=12,
    )
    _, _, stage = delivered(made, tmp_path)
    times = UsdGeom.Mesh(shape_of(stage)).GetPointsAttr().GetTimeSamples()
    assert times[:6] == [0, 1, 2, 3, 4, 8] or 4 in times
    assert 6 not in times
    full = document(
        {"step": "sheet", "values": {"columns": 60, "rows": 60}},
        {"step": "twist", "values": {"angle": TURNING}},
        frames=12,
    )
    data = deliver_usd(check_document(full), Evaluator())
    assert len(data) < 13 * 61 * 61 * 12 + 200_000


def test_a_held_value_jumps_within_a_hundredth_of_a_frame(tmp_path):
    held = [
        {"frame": 0, "value": 0, "ease": "held"},
        {"frame": 5, "value": 40, "ease": "held"},
    ]
    made = document(
        {"step": "box", "values": {"up": 4}},
        {"step": "twist", "values": {"angle": {"signal": "keys", "keys": held}}},
        place={"move": [{"signal": "keys", "keys": held}, 0, 0]},
        frames=12,
    )
    study, evaluator, stage = delivered(made, tmp_path)
    shape = shape_of(stage)
    for frame in (0, 4.9, 4.98, 5, 8.5, 11.9):
        found = evaluator.evaluate(study, Request("p", frame))
        points = np.array(UsdGeom.Mesh(shape).GetPointsAttr().Get(frame))
        assert np.allclose(points, found.mesh.points, atol=1e-6), frame
        place = UsdGeom.Xformable(shape).ComputeLocalToWorldTransform(frame)
        assert np.allclose(np.array(place).T, found.place, atol=1e-6), frame
