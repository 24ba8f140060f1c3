"""Binary glTF 2.0 with the motion as morph targets, quantised by KHR_mesh_quantization.

Positions and their offsets are normalised 16-bit numbers under a node that scales them back;
normals are normalised 8-bit numbers. A target whose offsets would not fit is made smaller and
its weight larger by the same factor.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import pygltflib as gl
import scipy

from zygomorph.core.formats.shapes import Shapes, largest_distance
from zygomorph.core.topology import Topology


@dataclass
class GlbPiece:
    """One piece to write.

    points : (P, 3) at frame 0; normals the same
    normal_offsets : (K, P, 3) for the shapes' targets
    move, turn, scale : (T, 3) place at each frame in m, °, ×; T is 1 where it stands still
    colours : (P, 4) uint8, or None; base_colour : linear RGBA
    """

    name: str
    topology: Topology
    points: np.ndarray
    normals: np.ndarray
    shapes: Shapes
    normal_offsets: np.ndarray
    move: np.ndarray
    turn: np.ndarray
    scale: np.ndarray
    colours: np.ndarray | None = None
    uv: np.ndarray | None = None
    base_colour: tuple[float, float, float, float] = (1.0, 1.0, 1.0, 1.0)
    roughness: float = 0.6
    glow: tuple[float, float, float] = (0.0, 0.0, 0.0)


@dataclass
class _Writer:
    rate: float
    document: gl.GLTF2 = field(default_factory=gl.GLTF2)
    blob: bytearray = field(default_factory=bytearray)

    def accessor(
        self,
        data: np.ndarray,
        kind: str,
        component: int,
        *,
        normalized: bool = False,
        target: int | None = None,
        bounds: bool = False,
        stride: int | None = None,
    ) -> int:
        """Append an array and describe it; returns the accessor's number.

        stride : bytes from one row to the next; rows are padded to it
        """
        rows = np.ascontiguousarray(data)
        raw = rows.tobytes()
        if stride is not None and rows.dtype.itemsize * rows.shape[1] != stride:
            padded = np.zeros((len(rows), stride // rows.dtype.itemsize), rows.dtype)
            padded[:, : rows.shape[1]] = rows
            raw = padded.tobytes()
        while len(self.blob) % 4:
            self.blob.append(0)
        view = gl.BufferView(
            buffer=0, byteOffset=len(self.blob), byteLength=len(raw), target=target
        )
        if stride is not None and target == gl.ARRAY_BUFFER:
            view.byteStride = stride
        self.blob += raw
        self.document.bufferViews.append(view)
        entry = gl.Accessor(
            bufferView=len(self.document.bufferViews) - 1,
            byteOffset=0,
            componentType=component,
            normalized=normalized,
            count=len(rows),
            type=kind,
        )
        if bounds:
            table = rows.reshape(len(rows), -1)
            entry.min = [_plain(v) for v in table.min(axis=0)]
            entry.max = [_plain(v) for v in table.max(axis=0)]
        self.document.accessors.append(entry)
        return len(self.document.accessors) - 1

    def positions(self, values: np.ndarray) -> int:
        return self.accessor(
            values,
            gl.VEC3,
            gl.SHORT,
            normalized=True,
            target=gl.ARRAY_BUFFER,
            bounds=True,
            stride=8,
        )

    def normals(self, values: np.ndarray) -> int:
        return self.accessor(
            values, gl.VEC3, gl.BYTE, normalized=True, target=gl.ARRAY_BUFFER, stride=4
        )

    def times(self, frames: np.ndarray) -> int:
        seconds = (np.asarray(frames) / self.rate).astype(np.float32)
        return self.accessor(seconds, gl.SCALAR, gl.FLOAT, bounds=True)


def _plain(value: np.generic) -> float | int:
    return int(value) if np.issubdtype(type(value), np.integer) else float(value)


def _short(values: np.ndarray) -> np.ndarray:
    return np.clip(np.round(values * 32767), -32767, 32767).astype(np.int16)


def _byte(values: np.ndarray) -> np.ndarray:
    return np.clip(np.round(values * 127), -127, 127).astype(np.int8)


def split_by_uv(topology: Topology, uv: np.ndarray | None) -> tuple[np.ndarray, np.ndarray]:
    """Vertices for a renderer: the point of each vertex, (V,), and the vertex of each corner,
    (C,). A point whose corners have different UVs becomes several vertices."""
    if uv is None:
        return np.arange(topology.point_count), topology.corners
    rows = np.concatenate(
        [topology.corners[:, None].astype(np.float64), uv.astype(np.float64)], axis=1
    )
    _, first, vertex = np.unique(rows, axis=0, return_index=True, return_inverse=True)
    return topology.corners[first], vertex.ravel().astype(np.int32)


def _add_piece(writer: _Writer, piece: GlbPiece) -> int:
    """Add mesh, material, nodes and animation; returns the number of the piece's node."""
    document = writer.document
    vertex_point, corner_vertex = split_by_uv(piece.topology, piece.uv)
    points = piece.points[vertex_point].astype(np.float64)
    low, high = points.min(axis=0), points.max(axis=0)
    centre = (low + high) / 2
    scale = max(float((high - low).max()) / 2, 1e-9)
    attributes = gl.Attributes(POSITION=writer.positions(_short((points - centre) / scale)))
    solid = piece.topology.face_count > 0
    if solid:
        attributes.NORMAL = writer.normals(_byte(piece.normals[vertex_point]))
    if piece.colours is not None:
        attributes.COLOR_0 = writer.accessor(
            piece.colours[vertex_point],
            gl.VEC4,
            gl.UNSIGNED_BYTE,
            normalized=True,
            target=gl.ARRAY_BUFFER,
            stride=4,
        )
    if piece.uv is not None:
        by_vertex = np.zeros((len(vertex_point), 2), np.float32)
        by_vertex[corner_vertex] = piece.uv * [1, -1] + [0, 1]
        attributes.TEXCOORD_0 = writer.accessor(
            by_vertex, gl.VEC2, gl.FLOAT, target=gl.ARRAY_BUFFER, stride=8
        )
    mode, indices = _primitives(piece, corner_vertex)
    primitive = gl.Primitive(attributes=attributes, mode=mode, material=len(document.materials))
    if indices is not None:
        wide = len(vertex_point) > 65_534
        primitive.indices = writer.accessor(
            indices.reshape(-1).astype(np.uint32 if wide else np.uint16),
            gl.SCALAR,
            gl.UNSIGNED_INT if wide else gl.UNSIGNED_SHORT,
            target=gl.ELEMENT_ARRAY_BUFFER,
        )
    factors = _factors(piece, scale)
    for k, factor in enumerate(factors):
        offsets = piece.shapes.offsets[k][vertex_point] / (scale * factor)
        shape = gl.Attributes(POSITION=writer.positions(_short(offsets)))
        if solid:
            turned = piece.normal_offsets[k][vertex_point] / factor
            shape.NORMAL = writer.normals(_byte(turned))
        primitive.targets.append(shape)
    document.materials.append(
        gl.Material(
            name=piece.name,
            doubleSided=True,
            emissiveFactor=list(piece.glow),
            pbrMetallicRoughness=gl.PbrMetallicRoughness(
                baseColorFactor=list(piece.base_colour),
                metallicFactor=0.0,
                roughnessFactor=piece.roughness,
            ),
        )
    )
    mesh = gl.Mesh(name=piece.name, primitives=[primitive])
    if factors:
        mesh.weights = [float(w) for w in piece.shapes.weights[0] * factors]
    document.meshes.append(mesh)
    body = gl.Node(
        name=f"{piece.name} mesh",
        mesh=len(document.meshes) - 1,
        translation=[float(v) for v in centre],
        scale=[scale] * 3,
    )
    document.nodes.append(body)
    holder = gl.Node(name=piece.name, children=[len(document.nodes) - 1])
    holder.translation = [float(v) for v in piece.move[0]]
    holder.rotation = [float(v) for v in _quaternions(piece.turn[:1])[0]]
    holder.scale = [float(v) for v in piece.scale[0]]
    document.nodes.append(holder)
    _add_motion(writer, piece, len(document.nodes) - 2, np.array(factors, np.float32))
    return len(document.nodes) - 1


