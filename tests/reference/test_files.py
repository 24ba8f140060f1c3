"""Files read and written, against trimesh, meshio and the Khronos validator."""

import io
import json
import subprocess
from itertools import pairwise
from pathlib import Path

import meshio
import numpy as np
import pytest
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from plyfile import PlyData

from tests.conftest import MODULES, ROOT, obj_text, study
from tests.reference.test_deformers import form
from zygomorph.core.document.study import parse_study
from zygomorph.core.errors import Cancelled, MeshFileError, ZygomorphError
from zygomorph.core.evaluation.evaluate import Evaluator, Request
from zygomorph.core.formats.deliver import deliver_sequence
from zygomorph.core.formats.deliver_glb import deliver_glb
from zygomorph.core.formats.morph_targets import by_basis, by_frames, kept_frames
from zygomorph.core.formats.read import READERS
from zygomorph.core.formats.read import read_here as read_mesh
from zygomorph.core.formats.read_glb import read_glb
from zygomorph.core.formats.read_usd import USD_ENDINGS
from zygomorph.core.formats.write import WRITERS, write_npz, write_obj, write_ply, write_stl
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.values.entries import definitions

VALIDATE = """
const validator = require("gltf-validator");
const fs = require("fs");
validator
  .validateBytes(new Uint8Array(fs.readFileSync(process.argv[1])))
  .then((report) => console.log(JSON.stringify(report.issues)));
"""


def validated(data: bytes, folder: Path) -> dict:
    """Issues that the Khronos glTF validator (npm gltf-validator) finds."""
    path = folder / "file.glb"
    path.write_bytes(data)
    run = subprocess.run(
        ["node", "-e", VALIDATE, str(path)],
        cwd=MODULES.parent,
        capture_output=True,
        text=True,
        check=True,
    )
    return json.loads(run.stdout)


# Of each way in which a file is built: one mesh, curves, copies, changing counts, glass, points.
EVERY_TIME = {"01", "05", "10", "18", "19"}


@pytest.mark.parametrize(
    "example",
    [
        pytest.param(
            path,
            id=path.stem,
            marks=[] if path.stem[:2] in EVERY_TIME else pytest.mark.thorough,
        )
        for path in sorted((ROOT / "examples").glob("*.json"))
    ],
)
def test_the_khronos_validator_finds_nothing_in_the_demo_deliveries(example, tmp_path):
    document = json.loads(example.read_text())
    # An eighth of the frames and fewer points: the same structure, sooner.
    document["loop"]["frames"] //= 8
    fewer = {"halvings": 3, "columns": 30, "rows": 16, "around": 60, "strands": 60, "count": 40}
    for piece in document["pieces"]:
        values = piece["recipe"][0]["values"]
        values.update({name: less for name, less in fewer.items() if name in values})
        for step in piece["recipe"]:
            if step["step"] == "fracture":
                step["values"]["count"] = 12
    study, evaluator = parse_study(json.dumps(document)), Evaluator()
    made = deliver_glb(study, evaluator)
    issues = validated(made.data, tmp_path)
    assert issues["numErrors"] == 0, issues["messages"][:3]
    assert issues["numWarnings"] == 0, issues["messages"][:3]
    # With an eighth of the frames all goes eight times as fast, so that more lies between frames
    # than the 1e-3 of whole loops.
    assert all(d["error_relative"] <= 3e-3 for d in made.details)


def moving_study(**push):
    signal = {"signal": "cycle", "shape": "sine", "high": 0.3}
    return study(
        {"step": "icosphere", "values": {"halvings": 3}},
        {"step": "displace", "values": {"amount": signal, **push}},
        place={"turn": [0, {"signal": "cycle", "shape": "saw", "high": 360}, 0]},
    )


