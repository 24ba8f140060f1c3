"""Binary glTF 2.0 with the motion as morph targets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import pygltflib as gl
import scipy

from zygomorph.core.formats.gltf_copies import Channel, add_instances, add_nodes
from zygomorph.core.formats.gltf_material import gltf_material
from zygomorph.core.formats.gltf_numbers import EXTENSION, Frame, Numbers, factors_of, frame_of
from zygomorph.core.formats.morph_targets import Shapes, largest_distance
from zygomorph.core.formats.placed_copies import CopiesAs, PlacedCopies
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.material import Material


@dataclass
class GlbPiece:
    """One piece to write.

    points : (P, 3) at frame 0; normals the same
    normal_offsets : (K, P, 3) for the shapes' targets
    move, turn, scale : (T, 3) place in m, °, × at the times; T is 1 where it stands still
    place_times : (T,) frames
    place_held : whether the place stays until the next time, instead of going there
    colours : (P, 4) uint8, linear, or None
    copies : where the mesh is copied, what it is then copied to; copies_as : how they are written
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
    place_times: np.ndarray
    place_held: bool = False
    colours: np.ndarray | None = None
    uv: np.ndarray | None = None
    material: Material = field(default_factory=Material)
    copies: PlacedCopies | None = None
    copies_as: CopiesAs = "nodes"


@dataclass
class SwitchedPiece:
    """One piece whose faces change: a mesh for every stretch of time, of which one is shown.

    meshes : what there is from each of the times on, None where there is nothing; each with the
        same place, and standing still in it
    times : (n,) frames, from 0 on
    last : the frame at which all is again as at the first, or the last one of what does not return
    """

    meshes: list[GlbPiece | None]
    times: np.ndarray
    last: float
    returns: bool = True


@dataclass
class _Writer:
    rate: float
    numbers: Numbers
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
        return self._vectors(values, bounds=True)

    def normals(self, values: np.ndarray) -> int:
        return self._vectors(values)

    def _vectors(self, values: np.ndarray, bounds: bool = False) -> int:
        """(V, 3) float32, int16 or int8; whole numbers are normalised, their rows padded to 4
        bytes."""
        component, stride = {
            np.dtype(np.float32): (gl.FLOAT, 12),
            np.dtype(np.int16): (gl.SHORT, 8),
            np.dtype(np.int8): (gl.BYTE, 4),
        }[values.dtype]
        return self.accessor(
            values,
            gl.VEC3,
            component,
            normalized=component != gl.FLOAT,
            target=gl.ARRAY_BUFFER,
            bounds=bounds,
            stride=stride,
        )

    def times(self, frames: np.ndarray) -> int:
        seconds = (np.asarray(frames) / self.rate).astype(np.float32)
        return self.accessor(seconds, gl.SCALAR, gl.FLOAT, bounds=True)


def _plain(value: np.generic) -> float | int:
    return int(value) if np.issubdtype(type(value), np.integer) else float(value)


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


def _add_mesh(writer: _Writer, piece: GlbPiece, material: int) -> tuple[int, Frame, list[float]]:
    """Add a mesh with its shapes; returns its number, how its numbers are stored, and the factors
    of the shapes."""
    document = writer.document
    vertex_point, corner_vertex = split_by_uv(piece.topology, piece.uv)
    points = piece.points[vertex_point]
    frame = frame_of(points, writer.numbers)
    attributes = gl.Attributes(POSITION=writer.positions(frame.stored(points)))
    solid = piece.topology.face_count > 0
    if solid:
        attributes.NORMAL = writer.normals(frame.stored_normals(piece.normals[vertex_point]))
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
    primitive = gl.Primitive(attributes=attributes, mode=mode, material=material)
    if indices is not None:
        wide = len(vertex_point) > 65_534
        primitive.indices = writer.accessor(
            indices.reshape(-1).astype(np.uint32 if wide else np.uint16),
            gl.SCALAR,
            gl.UNSIGNED_INT if wide else gl.UNSIGNED_SHORT,
            target=gl.ELEMENT_ARRAY_BUFFER,
        )
    factors = factors_of(piece.shapes, piece.normal_offsets, frame)
    for k, factor in enumerate(factors):
        offsets = frame.stored_offsets(piece.shapes.offsets[k][vertex_point], factor)
        shape = gl.Attributes(POSITION=writer.positions(offsets))
        if solid:
            turned = piece.normal_offsets[k][vertex_point] / factor
            shape.NORMAL = writer.normals(frame.stored_normals(turned))
        primitive.targets.append(shape)
    mesh = gl.Mesh(name=piece.name, primitives=[primitive])
    if factors:
        mesh.weights = [float(w) for w in piece.shapes.weights[0] * factors]
    document.meshes.append(mesh)
    return len(document.meshes) - 1, frame, list(factors)


