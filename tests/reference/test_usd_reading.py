"""USD files that are read, held against what OpenUSD itself makes of them.

Sources: the USD glossary and the UsdGeom schemas of OpenUSD (usd-core), which writes every file here.
"""

import sys
import zipfile

import numpy as np
import pytest
import scipy
from pxr import Gf, Sdf, Usd, UsdGeom, UsdUtils

from tests.conftest import document, volume
from zygomorph.core.document.study import check_document
from zygomorph.core.errors import MeshFileError
from zygomorph.core.evaluation.evaluate import Evaluator
from zygomorph.core.formats import read_in_process as apart
from zygomorph.core.formats.deliver_usd import deliver_usd
from zygomorph.core.formats.read_in_process import read_mesh


def written(tmp_path, build, name="given.usda") -> bytes:
    path = tmp_path / name
    stage = Usd.Stage.CreateNew(str(path))
    # Where it says nothing, a unit is a centimetre.
    UsdGeom.SetStageMetersPerUnit(stage, 1.0)
    build(stage)
    stage.GetRootLayer().Save()
    return path.read_bytes()


def tetrahedron(stage, path="/a", **attributes):
    mesh = UsdGeom.Mesh.Define(stage, path)
    mesh.CreatePointsAttr([(0, 0, 0), (1, 0, 0), (0, 1, 0), (0, 0, 1)])
    mesh.CreateFaceVertexCountsAttr([3, 3, 3, 3])
    mesh.CreateFaceVertexIndicesAttr([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 3])
    for name, value in attributes.items():
        mesh.GetPrim().GetAttribute(name).Set(value)
    return mesh


@pytest.mark.parametrize("ending", ["usd", "usda", "usdc"])
def test_units_up_axis_and_places_are_read(ending, tmp_path):
    def build(stage):
        UsdGeom.SetStageUpAxis(stage, UsdGeom.Tokens.z)
        UsdGeom.SetStageMetersPerUnit(stage, 0.01)
        UsdGeom.Xform.Define(stage, "/t").AddTranslateOp().Set(Gf.Vec3d(0, 0, 100))
        tetrahedron(stage, "/t/a")

    mesh, _ = read_mesh(written(tmp_path, build, f"given.{ending}"), f"a.{ending}")
    assert volume(mesh) == pytest.approx(1e-6 / 6, rel=1e-4)
    # Its own z, 100 units away, is up and a metre.
    assert mesh.points[:, 1].min() == pytest.approx(1.0)
    assert np.ptp(mesh.points, axis=0) == pytest.approx([0.01] * 3, rel=1e-3)


def test_left_handed_and_mirrored_meshes_look_outward(tmp_path):
    def build(stage):
        left = tetrahedron(stage, "/left", orientation="leftHanded")
        left.GetFaceVertexIndicesAttr().Set([0, 1, 2, 0, 3, 1, 0, 2, 3, 1, 3, 2])
        mirrored = tetrahedron(stage, "/mirrored")
        mirrored.AddTranslateOp().Set(Gf.Vec3d(5, 0, 0))
        mirrored.AddScaleOp().Set(Gf.Vec3f(-1, 1, 1))

    mesh, report = read_mesh(written(tmp_path, build), "a.usda")
    assert report.open_edges == 0
    assert volume(mesh) == pytest.approx(2 / 6)
    assert sorted(set(mesh.get("face", "part").tolist())) == [0, 1]


@pytest.mark.parametrize("interpolation", ["vertex", "faceVarying"])
def test_uvs_are_read_at_points_and_at_corners(interpolation, tmp_path):
    def build(stage):
        mesh = tetrahedron(stage)
        primvar = UsdGeom.PrimvarsAPI(mesh).CreatePrimvar(
            "st", Sdf.ValueTypeNames.TexCoord2fArray, interpolation
        )
        count = 4 if interpolation == "vertex" else 12
        primvar.Set([(k / 16, 1 - k / 16) for k in range(count)])

    mesh, _ = read_mesh(written(tmp_path, build), "a.usda")
    uv = mesh.get("corner", "uv")
    expected = mesh.topology.corners if interpolation == "vertex" else np.arange(12)
    assert np.allclose(uv[:, 0], expected / 16)