class Played:
    """The first piece of a GLB at any time, rebuilt from the file alone by the rules of glTF 2.0."""

    def __init__(self, data: bytes) -> None:
        import pygltflib

        from zygomorph.core.formats.read_glb import accessor_array

        document = pygltflib.GLTF2.load_from_bytes(data)
        blob = document.binary_blob()
        primitive = document.meshes[0].primitives[0]
        self.body = next(n for n in document.nodes if n.mesh is not None)
        self.base = accessor_array(document, blob, primitive.attributes.POSITION)
        self.targets = [accessor_array(document, blob, t["POSITION"]) for t in primitive.targets]
        animation = document.animations[0]
        channel = next(c for c in animation.channels if c.target.path == "weights")
        sampler = animation.samplers[channel.sampler]
        self.interpolation = sampler.interpolation
        self.times = accessor_array(document, blob, sampler.input).ravel()
        rows = accessor_array(document, blob, sampler.output)
        self.weights = rows.reshape(len(self.times), -1)

    def points(self, frame: float) -> np.ndarray:
        """At a frame, of which there are 24 a second."""
        time = frame / 24
        if self.interpolation == "STEP":
            now = self.weights[np.searchsorted(self.times, time + 1e-7) - 1]
        else:
            now = np.array([np.interp(time, self.times, w) for w in self.weights.T])
        local = self.base + sum(w * t for w, t in zip(now, self.targets, strict=True))
        return local * (self.body.scale or 1) + (self.body.translation or 0)


@pytest.mark.parametrize("numbers", ["plain", "compact"])
def test_a_delivered_glb_plays_the_points_within_its_tolerance(numbers, tmp_path):
    made = moving_study(travel={"signal": "cycle", "shape": "saw"})
    delivered = deliver_glb(made, Evaluator(), numbers=numbers)
    played = Played(delivered.data)
    assert played.times[-1] == pytest.approx(1.0)  # 24 frames, and the key of frame F
    assert np.allclose(played.weights[0], played.weights[-1], atol=1e-6)
    told = delivered.details[0]["error_m"]
    worst = 0.0
    # Between whole frames as well.
    for frame in np.arange(0, 24.01, 0.25):
        truth = Evaluator().evaluate(made, Request("p", frame)).mesh.points
        worst = max(worst, np.linalg.norm(played.points(frame) - truth, axis=1).max())
    assert worst <= told * 1.001 + 1e-6
    assert told <= 1e-3 * 2.2 * np.sqrt(3)


def test_plain_numbers_need_no_extension_and_compact_ones_name_theirs(tmp_path):
    import pygltflib

    made = moving_study()
    sizes = {}
    for numbers, needs in (("plain", []), ("compact", ["KHR_mesh_quantization"])):
        data = deliver_glb(made, Evaluator(), numbers=numbers).data
        document = pygltflib.GLTF2.load_from_bytes(data)
        assert (document.extensionsRequired or []) == needs
        issues = validated(data, tmp_path)
        assert (issues["numErrors"], issues["numWarnings"]) == (0, 0), issues["messages"][:3]
        sizes[numbers] = len(data)
    assert sizes["compact"] < 0.7 * sizes["plain"]
    assert pygltflib.GLTF2.load_from_bytes(deliver_glb(made, Evaluator()).data).extensionsUsed == []


FLICKER = {
    "signal": "keys",
    "keys": [
        {"frame": 0, "value": 0, "ease": "held"},
        {"frame": 7, "value": 0.3, "ease": "held"},
        {"frame": 15, "value": 0, "ease": "held"},
    ],
}


def test_what_is_held_stays_until_it_jumps():
    # glTF 2.0, animation samplers: STEP keeps a value until the next key.
    made = study(
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "displace", "values": {"amount": FLICKER}},
        frames=24,
    )
    delivered = deliver_glb(made, Evaluator())
    played = Played(delivered.data)
    assert played.interpolation == "STEP"
    assert delivered.details[0]["error_m"] < 1e-6
    for frame in (0, 3.5, 6.97, 7, 11.3, 14.9, 15, 20, 24):
        truth = Evaluator().evaluate(made, Request("p", frame)).mesh.points
        assert np.allclose(played.points(frame), truth, atol=1e-6), frame