def _primitives(piece: GlbPiece, corner_vertex: np.ndarray) -> tuple[int, np.ndarray | None]:
    """How vertices are drawn, and which: triangles, else segments of curves, else points."""
    topology = piece.topology
    if topology.face_count:
        return gl.TRIANGLES, corner_vertex[topology.triangle_corners(piece.points)]
    if topology.curve_count:
        return gl.LINES, topology.curve_segments
    return gl.POINTS, None


def _factors(piece: GlbPiece, scale: float) -> list[float]:
    """How much smaller each target is stored, so that its offsets fit into -1 to 1."""
    return [
        max(
            float(np.abs(piece.shapes.offsets[k]).max()) / scale,
            float(np.abs(piece.normal_offsets[k]).max()),
            1e-6,
        )
        for k in range(len(piece.shapes.offsets))
    ]


def _quaternions(turn: np.ndarray) -> np.ndarray:
    """(T, 4) x y z w, each on the same side as the one before, so that mixing takes the short
    way."""
    found = scipy.spatial.transform.Rotation.from_euler("xyz", turn, degrees=True).as_quat()
    for k in range(1, len(found)):
        if found[k] @ found[k - 1] < 0:
            found[k] *= -1
    return found


def _add_motion(writer: _Writer, piece: GlbPiece, body: int, factors: np.ndarray) -> None:
    document = writer.document
    channels: list[tuple[int, str, int, int]] = []
    if len(factors):
        weights = (piece.shapes.weights * factors).astype(np.float32)
        channels.append(
            (
                body,
                "weights",
                writer.times(piece.shapes.frames),
                writer.accessor(weights.reshape(-1), gl.SCALAR, gl.FLOAT),
            )
        )
    if len(piece.move) > 1:
        times = writer.times(np.arange(len(piece.move)))
        for path, values, kind in (
            ("translation", piece.move, gl.VEC3),
            ("rotation", _quaternions(piece.turn), gl.VEC4),
            ("scale", piece.scale, gl.VEC3),
        ):
            if np.ptp(values, axis=0).max() > 0:
                data = writer.accessor(values.astype(np.float32), kind, gl.FLOAT)
                channels.append((body + 1, path, times, data))
    if not channels:
        return
    if not document.animations:
        document.animations.append(gl.Animation(name="loop"))
    animation = document.animations[0]
    for node, path, times, data in channels:
        animation.samplers.append(
            gl.AnimationSampler(input=times, output=data, interpolation="LINEAR")
        )
        animation.channels.append(
            gl.AnimationChannel(
                sampler=len(animation.samplers) - 1,
                target=gl.AnimationChannelTarget(node=node, path=path),
            )
        )


