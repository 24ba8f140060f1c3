"""Read mesh files: OBJ by tinyobjloader, PLY by plyfile, STL by trimesh, GLB by
pygltflib, USD by OpenUSD."""

from __future__ import annotations

import io
import re
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import numpy as np

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.chains import chains
from zygomorph.core.formats.read_glb import read_glb
from zygomorph.core.formats.read_usd import USD_ENDINGS, read_stage
from zygomorph.core.formats.soup import NORMAL, UV, Report, Soup, report_of, to_mesh
from zygomorph.core.formats.svg import read_svg
from zygomorph.core.geometry.mesh import Mesh

MAX_FILE_BYTES = 256_000_000


def read_obj(data: bytes) -> Soup:
    """Wavefront OBJ: polygons of any size, UVs and normals by corner, and lines as curves;
    materials are passed over."""
    import tinyobjloader

    _check_obj_lines(data)
    reader = tinyobjloader.ObjReader()
    config = tinyobjloader.ObjReaderConfig()
    config.triangulate = False
    text = data.decode("utf-8", errors="replace")
    # Materials live in other files, which are not looked for.
    if "mtl" in text:
        text = re.sub(r"^(mtllib|usemtl)\b.*$", "", text, flags=re.MULTILINE)
    if not reader.ParseFromString(text, "", config):
        raise MeshFileError(
            f"The OBJ file cannot be read: {reader.Error().strip() or 'its text is damaged'}",
            "Export the mesh again.",
        )
    attributes = reader.GetAttrib()
    points = np.array(attributes.vertices, np.float64).reshape(-1, 3)
    uvs = np.array(attributes.texcoords, np.float32).reshape(-1, 2)
    normals = np.array(attributes.normals, np.float32).reshape(-1, 3)
    indices, sizes = [], []
    for shape in reader.GetShapes():
        named = shape.mesh
        columns = (named.vertex_indices(), named.texcoord_indices(), named.normal_indices())
        indices.append(np.stack([np.array(column, np.int64) for column in columns], axis=1))
        # Its own array of them has one byte each, which a face of 256 corners does not fit into.
        sizes.append(np.array(shape.mesh.num_face_vertices, np.int64))
    table = np.concatenate(indices) if indices else np.zeros((0, 3), np.int64)
    if len(table) != sum(int(s.sum()) for s in sizes):
        raise MeshFileError(
            "The faces of the OBJ file do not have the corners they name.", "Export the mesh again."
        )
    starts = np.concatenate([[0], np.cumsum(np.concatenate(sizes))]) if sizes else np.zeros(1, int)
    at_corners: dict[str, np.ndarray] = {}
    for name, values, column in ((UV, uvs, 1), (NORMAL, normals, 2)):
        chosen = table[:, column]
        if len(values) and len(chosen) and chosen.min() >= 0 and chosen.max() < len(values):
            at_corners[name] = values[chosen]
    parts = np.repeat(np.arange(len(sizes)), [len(s) for s in sizes]) if sizes else None
    lines = [np.array([i.vertex_index for i in s.lines.indices]) for s in reader.GetShapes()]
    lengths = [np.array(s.lines.num_line_vertices) for s in reader.GetShapes()]
    return Soup(
        points,
        table[:, 0].astype(np.int64),
        starts.astype(np.int64),
        at_corners,
        parts,
        np.concatenate([np.zeros(0), *lines]).astype(np.int64),
        np.cumsum(np.concatenate([np.zeros(1), *lengths])).astype(np.int64),
    )


def _check_obj_lines(data: bytes) -> None:
    """Find what the parser would pass over silently: words for numbers, and missing points.

    Where all lines are as usual, a pattern over the whole text tells so; only else each line is
    looked at, to say which one is wrong.
    """
    if USUAL_LINES.fullmatch(data):
        return
    points = 0
    for number, line in enumerate(data.split(b"\n"), 1):
        word, _, rest = line.strip().partition(b" ")
        if word == b"v":
            points += 1
            parts = rest.split()
            try:
                values = [float(p) for p in parts[:3]]
            except ValueError:
                values = []
            if len(values) < 3 or not np.isfinite(values).all():
                raise MeshFileError(
                    f"Line {number:,}: a point needs three finite numbers, not "
                    f"{rest.decode(errors='replace').strip()[:40]!r}.",
                    "Repair the mesh where it was made and export it again.",
                )
        elif word == b"f":
            for part in rest.split():
                _check_obj_corner(part, points, number, "face")
        elif word == b"l":
            for part in rest.split():
                _check_obj_corner(part, points, number, "line")