def _add_material(writer: _Writer, piece: GlbPiece) -> int:
    document = writer.document
    made = gltf_material(piece.name, piece.material, piece.colours is not None)
    for extension in made.extensions:
        if extension not in document.extensionsUsed:
            document.extensionsUsed.append(extension)
    document.materials.append(made)
    return len(document.materials) - 1


def _add_holder(writer: _Writer, piece: GlbPiece, bodies: list[int]) -> None:
    """The node that has a piece's place."""
    holder = gl.Node(name=piece.name, children=bodies or None)
    holder.translation = [float(v) for v in piece.move[0]]
    holder.rotation = [float(v) for v in _quaternions(piece.turn[:1])[0]]
    holder.scale = [float(v) for v in piece.scale[0]]
    writer.document.nodes.append(holder)


def _add_piece(writer: _Writer, piece: GlbPiece) -> int:
    """Add mesh, material, nodes and animation; returns the number of the piece's node."""
    mesh, frame, factors = _add_mesh(writer, piece, _add_material(writer, piece))
    bodies, channels = _add_bodies(writer, piece, mesh, frame)
    _add_holder(writer, piece, bodies)
    _add_motion(writer, piece, bodies, channels, np.array(factors, np.float32))
    return len(writer.document.nodes) - 1


def _add_switched(writer: _Writer, switched: SwitchedPiece) -> int:
    """Add a node for every mesh, of which one at a time has a size; returns the number of the
    piece's node."""
    document = writer.document
    first = next(mesh for mesh in switched.meshes if mesh is not None)
    material = _add_material(writer, first)
    bodies: list[int] = []
    channels: list[Channel] = []
    ends = [*switched.times[1:].tolist(), switched.last]
    for number, mesh in enumerate(switched.meshes):
        if mesh is None:
            continue
        made, frame, _ = _add_mesh(writer, mesh, material)
        size = frame.scale if frame.compact else 1.0
        body = gl.Node(name=f"{mesh.name} from frame {switched.times[number]:g}", mesh=made)
        if frame.compact:
            body.translation = [float(v) for v in frame.centre]
        at_first = size if number == 0 else 0.0
        body.scale = [at_first] * 3
        document.nodes.append(body)
        bodies.append(len(document.nodes) - 1)
        # Nothing before, itself, nothing after, and at the end what is there at the beginning.
        sizes = {0.0: at_first, float(switched.times[number]): size}
        if number + 1 < len(ends) or switched.returns:
            sizes[ends[number]] = 0.0
        if switched.returns:
            sizes[switched.last] = at_first
        keys = sorted(sizes)
        values = np.repeat(np.array([[sizes[key]] for key in keys], np.float32), 3, axis=1)
        data = writer.accessor(values, gl.VEC3, gl.FLOAT)
        channels.append((bodies[-1], "scale", writer.times(np.array(keys)), data, True))
    _add_holder(writer, first, bodies)
    _add_motion(writer, first, bodies, channels, np.zeros(0, np.float32))
    return len(document.nodes) - 1


def _add_bodies(
    writer: _Writer, piece: GlbPiece, mesh: int, frame: Frame
) -> tuple[list[int], list[Channel]]:
    """The nodes that have the mesh, and what moves them."""
    if piece.copies is not None and piece.copies_as == "instances":
        return [add_instances(writer, piece.name, mesh, piece.copies, frame)], []
    if piece.copies is not None:
        return add_nodes(writer, piece.name, mesh, piece.copies, frame)
    body = gl.Node(name=f"{piece.name} mesh", mesh=mesh)
    if frame.compact:
        body.translation = [float(v) for v in frame.centre]
        body.scale = [frame.scale] * 3
    writer.document.nodes.append(body)
    return [len(writer.document.nodes) - 1], []


def _primitives(piece: GlbPiece, corner_vertex: np.ndarray) -> tuple[int, np.ndarray | None]:
    """How vertices are drawn, and which: triangles, else segments of curves, else points."""
    topology = piece.topology
    if topology.face_count:
        return gl.TRIANGLES, corner_vertex[topology.triangle_corners(piece.points)]
    if topology.curve_count:
        return gl.LINES, topology.curve_segments
    return gl.POINTS, None


