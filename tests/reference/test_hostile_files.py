"""Files that were made to hold up or fill the program that reads them: each is a clear error, soon."""

import io
import json
import struct
import time
import zipfile

import numpy as np
import pytest
import soundfile
from PIL import Image
from pxr import Sdf, Usd, UsdGeom

from zygomorph.core.animation.sound.errors import SoundFileError
from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.read_in_process import read_image, read_mesh, read_sound

# A reader that is held up is ended after twenty seconds; none of these needs to be.
SOON = 12.0


def glb(document, binary=b""):
    text = json.dumps({"asset": {"version": "2.0"}, **document}).encode()
    text += b" " * (-len(text) % 4)
    binary += b"\0" * (-len(binary) % 4)
    chunks = struct.pack("<II", len(text), 0x4E4F534A) + text
    if binary:
        chunks += struct.pack("<II", len(binary), 0x004E4942) + binary
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


POINTS = np.float32([[0, 0, 0], [1, 0, 0], [0, 1, 0]]).tobytes()


TRIANGLE = np.uint32([0, 1, 2])


def mesh_glb(indices=TRIANGLE, mode=4, nodes=None, roots=None):
    binary = POINTS + indices.tobytes()
    return glb(
        {
            "scenes": [{"nodes": roots or [0]}],
            "scene": 0,
            "nodes": nodes or [{"mesh": 0}],
            "meshes": [
                {"primitives": [{"attributes": {"POSITION": 0}, "indices": 1, "mode": mode}]}
            ],
            "buffers": [{"byteLength": len(binary)}],
            "bufferViews": [
                {"buffer": 0, "byteLength": 36},
                {"buffer": 0, "byteOffset": 36, "byteLength": len(binary) - 36},
            ],
            "accessors": [
                {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"},
                {"bufferView": 1, "componentType": 5125, "count": len(indices), "type": "SCALAR"},
            ],
        },
        binary,
    )


def doubling_nodes():
    """Each names the next one twice: 2⁶⁰ ways through them."""
    nodes = [{"children": [k + 1, k + 1]} for k in range(59)]
    return mesh_glb(nodes=[*nodes, {"mesh": 0}])


def ply(header, body=b""):
    return f"ply\nformat binary_little_endian 1.0\n{header}end_header\n".encode() + body


XYZ = "property float x\nproperty float y\nproperty float z\n"
SVG = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink">{}</svg>'


def doubling_uses():
    groups = "".join(
        f'<g id="g{k}"><use xlink:href="#g{k - 1}"/><use xlink:href="#g{k - 1}"/></g>'
        for k in range(1, 40)
    )
    return SVG.format(
        f'<defs><g id="g0"><path d="M0 0L1 1"/></g>{groups}</defs><use xlink:href="#g39"/>'
    )


MESHES = {
    "nodes-that-double.glb": doubling_nodes(),
    "a-node-in-itself.glb": mesh_glb(nodes=[{"children": [0], "mesh": 0}]),
    "a-line-to-a-far-point.glb": mesh_glb(np.uint32([0, 400_000_000]), mode=1),
    "a-face-of-a-far-point.glb": mesh_glb(np.uint32([0, 1, 400_000_000])),
    "a-count-beyond-the-file.glb": mesh_glb().replace(
        b'"count": 3, "type": "VEC3"', b'"count": 9e8,"type": "VEC3"'
    ),
    "nested-json.glb": glb({"extras": json.loads("[" * 400 + "]" * 400)}),
    "many-points.ply": ply(f"element vertex 900000000\n{XYZ}", POINTS),
    "no-properties.ply": ply("element vertex 4000000000\n", b"\0"),
    "many-faces.ply": ply(
        f"element vertex 3\n{XYZ}element face 2147483647\nproperty list uchar int vertex_indices\n",
        POINTS,
    ),
    "indices-that-are-no-list.ply": ply(
        f"element vertex 3\n{XYZ}element face 1\nproperty int vertex_indices\n", POINTS + b"\0" * 4
    ),
    "coordinates-in-lists.ply": ply(
        "element vertex 1\nproperty list uchar float x\nproperty float y\nproperty float z\n",
        b"\1" + b"\0" * 12,
    ),
    "a-far-index.ply": ply(
        f"element vertex 3\n{XYZ}element face 1\nproperty list uchar uint vertex_indices\n",
        POINTS + b"\3" + np.uint32([0, 1, 2**31 + 5]).tobytes(),
    ),
    "style.svg": SVG.format("<style>" + "a{" * 50_000 + "</style><path d='M0 0L1 1'/>").encode(),
    "uses-that-double.svg": doubling_uses().encode(),
    "a-use-of-itself.svg": SVG.format('<g id="a"><use xlink:href="#a"/></g>').encode(),
    "nested-groups.svg": SVG.format("<g>" * 5000 + '<path d="M0 0L1 1"/>' + "</g>" * 5000).encode(),
    "a-far-coordinate.svg": SVG.format('<path d="M0 0L1e150 1"/>').encode(),
}


@pytest.mark.parametrize("name", MESHES)
def test_a_hostile_mesh_is_a_clear_error_soon(name):
    started = time.monotonic()
    with pytest.raises(MeshFileError) as caught:
        read_mesh(MESHES[name], name)
    assert time.monotonic() - started < SOON
    assert caught.value.hint
    assert "Traceback" not in caught.value.message


@pytest.mark.parametrize("roots", [[0] * 3000])
def test_what_is_named_many_times_is_read_once(roots):
    # A root that a scene names again is the same root (glTF 2.0, 3.5.1: names are unique).
    mesh, _ = read_mesh(mesh_glb(roots=roots), "a.glb")
    assert len(mesh.points) == 3


def test_a_segment_that_is_repeated_is_read_soon():
    started = time.monotonic()
    mesh, _ = read_mesh(mesh_glb(np.tile(np.uint32([0, 1]), 100_000), mode=1), "a.glb")
    assert time.monotonic() - started < SOON
    assert mesh.topology.curve_count >= 1


def wav(rate=44_100, code=1, bits=16, data=b"\0" * 64):
    head = struct.pack("<HHIIHH", code, 1, rate, (rate * bits // 8) % 2**32, bits // 8, bits)
    body = (
        b"WAVEfmt " + struct.pack("<I", 16) + head + b"data" + struct.pack("<I", len(data)) + data
    )
    return b"RIFF" + struct.pack("<I", len(body)) + body


def silent_flac():
    buffer = io.BytesIO()
    # Fifteen minutes of nothing are a few hundred kilobytes.
    soundfile.write(buffer, np.zeros((22_050 * 890, 8), np.int16), 22_050, format="FLAC")
    return buffer.getvalue()


SOUNDS = {
    "gsm": wav(code=0x31, bits=0),
    "a rate that is none": wav(rate=2**31 - 1),
    "samples beyond all": wav(code=3, bits=32, data=np.full(32, 1e38, np.float32).tobytes()),
}


@pytest.mark.parametrize("name", SOUNDS)
def test_a_hostile_sound_is_a_clear_error(name):
    with pytest.raises(SoundFileError) as caught:
        read_sound(SOUNDS[name])
    assert caught.value.hint


def test_a_long_silence_of_eight_channels_takes_little_memory():
    # 630 MB as numbers of all channels; read piece by piece it is one channel, or it is refused.
    track = read_sound(silent_flac())
    assert track.seconds == pytest.approx(890, abs=1)


def test_pictures_are_read_without_a_gigabyte():
    buffer = io.BytesIO()
    Image.new("RGBA", (8180, 8180)).save(buffer, "WEBP", lossless=True)
    # Its limit of pixels allows it; the memory of its process does, or it is refused with words.
    try:
        assert read_image(buffer.getvalue()).pixels.shape == (8180, 8180)
    except MeshFileError as error:
        assert error.hint


def package(tmp_path, layers):
    path = tmp_path / "given.usdz"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_STORED) as made:
        for name, text in layers.items():
            made.writestr(name, text)
    return path.read_bytes()


def secret(tmp_path):
    """A file of this machine that a stage from elsewhere must not show."""
    stage = Usd.Stage.CreateNew(str(tmp_path / "secret.usda"))
    mesh = UsdGeom.Mesh.Define(stage, "/a")
    mesh.CreatePointsAttr([(7, 0, 0), (8, 0, 0), (7, 1, 0)])
    mesh.CreateFaceVertexCountsAttr([3])
    mesh.CreateFaceVertexIndicesAttr([0, 1, 2])
    stage.SetDefaultPrim(mesh.GetPrim())
    stage.GetRootLayer().Save()
    return tmp_path / "secret.usda"


ARCS = [
    'def "a" (references = @{}@) {{}}',
    'def "a" (references = @{}:SDF_FORMAT_ARGS:target=x@) {{}}',
    'def "a" (payload = @{}@) {{}}',
    "(subLayers = [@{}@])",
    'def "a" (\nvariants = {{\nstring v = "on"\n}}\nprepend variantSets = "v"\n) {{\nvariantSet "v" = {{\n"on" (\nreferences = @{}@\n) {{\n}}\n}}\n}}',
    'def Mesh "a" (\nclips = {{\ndictionary default = {{\nasset[] assetPaths = [@{}@]\nstring primPath = "/a"\n}}\n}}\n) {{\n}}',
]


def layer_with(arc, path):
    head, rest = ("", arc) if not arc.startswith("(") else (arc, "")
    return f"#usda 1.0\n{head.format(path)}\n{rest.format(path) if rest else ''}\n"


@pytest.mark.thorough
@pytest.mark.parametrize("arc", ARCS)
def test_a_stage_reads_nothing_outside_itself(arc, tmp_path):
    hidden = secret(tmp_path)
    text = layer_with(arc, hidden)
    assert Sdf.Layer.CreateAnonymous(".usda").ImportFromString(text)
    with pytest.raises(MeshFileError, match="needs"):
        read_mesh(text.encode(), "a.usda")


INNER = '#usda 1.0\n(\ndefaultPrim = "a"\n)\ndef Mesh "a" {\npoint3f[] points = [(0,0,0),(1,0,0),(0,1,0)]\nint[] faceVertexCounts = [3]\nint[] faceVertexIndices = [0,1,2]\n}\n'


@pytest.mark.thorough
@pytest.mark.parametrize("arc", ARCS[:5])
@pytest.mark.parametrize(
    "where", ["{}", "given.usdz[inner.usda]", "../../secret.usda", "other/secret.usda"]
)
def test_a_package_reads_nothing_outside_itself(arc, where, tmp_path):
    hidden = secret(tmp_path)
    # A layer inside has the same name as the file outside, and the arc stands in a layer inside.
    layers = {
        "root.usda": layer_with(ARCS[0], "./sub/inner.usda"),
        "sub/inner.usda": layer_with(arc, where.format(hidden)),
        "secret.usda": INNER,
    }
    with pytest.raises(MeshFileError, match="needs"):
        read_mesh(package(tmp_path, layers), "a.usdz")


def test_a_package_may_read_what_it_holds(tmp_path):
    layers = {"root.usda": layer_with(ARCS[0], "./sub/inner.usda"), "sub/inner.usda": INNER}
    mesh, _ = read_mesh(package(tmp_path, layers), "a.usdz")
    assert len(mesh.points) == 3