# Possessive throughout: no part of a number would be given back to fit otherwise.
NUMBER = rb"[-+]?+(?:\d++\.?+\d*+|\.\d++)(?:[eE][-+]?+\d{1,2}+)?+"
USUAL_POINT = rb"v" + 3 * (rb" ++" + NUMBER) + rb"(?: [^\n]*+)?+\r?+"
# Points by their number from 1 on; the range is checked when all are known.
USUAL_CORNERS = rb"[fl](?: ++[1-9]\d{0,8}+(?:/\d{0,9}+(?:/\d{0,9}+)?+)?+)++ *+\r?+"
# Nothing is said of lines of another sort, but that they begin at their first column.
OTHER = rb"(?![vfl] |[ \t])[^\n]*+"
USUAL_LINES = re.compile(
    rb"(?:(?:" + USUAL_POINT + rb"|" + USUAL_CORNERS + rb"|" + OTHER + rb")(?:\n|\Z))*+"
)
CORNER = re.compile(rb"-?\d+(/(-?\d+)?(/(-?\d+)?)?)?")


def _check_obj_corner(part: bytes, points: int, line: int, sort: str) -> None:
    index = int(part.split(b"/")[0]) if CORNER.fullmatch(part) else 0
    # Faces may come before the points they name only by a positive number beyond those so far;
    # the range is checked once more when all points are known.
    if index == 0 or -index > points:
        raise MeshFileError(
            f"Line {line:,}: a {sort} names point {part.decode(errors='replace')[:20]!r}, "
            f"which is not there.",
            "The file is damaged; export the mesh again.",
        )


def read_ply(data: bytes) -> Soup:
    """Polygon file format, text or binary; UVs at points as s, t or u, v are kept, and edges make
    curves."""
    import plyfile

    _check_ply_counts(data)
    try:
        ply = _parsed_ply(data)
        vertex = ply["vertex"]
        points = np.stack([np.asarray(vertex[axis], np.float64) for axis in "xyz"], axis=1)
        faces: Sequence[np.ndarray] | np.ndarray = []
        if "face" in ply:
            face = ply["face"]
            names = [p.name for p in face.properties]
            name = next((n for n in ("vertex_indices", "vertex_index") if n in names), None)
            if name:
                faces = face[name] if face[name].ndim == 2 else list(face[name])
        edges = np.zeros((0, 2), np.int64)
        if "edge" in ply:
            edges = np.stack([ply["edge"][f"vertex{k}"] for k in (1, 2)], axis=1).astype(np.int64)
    except (plyfile.PlyParseError, KeyError, ValueError, UnicodeDecodeError, MemoryError) as error:
        raise MeshFileError(
            f"The PLY file cannot be read: {str(error).strip(chr(39)) or 'it is damaged'}.",
            "Export the mesh again.",
        ) from error
    if isinstance(faces, np.ndarray):
        sizes = np.full(len(faces), faces.shape[1])
        corners = faces.reshape(-1).astype(np.int64)
    else:
        sizes = np.array([len(f) for f in faces], np.int64)
        corners = np.concatenate(faces).astype(np.int64) if len(faces) else np.zeros(0, np.int64)
    starts = np.concatenate([[0], np.cumsum(sizes)])
    at_corners: dict[str, np.ndarray] = {}
    present = {p.name for p in vertex.properties}
    for u, v in (("s", "t"), ("u", "v"), ("texture_u", "texture_v")):
        inside = len(corners) and corners.min() >= 0 and corners.max() < len(points)
        if {u, v} <= present and inside:
            uv = np.stack([np.asarray(vertex[u]), np.asarray(vertex[v])], axis=1)
            at_corners[UV] = uv[corners].astype(np.float32)
            break
    inside = np.all((edges >= 0) & (edges < len(points)), axis=1)
    if not inside.all():
        raise MeshFileError(
            f"Edge {int(np.argmin(inside)) + 1:,} of the PLY file names a point that is not there.",
            "The file is damaged; export it again.",
        )
    return Soup(points, corners, starts, at_corners, None, *chains(edges))


def _parsed_ply(data: bytes) -> Any:
    """Faces of one length are read at once, which is many times as fast as face after face."""
    import plyfile

    if b"format ascii" in data[:200]:
        return plyfile.PlyData.read(io.BytesIO(data))
    head = data[: data.find(b"end_header")]
    lists = re.findall(rb"property list \w+ \w+ (\w+)", head)
    if len(lists) == 1 and lists[0] in (b"vertex_indices", b"vertex_index"):
        with TemporaryDirectory(prefix="zygomorph-ply-") as folder:
            path = Path(folder) / "mesh.ply"
            path.write_bytes(data)
            for sides in (3, 4):
                length = {"face": {lists[0].decode(): sides}}
                try:
                    found = plyfile.PlyData.read(str(path), known_list_len=length)
                except (plyfile.PlyParseError, ValueError, KeyError):
                    continue
                # Taken into memory before the file goes.
                for element in found.elements:
                    element.data = np.array(element.data)
                return found
    return plyfile.PlyData.read(io.BytesIO(data))


