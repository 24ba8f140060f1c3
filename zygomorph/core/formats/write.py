"""Write one mesh: OBJ, PLY, STL, or the arrays themselves as NPZ."""

from __future__ import annotations

import io
import struct
from itertools import pairwise

import numpy as np

from zygomorph.core.errors import ZygomorphError
from zygomorph.core.geometry.mesh import UV, Mesh
from zygomorph.core.geometry.normals import point_normals
from zygomorph.core.geometry.smoothing import drawn_apart


def write_obj(mesh: Mesh) -> bytes:
    """Wavefront OBJ with polygons as they are, normals at points, or where edges are sharp
    one for each side, and UVs at corners; curves as lines, and points alone as points."""
    out = io.StringIO()
    out.write("# metres, y up\n")
    np.savetxt(out, mesh.points, "v %.9g %.9g %.9g")
    uv = mesh.get("corner", UV)
    if uv is not None:
        np.savetxt(out, uv, "vt %.7g %.7g")
    topology = mesh.topology
    drawn = drawn_apart(mesh)
    if topology.face_count:
        np.savetxt(out, point_normals(drawn), "vn %.5f %.5f %.5f")
    point, normal = (topology.corners + 1).tolist(), (drawn.topology.corners + 1).tolist()
    if uv is None:
        words = [f"{p}//{n}" for p, n in zip(point, normal, strict=True)]
    else:
        words = [f"{p}/{c}/{n}" for c, (p, n) in enumerate(zip(point, normal, strict=True), 1)]
    for lo, hi in pairwise(topology.face_starts.tolist()):
        out.write("f " + " ".join(words[lo:hi]) + "\n")
    ordered = (topology.curve_points + 1).tolist()
    spans = pairwise(topology.curve_starts.tolist())
    for (lo, hi), closed in zip(spans, topology.curve_closed, strict=True):
        run = ordered[lo:hi] + ordered[lo : lo + int(closed)]
        out.write("l " + " ".join(map(str, run)) + "\n")
    if topology.face_count == 0 and topology.curve_count == 0:
        np.savetxt(out, np.arange(1, len(mesh.points) + 1), "p %d")
    return out.getvalue().encode()


def write_ply(mesh: Mesh) -> bytes:
    """Binary PLY with polygons as they are and normals at points; curves as edges."""
    normals = point_normals(mesh)
    segments = mesh.topology.curve_segments.astype("<i4")
    edges = f"element edge {len(segments)}\nproperty int vertex1\nproperty int vertex2\n"
    header = (
        "ply\nformat binary_little_endian 1.0\ncomment metres, y up\n"
        f"element vertex {len(mesh.points)}\n"
        + "".join(f"property float {name}\n" for name in ("x", "y", "z", "nx", "ny", "nz"))
        + f"element face {mesh.topology.face_count}\n"
        "property list int int vertex_indices\n" + (edges if len(segments) else "") + "end_header\n"
    )
    vertices = np.concatenate([mesh.points, normals], axis=1).astype("<f4")
    starts = mesh.topology.face_starts
    # One run of whole numbers: each face's corner count stands before its corners.
    run = np.insert(mesh.topology.corners, starts[:-1], np.diff(starts)).astype("<i4")
    return header.encode() + vertices.tobytes() + run.tobytes() + segments.tobytes()


def write_stl(mesh: Mesh) -> bytes:
    """Binary STL: triangles with their normals. Raises ZygomorphError where there are none."""
    if mesh.topology.face_count == 0:
        raise ZygomorphError(
            "STL holds faces only, and there are none.",
            "Deliver curves and points as OBJ, PLY or GLB, or put a tube on the curves.",
        )
    triangles = mesh.points[mesh.topology.triangles(mesh.points)]
    normal = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    length = np.linalg.norm(normal, axis=1, keepdims=True)
    record = np.zeros(
        len(triangles),
        np.dtype([("normal", "<f4", 3), ("points", "<f4", (3, 3)), ("unused", "<u2")]),
    )
    record["normal"] = normal / np.where(length > 0, length, 1)
    record["points"] = triangles
    return b"metres, y up".ljust(80, b" ") + struct.pack("<I", len(record)) + record.tobytes()


def write_npz(mesh: Mesh) -> bytes:
    """``points``, ``corners``, ``face_starts``, the same of curves, and each attribute by its
    name."""
    arrays = {
        "points": mesh.points,
        "corners": mesh.topology.corners,
        "face_starts": mesh.topology.face_starts,
        "curve_points": mesh.topology.curve_points,
        "curve_starts": mesh.topology.curve_starts,
        "curve_closed": mesh.topology.curve_closed,
        "normals": point_normals(mesh),
    }
    for named in mesh.attributes.values():
        arrays |= dict(named)
    out = io.BytesIO()
    np.savez_compressed(out, allow_pickle=False, **arrays)
    return out.getvalue()


WRITERS = {"obj": write_obj, "ply": write_ply, "stl": write_stl, "npz": write_npz}