def test_without_a_unit_a_stage_is_in_centimetres(tmp_path):
    """Source: UsdGeomGetStageMetersPerUnit, whose fallback is 0.01."""
    path = tmp_path / "plain.usda"
    path.write_text(
        '#usda 1.0\ndef Points "p" {\n  point3f[] points = [(0, 0, 0), (100, 0, 0)]\n}\n'
    )
    mesh, _ = read_mesh(path.read_bytes(), "a.usda")
    assert mesh.points[:, 0].max() == pytest.approx(1.0)


def test_what_is_hidden_or_a_guide_is_left_out(tmp_path):
    def build(stage):
        tetrahedron(stage, "/seen")
        tetrahedron(stage, "/hidden").MakeInvisible()
        tetrahedron(stage, "/guide").CreatePurposeAttr(UsdGeom.Tokens.guide)

    assert read_mesh(written(tmp_path, build), "a.usda")[1].faces == 4


def test_instances_are_read_where_they_stand(tmp_path):
    def build(stage):
        tetrahedron(stage, "/base/a")
        UsdGeom.Xform.Define(stage, "/base")
        for k in range(2):
            copy = UsdGeom.Xform.Define(stage, f"/copy{k}")
            copy.AddTranslateOp().Set(Gf.Vec3d(3 + 3 * k, 0, 0))
            copy.GetPrim().GetReferences().AddInternalReference("/base")
            copy.GetPrim().SetInstanceable(True)

    mesh, report = read_mesh(written(tmp_path, build), "a.usda")
    assert report.faces == 12
    assert mesh.points[:, 0].max() == pytest.approx(7)


def tipped(stage, path="/copies/shape"):
    """A tetrahedron below an instancer, which copies it to three places."""
    instancer = UsdGeom.PointInstancer.Define(stage, "/copies")
    instancer.AddTranslateOp().Set(Gf.Vec3d(0, 10, 0))
    shape = tetrahedron(stage, path)
    instancer.CreatePrototypesRel().AddTarget(shape.GetPrim().GetPath())
    instancer.CreateProtoIndicesAttr([0, 0, 0])
    instancer.CreatePositionsAttr([(0, 0, 0), (5, 0, 0), (0, 0, 7)])
    instancer.CreateScalesAttr([(1, 1, 1), (2, 2, 2), (1, 1, -1)])
    return instancer


def test_copies_of_an_instancer_are_read_where_the_library_puts_them(tmp_path):
    stage = Usd.Stage.CreateInMemory()
    instancer = tipped(stage)
    first = Usd.TimeCode.EarliestTime()
    bound = UsdGeom.BBoxCache(first, [UsdGeom.Tokens.default_]).ComputeWorldBound(
        instancer.GetPrim()
    )
    box = bound.ComputeAlignedRange()
    mesh, report = read_mesh(written(tmp_path, tipped), "a.usda")
    # Three tetrahedra, and not a fourth where the copied one itself stands.
    assert (report.faces, report.points) == (12, 12)
    assert mesh.points.min(axis=0).tolist() == pytest.approx(list(box.GetMin()))
    assert mesh.points.max(axis=0).tolist() == pytest.approx(list(box.GetMax()))
    # 1 + 2³ + 1 times the first one's volume, the mirrored one included: all look outward.
    single, _ = read_mesh(written(tmp_path, tetrahedron, "one.usda"), "a.usda")
    assert volume(mesh) == pytest.approx(10 * volume(single), rel=1e-5)


def test_copies_that_an_instancer_hides_are_left_out(tmp_path):
    def build(stage):
        instancer = tipped(stage)
        instancer.CreateIdsAttr([4, 5, 6])
        instancer.InvisId(5, Usd.TimeCode.Default())

    assert read_mesh(written(tmp_path, build), "a.usda")[1].faces == 8


def test_an_instancer_that_copies_what_is_not_there_says_so(tmp_path):
    def build(stage):
        tipped(stage).GetProtoIndicesAttr().Set([0, 3, 0])

    with pytest.raises(MeshFileError, match="/copies copies something that is not there"):
        read_mesh(written(tmp_path, build), "a.usda")


