"""Write one mesh: OBJ, PLY, STL, or the arrays themselves as NPZ."""

from __future__ import annotations

import io
import struct
from itertools import pairwise

import numpy as np

from zygomorph.core.mesh import UV, Mesh
from zygomorph.core.normals import point_normals


def write_obj(mesh: Mesh) -> bytes:
    """Wavefront OBJ with polygons as they are, normals at points and UVs at corners."""
    out = io.StringIO()
    out.write("# metres, y up\n")
    np.savetxt(out, mesh.points, "v %.9g %.9g %.9g")
    uv = mesh.get("corner", UV)
    if uv is not None:
        np.savetxt(out, uv, "vt %.7g %.7g")
    np.savetxt(out, point_normals(mesh), "vn %.5f %.5f %.5f")
    point = (mesh.topology.corners + 1).tolist()
    if uv is None:
        words = [f"{p}//{p}" for p in point]
    else:
        words = [f"{p}/{c}/{p}" for c, p in enumerate(point, 1)]
    starts = mesh.topology.face_starts.tolist()
    for lo, hi in pairwise(starts):
        out.write("f " + " ".join(words[lo:hi]) + "\n")
    return out.getvalue().encode()


def write_ply(mesh: Mesh) -> bytes:
    """Binary PLY with polygons as they are and normals at points."""
    normals = point_normals(mesh)
    header = (
        "ply\nformat binary_little_endian 1.0\ncomment metres, y up\n"
        f"element vertex {len(mesh.points)}\n"
        + "".join(f"property float {name}\n" for name in ("x", "y", "z", "nx", "ny", "nz"))
        + f"element face {mesh.topology.face_count}\n"
        "property list int int vertex_indices\nend_header\n"
    )
    vertices = np.concatenate([mesh.points, normals], axis=1).astype("<f4")
    starts = mesh.topology.face_starts
    # One run of whole numbers: each face's corner count stands before its corners.
    run = np.insert(mesh.topology.corners, starts[:-1], np.diff(starts)).astype("<i4")
    return header.encode() + vertices.tobytes() + run.tobytes()


def write_stl(mesh: Mesh) -> bytes:
    """Binary STL: triangles with their normals."""
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
    """``points``, ``corners``, ``face_starts`` and each attribute by its name."""
    arrays = {
        "points": mesh.points,
        "corners": mesh.topology.corners,
        "face_starts": mesh.topology.face_starts,
        "normals": point_normals(mesh),
    }
    for named in mesh.attributes.values():
        arrays |= dict(named)
    out = io.BytesIO()
    np.savez_compressed(out, allow_pickle=False, **arrays)
    return out.getvalue()


WRITERS = {"obj": write_obj, "ply": write_ply, "stl": write_stl, "npz": write_npz}