def test_a_jump_amid_motion_is_made_within_a_hundredth_of_a_frame():
    made = study(
        {"step": "icosphere", "values": {"halvings": 2}},
        {"step": "displace", "values": {"amount": FLICKER}},
        {"step": "twist", "values": {"angle": {"signal": "cycle", "shape": "sine", "high": 40}}},
        frames=24,
    )
    delivered = deliver_glb(made, Evaluator())
    played = Played(delivered.data)
    size = 2.6
    assert delivered.details[0]["error_relative"] <= 1e-3
    for frame in (0, 3.5, 6.5, 6.9, 6.98, 7, 7.25, 14.9, 15.1, 24):
        truth = Evaluator().evaluate(made, Request("p", frame)).mesh.points
        away = np.linalg.norm(played.points(frame) - truth, axis=1).max()
        assert away <= 1e-3 * size * np.sqrt(3), frame


def test_a_place_that_is_held_jumps_as_well():
    import pygltflib

    made = study(
        {"step": "icosphere", "values": {"halvings": 1}}, place={"move": [FLICKER, 0, 0]}, frames=24
    )
    document = pygltflib.GLTF2.load_from_bytes(deliver_glb(made, Evaluator()).data)
    (sampler,) = document.animations[0].samplers
    assert sampler.interpolation == "STEP"


def test_a_delivered_glb_is_read_by_trimesh():
    data = deliver_glb(moving_study(), Evaluator()).data
    scene = trimesh.load(io.BytesIO(data), file_type="glb")
    assert sum(len(g.faces) for g in scene.geometry.values()) == 20 * 4**3
    soup = read_glb(data)
    truth = Evaluator().evaluate(moving_study(), Request("p", 0)).mesh.points
    assert np.allclose(np.sort(soup.points, axis=0), np.sort(truth, axis=0), atol=1e-4)


@pytest.mark.parametrize("key", ["circle", "strands", "cloth"])
def test_curves_and_points_are_delivered_as_what_they_are(key, tmp_path):
    small_ = {"count": 9, "strands": 5, "columns": 8, "rows": 6}
    values = {k: v for k, v in small_.items() if k in definitions("form")[key].values}
    wave = {"signal": "cycle", "low": 0, "high": 1, "shape": "saw"}
    moved = {"step": "wave", "values": {"phase": wave}}
    made = study({"step": key, "values": values}, moved, frames=12)
    issues = validated(deliver_glb(made, Evaluator()).data, tmp_path)
    assert (issues["numErrors"], issues["numWarnings"]) == (0, 0)
    mesh = Evaluator().evaluate(made, Request("p")).mesh
    segments = mesh.topology.curve_segments
    # PLY read back by plyfile.
    ply = PlyData.read(io.BytesIO(write_ply(mesh)))
    assert len(ply["vertex"]) == len(mesh.points)
    if len(segments):
        read = np.stack([ply["edge"]["vertex1"], ply["edge"]["vertex2"]], axis=1)
        assert np.array_equal(read, segments)
    # OBJ: the segments that its lines name.
    lines = [row.split()[1:] for row in write_obj(mesh).decode().splitlines() if row[:2] == "l "]
    runs = [[int(word) - 1 for word in row] for row in lines]
    pairs = [pair for run in runs for pair in pairwise(run)]
    assert sorted(pairs) == sorted(map(tuple, segments.tolist()))
    with pytest.raises(ZygomorphError, match="faces only"):
        write_stl(mesh)


def test_a_delivery_can_be_cancelled():
    with pytest.raises(Cancelled):
        deliver_glb(moving_study(), Evaluator(), cancelled=lambda: True)


def test_linear_motion_needs_only_its_ends():
    t = np.linspace(0, 1, 30)[:, None, None]
    frames = (t * np.random.default_rng(0).normal(size=(1, 50, 3))).astype(np.float32)
    assert kept_frames(frames, np.arange(30.0), 1e-4) == [0, 29]
    shapes = by_basis(frames, np.arange(30.0), 1e-4, 20)
    assert len(shapes.offsets) == 1
    assert shapes.error <= 1e-4