def curves(stage, points, counts, **said):
    made = UsdGeom.BasisCurves.Define(stage, "/line")
    made.CreatePointsAttr(points)
    made.CreateCurveVertexCountsAttr(counts)
    for name, value in said.items():
        getattr(made, f"Create{name}Attr")(value)
    return made


CONTROL = np.random.default_rng(8).normal(size=(9, 3)).round(3)


def read_curves(tmp_path, **said):
    def build(stage):
        curves(stage, [tuple(p) for p in CONTROL.tolist()], [len(CONTROL)], **said)

    mesh, report = read_mesh(written(tmp_path, build), "a.usda")
    assert (report.curves, report.faces) == (1, 0)
    return mesh.points[mesh.topology.curve_points].astype(float), mesh.topology.curve_closed[0]


def test_straight_curves_are_read_as_they_are(tmp_path):
    points, closed = read_curves(tmp_path, Type="linear")
    assert np.allclose(points, CONTROL, atol=1e-6)
    assert not closed
    points, closed = read_curves(tmp_path, Type="linear", Wrap="periodic")
    assert np.allclose(points, CONTROL, atol=1e-6)
    assert closed


def test_a_cubic_b_spline_is_followed_as_scipy_does(tmp_path):
    points, _ = read_curves(tmp_path, Type="cubic", Basis="bspline")
    spline = scipy.interpolate.BSpline(np.arange(len(CONTROL) + 4) - 3.0, CONTROL, 3)
    expected = spline(np.linspace(0, len(CONTROL) - 3, len(points)))
    assert np.allclose(points, expected, atol=1e-5)


def test_a_pinned_spline_begins_and_ends_at_its_ends(tmp_path):
    for basis in ("bspline", "catmullRom"):
        points, _ = read_curves(tmp_path, Type="cubic", Basis=basis, Wrap="pinned")
        assert np.allclose(points[[0, -1]], CONTROL[[0, -1]], atol=1e-5)


def test_a_catmull_rom_curve_goes_through_its_points_and_closes(tmp_path):
    points, closed = read_curves(tmp_path, Type="cubic", Basis="catmullRom", Wrap="periodic")
    assert closed
    apart = np.linalg.norm(points[:, None] - CONTROL[None], axis=2).min(axis=0)
    assert apart.max() < 1e-5


def test_four_bezier_arcs_are_nearly_a_circle(tmp_path):
    # Control points at 4/3 (√2 − 1): off by at most 2.8e-4 of the radius (textbook).
    k = 4 / 3 * (np.sqrt(2) - 1)
    quarter = np.array([[1, 0, 0], [1, k, 0], [k, 1, 0]])
    turn = np.array([[0, -1, 0], [1, 0, 0], [0, 0, 1]])
    ring = [quarter @ np.linalg.matrix_power(turn, n).T for n in range(4)]

    def build(stage):
        points = [tuple(p) for p in np.concatenate(ring).tolist()]
        curves(stage, points, [12], Type="cubic", Basis="bezier", Wrap="periodic")

    mesh, _ = read_mesh(written(tmp_path, build), "a.usda")
    assert mesh.topology.curve_closed.tolist() == [True]
    radius = np.linalg.norm(mesh.points.astype(float), axis=1)
    assert np.abs(radius - 1).max() < 3e-4


def test_curves_that_announce_more_points_than_they_have_say_so(tmp_path):
    def build(stage):
        curves(stage, [(0, 0, 0), (1, 0, 0)], [5], Type="linear")

    with pytest.raises(MeshFileError, match="announces 5 points of curves but has 2"):
        read_mesh(written(tmp_path, build), "a.usda")


def test_meshes_and_curves_are_read_together(tmp_path):
    def build(stage):
        tetrahedron(stage, "/solid")
        curves(stage, [(0, 0, 0), (0, 5, 0), (0, 5, 1)], [3], Type="linear")

    mesh, report = read_mesh(written(tmp_path, build), "a.usda")
    assert (report.faces, report.curves) == (4, 1)
    assert mesh.points[:, 1].max() == 5


