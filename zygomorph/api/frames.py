"""Frames as bytes: a small JSON header, then blocks aligned to 4 bytes. See docs/wire.md."""

from __future__ import annotations

import math
import struct
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np
from pydantic_core import to_json

from zygomorph.api.packed_look import PackedLook
from zygomorph.api.shapes import FrameQuery
from zygomorph.core.evaluation.drawable import Drawn
from zygomorph.core.evaluation.results import Result
from zygomorph.core.formats.encode import Coloured, Encoded, encode
from zygomorph.core.formats.encode_copies import encode_copies
from zygomorph.core.geometry.bounding_box import box_of
from zygomorph.core.geometry.mesh import Mesh
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.inspect.shards_shown import ShardsShown, has_shards, in_colours, pulled_apart

MAGIC = b"ZYGF"
VERSION = 5
MEDIA_TYPE = "application/vnd.zygomorph.frame"


@dataclass(frozen=True)
class FrameOptions:
    """exact : points as float32 instead of 16 bits
    stride : of points without faces and curves, only every so many
    rest : the rest shape as well
    shards : whether shards are told apart"""

    frame: float
    final: bool = False
    exact: bool = False
    stride: int = 1
    rest: bool = False
    shards: ShardsShown = "as they are"

    @classmethod
    def of(cls, query: FrameQuery) -> FrameOptions:
        return cls(
            query.frame,
            query.quality == "final",
            query.exact,
            query.stride,
            query.rest,
            query.shards,
        )


_NAMES = {np.dtype(n): n for n in ("uint8", "int16", "uint16", "uint32", "float32")}


class Room(NamedTuple):
    """What a block will hold."""

    kind: np.dtype[Any]
    shape: tuple[int, ...]

    @classmethod
    def of(cls, array: np.ndarray) -> Room:
        return cls(array.dtype, array.shape)

    @property
    def size(self) -> int:
        return self.kind.itemsize * math.prod(self.shape)


class Packed:
    """A header, and room for named blocks that are written in place; see docs/wire.md.

    data : all its bytes
    """

    def __init__(self, header: Mapping[str, Any], rooms: Mapping[str, Room]) -> None:
        self._rooms = rooms
        offsets: dict[str, int] = {}
        end = 0
        for name, room in rooms.items():
            offsets[name] = end
            end += room.size + -room.size % 4
        described = [
            {"name": name, "type": _NAMES[room.kind], "shape": room.shape, "offset": offsets[name]}
            for name, room in rooms.items()
        ]
        text = to_json({**header, "blocks": described})
        text += b" " * (-len(text) % 4)
        head = b"".join([MAGIC, struct.pack("<II", VERSION, len(text)), text])
        self._starts = {name: len(head) + offset for name, offset in offsets.items()}
        self._bytes = np.empty(len(head) + end, np.uint8)
        self._bytes[: len(head)] = np.frombuffer(head, np.uint8)
        for name, room in rooms.items():
            self._bytes[self._starts[name] + room.size :][: -room.size % 4] = 0
        self.data = self._bytes.data

    def fill(self, blocks: Mapping[str, np.ndarray]) -> None:
        for name, array in blocks.items():
            self.block(name)[...] = array

    def block(self, name: str) -> np.ndarray:
        """The array that the bytes of a block are."""
        room, start = self._rooms[name], self._starts[name]
        return self._bytes[start : start + room.size].view(room.kind).reshape(room.shape)


def pack_topology(topology: Topology) -> memoryview:
    """What a viewer needs of a topology besides the points of its frames."""
    blocks = {
        "triangles": topology.drawn_triangles.astype(np.uint32),
        "edges": topology.edges.astype(np.uint32),
        "segments": topology.curve_segments.astype(np.uint32),
    }
    header = {"topology": topology.digest, "closed": topology.closed or topology.closed_as_welded}
    packed = Packed(header, {name: Room.of(array) for name, array in blocks.items()})
    packed.fill(blocks)
    return packed.data


@dataclass
class _Parts:
    """What a frame is packed of: blocks that are there, and meshes that are encoded in place."""

    rooms: dict[str, Room] = field(default_factory=dict)
    blocks: dict[str, np.ndarray] = field(default_factory=dict)
    encoded: list[Callable[[Packed], object]] = field(default_factory=list)

    def add_mesh(
        self,
        prefix: str,
        mesh: Mesh,
        box: tuple[np.ndarray, np.ndarray],
        coloured: Coloured,
        weights: np.ndarray | None,
        exact: bool,
    ) -> None:
        """A mesh under names with a prefix; box : lowest and highest corner of its points."""
        count = len(mesh.points)
        self.rooms[f"{prefix}points"] = Room(np.dtype(np.uint16), (count, 4))
        if mesh.topology.face_count:
            self.rooms[f"{prefix}normals"] = Room(np.dtype(np.int16), (count, 2))
        if weights is not None:
            self.rooms[f"{prefix}mask"] = Room(np.dtype(np.uint8), (count,))
        if exact:
            self.blocks[f"{prefix}exact"] = mesh.points

        def into(packed: Packed) -> object:
            mask = packed.block(f"{prefix}mask") if weights is not None else None
            normals = packed.block(f"{prefix}normals") if mesh.topology.face_count else None
            out = Encoded(packed.block(f"{prefix}points"), normals, mask)
            return encode(mesh, *box, coloured, weights, out)

        self.encoded.append(into)

    def packed(self, header: Mapping[str, Any]) -> memoryview:
        rooms = self.rooms | {name: Room.of(array) for name, array in self.blocks.items()}
        packed = Packed(header, rooms)
        packed.fill(self.blocks)
        for encode_into in self.encoded:
            encode_into(packed)
        return packed.data


