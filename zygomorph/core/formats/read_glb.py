"""Read the triangles and lines of a binary glTF 2.0 file, quantised ones included."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import numpy as np
import pygltflib as gl
import scipy

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.chains import chains
from zygomorph.core.formats.soup import UV, Soup

KNOWN_EXTENSIONS = {"KHR_mesh_quantization", "KHR_texture_transform", "KHR_materials_unlit"}
COMPONENTS = {
    5120: np.int8,
    5121: np.uint8,
    5122: np.int16,
    5123: np.uint16,
    5125: np.uint32,
    5126: np.float32,
}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}


def check_container(data: bytes) -> None:
    """Raise MeshFileError where the container is cut short, damaged, or needs what is not read."""
    if data[:4] != b"glTF" or len(data) < 20:
        raise MeshFileError("This is not a binary glTF file.", "Export it as GLB.")
    announced = int.from_bytes(data[8:12], "little")
    if announced > len(data):
        raise MeshFileError(
            f"The GLB file announces {announced:,} bytes but has {len(data):,}.",
            "It was cut short; copy or export it again.",
        )
    length = int.from_bytes(data[12:16], "little")
    try:
        header = json.loads(data[20 : 20 + length])
    except (ValueError, RecursionError) as error:
        raise MeshFileError(
            f"The GLB file's description is damaged: {error}.", "Export it again."
        ) from error
    required = header.get("extensionsRequired", []) if isinstance(header, dict) else []
    unknown = sorted(set(map(str, required)) - KNOWN_EXTENSIONS)
    if unknown:
        raise MeshFileError(
            f"The GLB file needs {', '.join(unknown)}, which is not read here.",
            "Export it without mesh compression.",
        )


def accessor_array(document: Any, blob: bytes, number: int) -> np.ndarray:
    """(n, width) values of an accessor, normalised whole numbers as float64 from -1 to 1."""
    accessor = document.accessors[number]
    if accessor.bufferView is None or accessor.sparse is not None:
        raise MeshFileError("A sparse or empty accessor is not read here.", "Export it plainly.")
    view = document.bufferViews[accessor.bufferView]
    kind = np.dtype(COMPONENTS[accessor.componentType]).newbyteorder("<")
    width = WIDTHS[accessor.type]
    start = (view.byteOffset or 0) + (accessor.byteOffset or 0)
    stride = view.byteStride or kind.itemsize * width
    end = start + stride * (accessor.count - 1) + kind.itemsize * width
    if accessor.count < 1 or start < 0 or end > len(blob):
        raise MeshFileError(
            f"Accessor {number} reaches beyond the file's {len(blob):,} bytes of data.",
            "The file is damaged; export it again.",
        )
    rows = np.ndarray((accessor.count, width), kind, blob, start, (stride, kind.itemsize))
    if accessor.normalized:
        return np.maximum(rows / np.iinfo(kind.type).max, -1.0)
    return rows.copy()


def _node_matrix(node: Any) -> np.ndarray:
    if node.matrix is not None:
        return np.array(node.matrix, np.float64).reshape(4, 4).T
    matrix = np.eye(4)
    turn = scipy.spatial.transform.Rotation.from_quat(node.rotation or [0, 0, 0, 1]).as_matrix()
    matrix[:3, :3] = turn * np.array(node.scale or [1, 1, 1])[None, :]
    matrix[:3, 3] = node.translation or [0, 0, 0]
    return matrix


def _placed_meshes(document: Any) -> Iterator[tuple[np.ndarray, Any]]:
    """Each mesh of the scene with the matrix of its node."""
    if not document.scenes:
        yield from ((np.eye(4), mesh) for mesh in document.meshes)
        return
    # Nodes are trees, in which each has one parent at most (glTF 2.0, 3.5.2).
    roots = dict.fromkeys(document.scenes[document.scene or 0].nodes or [])
    waiting = [(root, np.eye(4)) for root in roots]
    seen: set[int] = set()
    while waiting:
        number, parent = waiting.pop()
        if number in seen:
            raise MeshFileError(
                f"Node {number} of the GLB file stands in its tree more than once.",
                "The file is damaged; export it again.",
            )
        seen.add(number)
        node = document.nodes[number]
        matrix = parent @ _node_matrix(node)
        if node.mesh is not None:
            yield matrix, document.meshes[node.mesh]
        waiting += [(child, matrix) for child in node.children or []]


def _primitive(document: Any, blob: bytes, primitive: Any) -> tuple[np.ndarray, ...]:
    """Points (V, 3), faces (T, 3), UVs (V, 2) or none, and segments of curves (S, 2)."""
    points = accessor_array(document, blob, primitive.attributes.POSITION).astype(np.float64)
    if primitive.indices is None:
        order = np.arange(len(points))
    else:
        order = accessor_array(document, blob, primitive.indices).ravel().astype(np.int64)
    mode = 4 if primitive.mode is None else primitive.mode
    if mode == gl.TRIANGLES:
        faces = order[: len(order) // 3 * 3].reshape(-1, 3)
    elif mode == gl.TRIANGLE_STRIP and len(order) > 2:
        faces = np.stack([order[:-2], order[1:-1], order[2:]], axis=1)
        faces[1::2] = faces[1::2, ::-1]
    elif mode == gl.TRIANGLE_FAN and len(order) > 2:
        faces = np.stack([np.full(len(order) - 2, order[0]), order[1:-1], order[2:]], axis=1)
    else:
        faces = np.zeros((0, 3), np.int64)
    segments = np.zeros((0, 2), np.int64)
    if mode == gl.LINES:
        segments = order[: len(order) // 2 * 2].reshape(-1, 2)
    elif mode in (gl.LINE_STRIP, gl.LINE_LOOP):
        after = np.roll(order, -1)
        last = len(order) if mode == gl.LINE_LOOP else len(order) - 1
        segments = np.stack([order, after], axis=1)[:last]
    uv = getattr(primitive.attributes, "TEXCOORD_0", None)
    uvs = accessor_array(document, blob, uv)[:, :2] * [1, -1] + [0, 1] if uv is not None else None
    return points, faces, uvs, segments  # type: ignore[return-value]


def read_glb(data: bytes) -> Soup:
    """Binary glTF 2.0: all triangles and lines of the scene in one, where they stand in it.

    Raises MeshFileError.
    """
    check_container(data)
    try:
        document = gl.GLTF2.load_from_bytes(data)
        blob = document.binary_blob() or b""
        parts = [
            (matrix, *_primitive(document, blob, primitive))
            for matrix, mesh in _placed_meshes(document)
            for primitive in mesh.primitives
            if primitive.attributes.POSITION is not None
        ]
    except MeshFileError:
        raise
    except Exception as error:
        # The library lets any damage of the description through as whatever error it led to.
        raise MeshFileError(
            f"The GLB file is damaged: {type(error).__name__}: {error}.", "Export it again."
        ) from error
    if not any(len(part[2]) or len(part[4]) for part in parts):
        raise MeshFileError(
            "The GLB file holds no triangles and no lines.", "Export the mesh itself."
        )
    points, corners, uvs, objects, lines, first = [], [], [], [], [], 0
    for number, (matrix, local, faces, uv, segments) in enumerate(parts):
        points.append(local @ matrix[:3, :3].T + matrix[:3, 3])
        turned_over = np.linalg.det(matrix[:3, :3]) < 0
        corners.append((faces[:, ::-1] if turned_over else faces).reshape(-1) + first)
        lines.append(segments + first)
        if len(faces):
            # A face beyond the points is told of later.
            usable = uv is not None and faces.max() < len(uv)
            uvs.append(uv[corners[-1] - first] if usable else None)
        objects.append(np.full(len(faces), number))
        first += len(local)
    joined = np.concatenate(corners)
    at_corners = {}
    known = [uv for uv in uvs if uv is not None]
    if known and len(known) == len(uvs):
        at_corners[UV] = np.concatenate(known).astype(np.float32)
    starts = np.arange(len(joined) // 3 + 1) * 3
    return Soup(
        np.concatenate(points),
        joined,
        starts,
        at_corners,
        np.concatenate(objects),
        *chains(np.concatenate(lines)),
    )