def write_glb(pieces: list[GlbPiece], rate: float) -> bytes:
    """One scene with all pieces and one animation named "loop"."""
    writer = _Writer(rate)
    document = writer.document
    document.asset = gl.Asset(version="2.0", generator="Zygomorph")
    document.extensionsUsed = ["KHR_mesh_quantization"]
    document.extensionsRequired = ["KHR_mesh_quantization"]
    roots = [_add_piece(writer, piece) for piece in pieces]
    document.scenes = [gl.Scene(nodes=roots)]
    document.scene = 0
    while len(writer.blob) % 4:
        writer.blob.append(0)
    document.buffers = [gl.Buffer(byteLength=len(writer.blob))]
    document.set_binary_blob(bytes(writer.blob))
    return b"".join(document.save_to_bytes())


def stored_error(piece: GlbPiece, frames: np.ndarray) -> float:
    """Largest distance, metres, of what the file holds from the true points, quantising included.

    frames : (T, P, 3) float32, all frames
    """
    points = piece.points.astype(np.float64)
    low, high = points.min(axis=0), points.max(axis=0)
    centre, scale = (low + high) / 2, max(float((high - low).max()) / 2, 1e-9)
    base = (_short((points - centre) / scale) / 32767.0 * scale + centre).astype(np.float32)
    factors = _factors(piece, scale)
    stored = (
        np.stack(
            [
                _short(o / (scale * f)) / np.float32(32767) * np.float32(scale)
                for o, f in zip(piece.shapes.offsets, factors, strict=True)
            ]
        )
        if factors
        else np.zeros((0, *base.shape), np.float32)
    )
    keys = piece.shapes.frames
    worst = 0.0
    for frame in range(len(frames)):
        weights = np.array([np.interp(frame, keys, w) for w in piece.shapes.weights.T])
        scaled = (weights * factors).astype(np.float32)
        rebuilt = base + np.tensordot(scaled, stored, axes=1) if factors else base
        worst = max(worst, largest_distance(rebuilt - frames[frame]))
    return worst


__all__ = ["GlbPiece", "split_by_uv", "stored_error", "write_glb"]
