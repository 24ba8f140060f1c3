"""Read the triangles and lines of a binary glTF 2.0 file, quantised ones included."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import pygltflib as gl
import scipy

from zygomorph.core.errors import MeshFileError
from zygomorph.core.formats.chains import chains
from zygomorph.core.formats.polygons import MAX_POINTS
from zygomorph.core.formats.soup import UV, Soup

INSTANCING = "EXT_mesh_gpu_instancing"
KNOWN_EXTENSIONS = {
    "KHR_mesh_quantization",
    "KHR_texture_transform",
    "KHR_materials_unlit",
    INSTANCING,
}
MOST_COPIES = 200_000
COMPONENTS = {
    5120: np.int8,
    5121: np.uint8,
    5122: np.int16,
    5123: np.uint16,
    5125: np.uint32,
    5126: np.float32,
}
WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT4": 16}


def check_container(data: bytes) -> dict[str, Any]:
    """The description that a container holds. Raises MeshFileError where it is cut short, damaged,
    or needs what is not read."""
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
    return header if isinstance(header, dict) else {}


def _own_weights(header: Mapping[str, Any]) -> dict[int, list[float]]:
    """Of targets, where a node sets them itself; the library does not read these."""
    nodes = header.get("nodes", [])
    found = {}
    for number, node in enumerate(nodes if isinstance(nodes, list) else []):
        weights = node.get("weights") if isinstance(node, dict) else None
        if isinstance(weights, list) and all(isinstance(w, (int, float)) for w in weights):
            found[number] = [float(w) for w in weights]
    return found


def accessor_array(document: Any, blob: bytes, number: int) -> np.ndarray:
    """(n, width) values of an accessor, normalised whole numbers as float64 from -1 to 1."""
    accessor = document.accessors[number]
    kind = np.dtype(COMPONENTS[accessor.componentType]).newbyteorder("<")
    width = WIDTHS[accessor.type]
    if accessor.bufferView is None:
        # All zeros, of which some may be replaced (glTF 2.0, 3.6.2.3). Its length is bounded by
        # that of what uses it, so that no room is made for more than a file could mean.
        _check_count(accessor.count)
        rows = np.zeros((accessor.count, width), kind)
    else:
        rows = _rows(document, blob, accessor, kind, width, f"Accessor {number}")
    if accessor.sparse is not None:
        _replace(document, blob, accessor, rows, number)
    if accessor.normalized:
        return np.maximum(rows / np.iinfo(kind.type).max, -1.0)
    return rows


def _check_count(count: int) -> None:
    if not 0 < count <= MAX_POINTS * 3:
        raise MeshFileError(
            f"An accessor of the GLB file has {count:,} entries; the limit is {MAX_POINTS * 3:,}.",
            "Reduce the mesh before bringing it in.",
        )


def _rows(
    document: Any, blob: bytes, accessor: Any, kind: np.dtype[Any], width: int, what: str
) -> np.ndarray:
    """A copy of the rows that a part of the file holds; accessor : with its view, offset, count"""
    view = document.bufferViews[accessor.bufferView]
    start = (view.byteOffset or 0) + (accessor.byteOffset or 0)
    stride = view.byteStride or kind.itemsize * width
    end = start + stride * (accessor.count - 1) + kind.itemsize * width
    if accessor.count < 1 or start < 0 or end > len(blob):
        raise MeshFileError(
            f"{what} reaches beyond the file's {len(blob):,} bytes of data.",
            "The file is damaged; export it again.",
        )
    return np.ndarray((accessor.count, width), kind, blob, start, (stride, kind.itemsize)).copy()


@dataclass(frozen=True)
class _Part:
    """Where the indices or the values of a sparse accessor lie."""

    bufferView: int
    byteOffset: int
    count: int


def _replace(document: Any, blob: bytes, accessor: Any, rows: np.ndarray, number: int) -> None:
    """Put the values of a sparse accessor into its rows."""
    sparse = accessor.sparse
    what = f"Accessor {number}"

    def read(part: Any, kind: np.dtype[Any], width: int) -> np.ndarray:
        own = _Part(part.bufferView, part.byteOffset or 0, sparse.count)
        return _rows(document, blob, own, kind, width, what)

    kind = np.dtype(COMPONENTS[sparse.indices.componentType]).newbyteorder("<")
    at = read(sparse.indices, kind, 1).ravel().astype(np.int64)
    if at.min() < 0 or at.max() >= len(rows):
        raise MeshFileError(
            f"{what} replaces entries that it does not have.",
            "The file is damaged; export it again.",
        )
    rows[at] = read(sparse.values, rows.dtype, rows.shape[1])


def _node_matrix(node: Any) -> np.ndarray:
    if node.matrix is not None:
        return np.array(node.matrix, np.float64).reshape(4, 4).T
    matrix = np.eye(4)
    turn = scipy.spatial.transform.Rotation.from_quat(node.rotation or [0, 0, 0, 1]).as_matrix()
    matrix[:3, :3] = turn * np.array(node.scale or [1, 1, 1])[None, :]
    matrix[:3, 3] = node.translation or [0, 0, 0]
    return matrix


@dataclass(frozen=True)
class _Placed:
    """A mesh of the scene.

    matrices : (K, 4, 4) where each copy of it stands
    weights : of its targets
    bones : of its skin, (J, 4, 4) from the mesh to the scene, or None
    """

    mesh: Any
    matrices: np.ndarray
    weights: list[float]
    bones: np.ndarray | None = None


def _placed_meshes(
    document: Any, blob: bytes, own_weights: Mapping[int, list[float]]
) -> Iterator[_Placed]:
    """Each mesh of the scene where its node puts it; own_weights : of nodes, by their numbers"""
    if not document.scenes:
        for mesh in document.meshes:
            yield _Placed(mesh, np.eye(4)[None], mesh.weights or [])
        return
    worlds = _worlds(document)
    for number, world in worlds.items():
        node = document.nodes[number]
        if node.mesh is None:
            continue
        mesh = document.meshes[node.mesh]
        weights = own_weights.get(number) or mesh.weights or []
        if node.skin is not None:
            # Its own node has no say in where a skinned mesh stands (glTF 2.0, 3.7.3.2).
            bones = _bones(document, blob, document.skins[node.skin], worlds)
            yield _Placed(mesh, np.eye(4)[None], weights, bones)
        else:
            yield _Placed(mesh, world @ _copies(document, blob, node), weights)


def _copies(document: Any, blob: bytes, node: Any) -> np.ndarray:
    """(K, 4, 4) copies of a node's mesh in its own space (EXT_mesh_gpu_instancing); one without."""
    found = (node.extensions or {}).get(INSTANCING, {}).get("attributes", {})
    parts = {
        name: accessor_array(document, blob, found[name]).astype(np.float64)
        for name in ("TRANSLATION", "ROTATION", "SCALE")
        if name in found
    }
    if not parts:
        return np.eye(4)[None]
    count = len(next(iter(parts.values())))
    if count > MOST_COPIES or any(len(part) != count for part in parts.values()):
        raise MeshFileError(
            f"The GLB file places {count:,} copies of a mesh; the limit is {MOST_COPIES:,}, and "
            "each needs its place, turn and scale.",
            "Export fewer, or bring in what is copied alone.",
        )
    made = np.tile(np.eye(4), (count, 1, 1))
    if "ROTATION" in parts:
        made[:, :3, :3] = scipy.spatial.transform.Rotation.from_quat(parts["ROTATION"]).as_matrix()
    if "SCALE" in parts:
        made[:, :3, :3] *= parts["SCALE"][:, None, :]
    if "TRANSLATION" in parts:
        made[:, :3, 3] = parts["TRANSLATION"]
    return made