@given(st.integers(0, 20), st.floats(1e-3, 0.2))
def test_both_ways_stay_within_the_tolerance(seed, tolerance):
    random = np.random.default_rng(seed)
    t = np.linspace(0, 2 * np.pi, 25)
    modes = random.normal(size=(3, 40, 3)) * 0.2
    frames = sum(np.sin(k * t)[:, None, None] * m for k, m in enumerate(modes, 1)).astype("f4")
    # Unevenly spaced, as where moments just before a jump are among them.
    times = np.cumsum(random.uniform(0.01, 1, 25))
    for shapes in (by_frames(frames, times, tolerance), by_basis(frames, times, tolerance, 25)):
        assert shapes.error <= tolerance * 1.001
        for frame in range(25):
            w = np.array([np.interp(times[frame], shapes.times, c) for c in shapes.weights.T])
            rebuilt = frames[0] + np.tensordot(w, shapes.offsets, axes=1)
            assert np.linalg.norm(rebuilt - frames[frame], axis=1).max() <= tolerance * 1.01 + 1e-5


@pytest.mark.parametrize("kind", ["obj", "ply", "stl"])
def test_written_files_are_read_by_trimesh_and_meshio(kind, tmp_path):
    # Without UVs, since meshio reads them only where there are as many as points.
    sheet = form("sheet", columns=5, rows=3)
    mesh = Mesh(sheet.points, sheet.topology)
    path = tmp_path / f"mesh.{kind}"
    path.write_bytes(WRITERS[kind](mesh))
    by_trimesh = trimesh.load(path, process=False)
    assert by_trimesh.area == pytest.approx(4.0, rel=1e-5)
    by_meshio = meshio.read(path)
    assert np.ptp(by_meshio.points, axis=0) == pytest.approx([2, 0, 2])
    kinds = {c.type for c in by_meshio.cells}
    assert kinds == ({"triangle"} if kind == "stl" else {"quad"})


@pytest.mark.parametrize("kind", ["obj", "ply", "stl"])
def test_a_mesh_survives_writing_and_reading(kind):
    mesh = form("torus", around=12, section=7)
    _, report = read_mesh(WRITERS[kind](mesh), f"x.{kind}")
    assert report.points == len(mesh.points)
    assert report.open_edges == 0
    assert report.faces == (2 if kind == "stl" else 1) * mesh.topology.face_count


def test_reading_keeps_polygons_and_uvs_at_corners():
    mesh = form("sheet", columns=3, rows=2)
    again, _ = read_mesh(write_obj(mesh), "x.obj")
    assert np.array_equal(np.diff(again.topology.face_starts), [4] * 6)
    assert np.allclose(again.get("corner", "uv"), mesh.get("corner", "uv"), atol=1e-6)


def test_points_doubled_at_a_uv_seam_are_joined_and_their_uvs_kept():
    # Two triangles that share an edge but no points, as files with UV seams have them.
    text = "v 0 0 0\nv 1 0 0\nv 0 1 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n"
    text += "".join(f"vt {k / 10} 0\n" for k in range(6)) + "f 1/1 2/2 3/3\nf 4/4 5/5 6/6\n"
    mesh, report = read_mesh(text.encode(), "seam.obj")
    assert report.joined_points == 2
    assert len(mesh.points) == 4
    assert mesh.get("corner", "uv")[:, 0].tolist() == pytest.approx([0, 0.1, 0.2, 0.3, 0.4, 0.5])


def test_an_npz_holds_the_arrays_by_name():
    mesh = form("sheet", columns=2, rows=2)
    held = np.load(io.BytesIO(write_npz(mesh)))
    assert {"points", "corners", "face_starts", "rest", "uv"} <= set(held)
    assert np.array_equal(held["points"], mesh.points)


def test_open_meshes_of_the_registry_are_read(bunny, teapot):
    # Facts of the packages: the bunny is closed, the teapot is not.
    for (points, faces), closed in ((bunny, True), (teapot, False)):
        mesh, report = read_mesh(obj_text(points, faces).encode(), "open.obj")
        assert report.faces == len(faces) - report.dropped_faces
        assert (report.open_edges == 0) is closed
        assert len(mesh.points) <= len(points)


def box_obj(change: str = "", to: str = "") -> bytes:
    text = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n"
    return text.replace(change, to).encode() if change else text.encode()