def _add_copies(parts: _Parts, result: Result, look: PackedLook, exact: bool) -> dict[str, Any]:
    """Bases once, and the table of copies base by base; what the header tells of them."""
    geometry, weights = result.geometry, result.weights
    table = geometry.copies
    assert table is not None
    order: Any = slice(None)
    if len(geometry.bases) > 1:
        order = np.argsort(table.base, kind="stable")
    counts = np.bincount(table.base, minlength=len(geometry.bases))
    encoded = encode_copies(np.ascontiguousarray(table.placements[order]))
    parts.blocks["placements"] = encoded.rows
    finest, others = look.on_copies()
    if finest is not None:
        parts.blocks["copy_values"] = np.rint(finest[order] * 65535).astype(np.uint16)
    if others is not None:
        parts.blocks["copy_channels"] = others[order]
    if weights is not None and result.weighed == "copies":
        share = np.broadcast_to(weights, len(table))[order]
        parts.blocks["copy_mask"] = np.rint(share * 255).astype(np.uint8)
    on_bases = None
    if weights is not None and result.weighed == "bases":
        on_bases = np.broadcast_to(weights, sum(len(mesh.points) for mesh in geometry.bases))
    bases, first, point = [], 0, 0
    for number, mesh in enumerate(geometry.bases):
        low, high, _ = box_of(mesh.points)
        own = None
        if on_bases is not None:
            own = np.ascontiguousarray(on_bases[point : point + len(mesh.points)])
        prefix = f"{number}/"
        parts.add_mesh(prefix, mesh, (low, high), look.finest(number), own, exact)
        _add_channels(parts, prefix, look, number, mesh)
        bases.append(
            {
                "topology": mesh.topology.digest,
                "points": len(mesh.points),
                "faces": mesh.topology.face_count,
                "curves": mesh.topology.curve_count,
                "low": low.tolist(),
                "high": high.tolist(),
                "first": first,
                "count": int(counts[number]),
            }
        )
        first, point = first + int(counts[number]), point + len(mesh.points)
    return {
        "count": len(table),
        "linear": encoded.linear,
        "middle": encoded.middle,
        "half": encoded.half,
        "bases": bases,
    }


def _add_channels(parts: _Parts, prefix: str, look: PackedLook, number: int, mesh: Mesh) -> None:
    for name, values in look.laid_by(mesh).items():
        parts.blocks[prefix + name] = values
    others = look.others(number)
    if others is not None:
        parts.blocks[f"{prefix}channels"] = others


def pack_frame(piece_id: str, drawn: Drawn, options: FrameOptions) -> memoryview:
    """One frame of a piece for a viewer.

    Points and normals, which are most of it, are encoded in their places among its bytes.
    """
    result, appearance = drawn.result, drawn.appearance
    shown = options.shards if has_shards(result.geometry) else "as they are"
    if shown == "apart":
        result = pulled_apart(result)
    geometry = result.geometry
    if shown != "as they are":
        appearance = in_colours(appearance, geometry.mesh)
    flat = appearance.material.flat and geometry.mesh.topology.face_count > 0
    # Facets are shaded by differences of positions, in which the steps of 16 bits would show.
    exact = options.exact or flat
    look = PackedLook(appearance)
    parts, copies = _Parts(), None
    if geometry.copies is None:
        mesh = geometry.mesh
        box = (result.low, result.high)
        parts.add_mesh("", mesh, box, look.finest(0), result.weights, exact)
        _add_channels(parts, "", look, 0, mesh)
        if options.rest:
            parts.blocks["rest"] = np.ascontiguousarray(mesh.rest, np.float32)
    else:
        copies = _add_copies(parts, result, look, exact)
    parts.blocks |= look.tables()
    header = {
        "piece": piece_id,
        "frame": options.frame,
        "key": result.key,
        "topology": geometry.mesh.topology.digest,
        "points": result.whole,
        "drawn": len(geometry.mesh.points),
        "faces": geometry.face_count,
        "curves": geometry.mesh.topology.curve_count,
        "shards": geometry.mesh.count("shard") if has_shards(geometry) else 0,
        "low": [float(v) for v in result.low],
        "high": [float(v) for v in result.high],
        "place": [float(v) for v in result.place.T.reshape(-1)],
        "copies": copies,
        "look": look.header(flat),
        "steps": [
            {
                "id": s.step_id,
                "ms": round(s.milliseconds, 3),
                "points": s.points,
                "faces": s.faces,
                "copies": s.copies,
                "reused": s.reused,
                "volume_change": s.volume_change,
                "told": s.told,
            }
            for s in result.steps
        ],
    }
    return parts.packed(header)
