"""Frames as bytes: a small JSON header, then blocks aligned to 4 bytes. See docs/wire.md."""

from __future__ import annotations

import math
import struct
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from pydantic_core import to_json

from zygomorph.api.shapes import FrameQuery
from zygomorph.core.document.study import Study
from zygomorph.core.evaluation.evaluate import Result
from zygomorph.core.evaluation.plan import plan_piece
from zygomorph.core.formats.encode import Encoded, encode
from zygomorph.core.geometry.topology import Topology
from zygomorph.core.shared.colouring import colour_values
from zygomorph.core.values.gradients import gradient_table

MAGIC = b"ZYGF"
VERSION = 3
MEDIA_TYPE = "application/vnd.zygomorph.frame"


@dataclass(frozen=True)
class FrameOptions:
    """exact : points as float32 instead of 16 bits
    stride : of points without faces and curves, only every so many
    rest : the rest shape as well"""

    frame: float
    final: bool = False
    exact: bool = False
    stride: int = 1
    rest: bool = False

    @classmethod
    def of(cls, query: FrameQuery) -> FrameOptions:
        return cls(query.frame, query.quality == "final", query.exact, query.stride, query.rest)


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
    header = {"topology": topology.digest, "closed": topology.closed}
    packed = Packed(header, {name: Room.of(array) for name, array in blocks.items()})
    packed.fill(blocks)
    return packed.data


def pack_frame(study: Study, piece_id: str, result: Result, options: FrameOptions) -> memoryview:
    """One frame of a piece for a viewer.

    Points and normals, which are most of it, are encoded in their places among its bytes.
    """
    look = plan_piece(study, piece_id, options.final).look.at(np.array([options.frame]))
    mesh, weights = result.mesh, result.weights
    topology = mesh.topology
    colouring = colour_values(mesh, look)
    count = len(mesh.points)
    rooms: dict[str, Room] = {"points": Room(np.dtype(np.uint16), (count, 4))}
    if topology.face_count:
        rooms["normals"] = Room(np.dtype(np.int16), (count, 2))
    if weights is not None:
        rooms["mask"] = Room(np.dtype(np.uint8), (count,))
    blocks: dict[str, np.ndarray] = {}
    flat = look.discrete("shading") == "flat" and topology.face_count > 0
    # Facets are shaded by differences of positions, in which the steps of 16 bits would show.
    if options.exact or flat:
        blocks["exact"] = mesh.points
    if options.rest:
        blocks["rest"] = np.ascontiguousarray(mesh.rest, np.float32)
    if colouring.values is not None:
        blocks["gradient"] = gradient_table(look.discrete("gradient"))
    header = {
        "piece": piece_id,
        "frame": options.frame,
        "key": result.key,
        "topology": topology.digest,
        "points": result.whole,
        "drawn": count,
        "faces": topology.face_count,
        "curves": topology.curve_count,
        "low": [float(v) for v in result.low],
        "high": [float(v) for v in result.high],
        "place": [float(v) for v in result.place.T.reshape(-1)],
        "look": {
            "by_value": colouring.values is not None,
            "colour": look.discrete("colour"),
            "glow": look.scalar("glow") / 100,
            "roughness": look.scalar("roughness") / 100,
            "flat": flat,
            "thickness": look.scalar("thickness"),
        },
        "steps": [
            {
                "id": s.step_id,
                "ms": round(s.milliseconds, 3),
                "points": s.points,
                "faces": s.faces,
                "reused": s.reused,
            }
            for s in result.steps
        ],
    }
    packed = Packed(header, rooms | {name: Room.of(array) for name, array in blocks.items()})
    packed.fill(blocks)
    mask = packed.block("mask") if weights is not None else None
    normals = packed.block("normals") if topology.face_count else None
    into = Encoded(packed.block("points"), normals, mask)
    encode(mesh, result.low, result.high, colouring, weights, into)
    return packed.data