@pytest.mark.parametrize(
    ("data", "name", "message"),
    [
        (b"", "a.obj", "empty"),
        (b"hello", "a.txt", r"\.txt are not read"),
        (b"hello", "noending", "nothing are not read"),
        (box_obj("1 1 0", "1 nan 0"), "a.obj", "Line 3.*finite"),
        (box_obj("1 1 0", "1 inf 0"), "a.obj", "Line 3.*finite"),
        (box_obj("1 1 0", "1 x 0"), "a.obj", "Line 3"),
        (box_obj("1 1 0", "1"), "a.obj", "Line 3"),
        (box_obj("f 1 2 3 4", "f 1 2 9"), "a.obj", "Face 1 names point 9.*4 points|point"),
        (box_obj("f 1 2 3 4", "f 1 2 x"), "a.obj", "Line 5"),
        (box_obj("f 1 2 3 4", "f -1 -2 -9"), "a.obj", "Line 5"),
        (box_obj("1 1 0", "1e30 1 0"), "a.obj", "1e9|as large"),
        (b"\x00\x01\x02" * 50, "a.obj", "no points|cannot be read"),
        (b"ply\nformat ascii 1.0\nelement vertex 3\n", "a.ply", "PLY file cannot be read"),
        (b"not a ply", "a.ply", "PLY file cannot be read"),
        (write_ply(form("sheet", columns=2, rows=2))[:-20], "a.ply", "PLY file cannot be read"),
        (write_stl(form("sheet", columns=2, rows=2))[:-20], "a.stl", "announces 8 triangles"),
        (b"tiny", "a.stl", "header alone needs 84"),
        (b"solid x\nfacet normal 0 0\n", "a.stl", "STL file cannot be read"),
        (b"glTF", "a.glb", "not a binary glTF"),
        (b"glTF" + bytes(60), "a.glb", "damaged|no triangles"),
    ],
)  # fmt: skip
def test_wrong_files_say_where_and_what_helps(data, name, message):
    with pytest.raises(MeshFileError, match=message) as caught:
        read_mesh(data, name)
    assert caught.value.hint


@given(
    st.sampled_from(sorted(set(READERS) - set(USD_ENDINGS))),
    st.integers(0, 10_000),
    st.binary(min_size=1, max_size=12),
)
def test_damage_anywhere_is_a_mesh_or_a_clear_error(kind, at, junk):
    mesh = form("icosphere", halvings=1)
    good = (
        deliver_glb(study({"step": "icosphere", "values": {"halvings": 1}}), Evaluator()).data
        if kind == "glb"
        else WRITERS[kind](mesh)
    )
    at %= len(good)
    damaged = good[:at] + junk + good[at + len(junk) :]
    try:
        found, _ = read_mesh(damaged, f"x.{kind}")
    except MeshFileError as error:
        assert error.message
    else:
        assert np.isfinite(found.points).all()
        assert found.topology.corners.max() < len(found.points)


def test_a_sequence_has_one_file_a_frame_where_the_piece_stands():
    made = study({"step": "icosphere", "values": {"halvings": 1}}, place={"move": [3, 0, 0]})
    files = dict(deliver_sequence(made, Evaluator(), "ply", range(2, 5)))
    assert sorted(files) == ["p.0002.ply", "p.0003.ply", "p.0004.ply"]
    mesh, _ = read_mesh(files["p.0003.ply"], "x.ply")
    assert mesh.points[:, 0].mean() == pytest.approx(3, abs=1e-3)


@pytest.mark.parametrize("first", ["", "# a comment\n", "\n", "  "])
@pytest.mark.parametrize(
    "line",
    ["v 1 2", "v 1 2 x", "v 1 2 nan", " v 1 2 inf", "\tv 1 2 x", "v 1 2 1e999", "f 1 2 0", "l 1 x"],
)
def test_a_wrong_line_of_an_obj_is_found_wherever_it_stands(line, first):
    good = "v 0 0 0\nv 1 0 0\nv 0 1 0\n"
    for text in (f"{first}{good}{line}\nf 1 2 3\n", f"{line}\n{good}f 1 2 3\n"):
        with pytest.raises(MeshFileError, match=r"Line \d+"):
            read_mesh(text.encode(), "wrong.obj")