def test_a_packed_file_is_read(tmp_path):
    written(tmp_path, tetrahedron, "inner.usdc")
    packed = tmp_path / "packed.usdz"
    assert UsdUtils.CreateNewUsdzPackage(str(tmp_path / "inner.usdc"), str(packed))
    assert zipfile.is_zipfile(packed)
    assert read_mesh(packed.read_bytes(), "a.usdz")[1].faces == 4


def test_loose_points_are_read(tmp_path):
    def build(stage):
        UsdGeom.Points.Define(stage, "/dust").CreatePointsAttr([(0, 0, 0), (1, 2, 3)])

    mesh, report = read_mesh(written(tmp_path, build), "a.usda")
    assert (report.points, report.faces) == (2, 0)
    assert mesh.points.tolist() == [[0, 0, 0], [1, 2, 3]]


def named_elsewhere(stage):
    stage.DefinePrim("/a").GetReferences().AddReference("/etc/elsewhere.usda")


def with_a_missing_point(stage):
    tetrahedron(stage).GetFaceVertexIndicesAttr().Set([0, 2, 1, 0, 1, 3, 0, 3, 2, 1, 2, 9])


def with_missing_corners(stage):
    tetrahedron(stage).GetFaceVertexCountsAttr().Set([3, 3, 3, 4])


@pytest.mark.parametrize(
    ("build", "message"),
    [
        (named_elsewhere, r"needs 1 other file \(/etc/elsewhere.usda\)"),
        (with_a_missing_point, "/a names a point that is not there"),
        (with_missing_corners, "/a announces 13 corners but has 12"),
        (lambda stage: UsdGeom.Xform.Define(stage, "/a"), "holds no mesh, no curves"),
    ],
)
def test_a_wrong_stage_says_what_is_wrong(build, message, tmp_path):
    with pytest.raises(MeshFileError, match=message) as caught:
        read_mesh(written(tmp_path, build), "a.usda")
    assert caught.value.hint


@pytest.mark.parametrize("ending", ["usd", "usda", "usdc", "usdz"])
def test_damage_is_told_without_the_place_of_a_file_that_is_gone(ending, tmp_path):
    whole = written(tmp_path, tetrahedron, "given.usdc" if ending == "usdc" else "given.usda")
    for data in (b"hello", whole[: len(whole) // 2]):
        with pytest.raises(MeshFileError) as caught:
            read_mesh(data, f"a.{ending}")
        assert "/tmp" not in str(caught.value)


def damaged(seed: int) -> bytes:
    """A delivered file with a few bytes that are others."""
    made = document({"step": "icosphere", "values": {"halvings": 1}})
    random = np.random.default_rng(seed)
    data = bytearray(deliver_usd(check_document(made), Evaluator()))
    at, count = random.integers(len(data)), random.integers(1, 12)
    data[at : at + count] = random.integers(0, 256, count, dtype=np.uint8).tobytes()
    return bytes(data)


@pytest.mark.thorough
@pytest.mark.parametrize("seed", range(8))
def test_damage_anywhere_is_a_mesh_or_a_clear_error(seed, monkeypatch):
    monkeypatch.setattr(apart, "SECONDS", 10.0)
    try:
        mesh, _ = read_mesh(damaged(seed), "a.usdc")
    except MeshFileError as error:
        assert error.hint
    else:
        assert np.isfinite(mesh.points).all()


def test_a_library_that_dies_or_hangs_on_a_file_does_not_take_the_program_along(monkeypatch):
    """OpenUSD ends the process on some damaged files, and never comes back from others."""
    own = sys.executable
    monkeypatch.setattr(apart.sys, "executable", "/bin/false")
    with pytest.raises(MeshFileError, match="broke off"):
        read_mesh(damaged(1), "a.usdc")
    monkeypatch.setattr(apart.sys, "executable", own)
    monkeypatch.setattr(apart, "SECONDS", 0.01)
    with pytest.raises(MeshFileError, match="could not be read within"):
        read_mesh(damaged(1), "a.usdc")