def _quaternions(turn: np.ndarray) -> np.ndarray:
    """(T, 4) x y z w, each on the same side as the one before, so that mixing takes the short
    way."""
    found = scipy.spatial.transform.Rotation.from_euler("xyz", turn, degrees=True).as_quat()
    for k in range(1, len(found)):
        if found[k] @ found[k - 1] < 0:
            found[k] *= -1
    return found


def _add_motion(
    writer: _Writer,
    piece: GlbPiece,
    bodies: list[int],
    of_copies: list[Channel],
    factors: np.ndarray,
) -> None:
    document = writer.document
    holder = len(document.nodes) - 1
    channels = list(of_copies)
    if len(factors):
        weights = (piece.shapes.weights * factors).astype(np.float32)
        times = writer.times(piece.shapes.times)
        data = writer.accessor(weights.reshape(-1), gl.SCALAR, gl.FLOAT)
        channels += [(body, "weights", times, data, piece.shapes.held) for body in bodies]
    if len(piece.move) > 1:
        times = writer.times(piece.place_times)
        for path, values, kind in (
            ("translation", piece.move, gl.VEC3),
            ("rotation", _quaternions(piece.turn), gl.VEC4),
            ("scale", piece.scale, gl.VEC3),
        ):
            if np.ptp(values, axis=0).max() > 0:
                data = writer.accessor(values.astype(np.float32), kind, gl.FLOAT)
                channels.append((holder, path, times, data, piece.place_held))
    if not channels:
        return
    if not document.animations:
        document.animations.append(gl.Animation(name="loop"))
    animation = document.animations[0]
    for node, path, times, data, held in channels:
        animation.samplers.append(
            gl.AnimationSampler(
                input=times, output=data, interpolation="STEP" if held else "LINEAR"
            )
        )
        animation.channels.append(
            gl.AnimationChannel(
                sampler=len(animation.samplers) - 1,
                target=gl.AnimationChannelTarget(node=node, path=path),
            )
        )


def write_glb(
    pieces: Sequence[GlbPiece | SwitchedPiece], rate: float, numbers: Numbers = "plain"
) -> bytes:
    """One scene with all pieces and one animation named "loop"."""
    writer = _Writer(rate, numbers)
    document = writer.document
    document.asset = gl.Asset(version="2.0", generator="Zygomorph")
    if numbers == "compact":
        document.extensionsUsed.append(EXTENSION)
        document.extensionsRequired.append(EXTENSION)
    roots = [
        _add_switched(writer, piece)
        if isinstance(piece, SwitchedPiece)
        else _add_piece(writer, piece)
        for piece in pieces
    ]
    document.scenes = [gl.Scene(nodes=roots)]
    document.scene = 0
    while len(writer.blob) % 4:
        writer.blob.append(0)
    document.buffers = [gl.Buffer(byteLength=len(writer.blob))]
    document.set_binary_blob(bytes(writer.blob))
    return b"".join(document.save_to_bytes())


class Stored:
    """What a reader makes of a piece that is written, to be held against the true points."""

    def __init__(self, piece: GlbPiece, numbers: Numbers) -> None:
        frame = frame_of(piece.points, numbers)
        self._shapes = piece.shapes
        self._factors = factors_of(piece.shapes, piece.normal_offsets, frame)
        self._base = self._read_base(piece.points, frame)
        offsets = [
            frame.read(frame.stored_offsets(o, f))
            for o, f in zip(piece.shapes.offsets, self._factors, strict=True)
        ]
        self._offsets = np.stack(offsets) if offsets else np.zeros((0, *self._base.shape))

    @staticmethod
    def _read_base(points: np.ndarray, frame: Frame) -> np.ndarray:
        return (frame.read(frame.stored(points)) + frame.centre).astype(np.float32)

    def error(self, time: float, points: np.ndarray) -> float:
        """Largest distance, metres, from the true points at a time in frames; (P, 3)."""
        if not self._factors:
            return largest_distance(self._base - points)
        weights = (self._shapes.weights_at(time) * self._factors).astype(np.float32)
        return largest_distance(self._base + np.tensordot(weights, self._offsets, axes=1) - points)


__all__ = ["GlbPiece", "Stored", "SwitchedPiece", "split_by_uv", "write_glb"]
