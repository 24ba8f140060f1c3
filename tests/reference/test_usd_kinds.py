"""What USD files hold besides plain meshes, written by OpenUSD itself and held against its schemas
(UsdGeom: Gprim solids, holeIndices, purpose, PointInstancer)."""

import numpy as np
import pytest
from pxr import Gf, Sdf, Usd, UsdGeom, Vt

from tests.conftest import volume
from zygomorph.core.formats.read import read_here


def made(tmp_path, build):
    path = tmp_path / "made.usda"
    stage = Usd.Stage.CreateNew(str(path))
    UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.y)
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    UsdGeom.Xform.Define(stage, "/root")
    build(stage)
    stage.GetRootLayer().Save()
    return read_here(path.read_bytes(), "made.usda")


def cube(stage, path, size=2.0):
    found = UsdGeom.Cube.Define(stage, path)
    found.GetSizeAttr().Set(size)
    return found


# Volumes and extents of the textbook; what is round has 48 sides.
N = 48
AREA = 0.5 * N * np.sin(2 * np.pi / N)  # of a regular polygon in the unit circle


@pytest.mark.parametrize(
    ("kind", "values", "truth", "extent"),
    [
        ("Cube", {"size": 3.0}, 27.0, [3, 3, 3]),
        ("Cylinder", {"radius": 0.5, "height": 4.0, "axis": "Y"}, AREA * 0.25 * 4, [1, 4, 1]),
        ("Cone", {"radius": 1.0, "height": 3.0, "axis": "Z"}, AREA * 3 / 3, [2, 2, 3]),
        ("Sphere", {"radius": 2.0}, 4 / 3 * np.pi * 8, [4, 4, 4]),
        (
            "Capsule",
            {"radius": 0.5, "height": 2.0, "axis": "X"},
            np.pi * 0.25 * 2 + 4 / 3 * np.pi * 0.125,
            [3, 1, 1],
        ),
    ],
)
def test_solids_that_are_known_by_a_size_are_closed_and_of_that_size(
    kind, values, truth, extent, tmp_path
):
    def build(stage):
        prim = getattr(UsdGeom, kind).Define(stage, "/root/it").GetPrim()
        for name, value in values.items():
            prim.GetAttribute(name).Set(value)

    mesh, report = made(tmp_path, build)
    assert report.open_edges == 0
    assert mesh.topology.closed
    # Round ones lose a little between their sides.
    assert 0.98 * truth <= volume(mesh) <= 1.0001 * truth
    assert np.allclose(np.ptp(mesh.points, axis=0), extent, rtol=3e-3)


def test_faces_that_are_holes_are_left_out(tmp_path):
    def build(stage):
        mesh = UsdGeom.Mesh.Define(stage, "/root/box")
        points = [(x, y, z) for x in (0, 1) for y in (0, 1) for z in (0, 1)]
        mesh.GetPointsAttr().Set(Vt.Vec3fArray([Gf.Vec3f(*p) for p in points]))
        mesh.GetFaceVertexCountsAttr().Set([4] * 6)
        corners = [0, 1, 3, 2, 4, 6, 7, 5, 0, 4, 5, 1, 2, 3, 7, 6, 0, 2, 6, 4, 1, 5, 7, 3]
        mesh.GetFaceVertexIndicesAttr().Set(corners)
        mesh.GetHoleIndicesAttr().Set([1, 4])
        mesh.GetSubdivisionSchemeAttr().Set("none")
        primvar = UsdGeom.PrimvarsAPI(mesh).CreatePrimvar(
            "st", Sdf.ValueTypeNames.TexCoord2fArray, UsdGeom.Tokens.faceVarying
        )
        primvar.Set(Vt.Vec2fArray([Gf.Vec2f(k, k % 4) for k in range(24)]))

    mesh, report = made(tmp_path, build)
    assert report.faces == 4
    # Two faces that share an edge leave one hole of six sides.
    assert report.open_edges == 6
    uv = mesh.get("corner", "uv")
    # Of the corners that are left: those of the faces 0, 2, 3 and 5.
    assert sorted(uv[:, 0]) == [*range(4), *range(8, 16), *range(20, 24)]


def test_what_is_there_for_work_is_not_read_beside_the_final_one(tmp_path):
    def build(stage):
        cube(stage, "/root/final", 2.0).GetPurposeAttr().Set(UsdGeom.Tokens.render)
        cube(stage, "/root/light", 1.0).GetPurposeAttr().Set(UsdGeom.Tokens.proxy)
        cube(stage, "/root/guide", 9.0).GetPurposeAttr().Set(UsdGeom.Tokens.guide)

    mesh, report = made(tmp_path, build)
    assert report.faces == 6
    assert np.ptp(mesh.points[:, 0]) == pytest.approx(2)

    def alone(stage):
        cube(stage, "/root/light", 1.0).GetPurposeAttr().Set(UsdGeom.Tokens.proxy)

    mesh, report = made(_other(tmp_path), alone)
    assert np.ptp(mesh.points[:, 0]) == pytest.approx(1)


def _other(tmp_path):
    other = tmp_path / "other"
    other.mkdir()
    return other


def _instancer(stage, path, source, places):
    found = UsdGeom.PointInstancer.Define(stage, path)
    found.GetPrototypesRel().AddTarget(source)
    found.GetProtoIndicesAttr().Set([0] * len(places))
    found.GetPositionsAttr().Set(Vt.Vec3fArray([Gf.Vec3f(*p) for p in places]))
    return found


def test_instancers_that_copy_instancers_give_all_their_copies(tmp_path):
    def build(stage):
        outer = _instancer(
            stage, "/root/outer", "/root/outer/inner", [(0, 0, 0), (10, 0, 0), (20, 0, 0)]
        )
        assert outer
        _instancer(stage, "/root/outer/inner", "/root/outer/inner/cube", [(0, 0, 0), (0, 3, 0)])
        cube(stage, "/root/outer/inner/cube", 1.0)

    mesh, report = made(tmp_path, build)
    assert report.faces == 6 * 6
    middles = np.unique(np.round(mesh.points.reshape(-1, 3)[:, 0] / 10))
    assert middles.tolist() == [0, 1, 2]
    assert np.ptp(mesh.points[:, 1]) == pytest.approx(4)
    assert volume(mesh) == pytest.approx(6)


def test_a_cage_for_subdivision_says_so(tmp_path):
    def build(stage):
        mesh = UsdGeom.Mesh.Define(stage, "/root/cage")
        mesh.GetPointsAttr().Set(Vt.Vec3fArray([Gf.Vec3f(0), Gf.Vec3f(1, 0, 0), Gf.Vec3f(0, 1, 0)]))
        mesh.GetFaceVertexCountsAttr().Set([3])
        mesh.GetFaceVertexIndicesAttr().Set([0, 1, 2])
        mesh.CreateSubdivisionSchemeAttr(UsdGeom.Tokens.catmullClark)

    _, report = made(tmp_path, build)
    assert report.notes == [
        "/root/cage: a cage for subdivision, brought in as the cage that it is."
    ]