def _bones(document: Any, blob: bytes, skin: Any, worlds: dict[int, np.ndarray]) -> np.ndarray:
    """(J, 4, 4) from a skinned mesh to the scene, in the pose in which its joints stand."""
    joints = np.stack([worlds.get(joint, np.eye(4)) for joint in skin.joints])
    if skin.inverseBindMatrices is None:
        return joints
    back = accessor_array(document, blob, skin.inverseBindMatrices).astype(np.float64)
    bones: np.ndarray = joints @ back[: len(joints)].reshape(-1, 4, 4).swapaxes(1, 2)
    return bones


def _worlds(document: Any) -> dict[int, np.ndarray]:
    """(4, 4) from each node of the scene to the scene, by its number."""
    # Nodes are trees, in which each has one parent at most (glTF 2.0, 3.5.2).
    roots = dict.fromkeys(document.scenes[document.scene or 0].nodes or [])
    waiting = [(root, np.eye(4)) for root in roots]
    worlds: dict[int, np.ndarray] = {}
    while waiting:
        number, parent = waiting.pop()
        if number in worlds:
            raise MeshFileError(
                f"Node {number} of the GLB file stands in its tree more than once.",
                "The file is damaged; export it again.",
            )
        node = document.nodes[number]
        worlds[number] = matrix = parent @ _node_matrix(node)
        waiting += [(child, matrix) for child in node.children or []]
    return worlds