PLY_SIZES = {
    **dict.fromkeys(("char", "uchar", "int8", "uint8"), 1),
    **dict.fromkeys(("short", "ushort", "int16", "uint16"), 2),
    **dict.fromkeys(("int", "uint", "float", "int32", "uint32", "float32"), 4),
    **dict.fromkeys(("double", "float64"), 8),
}


def _check_ply_counts(data: bytes) -> None:
    """Raise MeshFileError where a file announces more elements than its bytes can hold; the parser
    would make room for all of them."""
    head, ended, body = data.partition(b"end_header")
    least, announced = 0, ""
    binary = b"format ascii" not in head[:200]
    elements: list[tuple[str, int, int]] = []
    for line in head.decode("latin-1").splitlines():
        words = line.split()
        if words[:1] == ["element"] and len(words) == 3 and words[2].isdecimal():
            elements.append((words[1], int(words[2]), 0))
        elif words[:1] == ["property"] and elements and len(words) > 2:
            name, count, size = elements[-1]
            # Of a list at least its length; of text a digit and what parts it from the next.
            own = PLY_SIZES.get(words[2] if words[1] == "list" else words[1], 1) if binary else 2
            elements[-1] = (name, count, size + own)
    for name, count, size in elements:
        least += count * max(size, 1)
        if ended and least > len(body) + 16:
            announced = announced or f"{count:,} of {name!r}"
    if announced:
        raise MeshFileError(
            f"The PLY file announces {announced}, which would be more bytes than it has.",
            "The file was cut short or damaged; export or copy it again.",
        )


def read_stl(data: bytes) -> Soup:
    """STL, text or binary: triangles that share no points until they are joined."""
    from trimesh.exchange import stl

    try:
        if data[:5].lower() == b"solid" and b"facet" in data[:2000]:
            found = stl.load_stl_ascii(io.StringIO(data.decode("utf-8", errors="replace")))
        else:
            _check_binary_stl(data)
            found = stl.load_stl_binary(io.BytesIO(data))
        if "geometry" in found:
            found = next(iter(found["geometry"].values()))
        points, faces = np.asarray(found["vertices"]), np.asarray(found["faces"])
    except MeshFileError:
        raise
    except Exception as error:
        raise MeshFileError(
            f"The STL file cannot be read: {error}.", "Export the mesh again."
        ) from error
    return Soup(points, faces.reshape(-1).astype(np.int64), np.arange(len(faces) + 1) * 3)


def _check_binary_stl(data: bytes) -> None:
    if len(data) < 84:
        raise MeshFileError(
            f"The STL file has only {len(data)} bytes; its header alone needs 84.",
            "Export the mesh again.",
        )
    count = int.from_bytes(data[80:84], "little")
    if len(data) != 84 + 50 * count:
        raise MeshFileError(
            f"The STL file announces {count:,} triangles, which would be {84 + 50 * count:,} "
            f"bytes, but has {len(data):,}.",
            "The file was cut short or damaged; export or copy it again.",
        )


def read_usd(data: bytes, ending: str) -> Soup:
    """All meshes and curves of a USD stage in one mesh, in world space at its first moment, in
    metres and with y up as the stage says; its points where it holds neither."""
    with TemporaryDirectory(prefix="zygomorph-usd-") as folder:
        path = Path(folder) / f"stage.{ending}"
        path.write_bytes(data)
        return read_stage(path)


READERS: dict[str, Callable[[bytes], Soup]] = {
    "obj": read_obj,
    "ply": read_ply,
    "stl": read_stl,
    "glb": read_glb,
    **{ending: partial(read_usd, ending=ending) for ending in USD_ENDINGS},
}


def read_here(data: bytes, filename: str) -> tuple[Mesh, Report]:
    """Read a mesh file, or the outlines of a drawing, by its ending, in this very process; files
    from elsewhere are read by :mod:`zygomorph.core.formats.read_in_process`.

    Raises MeshFileError that says where the file is wrong and what helps.
    """
    ending = filename.rsplit(".", 1)[-1].lower() if "." in filename else ""
    if ending not in (*READERS, "svg"):
        raise MeshFileError(
            f"Files ending in {('.' + ending) if ending else 'nothing'} are not read here.",
            f"Use one of {', '.join('.' + e for e in (*READERS, 'svg'))}.",
        )
    if len(data) == 0:
        raise MeshFileError("The file is empty.", "Export the mesh again.")
    if len(data) > MAX_FILE_BYTES:
        raise MeshFileError(
            f"The file has {len(data):,} bytes; the limit is {MAX_FILE_BYTES:,}.",
            "Reduce the mesh before bringing it in.",
        )
    if ending == "svg":
        drawing = read_svg(data)
        return drawing, report_of(drawing)
    return to_mesh(READERS[ending](data))