def _points(document: Any, blob: bytes, primitive: Any, placed: _Placed) -> np.ndarray:
    """(V, 3) points with their targets as far as they weigh, skinned where there is a skin."""
    found = accessor_array(document, blob, primitive.attributes.POSITION).astype(np.float64)
    for weight, target in zip(placed.weights, primitive.targets or [], strict=False):
        number = (target if isinstance(target, dict) else vars(target)).get("POSITION")
        if weight and number is not None:
            found += weight * accessor_array(document, blob, number)[: len(found)]
    joints = getattr(primitive.attributes, "JOINTS_0", None)
    shares = getattr(primitive.attributes, "WEIGHTS_0", None)
    if placed.bones is None or joints is None or shares is None:
        return found
    bone = accessor_array(document, blob, joints).astype(np.int64)
    share = accessor_array(document, blob, shares).astype(np.float64)
    if len(bone) != len(found) or len(share) != len(found) or bone.max() >= len(placed.bones):
        raise MeshFileError(
            "The GLB file's skin names joints or points that are not there.",
            "The file is damaged; export it again.",
        )
    whole = np.concatenate([found, np.ones((len(found), 1))], axis=1)
    skinned = np.zeros((len(found), 3))
    for k in range(share.shape[1]):
        moved = np.einsum("pij,pj->pi", placed.bones[bone[:, k], :3], whole)
        skinned += share[:, k, None] * moved
    return skinned


def _primitive(
    document: Any, blob: bytes, primitive: Any, placed: _Placed
) -> tuple[np.ndarray, ...]:
    """Points (V, 3), faces (T, 3), UVs (V, 2) or none, and segments of curves (S, 2)."""
    points = _points(document, blob, primitive, placed)
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


def _parts(
    document: Any, blob: bytes, own_weights: Mapping[int, list[float]]
) -> Iterator[tuple[np.ndarray, ...]]:
    """Each copy of each primitive: its matrix, and what :func:`_primitive` gives."""
    total = 0
    for placed in _placed_meshes(document, blob, own_weights):
        for primitive in placed.mesh.primitives:
            if primitive.attributes.POSITION is None:
                continue
            read = _primitive(document, blob, primitive, placed)
            total += len(read[0]) * len(placed.matrices)
            if total > MAX_POINTS:
                raise MeshFileError(
                    f"The file holds more than {MAX_POINTS:,} points, copies counted.",
                    "Export fewer copies, or reduce the mesh.",
                )
            for matrix in placed.matrices:
                yield matrix, *read


def read_glb(data: bytes) -> Soup:
    """Binary glTF 2.0: all triangles and lines of the scene in one mesh, in world space.

    Raises MeshFileError.
    """
    header = check_container(data)
    try:
        document = gl.GLTF2.load_from_bytes(data)
        blob = document.binary_blob() or b""
        parts = list(_parts(document, blob, _own_weights(header)))
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
